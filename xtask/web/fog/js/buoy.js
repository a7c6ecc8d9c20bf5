// A buoy drifts around its place and dents what runs into it.
import { distance } from './shapes.js';

export class Buoy {
  constructor(x, y, kind) {
    this.home = { x, y };
    this.place = { x, y };
    this.kind = kind;
    this.phase = x + y;
  }

  drift(seconds) {
    this.phase += seconds;
    this.place.x = this.home.x + Math.sin(this.phase) * this.kind.size;
    this.place.y = this.home.y + Math.cos(this.phase) * this.kind.size;
  }

  touches(boat) {
    return distance(this.place, boat.place) < this.kind.size + boat.size;
  }
}
