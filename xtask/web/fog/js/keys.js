// Which keys are down, as a way to go. Without anybody at the keys the boat goes round by itself.
const WAYS = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};
const ROUND = ['ArrowUp', 'ArrowRight', 'ArrowDown', 'ArrowRight'];

export class Keys {
  constructor(target) {
    this.down = new Set();
    this.ticks = 0;
    target.addEventListener('keydown', (event) => this.down.add(event.key));
    target.addEventListener('keyup', (event) => this.down.delete(event.key));
  }

  way() {
    this.ticks += 1;
    const pressed = [...this.down].filter((key) => key in WAYS);
    const names = pressed.length > 0 ? pressed : [ROUND[Math.floor(this.ticks / 60) % ROUND.length]];
    const sum = { x: 0, y: 0 };
    for (const name of names) {
      sum.x += WAYS[name].x;
      sum.y += WAYS[name].y;
    }
    return sum;
  }
}
