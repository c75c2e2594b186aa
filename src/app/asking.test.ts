import { expect, test } from 'vitest';
import { asking } from './asking';

const turn = (): Promise<void> => new Promise((done) => setTimeout(done));
test('an answer and a failure are told while somebody waits, and nothing afterwards', async () => {
  const told: unknown[] = [];
  const ask = (how: 'good' | 'bad', leave: boolean): void => {
    const end = asking(
      async (signal) => {
        await turn();
        if (how === 'bad') throw new Error(how);
        return `${how} ${signal.aborted}`;
      },
      (x) => told.push(x),
      (e) => told.push((e as Error).message),
    );
    if (leave) end();
  };
  for (const how of ['good', 'bad'] as const) for (const leave of [false, true]) ask(how, leave);
  await turn();
  await turn();
  expect(told).toEqual(['good false', 'bad']);
});
test('the question itself hears that nobody waits', () => {
  let heard: AbortSignal | null = null;
  asking(
    (signal) => {
      heard = signal;
      return new Promise(() => {});
    },
    () => {},
    () => {},
  )();
  expect(heard!.aborted).toBe(true);
});
