/** The twins of following: what the definition finds, with its likeness and weight, and the same warp, to the bit. */
import fc from 'fast-check';
import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import { rng } from '../src/core/math/rng';
import { Follower } from '../src/core/track/follow';
import { pyramid, warpBy, warpedBy } from '../src/core/track/image';
import type { Grey, Warp } from '../src/core/track/image';
import { findBy, foundBy } from '../src/core/track/lucasKanade';
import type { Find } from '../src/core/track/lucasKanade';
import { wasmFollowing } from '../src/engine/following';
import { wasmBytes } from '../testkit/bench';

let find: Find;
let warp: Warp;
beforeAll(async () => void ({ find, warp } = await wasmFollowing(await WebAssembly.compile(wasmBytes()))));
afterEach(() => {
  findBy(foundBy);
  warpBy(warpedBy);
});
/** Soft spots, some flat ground, noise; moved by (dx, dy). */
function spots(w: number, h: number, seed: number, dx = 0, dy = 0): Grey {
  const r = rng(seed);
  const list = Array.from(
    { length: Math.ceil((w * h) / 90) },
    () => [r() * w, r() * h, 1 + 3 * r(), r() - 0.5] as const,
  );
  const data = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let v = 0.5;
      for (const [cx, cy, s, a] of list) {
        const d = ((x - dx - cx) ** 2 + (y - dy - cy) ** 2) / (s * s);
        if (d < 12) v += a * Math.exp(-d / 2);
      }
      data[y * w + x] = v + 0.01 * (rng(seed * 7 + y * w + x + Math.round(100 * dx))() - 0.5);
    }
  return { w, h, data };
}

describe('the twins of following', () => {
  it('find what the definition finds, at the edge and beyond it too', () => {
    const side = fc.integer({ min: 26, max: 70 });
    let [found, lost] = [0, 0];
    fc.assert(
      fc.property(side, side, fc.integer({ min: 1, max: 1e6 }), fc.boolean(), (w, h, seed, fine) => {
        const r = rng(seed);
        const moved = spots(w, h, seed, 3 * r() - 1.5, 3 * r() - 1.5);
        // In a third of it something else stands now.
        const other = spots(w, h, seed + 1);
        for (let i = 0; i < w * h; i++) if (i % w > 0.66 * w) moved.data[i] = other.data[i]!;
        const [a, b] = [spots(w, h, seed), moved].map((g) => pyramid(g, 3));
        const points = Array.from({ length: 14 }, () => [r() * w, r() * h] as const);
        for (const how of [{ fine }, { fine, within: 0.8 }, { fine, within: 0.8, levels: 1 }]) {
          const want = foundBy(a!, b!, points, how);
          expect(find(a!, b!, points, how)).toEqual(want);
          for (const f of want)
            if (f) found++;
            else lost++;
        }
      }),
      { numRuns: 40, seed: 5 },
    );
    // Both were asked: what is found, and what is not.
    expect(found).toBeGreaterThan(500);
    expect(lost).toBeGreaterThan(50);
  });
  it('warp as it is defined, where a place is no number too', () => {
    const g = spots(61, 43, 3);
    const win = { x: -5, y: 3, w: 72, h: 50 };
    for (const h of [
      [1, 0, 0.37, 0, 1, -0.81, 0, 0, 1],
      [0.98, -0.11, 4, 0.11, 0.98, -3, 0, 0, 1],
      [1, 0.02, 0, -0.03, 1.1, 0, 0.002, -0.004, 1],
      [1, 0, 0, 0, 1, 0, 0, 0, 0],
      [1e300, 0, 0, 0, 1, 0, 1e300, 0, 0],
    ]) {
      const [want, got] = [warpedBy(g, h, win), warp(g, h, win)];
      expect(Buffer.from(got.grey.data.buffer).equals(Buffer.from(want.grey.data.buffer))).toBe(true);
      expect(got.inside).toEqual(want.inside);
    }
  });
  it('are what a shape is followed by once they are set: the same path', () => {
    const frames = [0, 1, 2, 3].map((n) => spots(150, 120, 11, 1.3 * n, 0.6 * n));
    const path = () => {
      const f = new Follower(
        frames[0]!,
        [
          [40, 30],
          [110, 30],
          [110, 90],
          [40, 90],
        ],
        'similarity',
      );
      return frames.slice(1).map((g) => f.step(g));
    };
    const want = path();
    let asked = 0;
    findBy((...a) => (asked++, find(...a)));
    warpBy(warp);
    expect(path()).toEqual(want);
    expect(asked).toBeGreaterThan(3);
    expect(want.at(-1)!.h[2]).toBeCloseTo(3.9, 1);
    expect(want.at(-1)!.quality).toBeGreaterThan(0.6);
  });
});
