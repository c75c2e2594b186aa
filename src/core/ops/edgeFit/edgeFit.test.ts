import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { bothKernels } from '../../../../testkit/bench';
import { opContract } from '../../../../testkit/opContract';
import { rng } from '../../math/rng';
import { migrateParams, plainContext } from '../../op/contract';
import type { TidyFrameOp } from '../../op/contract';
import edgeFit from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(edgeFit, vectors, {
  twinTolerance: 0,
  twinReason: 'exact sums, then the same float64 arithmetic',
  // Run all the same, which the engine never does, it rounds to its own fine steps.
  noOpTolerance: 2e-5,
});

const op = edgeFit as unknown as TidyFrameOp<typeof params>;
function run(
  m: Float32Array,
  picture: Float32Array[],
  [w, h]: [number, number],
  p: { radiusPx: number; edgePct: number; holdPct: number },
): Float32Array {
  const block = op.prepare(p, plainContext);
  const dst = new Float32Array(w * h);
  const work = Array.from({ length: 4 }, () => new Float32Array(w * h));
  for (const pass of op.passes(block))
    op.kernels[pass.name]!(block, {
      src: [m],
      dst: [dst],
      work,
      picture,
      scratch: new Int32Array(0),
      w,
      h,
      y0: 0,
      y1: h,
    });
  return dst;
}

// Source: cv2.ximgproc.guidedFilter of python3-opencv 4.6.0 and a float64 box filter, borders "symmetric"; the file
// says more. With a grey picture three equal channels share the work: their epsilon is three times that of one.
interface Case {
  radius: number;
  eps: number;
  brute_force_float64: { symmetric: number[][] };
}
const file = JSON.parse(
  readFileSync(new URL('../../../../tests/data/guided_filter_case.json', import.meta.url), 'utf8'),
) as { guide: number[][]; input: number[][]; cases: Case[] };

describe('edge fit against the published filter', () => {
  it.each(file.cases)('grey picture, radius $radius, eps $eps', ({ radius, eps, brute_force_float64: want }) => {
    const grey = Float32Array.from(file.guide.flat());
    const n = Math.sqrt(grey.length);
    const got = run(Float32Array.from(file.input.flat()), [grey, grey, grey], [n, n], {
      radiusPx: radius,
      edgePct: 100 * Math.sqrt(3 * eps),
      holdPct: 0,
    });
    want.symmetric.flat().forEach((v, i) => expect(Math.abs(got[i]! - Math.min(1, Math.max(0, v)))).toBeLessThan(2e-4));
  });

  it('follows a border of colour at equal luma, where a grey guide would see nothing', () => {
    const [w, h] = [80, 60];
    const r = rng(2);
    const left = (i: number): boolean => i % w < 40;
    const noise = (): number => 0.01 * (r() - 0.5);
    // Red and green of the same luma (BT.709).
    const R = Float32Array.from({ length: w * h }, (_, i) => (left(i) ? 0.7 : 0.4) + noise());
    const G = Float32Array.from({ length: w * h }, (_, i) => (left(i) ? 0.4 : 0.4 + (0.3 * 0.2126) / 0.7152) + noise());
    const B = Float32Array.from({ length: w * h }, () => 0.3 + noise());
    const rough = Float32Array.from({ length: w * h }, (_, i) => Math.min(1, Math.max(0, (46 - (i % w)) / 8)));
    // How much of the way from full to nothing lies between the two pixels at the border.
    const step = (m: Float32Array): number =>
      m.reduce((a, v, i) => a + (i % w === 39 ? v : i % w === 40 ? -v : 0), 0) / h;
    const got = run(rough, [R, G, B], [w, h], { radiusPx: 8, edgePct: 3, holdPct: 0 });
    expect(step(rough)).toBeCloseTo(0.125, 3);
    expect(step(got)).toBeGreaterThan(0.5);
    const flat = [G, G, G].map((p) => p.map(() => 0.5));
    expect(step(run(rough, flat, [w, h], { radiusPx: 8, edgePct: 3, holdPct: 0 }))).toBeLessThan(0.1);
    // Further than twice the radius from the rough edge nothing moved by a bit.
    got.forEach((v, i) => (i % w < 21 || i % w > 62) && expect(v).toBe(rough[i]));
  });
});

