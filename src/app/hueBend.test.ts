import { describe, expect, it } from 'vitest';
import { pointsOf } from '../core/math/closed';
import { bent } from './hueBend';

describe('a bend from the picture', () => {
  const level = [3, 0, 63, 0, 123, 0, 183, 0, 243, 0, 303, 0];
  it('moves a point that is near the colour, and sets one where none is', () => {
    expect(bent(level, 130, 12)).toEqual([3, 0, 63, 0, 123, 12, 183, 0, 243, 0, 303, 0]);
    expect(pointsOf(bent(level, 93, -7.26))).toContainEqual([93, -7.3]);
    // Over 0 degrees as well: 358 lies 5 degrees from 3.
    expect(bent(level, 358, 5)[1]).toBe(5);
  });
  it('starts from where the curve runs there, and adds up', () => {
    const high = [0, 40];
    expect(pointsOf(bent(high, 180, 10))).toEqual([
      [0, 40],
      [180, 50],
    ]);
    expect(bent(bent(level, 123, 10), 123, 10)[5]).toBe(20);
  });
  it('stays within what a curve may hold, and refuses one point too many in words', () => {
    expect(bent(level, 123, 900)[5]).toBe(180);
    expect(bent(level, 123, -900)[5]).toBe(-100);
    const full = Array.from({ length: 24 }, (_, i) => [15 * i, 0]).flat();
    expect(() => bent(full, 7.5, 5)).not.toThrow();
    const wide = Array.from({ length: 24 }, (_, i) => [5 * i, 0]).flat();
    expect(() => bent(wide, 200, 5)).toThrow(/24 points/);
  });
  it('bends an open curve over level or saturation as well', () => {
    const flat = [0, 0, 25, 0, 50, 0, 75, 0, 100, 0];
    expect(bent(flat, 53, -8, 'span')).toEqual([0, 0, 25, 0, 50, -8, 75, 0, 100, 0]);
    expect(pointsOf(bent(flat, 60, 8, 'span'))).toContainEqual([60, 8]);
    // It does not close: 100 is far from 0.
    expect(bent(flat, 100, 5, 'span')).toEqual([0, 0, 25, 0, 50, 0, 75, 0, 100, 5]);
  });
});
