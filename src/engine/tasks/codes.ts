/** Planes to the whole numbers of a file, interleaved: clamped to 0..1, rounded to the nearest code, NaN as 0. */
import type { Plane } from '../memory';
import { fields, task } from './task';

const codesFields = fields('w', 'p0', 'p1', 'p2', 'p3', 'channels', 'bits', 'to');
export const codes = task<{ w: number; h: number; from: readonly Plane[]; bits: 8 | 16; to: Plane }>({
  rows: (c) => c.h,
  width: (c) => c.w,
  pack: ({ w, from: [p0 = 0, p1 = 0, p2 = 0, p3 = 0], from, bits, to }) =>
    codesFields.pack({ w, p0, p1, p2, p3, channels: from.length, bits, to }),
  band(ctx, y0, y1, a) {
    const { w, p0, p1, p2, p3, channels, bits, to } = codesFields.unpack(a);
    const i = y0 * w;
    const at = (p: number): number => (p ? p + 4 * i : 0);
    const n = (y1 - y0) * w;
    ctx.kernels['codes']!(at(p0), at(p1), at(p2), at(p3), channels, bits, n, to + (i * channels * bits) / 8);
  },
});
