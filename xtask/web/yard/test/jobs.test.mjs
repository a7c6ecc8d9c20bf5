import assert from 'node:assert/strict';
import test from 'node:test';
import { costOf, openJob } from '../jobs.mjs';

test('an engine costs more than paint', () => {
  assert.ok(costOf({ work: 'engine', hours: 1 }) > costOf({ work: 'paint', hours: 1 }));
});

test('hours count', () => {
  assert.equal(costOf({ work: 'hull', hours: 3 }), 120);
});

test('a job that is opened waits', () => {
  assert.equal(openJob({ ferry: 'Smew', work: 'paint', hours: 2 }).waiting, 1);
});
