import { Worker } from 'node:worker_threads';
import { expect, it } from 'vitest';
import { controlBytes, controlViews, serveBands } from './pool';
import type { Ctx } from './pool';
import { warmUp } from './warmUp';

it('goes through all that grows over a frame, in steps, and ends', () => {
  // Of a press: the small copy, what grows and four guesses, the choice; of a spread: one.
  const steps = [...warmUp(2)];
  expect(steps).toHaveLength(2 * (1 + 5 + 1 + 1));
});

it('a helper that nobody wants does its steps one after another, after a while, and no more than there are', () => {
  const control = new SharedArrayBuffer(controlBytes);
  const { i32 } = controlViews(control);
  let [steps, ends] = [0, 0];
  const work: Iterator<void> = {
    next: () => {
      if (++steps < 4) return { done: false, value: undefined };
      ends++;
      // Nobody else could end it here.
      Atomics.store(i32, 6, 1);
      return { done: true, value: undefined };
    },
  };
  // It may.
  i32[8] = 1;
  const from = performance.now();
  serveBands({} as Ctx, control, 1, { afterMs: 30, work });
  expect([steps, ends]).toEqual([4, 1]);
  expect(performance.now() - from).toBeGreaterThan(25);
});

it('a helper that may not does none', async () => {
  const control = new SharedArrayBuffer(controlBytes);
  const { i32 } = controlViews(control);
  const code = `const { workerData: c } = require('worker_threads');
    setTimeout(() => { Atomics.store(c, 6, 1); Atomics.notify(c, 0); }, 150);`;
  const ends = new Worker(code, { eval: true, workerData: i32 });
  let steps = 0;
  const next = (): IteratorResult<void> => ({ done: ++steps < 0, value: undefined });
  serveBands({} as Ctx, control, 1, { afterMs: 5, work: { next } });
  expect(steps).toBe(0);
  await ends.terminate();
});
