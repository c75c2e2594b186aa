import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { TidyFrameOp } from '../../op/contract';
import holes from '../holes/index';
import { vectors as holeVectors } from '../holes/vectors';
import specks from './index';
import { vectors } from './vectors';

opContract(specks, vectors, { twinTolerance: 0, twinReason: 'whole numbers and copies' });
opContract(holes, holeVectors, { twinTolerance: 0, twinReason: 'whole numbers and copies' });

const [W, H] = [90, 70];
function run(op: unknown, m: Float32Array, params: Record<string, number>): Float32Array {
  const o = op as TidyFrameOp<never>;
  const full = {
    ...Object.fromEntries(Object.entries(o.params).map(([k, s]) => [k, (s as { default: number }).default])),
    ...params,
  };
  const block = o.prepare(full as never, plainContext);
  const dst = new Float32Array(W * H);
  const work = Array.from({ length: o.workPlanes }, () => new Float32Array(W * H).fill(7));
  for (const p of o.passes(block))
    o.kernels[p.name]!(block, {
      src: [m],
      dst: [dst],
      work,
      picture: [],
      scratch: new Int32Array(0),
      w: W,
      h: H,
      y0: 0,
      y1: H,
    });
  return dst;
}
/** Another way to the same pieces: flood fill from every pixel that is not yet named. */
function flood(inside: (i: number) => boolean, eight: boolean): { name: Int32Array; sizes: number[] } {
  const name = new Int32Array(W * H).fill(-1);
  const sizes: number[] = [];
  for (let s = 0; s < W * H; s++) {
    if (!inside(s) || name[s]! >= 0) continue;
    const k = sizes.push(0) - 1;
    const todo = [s];
    name[s] = k;
    while (todo.length) {
      const i = todo.pop()!;
      sizes[k]!++;
      const [x, y] = [i % W, Math.floor(i / W)];
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const [u, v] = [x + dx, y + dy];
          if (u < 0 || v < 0 || u >= W || v >= H || (!eight && dx && dy)) continue;
          const j = v * W + u;
          if (!inside(j) || name[j]! >= 0) continue;
          name[j] = k;
          todo.push(j);
        }
    }
  }
  return { name, sizes };
}

describe('specks and holes against a flood fill', () => {
  // Noise in blocks, so that pieces of every size meet at corners too.
  const r = rng(5);
  const noise = Float32Array.from({ length: W * H }, () => (r() < 0.42 ? 0.2 + 0.8 * r() : r() < 0.3 ? 0.19 * r() : 0));
  it.each([2, 5, 9, 30])('islands under a disc of %d px go, the rest keeps its bits', (sizePx) => {
    const least = Math.ceil((Math.PI / 4) * sizePx ** 2);
    const level = Math.fround(0.2);
    const strong = flood((i) => noise[i]! >= level, true);
    const weak = flood((i) => noise[i]! > 0, true);
    const holds = new Set<number>();
    strong.name.forEach((k, i) => k >= 0 && strong.sizes[k]! >= least && holds.add(weak.name[i]!));
    const got = run(specks, noise, { sizePx });
    let gone = 0;
    noise.forEach((v, i) => {
      const k = strong.name[i]!;
      const q = weak.name[i]!;
      const stays = k >= 0 ? strong.sizes[k]! >= least : q < 0 || holds.has(q) || weak.sizes[q]! >= 4 * least;
      expect(got[i]).toBe(stays ? v : 0);
      if (!stays) gone++;
    });
    expect(gone).toBeGreaterThan(20);
  });
  it.each([2, 5, 30])('holes under a disc of %d px are filled, and only they', (sizePx) => {
    const least = Math.ceil((Math.PI / 4) * sizePx ** 2);
    const m = noise.map((v) => 1 - v);
    const open = m.map((v) => 1 - v);
    const strong = flood((i) => open[i]! >= Math.fround(1 - 0.8), false);
    const got = run(holes, m, { sizePx });
    let filled = 0;
    strong.name.forEach((k, i) => {
      if (k < 0) return;
      const small = strong.sizes[k]! < least;
      expect(got[i]).toBe(small ? 1 : m[i]!);
      if (small) filled++;
    });
    expect(filled).toBeGreaterThan(20);
  });
  it('a ring with a dot in it: the dot goes with specks, the ring is filled with holes', () => {
    const at = (i: number): number => Math.hypot((i % W) - 45, Math.floor(i / W) - 35);
    const ring = Float32Array.from({ length: W * H }, (_, i) => (at(i) < 1.5 || (at(i) > 10 && at(i) < 20) ? 1 : 0));
    const noDot = run(specks, ring, { sizePx: 6 });
    expect([noDot[35 * W + 45], noDot[35 * W + 60]]).toEqual([0, 1]);
    const full = run(holes, ring, { sizePx: 22 });
    expect([full[35 * W + 45], full[35 * W + 50], full[0]]).toEqual([1, 1, 0]);
  });
});
