import { clamp } from './numbers.js';

export class Sea {
  constructor(brush, width, height) {
    this.brush = brush;
    this.width = width;
    this.height = height;
    this.lamps = [];
    this.fog = 0;
    this.time = 0;
  }

  add(lamp) {
    this.lamps.push(lamp);
  }

  find(name) {
    return this.lamps.find((lamp) => lamp.name === name);
  }

  toggle(name) {
    this.find(name).toggle();
  }

  toggleAll() {
    this.lamps.forEach((lamp) => lamp.toggle());
  }

  update(seconds) {
    this.time += clamp(seconds, 0, 0.1);
    for (let i = 0; i < this.lamps.length; i++) {
      this.lamps[i].update(seconds);
    }
  }

  draw() {
    this.brush.clearRect(0, 0, this.width, this.height);
    for (const lamp of this.lamps) {
      lamp.draw(this.brush, this.fog);
    }
  }

  summary() {
    const lit = this.lamps.filter((lamp) => lamp.lit);
    return `${lit.length} of ${this.lamps.length} lamps are lit`;
  }
}
