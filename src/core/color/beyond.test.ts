import { describe, expect, it } from 'vitest';
import { beyondOf } from './beyond';

const rgb = (...px: [number, number, number][]) => {
  const one = (c: 0 | 1 | 2): Float32Array => Float32Array.from(px, (p) => p[c]);
  return { r: one(0), g: one(1), b: one(2) };
};
const quiet = (): void => undefined;

describe('what lies beyond the range', () => {
  it('counts pixels by how much they are in, and tells the furthest channel, on either side', () => {
    const p = rgb([0.5, 0.5, 0.5], [1.25, 0.5, 0.5], [0.5, -0.5, 0.5], [1, 0, 1]);
    expect(beyondOf(p, null, quiet)).toEqual({ share: 0.5, furthest: 0.5 });
    expect(beyondOf(p, Float32Array.of(1, 0.5, 0, 0.5), quiet)).toEqual({ share: 0.25, furthest: 0.25 });
  });
  it('half a step of a 16-bit file is none; what is no number is left out; an empty region has nothing', () => {
    expect(beyondOf(rgb([1 + 0.4 / 65535, 0, 0]), null, quiet)).toEqual({ share: 0, furthest: 0 });
    expect(beyondOf(rgb([1 + 2 / 65535, 0, 0]), null, quiet).share).toBe(1);
    expect(beyondOf(rgb([NaN, 2, 2], [Infinity, 0, 0], [0.1, 0.1, 0.1]), null, quiet)).toEqual({
      share: 0,
      furthest: 0,
    });
    expect(beyondOf(rgb([2, 2, 2]), Float32Array.of(0), quiet)).toEqual({ share: 0, furthest: 0 });
  });
});
