import { mean } from './numbers.js';

const seen = [];
let seed = 1;

function next() {
  seed = (seed * 16807) % 2147483647;
  return seed % 8;
}

function step() {
  seen.push(next());
  if (seen.length > 5) {
    seen.shift();
  }
  postMessage({ thickness: mean(seen) });
}

addEventListener('message', (event) => {
  seed = event.data.seed;
  setInterval(step, 100);
});
