import { expect, test } from 'vitest';
import { Dial } from './channel';
import { onWatch } from './watch';

const one = { number: 16, use: 'calling', power: { high: 25, low: 1 } };

test('a higher mast reaches further', () => {
  const dial = new Dial([one]);
  dial.tune(16);
  expect(dial.reach(36)).toBe(30);
});

test('the watch that began last is on', () => {
  expect(onWatch([{ from: 0, officer: 'Tern' }, { from: 8, officer: 'Skua' }], 9).officer).toBe('Skua');
});