describe('edge fit where most of the matte is flat', () => {
  // What is left out where windows hold one value must not show: the twin is the definition to the bit on every matte.
  it.each([
    [1, 10],
    [3, 0],
    [8, 10],
    [20, 45],
    [70, 10],
  ])('radius %d px, %d % held', async (radiusPx, holdPct) => {
    const [w, h] = [150, 110];
    const r = rng(radiusPx);
    const matte = Float32Array.from({ length: w * h }, (_, i) =>
      Math.min(1, Math.max(0, (24 - Math.hypot((i % w) - 60, Math.floor(i / w) - 50)) / 3)),
    );
    for (const [x, y] of [
      [140, 4],
      [149, 109],
      [100, 60],
      [0, 80],
      [61, 50],
    ] as const)
      matte[y * w + x] = 0.4;
    const picture = [0, 1, 2].map(() => Float32Array.from({ length: w * h }, () => r()));
    const { wasm, memory, f32 } = await bothKernels();
    const p = { radiusPx, edgePct: 4, holdPct };
    const block = op.prepare(p, plainContext);
    const [table, first, bytes] = [2 ** 17, 2 ** 19, 4 * w * h];
    // Given, wanted, four of the steps' own, the picture; then room for their sums.
    const at = Array.from({ length: 10 }, (_, i) => first + i * bytes);
    f32(1024, block.length).set(block);
    new Uint32Array(memory.buffer, table, 13).set([1, 1, 4, 3, ...at.slice(0, 9)]);
    f32(at[0]!, w * h).set(matte);
    picture.forEach((plane, c) => f32(at[6 + c]!, w * h).set(plane));
    for (const { name } of op.passes(block)) wasm[`frame_edgeFit_${name}`]!(1024, table, at[9]!, w, h, 0, h);
    const [got, want] = [f32(at[1]!, w * h).slice(), run(matte, picture, [w, h], p)];
    expect(Buffer.compare(Buffer.from(got.buffer), Buffer.from(want.buffer))).toBe(0);
    if (radiusPx < 20) expect(want.filter((v) => v === 0).length).toBeGreaterThan(w * h * 0.3);
  });
});

describe('what the edge fit holds', () => {
  const [w, h] = [80, 60];
  const r = rng(6);
  const on = (i: number): boolean => Math.hypot((i % w) - 40, Math.floor(i / w) - 30) < 20;
  // A thing before another, both with the noise of a camera.
  const picture = [0.6, 0.45, 0.4].map((v, c) =>
    Float32Array.from({ length: w * h }, (_, i) => (on(i) ? v : [0.3, 0.34, 0.38][c]!) + 0.07 * (r() - 0.5)),
  );
  const mask = Float32Array.from({ length: w * h }, (_, i) => (on(i) ? 1 : 0));
  const fitted = (m: Float32Array, holdPct: number): Float32Array =>
    run(m, picture, [w, h], { radiusPx: 8, edgePct: 3, holdPct });
  const share = (m: Float32Array, of: (v: number, i: number) => boolean, within: (i: number) => boolean): number =>
    m.filter((v, i) => within(i) && of(v, i)).length / m.filter((_, i) => within(i)).length;

  it('noise takes nothing from what was wholly in, and gives nothing to what was wholly out', () => {
    const [free, held] = [fitted(mask, 0), fitted(mask, 10)];
    const rim = (i: number): boolean => Math.abs(Math.hypot((i % w) - 40, Math.floor(i / w) - 30) - 20) < 8;
    const inner = (i: number): boolean => rim(i) && on(i);
    const outer = (i: number): boolean => rim(i) && !on(i);
    expect(share(free, (v) => v >= 0.98, inner)).toBeLessThan(0.6);
    expect(share(held, (v) => v >= 0.98, inner)).toBeGreaterThan(0.9);
    expect(share(free, (v) => v <= 0.02, outer)).toBeLessThan(0.6);
    expect(share(held, (v) => v <= 0.02, outer)).toBeGreaterThan(0.9);
  });
  it('is a straight stretch of the ends, and none of what lies between', () => {
    const soft = mask.map((v, i) => ((i % w) + Math.floor(i / w) < 70 ? v : 0.3 + 0.4 * v));
    const [free, held] = [fitted(soft, 0), fitted(soft, 10)];
    const c = Math.fround(0.1);
    held.forEach((v, i) => {
      const f = free[i]!;
      // The fit itself is held between 0 and 1, so that its ends are told from below and above only.
      if (soft[i] === 1) expect(v).toBeCloseTo(Math.min(1, f / (1 - c)), 5);
      else if (soft[i] === 0) expect(v).toBeCloseTo(Math.max(0, (f - c) / (1 - c)), 5);
      else expect(v).toBe(f);
    });
  });
  it('older projects hold nothing', () => {
    expect(migrateParams(edgeFit, 1, {})).toEqual({ holdPct: 0 });
    expect(migrateParams(edgeFit, 2, {})).toEqual({});
  });
});
