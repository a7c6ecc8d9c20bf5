// The numbers and the notes beside the marsh.
export class Panel {
  constructor(page) {
    this.fields = {
      landed: page.querySelector('#landed'),
      hull: page.querySelector('#hull'),
      best: page.querySelector('#best'),
    };
    this.log = page.getElementById('log');
    this.note = this.note.bind(this);
  }

  show(numbers) {
    for (const [name, value] of Object.entries(numbers)) {
      this.fields[name].textContent = value;
    }
  }

  note(text, kind) {
    const row = document.createElement('li');
    row.textContent = text;
    if (kind) {
      row.classList.add(kind);
    }
    this.log.appendChild(row);
  }
}
