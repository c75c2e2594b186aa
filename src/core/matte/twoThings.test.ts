import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import type { SmallPicture } from './spread';
import { common, reachOf, twoThings, wrap } from './twoThings';

const [W, H] = [80, 60];
type Lab = readonly [number, number, number];
const SKIN: Lab = [0.7, 0.05, 0.055];
/** The same hue and chroma over light, darker: a neck in the chin's shadow. */
const SHADED: Lab = [0.4, 0.0286, 0.0314];
/** As dark as that, of another hue. */
const HAT: Lab = [0.4, -0.03, 0.02];
const WALL: Lab = [0.55, 0.0, 0.01];
const box = (x0: number, y0: number, x1: number, y1: number): Uint8Array =>
  Uint8Array.from({ length: W * H }, (_, i) => {
    const [x, y] = [i % W, Math.floor(i / W)];
    return x >= x0 && x < x1 && y >= y0 && y < y1 ? 1 : 0;
  });
const FACE = box(25, 20, 55, 50);
const ABOVE = box(25, 8, 55, 20);
const both = (a: Uint8Array, b: Uint8Array): Uint8Array => a.map((v, i) => v | b[i]!);
/** A face with something above it; over so many rows the one goes over into the other. */
function picture(above: Lab, soft = 0): { p: SmallPicture; of: { hue: Float32Array; sat: Float32Array } } {
  const r = rng(4);
  const n = W * H;
  const p: SmallPicture = { w: W, h: H, L: new Float32Array(n), a: new Float32Array(n), b: new Float32Array(n) };
  for (let i = 0; i < n; i++) {
    const t = soft === 0 ? 1 : Math.min(1, Math.max(0, (Math.floor(i / W) - 20 + soft / 2) / soft));
    const inside = FACE[i] === 1 || ABOVE[i] === 1;
    const at = (k: 0 | 1 | 2): number =>
      inside ? (soft === 0 ? (FACE[i] === 1 ? SKIN : above)[k] : t * SKIN[k] + (1 - t) * above[k]) : WALL[k];
    [p.L[i], p.a[i], p.b[i]] = ([0, 1, 2] as const).map((k) => at(k) + 0.004 * (r() - 0.5)) as [number, number, number];
  }
  const hue = p.L.map((_, i) => Math.atan2(p.b[i]!, p.a[i]!));
  const sat = p.L.map((v, i) => Math.hypot(p.a[i]!, p.b[i]!) / v);
  return { p, of: { hue, sat } };
}
const judged = (above: Lab, soft = 0): number[] => {
  const { p, of } = picture(above, soft);
  return twoThings(p, [FACE, both(FACE, ABOVE)], of, 20);
};

describe('two things in one guess', () => {
  it('are a face and a hat of another hue: parted by an edge and of another colour', () => {
    const [face, withHat] = judged(HAT);
    expect(face).toBe(0);
    expect(withHat).toBeGreaterThan(0.6);
    expect(withHat).toBeLessThanOrEqual(1.5);
  });
  it('are not a face and its shaded part, though an edge lies between', () => {
    const [, whole] = judged(SHADED);
    expect(whole).toBeLessThan(0.05);
    expect(whole).toBeGreaterThanOrEqual(0);
  });
  it('are not two ends of one surface between which the colour goes over slowly', () => {
    const [, whole] = judged(HAT, 24);
    expect(whole).toBeLessThan(0.1 * judged(HAT)[1]!);
  });
  it('are told only by a guess that lies within and is a good part of it, not by one too small to tell', () => {
    const { p, of } = picture(HAT);
    const all = both(FACE, ABOVE);
    expect(twoThings(p, [all], of, 20)).toEqual([0]);
    expect(twoThings(p, [box(30, 30, 36, 36), all], of, 20)[1]).toBe(0);
    expect(twoThings(p, [FACE, all], of, 2000)[1]).toBe(0);
    // Half of it lies elsewhere.
    expect(twoThings(p, [box(40, 20, 70, 50), all], of, 20)).toEqual([0, 0]);
    expect(twoThings(p, [new Uint8Array(W * H), all], of, 0)).toEqual([0, 0]);
  });
});
describe('what masks share', () => {
  const masks = [FACE, ABOVE, both(FACE, ABOVE), box(40, 0, 80, 60), new Uint8Array(W * H)];
  it('is counted at once for each pair as one by one', () => {
    const counted = masks.map((a) => masks.map((b) => a.reduce((n, v, i) => n + (v & b[i]!), 0)));
    expect(common(masks)).toEqual(counted);
    expect(counted[0]![0]).toBe(900);
    expect(common([])).toEqual([]);
  });
  it('lies in what each reaches', () => {
    expect(reachOf(FACE, W)).toEqual({ x0: 25, y0: 20, x1: 55, y1: 50 });
    expect(reachOf(masks[3]!, W)).toEqual({ x0: 40, y0: 0, x1: 80, y1: 60 });
    expect(reachOf(masks[4]!, W)).toEqual({ x0: 0, y0: 0, x1: 0, y1: 0 });
  });
});
describe('an angle', () => {
  it('is brought within half a turn', () => {
    expect(wrap(Math.PI + 0.1)).toBeCloseTo(0.1 - Math.PI, 12);
    expect(wrap(-Math.PI - 0.1)).toBeCloseTo(Math.PI - 0.1, 12);
    expect(wrap(1)).toBe(1);
  });
});
