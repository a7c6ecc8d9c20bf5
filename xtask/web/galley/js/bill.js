// The bill: a row for each order and the sum below.
const bill = {
  rows: [],
  body: document.querySelector('#bill tbody'),
  total: document.getElementById('total'),

  add(guest, dish, plates) {
    const row = { guest, dish, price: priceOf(dish, plates) };
    this.rows.push(row);
    const line = this.body.insertRow();
    line.insertCell().textContent = dish.name;
    line.insertCell().textContent = plates;
    line.insertCell().textContent = asMoney(row.price);
    line.dataset.guest = guest;
    line.addEventListener('click', () => this.strike(line));
    this.sum();
  },

  sum() {
    const sum = this.rows.reduce((all, row) => all + row.price, 0);
    this.total.value = asMoney(sum);
  },

  strike(line) {
    const at = [...this.body.rows].indexOf(line);
    this.rows.splice(at, 1);
    line.remove();
    this.sum();
  },

  byGuest() {
    const sums = new Map();
    for (const row of this.rows) {
      sums.set(row.guest, (sums.get(row.guest) ?? 0) + row.price);
    }
    return sums;
  },
};
