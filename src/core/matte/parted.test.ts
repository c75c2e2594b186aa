/** What of a guess at a person's skin is another thing, and what is only another light on it. */
import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { closed, otsu, parted } from './parted';
import type { SmallPicture } from './spread';

const [W, H] = [60, 50];
/** An ellipse of lightness, chroma and hue in degrees as `of` says of places in it, from -1 to 1; grey about it. */
function thing(of: (u: number, v: number) => readonly [number, number, number]): { p: SmallPicture; mask: Uint8Array } {
  const r = rng(5);
  const p: SmallPicture = {
    w: W,
    h: H,
    L: new Float32Array(W * H),
    a: new Float32Array(W * H),
    b: new Float32Array(W * H),
  };
  const mask = new Uint8Array(W * H);
  for (let i = 0; i < W * H; i++) {
    const [u, v] = [((i % W) - 30) / 20, (Math.floor(i / W) - 25) / 20];
    mask[i] = u * u + v * v < 1 ? 1 : 0;
    const [L, c, deg] = mask[i] ? of(u, v) : [0.5, 0, 0];
    p.L[i] = L + 0.01 * (r() - 0.5);
    p.a[i] = c * Math.cos((deg * Math.PI) / 180) + 0.004 * (r() - 0.5);
    p.b[i] = c * Math.sin((deg * Math.PI) / 180) + 0.004 * (r() - 0.5);
  }
  return { p, mask };
}
const pressAt = (x: number, y: number): Uint8Array => {
  const m = new Uint8Array(W * H);
  for (let j = -1; j <= 1; j++) for (let i = -1; i <= 1; i++) m[(y + j) * W + x + i] = 1;
  return m;
};
const count = (m: Uint8Array): number => m.reduce((a, b) => a + b, 0);
/** Skin in the light. */
const SKIN = [0.7, 0.09, 50] as const;
/** A fifth of the thing at its top: hair of another hue, dark, of less chroma. */
const withHair = thing((_, v) => (v < -0.5 ? [0.4, 0.04, 80] : SKIN));

