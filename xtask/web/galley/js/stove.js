// Pots on the stove, which cook in seconds instead of minutes.
class Pot {
  constructor(dish, onDone) {
    this.dish = dish;
    this.left = dish.minutes;
    this.onDone = onDone;
    this.box = Pot.draw(dish.name);
  }

  static draw(name) {
    const template = document.getElementById('pot');
    const box = template.content.cloneNode(true).firstElementChild;
    box.querySelector('.name').textContent = name;
    return box;
  }

  tick() {
    this.left -= 0.25;
    const bar = this.box.querySelector('progress');
    bar.value = 1 - this.left / this.dish.minutes;
    if (this.left <= 0) {
      this.box.classList.add('done');
      this.onDone(this);
    }
  }
}

class Stove {
  constructor(element) {
    this.element = element;
    this.pots = [];
    this.timer = setInterval(() => this.tick(), 250);
  }

  cook(dish) {
    const pot = new Pot(dish, (done) => this.remove(done));
    this.pots.push(pot);
    this.element.append(pot.box);
  }

  tick() {
    for (const pot of [...this.pots]) {
      pot.tick();
    }
  }

  remove(pot) {
    this.pots = this.pots.filter((p) => p !== pot);
    this.element.removeChild(pot.box);
  }
}
