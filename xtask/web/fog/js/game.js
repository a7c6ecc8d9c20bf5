// The loop: steers, looks for bumps and passengers, and draws.
import { Boat } from './boat.js';
import { distance } from './shapes.js';
import { draw } from './draw.js';

const LIMITS = { width: 480, height: 320 };

export class Game {
  constructor(level, keys, panel) {
    this.level = level;
    this.keys = keys;
    this.panel = panel;
    this.boat = new Boat({ x: 20, y: 300 }, level.hull);
    this.boat.onBump = (hull) => panel.note(`bump, hull ${hull}`, 'bump');
    this.heard = {};
    this.landed = 0;
    this.last = 0;
  }

  on(event, hearer) {
    this.heard[event] = hearer;
  }

  run(pen) {
    this.pen = pen;
    requestAnimationFrame((now) => this.frame(now));
  }

  frame(now) {
    const seconds = Math.min((now - this.last) / 1000, 0.1);
    this.last = now;
    this.step(seconds);
    this.panel.show({ hull: this.boat.hull.toFixed(0) });
    draw(this.pen, this.boat, this.level, LIMITS);
    if (this.boat.hull > 0 && this.landed < 2) {
      requestAnimationFrame((next) => this.frame(next));
    } else {
      this.heard.over(this.landed);
    }
  }

  step(seconds) {
    const { buoys, passengers, harbour } = this.level;
    this.boat.steer(this.keys.way(), seconds, LIMITS);
    for (const buoy of buoys) {
      buoy.drift(seconds);
      if (buoy.touches(this.boat)) {
        this.boat.bump(buoy);
      }
    }
    const waiting = passengers.filter((p) => !p.aboard);
    for (const passenger of waiting) {
      if (distance(passenger.place, this.boat.place) < 60) {
        this.panel.note(this.boat.take(passenger));
      }
    }
    if (this.boat.place.x > harbour.x - harbour.width) {
      this.landed += this.boat.land();
      this.panel.show({ landed: this.landed, hull: this.boat.hull });
    }
  }
}