describe('parted', () => {
  it('takes out hair that an edge and another hue part from what was pressed', () => {
    const { p, mask } = withHair;
    const left = parted(p, mask, pressAt(30, 30));
    const hair = mask.map((v, i) => (v === 1 && (Math.floor(i / W) - 25) / 20 < -0.5 ? 1 : 0));
    expect(count(hair)).toBeGreaterThan(200);
    // But for a row or two where both meet.
    expect(count(left.map((v, i) => v & hair[i]!))).toBeLessThan(0.15 * count(hair));
    expect(count(left.map((v, i) => v & (1 - hair[i]!)))).toBeGreaterThan(0.97 * (count(mask) - count(hair)));
  });
  it('what was pressed stays, and the rest goes: the hair', () => {
    const { p, mask } = withHair;
    const left = parted(p, mask, pressAt(30, 10));
    expect(left[10 * W + 30]).toBe(1);
    expect(left[30 * W + 30]).toBe(0);
  });
  it.each([
    [
      'a shaded side of the same hue, darker and of more chroma for its light',
      (u: number) => (u > 0.1 ? [0.45, 0.09, 52] : SKIN),
    ],
    ['a warmer side without an edge', (u: number) => [0.7, 0.09, 50 + 25 * u]],
    [
      'a spot of another hue that is small',
      (u: number, v: number) => (Math.hypot(u, v + 0.6) < 0.15 ? [0.5, 0.12, 10] : SKIN),
    ],
    ['nothing at all', () => SKIN],
  ] as [string, (u: number, v: number) => readonly [number, number, number]][])('leaves %s as it is', (_, of) => {
    const { p, mask } = thing(of);
    expect(parted(p, mask, pressAt(25, 30))).toBe(mask);
  });
  it('a guess of few pixels, or one in which nothing is pressed, is left as it is', () => {
    const { p, mask } = withHair;
    const few = mask.map((v, i) => (i % W === 30 ? v : 0));
    expect(count(few)).toBeGreaterThan(30);
    expect(parted(p, few, pressAt(30, 30))).toBe(few);
    expect(parted(p, mask, pressAt(2, 2))).toBe(mask);
  });
});
describe('closed', () => {
  /** Skin with a highlight that fades into it at (24, 20), an eye at (38, 22). */
  const lit = thing((u, v) => {
    const glow = Math.max(0, 1 - Math.hypot(u + 0.3, v + 0.25) / 0.35);
    return Math.hypot(u - 0.4, v + 0.15) < 0.14 ? [0.9, 0.01, 50] : [0.7 + 0.12 * glow, 0.09 - 0.03 * glow, 50];
  });
  const at = (m: Uint8Array, x: number, y: number): number => m[y * W + x]!;
  const holed = (): Uint8Array => {
    const m = lit.mask.slice();
    for (const [x, y, r] of [
      [24, 20, 3],
      [38, 22, 3],
    ] as const)
      for (let i = 0; i < m.length; i++) if (Math.hypot((i % W) - x, Math.floor(i / W) - y) <= r) m[i] = 0;
    return m;
  };
  it('fills a hole without an edge about it, a highlight; an eye stays out, and what lies about the mask', () => {
    const m = closed(lit.p, holed(), pressAt(30, 35), null);
    expect(at(m, 24, 20)).toBe(1);
    expect(at(m, 38, 22)).toBe(0);
    expect(m.map((v, i) => (lit.mask[i] === 0 ? v : 0))).not.toContain(1);
  });
  it('what somebody painted as not meant stays out, and what lies outside the shape', () => {
    const marks = pressAt(30, 35);
    marks[20 * W + 24] = 2;
    const left = holed();
    expect(closed(lit.p, left, marks, null)).toBe(left);
    const shape = new Uint8Array(W * H).fill(1);
    shape[20 * W + 23] = 0;
    expect(closed(lit.p, left, pressAt(30, 35), shape)).toBe(left);
  });
  it('a bay is no hole, and more than half of the mask is none either', () => {
    const flat = thing(() => SKIN);
    const bay = flat.mask.map((v, i) => (i % W > 27 && i % W < 33 && i < 25 * W ? 0 : v));
    expect(closed(flat.p, bay, pressAt(30, 35), null)).toBe(bay);
    const ring = flat.mask.map((v, i) => (Math.hypot((i % W) - 30, Math.floor(i / W) - 25) < 15 ? 0 : v));
    expect(closed(flat.p, ring, pressAt(30, 8), null)).toBe(ring);
    // What reaches the picture's rim is not closed in.
    const cut = flat.mask.map((_, i) => (i % W < 8 && !(i % W < 3 && i > 20 * W && i < 24 * W) ? 1 : 0));
    expect(closed(flat.p, cut, pressAt(6, 8), null)).toBe(cut);
  });
});
describe('the threshold that divides best', () => {
  it('is the one of the definition: the largest variance between both sides, by trying each', () => {
    const r = rng(9);
    for (let round = 0; round < 20; round++) {
      const v = Float64Array.from({ length: 40 }, () => r() + (r() < 0.3 ? 1 : 0));
      const between = (t: number): number => {
        const [a, b] = [v.filter((x) => x <= t), v.filter((x) => x > t)];
        if (a.length === 0 || b.length === 0) return -1;
        const mean = (q: Float64Array): number => q.reduce((s, x) => s + x, 0) / q.length;
        return (a.length / v.length) * (b.length / v.length) * (mean(a) - mean(b)) ** 2;
      };
      const best = Math.max(...[...v].map(between));
      expect(between(otsu(v))).toBeCloseTo(best, 12);
    }
    expect(otsu(Float64Array.of(1, 1, 5, 5, 5))).toBe(3);
  });
});
