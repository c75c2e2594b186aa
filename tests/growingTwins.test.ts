/** The twins of growing: fields, distances, what colours teach and how well each belongs, to the bit. */
import fc from 'fast-check';
import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import { rng } from '../src/core/math/rng';
import { fieldBy, fielded } from '../src/core/matte/geodesic';
import type { Field } from '../src/core/matte/geodesic';
import { distanceBy, distances, learnBy, learning, windowOf } from '../src/core/matte/likeness';
import { fitModel, modelBy, modelled } from '../src/core/matte/model';
import { differences, spread, SPREAD } from '../src/core/matte/spread';
import type { SmallPicture } from '../src/core/matte/spread';
import { wasmGrowing } from '../src/engine/growing';
import { wasmBytes } from '../testkit/bench';

let twin: Awaited<ReturnType<typeof wasmGrowing>>;
beforeAll(async () => void (twin = await wasmGrowing(await WebAssembly.compile(wasmBytes()))));
afterEach(() => {
  fieldBy(fielded);
  distanceBy(distances);
  learnBy(learning);
  modelBy(modelled);
});
const side = fc.integer({ min: 1, max: 37 });
const seed = fc.integer({ min: 1, max: 1e6 });
/** Blobs of a few colours with grain. */
function picture(w: number, h: number, r: () => number): SmallPicture {
  const spots = Array.from({ length: 5 }, () => [r() * w, r() * h, r() * 0.8, 0.3 * (r() - 0.5), 0.3 * (r() - 0.5)]);
  const at = Array.from({ length: w * h }, (_, i) => {
    const far = spots.map(([x, y]) => Math.hypot((i % w) - x!, Math.floor(i / w) - y!));
    return spots[far.indexOf(Math.min(...far))]!;
  });
  const plane = (k: number): Float32Array => Float32Array.from(at, (s) => s[k]! + 0.02 * r());
  return { w, h, L: plane(2), a: plane(3), b: plane(4) };
}
/** Rectangles of 1. */
function blocks(w: number, h: number, r: () => number, n = 3): Uint8Array {
  const out = new Uint8Array(w * h);
  for (let k = 0; k < n; k++) {
    const [x0, y0] = [Math.floor(r() * w), Math.floor(r() * h)];
    const [x1, y1] = [Math.min(w, x0 + 1 + r() * 9), Math.min(h, y0 + 1 + r() * 9)];
    for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) out[y * w + x] = 1;
  }
  return out;
}
const same = (a: ArrayBufferView, b: ArrayBufferView): void =>
  expect(Buffer.from(a.buffer, a.byteOffset, a.byteLength).equals(new Uint8Array(b.buffer))).toBe(true);

