// Puts the parts of the game together and starts it.
import { loadLevel } from './level.js';
import { Game } from './game.js';
import { Keys } from './keys.js';
import { Panel } from './panel.js';
import { best, keepBest } from './best.js';

const canvas = document.getElementById('marsh');
const panel = new Panel(document);
const keys = new Keys(window);

async function start() {
  const level = await loadLevel(1);
  const game = new Game(level, keys, panel);
  panel.show({ landed: 0, hull: level.hull, best: best() });
  game.on('over', (landed) => {
    keepBest(landed);
    panel.note(`over: ${landed} landed`);
  });
  game.run(canvas.getContext('2d'));
}

document.getElementById('again').addEventListener('click', start);
start();
