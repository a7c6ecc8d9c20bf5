import { clamp } from './numbers.js';

export const DIM = 0.2;

export class Lamp {
  constructor(name, at, reach) {
    this.name = name;
    this.at = at;
    this.reach = reach;
    this.lit = true;
    this.glow = 1;
  }

  toggle() {
    this.lit = !this.lit;
  }

  update(seconds) {
    const wanted = this.lit ? 1 : DIM;
    this.glow += (wanted - this.glow) * clamp(seconds * 4, 0, 1);
  }

  radius(fog) {
    return Math.max(this.reach * this.glow - fog, 1);
  }

  draw(brush, fog) {
    brush.beginPath();
    brush.arc(this.at.x, this.at.y, this.radius(fog), 0, Math.PI * 2);
    brush.fillStyle = '#c8a050';
    brush.fill();
  }
}

export function lampsOf(harbours) {
  return harbours.map((harbour) => new Lamp(harbour.name, harbour.at, harbour.reach));
}