describe('the twins of growing', () => {
  it('give the same ways over any cost, from anywhere, up to any length', () => {
    let reached = 0;
    fc.assert(
      fc.property(side, side, seed, (w, h, s) => {
        const r = rng(s);
        const p = picture(w, h, r);
        const foreign = Float32Array.from(p.L, () => (r() < 0.5 ? 0 : r()));
        const edges = differences(p).map((d) => d.map((v) => (v > 0.02 ? v : 0)));
        const of: Parameters<Field> = [p, edges, foreign, blocks(w, h, r, s % 4), [0.005, 0.05, 0.5, 5][s % 4]!];
        const want = fielded(...of);
        same(twin.field(...of), want);
        if (want.some((v) => v > 0 && v < of[4] * 0.9)) reached++;
      }),
      { numRuns: 200, seed: 5 },
    );
    expect(reached).toBeGreaterThan(80);
  });
  it('give the same distances, everywhere and in a window, where the nearest lies in it as everywhere', () => {
    fc.assert(
      fc.property(side, side, seed, (w, h, s) => {
        const on = blocks(w, h, rng(s), s % 4);
        for (const value of [0, 1] as const) same(twin.distance(on, w, value), distances(on, w, value));
        const far = 1 + (s % 7);
        const of = windowOf(on, w, far);
        const [whole, part] = [distances(on, w, 1), distances(on, w, 1, of)];
        same(twin.distance(on, w, 1, of), part);
        if (!on.includes(1)) return;
        for (let i = 0; i < on.length; i++) {
          const [x, y] = [i % w, Math.floor(i / w)];
          const within = x >= of.x0 && x < of.x1 && y >= of.y0 && y < of.y1;
          // What lies beyond the window lies further away than what it was made for.
          if (within) expect(part[i]).toBe(whole[i]);
          else expect(whole[i]).toBeGreaterThan(far);
        }
      }),
      { numRuns: 150, seed: 6 },
    );
  });
  it('count and weigh colours alike', () => {
    let taught = 0;
    fc.assert(
      fc.property(side, side, seed, (w, h, s) => {
        const r = rng(s);
        const [size, n] = [50, w * h];
        const cell = Uint16Array.from({ length: n }, () => r() * size);
        const marks = blocks(w, h, r, 1).map((v) => v * (1 + (s % 2)));
        const [mask, beyond] = [blocks(w, h, r), blocks(w, h, r, 5)];
        const near = 3 + 8 * r();
        const of = [size, w, cell, mask, marks, beyond, near, windowOf(mask, w, near + 1)] as const;
        const [want, got] = [learning.counted(...of), twin.learning.counted(...of)];
        want.tables.forEach((t, k) => same(got.tables[k]!, t));
        expect(got.all).toEqual(want.all);
        same(got.deep, want.deep);
        if (want.all.every((v, k) => k > 1 || v > 0)) taught++;
        const table = (): Float32Array => Float32Array.from({ length: size }, () => r() * r());
        const given = [cell, table(), table(), Float32Array.from({ length: n }, () => r())] as const;
        const [a, b] = [learning.weighed(...given), twin.learning.weighed(...given)];
        same(b.belongs, a.belongs);
        same(b.density, a.density);
      }),
      { numRuns: 150, seed: 7 },
    );
    expect(taught).toBeGreaterThan(40);
  });
  it('say how well every colour belongs: with several surfaces, with nothing left, of an odd number of pixels', () => {
    let [full, partly] = [0, 0];
    fc.assert(
      fc.property(side, side, seed, (w, h, s) => {
        const r = rng(s);
        const p = picture(w, h, r);
        const samples = (n: number): Float32Array =>
          Float32Array.from(
            Array.from({ length: n }, () => Math.floor(r() * w * h)).flatMap((i) => [p.L[i]!, p.a[i]!, p.b[i]!]),
          );
        const keep = Array.from({ length: 1 + (s % 3) }, () => samples(5));
        const m = fitModel(keep, samples(s % 2 ? 12 : 0));
        const want = modelled(m, p.L, p.a, p.b);
        same(twin.modelled(m, p.L, p.a, p.b), want);
        full += want.filter((v) => v === 1).length;
        partly += want.filter((v) => v > 0.01 && v < 0.99).length;
      }),
      { numRuns: 150, seed: 8 },
    );
    expect(full).toBeGreaterThan(1000);
    expect(partly).toBeGreaterThan(1000);
  });
  it('are what a spread grows by once they are set, with room for a large picture', () => {
    const [w, h] = [480, 270];
    const p = picture(w, h, rng(3));
    const marks = new Uint8Array(w * h);
    marks.fill(1, 135 * w + 200, 135 * w + 230);
    const want = spread({ ...p }, marks, null, SPREAD);
    let asked = 0;
    fieldBy((...of) => (asked++, twin.field(...of)));
    distanceBy((...of) => (asked++, twin.distance(...of)));
    learnBy(twin.learning);
    modelBy((...of) => (asked++, twin.modelled(...of)));
    const got = spread({ ...p }, marks, null, SPREAD);
    expect(asked).toBeGreaterThan(3);
    expect(want.mask.includes(1) && want.mask.includes(0)).toBe(true);
    same(got.mask, want.mask);
    same(got.belongs, want.belongs);
  });
});
