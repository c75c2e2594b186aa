/** Counting for the scopes: each thread into a piece of its own, added up afterwards. */
import { SCOPE_SIZE, STRIP_DEG, waveColumns } from '../../core/scopes/reduce';
import { DEG } from '../../core/math/angle';
import type { Box } from '../../core/skin/reading';
import type { Plane } from '../memory';
import { fields, task } from './task';
import type { Rgb } from './task';

const scopeFields = fields(
  ...(['w', 'r', 'g', 'b', 'matte', 'mode', 'x0', 'x1', 'first', 'stride', 'bits', 'line', 'range', 'to'] as const),
);
interface Scope {
  w: number;
  from: Rgb;
  matte: Plane | null;
  /** 1: where the matte is above one half; 2: the rest. */
  mode: 1 | 2;
  box: Box;
  stride: number;
  bits: number;
  skinLineDeg: number;
  range: number;
  /** SCOPE_SIZE numbers for each thread. */
  to: Plane;
}
export const scope = task<Scope>({
  rows: (c) => c.box.h,
  width: (c) => c.w,
  pack: ({ w, from, matte, mode, box, stride, bits, skinLineDeg, range, to }) =>
    scopeFields.pack({
      w,
      r: from.r,
      g: from.g,
      b: from.b,
      matte: matte ?? 0,
      mode: matte ? mode : 0,
      x0: box.x,
      x1: box.x + box.w,
      first: box.y,
      stride,
      bits,
      line: skinLineDeg,
      range,
      to,
    }),
  // Each thread counts into its own piece, so that no two write the same number.
  band(ctx, y0, y1, a) {
    const { w, r, g, b, matte, mode, x0, x1, first, stride, bits, line, range, to } = scopeFields.unpack(a);
    const rad = line / DEG;
    const columns = waveColumns(x0, x1);
    const table = new Uint32Array(ctx.memory.buffer, ctx.scratch, columns.length + 4);
    for (let i = 0; i < columns.length; i++) table[i] = columns[i]! * 4;
    ctx.kernels['scope']!(
      ...[r, g, b, matte, mode, w, x0, x1, first + y0, first + y1, stride, bits],
      ...[Math.cos(rad), Math.sin(rad), Math.tan(STRIP_DEG / DEG), range, ctx.scratch],
      to + ctx.thread * SCOPE_SIZE * 4,
    );
  },
});
