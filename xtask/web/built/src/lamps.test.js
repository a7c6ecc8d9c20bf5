import { expect, test } from 'vitest';
import { Lamp, lampsOf } from './lamps.js';
import { mean } from './numbers.js';

test('a lamp goes out and on', () => {
  const lamp = new Lamp('Quay', { x: 0, y: 0 }, 10);
  lamp.toggle();
  expect(lamp.lit).toBe(false);
});

test('fog makes a lamp smaller', () => {
  const lamp = new Lamp('Quay', { x: 0, y: 0 }, 10);
  expect(lamp.radius(4)).toBe(6);
});

test('every harbour has a lamp', () => {
  const lamps = lampsOf([{ name: 'Quay', at: { x: 1, y: 2 }, reach: 3 }]);
  expect(lamps[0].at.y).toBe(2);
});

test('the mean of nothing is 0', () => {
  expect(mean([])).toBe(0);
});
