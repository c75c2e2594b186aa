import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { AreaOp } from '../../op/contract';
import edgeColour from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(edgeColour, vectors, { twinTolerance: 0, twinReason: 'the same float64 arithmetic' });

const op = edgeColour as unknown as AreaOp<typeof params>;
const [W, H] = [96, 60];
const N = W * H;
function unmixed(src: Float32Array[], matte: Float32Array, p: Partial<Record<keyof typeof params, number>> = {}) {
  const block = op.prepare({ amountPct: 100, reachPx: 12, ...p }, plainContext);
  const dst = [0, 1, 2, 3].map(() => new Float32Array(N));
  op.kernels['unmix']!(block, {
    ...{ src, dst, work: [], picture: [matte], scratch: new Int32Array(0) },
    ...{ w: W, h: H, y0: 0, y1: H },
  });
  by = dst.pop()!;
  return dst;
}
/** What the changes are limited by, of the last one that was unmixed. */
let by = new Float32Array(0);
const r = rng(9);
const noise = (): number => 0.03 * (r() - 0.5);
/** A thing with folds before a ground with a pattern, laid over it by a soft, slanted edge. */
const thing = [0.55, 0.18, 0.2].map((v) =>
  Float32Array.from({ length: N }, (_, i) => v * (1 + 0.25 * Math.sin((i % W) / 7 + i / W / 9)) + noise()),
);
const ground = [0.25, 0.4, 0.6].map((v) =>
  Float32Array.from({ length: N }, (_, i) => v + 0.05 * Math.sin(i / W / 4) + noise()),
);
const matte = Float32Array.from({ length: N }, (_, i) =>
  Math.min(1, Math.max(0, 0.5 + (44 + 0.2 * Math.floor(i / W) - (i % W)) / 5)),
);
const mixed = thing.map((t, c) => t.map((v, i) => matte[i]! * v + (1 - matte[i]!) * ground[c]![i]!));
const edge = [...matte.keys()].filter((i) => matte[i]! > 0.05 && matte[i]! < 0.95);
const apart = (a: readonly Float32Array[], b: readonly Float32Array[], at: readonly number[]): number =>
  Math.sqrt(at.reduce((s, i) => s + a.reduce((q, p, c) => q + (p[i]! - b[c]![i]!) ** 2, 0), 0) / (3 * at.length));

describe('the colours of an edge', () => {
  it('come near those of the thing alone, and where there is no mixture not a bit moves', () => {
    const got = unmixed(mixed, matte);
    expect(apart(got, thing, edge)).toBeLessThan(0.35 * apart(mixed, thing, edge));
    const rest = [...matte.keys()].filter((i) => matte[i] === 0 || matte[i] === 1);
    for (const [c, p] of got.entries()) expect(rest.filter((i) => !Object.is(p[i], mixed[c]![i]))).toEqual([]);
    const half = unmixed(mixed, matte, { amountPct: 50 });
    const between = apart(half, mixed, edge) / apart(got, mixed, edge);
    expect(Math.abs(between - 0.5)).toBeLessThan(0.01);
  });
  it('where the matte takes in ground alone it is held back, nowhere more than it was; a true edge keeps it', () => {
    unmixed(mixed, matte);
    const held = edge.filter((i) => by[i]! < matte[i]! - 0.1);
    expect(held.length).toBeLessThan(0.05 * edge.length);
    expect(by.every((v, i) => v <= matte[i]!)).toBe(true);
    const wide = Float32Array.from({ length: N }, (_, i) => Math.min(1, Math.max(0, 0.5 + (54 - (i % W)) / 20)));
    const hard = thing.map((t, c) => t.map((v, i) => (i % W < 44 ? v : ground[c]![i]!)));
    unmixed(hard, wide, { reachPx: 24 });
    const halo = [...wide.keys()].filter((i) => i % W > 46 && i % W < 60);
    const share = (m: Float32Array): number => halo.reduce((a, i) => a + m[i]!, 0) / halo.length;
    expect(share(wide)).toBeGreaterThan(0.4);
    expect(share(by)).toBeLessThan(0.12);
  });
  it('a matte that is softer than the edge of the picture makes nothing of what is whole', () => {
    const soft = Float32Array.from({ length: N }, (_, i) => Math.min(1, Math.max(0, 0.5 + (44 - (i % W)) / 16)));
    const hard = thing.map((t, c) => t.map((v, i) => (i % W < 44 ? v : ground[c]![i]!)));
    const got = unmixed(hard, soft, { reachPx: 24 });
    const inside = [...soft.keys()].filter((i) => i % W < 43 && soft[i]! < 1 && soft[i]! > 0);
    expect(inside.length).toBeGreaterThan(200);
    expect(apart(got, hard, inside)).toBeLessThan(0.04);
  });
  it('where one side is out of reach the pixel keeps its bits', () => {
    const within = matte.map((m) => 0.3 + 0.4 * m);
    const all = unmixed(mixed, within.fill(0.6));
    // Neither full nor empty anywhere: a mixture of two that are one.
    expect(apart(all, mixed, [...matte.keys()])).toBeLessThan(0.02);
    const far = Float32Array.from({ length: N }, (_, i) => (i % W < 40 ? 1 : i % W < 90 ? 0.5 : 0));
    const got = unmixed(mixed, far, { reachPx: 8 });
    for (const [c, p] of got.entries()) for (let y = 0; y < H; y++) expect(p[y * W + 62]).toBe(mixed[c]![y * W + 62]);
  });
});
