import { describe, expect, it } from 'vitest';
import { valueAt } from '../op/params';
import { keyed, keysFor, missOf } from './drift';
import type { Solved } from './drift';

/** Skin of 20 % chroma on the line, at half level. */
const a = (123 * Math.PI) / 180;
const reading = { cb: 0.1 * Math.cos(a), cr: 0.1 * Math.sin(a), luma: 0.5 };
const GAIN = 0.005;
const turns = (f: (frame: number) => number): Solved[] =>
  Array.from({ length: 25 }, (_, i) => ({ frame: 3 * i, values: [f(3 * i)], reading }));
const framesOf = (list: readonly Solved[]): number[] => list.map((s) => s.frame);

describe('keys of a drift', () => {
  it('one push holds what does not drift, noise of a single frame or not', () => {
    const still = keysFor(
      turns((f) => 5 + (f === 36 ? 0.4 : 0)),
      () => 1,
    );
    expect([still.length, still[0]!.values[0]]).toEqual([1, 5]);
    expect(keyed(still)).toEqual([5]);
  });
  it('an even drift takes the two ends and a few between, and every frame is held', () => {
    const list = turns((f) => f / 6);
    const keys = keysFor(list, () => 1);
    expect([framesOf(keys)[0], framesOf(keys).at(-1)]).toEqual([0, 72]);
    expect(keys.length).toBeGreaterThan(2);
    expect(keys.length).toBeLessThan(12);
    const [curve] = keyed(keys);
    for (const s of list) expect(Math.abs(valueAt(curve!, s.frame) - s.values[0]!)).toBeLessThanOrEqual(0.5);
  });
  it('a light that is switched gets keys where it is switched', () => {
    const keys = framesOf(
      keysFor(
        turns((f) => (f < 30 ? 0 : 8)),
        () => 1,
      ),
    );
    expect(keys).toEqual(expect.arrayContaining([27, 30]));
  });
  it('has no more keys than are allowed', () => {
    const wild = keysFor(
      turns((f) => 20 * Math.sin(f)),
      () => 1,
      6,
    );
    expect(wild.length).toBe(6);
  });
  it('what misses: across the line in degrees, along it as a share of chroma', () => {
    const s: Solved = { frame: 0, values: [0, 0], reading };
    // By hand: 1 degree of 0.1 is 0.1 pi / 180 across, in pushes of 0.005; 1 is let pass at 0.5 degrees.
    const across = (0.1 * Math.PI) / 180 / GAIN;
    expect(missOf(s, [-across * Math.sin(a), across * Math.cos(a)], GAIN)).toBeCloseTo(1 / 0.5, 6);
    // 6 % of 0.1 along it.
    const along = 0.006 / GAIN;
    expect(missOf(s, [along * Math.cos(a), along * Math.sin(a)], GAIN)).toBeCloseTo(1, 6);
    expect(missOf({ ...s, values: [2] }, [1.5], 1)).toBeCloseTo(1, 6);
  });
});
