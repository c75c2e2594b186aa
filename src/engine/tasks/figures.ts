/** The walk over every pixel behind the proof of the surround: each thread adds to eight numbers of its own. */
import { SURROUND_COUNTS } from '../../core/skin/surround';
import type { SurroundCounts } from '../../core/skin/surround';
import type { Plane } from '../memory';
import { fields, task } from './task';
import type { Rgb } from './task';

const N = SURROUND_COUNTS.length;
/** Bytes of one thread's numbers. */
export const COUNTS_BYTES = N * 8;
export const toCounts = (a: ArrayLike<number>): SurroundCounts =>
  Object.fromEntries(SURROUND_COUNTS.map((k, i) => [k, a[i]!])) as SurroundCounts;

const surroundFields = fields('w', 'r0', 'g0', 'b0', 'r1', 'g1', 'b1', 'matte', 'to');
export const surround = task<{ w: number; h: number; before: Rgb; after: Rgb; matte: Plane | null; to: Plane }>({
  rows: (c) => c.h,
  width: (c) => c.w,
  pack: ({ w, before, after, matte, to }) =>
    surroundFields.pack({
      w,
      r0: before.r,
      g0: before.g,
      b0: before.b,
      r1: after.r,
      g1: after.g,
      b1: after.b,
      matte: matte ?? 0,
      to,
    }),
  band(ctx, y0, y1, a) {
    const { w, r0, g0, b0, r1, g1, b1, matte, to } = surroundFields.unpack(a);
    const o = 4 * y0 * w;
    ctx.kernels['surround']!(
      ...[r0 + o, g0 + o, b0 + o, r1 + o, g1 + o, b1 + o, matte ? matte + o : 0],
      (y1 - y0) * w,
      to + ctx.thread * COUNTS_BYTES,
    );
  },
});
