import { describe, expect, it } from 'vitest';
import { holdsOf, pullsOf } from '../core/ops/pulls/field';
import { pulled } from './pullColour';

const none = { pulls: [], holds: [], reachPct: 40 };
describe('a pull from the picture', () => {
  it('begins at the colour and goes as far as the hand', () => {
    const { values, back } = pulled(none, [-12, 20], [4, 3]);
    expect(back).toBe(false);
    expect(pullsOf(values.pulls)).toEqual([{ from: [-12, 20], to: [-8, 23], levelPct: 0 }]);
    const more = pulled(values, [30, -20], [0, 2]).values;
    expect(pullsOf(more.pulls).map((p) => p.to)).toEqual([
      [-8, 23],
      [30, -18],
    ]);
  });
  it('is held back where it would fold', () => {
    const { values, back } = pulled(none, [-12, 20], [60, 0]);
    expect(back).toBe(true);
    expect(pullsOf(values.pulls)[0]!.to[0]).toBeGreaterThan(-5);
    expect(pullsOf(values.pulls)[0]!.to[0]).toBeLessThan(10);
  });
  it('a press holds; there is a most of both', () => {
    const { values } = pulled(none, [5, -5], null);
    expect(holdsOf(values.holds)).toEqual([[5, -5]]);
    const many = { ...none, holds: Array.from({ length: 24 }, (_, i) => 3 * i) };
    expect(() => pulled(many, [1, 1], null)).toThrow(/12 holds/);
    const full = { ...none, pulls: Array.from({ length: 40 }, (_, i) => i) };
    expect(() => pulled(full, [1, 1], [1, 1])).toThrow(/8 pulls/);
  });
});
