import { Sea } from './sea.js';
import { lampsOf } from './lamps.js';
import places from './data/places.json';

const canvas = document.getElementById('sea');
const log = document.getElementById('log');
const sea = new Sea(canvas.getContext('2d'), canvas.width, canvas.height);
const lamps = lampsOf(places.harbours);

for (const lamp of lamps) {
  sea.add(lamp);
}

const fog = new Worker(new URL('./fog.js', import.meta.url), { type: 'module' });
fog.addEventListener('message', (event) => {
  sea.fog = event.data.thickness;
});
fog.postMessage({ seed: 7 });

const keys = new Map([
  ['l', () => sea.toggle('Lantern Quay')],
  ['s', () => sea.toggleAll()],
]);

window.addEventListener('keydown', (event) => {
  const act = keys.get(event.key);
  if (act) {
    act();
  }
});

let last = performance.now();

function frame(now) {
  sea.update((now - last) / 1000);
  sea.draw();
  last = now;
  requestAnimationFrame(frame);
}

requestAnimationFrame(frame);

setTimeout(() => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key: 'l' }));
  log.textContent = sea.summary();
}, 400);
