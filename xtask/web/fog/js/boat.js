// The boat: where it is, how fast, who is aboard.
import { within } from './shapes.js';

const SPEED = 90;

export class Boat {
  constructor(place, hull) {
    this.place = place;
    this.hull = hull;
    this.size = 8;
    this.aboard = [];
    this.onBump = null;
  }

  steer(way, seconds, limits) {
    const next = {
      x: this.place.x + way.x * SPEED * seconds,
      y: this.place.y + way.y * SPEED * seconds,
    };
    this.place = within(next, limits);
  }

  take(passenger) {
    passenger.aboard = true;
    this.aboard.push(passenger);
    return passenger.greet();
  }

  bump(buoy) {
    this.hull -= buoy.kind.hit;
    if (this.onBump) {
      this.onBump(this.hull.toFixed(0));
    }
  }

  land() {
    const landed = this.aboard.length;
    this.aboard = [];
    return landed;
  }
}
