/** Tasks whose pixels look at others: area steps of a matte, passes over whole frames. */
import { ops } from '../../core/ops/registry.gen';
import type { AnyOp, Pass } from '../../core/op/contract';
import type { Plane } from '../memory';
import { fields, task } from './task';
import type { Use } from './task';

const kernelsOf = (op: AnyOp): readonly string[] => ('kernels' in op ? Object.keys(op.kernels) : []);
const passOf = (use: Use, name: string): number => {
  const op = ops[use.opIndex]!;
  const i = kernelsOf(op).indexOf(name);
  if (i < 0) throw new Error(`${op.id} has no pass ${name}`);
  return i;
};

const areaFields = fields('w', 'h', 'left', 'top', 'from', 'to', 'op', 'block', 'pass');
interface Area {
  w: number;
  h: number;
  /** Where the planes lie in the picture. */
  left: number;
  top: number;
  from: Plane;
  to: Plane;
  use: Use;
  pass: string;
}
export const tidyArea = task<Area>({
  rows: (c) => c.h,
  width: (c) => c.w,
  pack: ({ w, h, left, top, from, to, use, pass }, put) =>
    areaFields.pack({ w, h, left, top, from, to, op: use.opIndex, block: put(use.block), pass: passOf(use, pass) }),
  band(ctx, y0, y1, a) {
    const { w, h, left, top, from, to, op, block, pass } = areaFields.unpack(a);
    const o = ops[op]!;
    ctx.kernels[`area_${o.id}_${kernelsOf(o)[pass]}`]!(block, from, to, ctx.scratch, w, h, y0, y1, left, top);
  },
});

const frameFields = fields('w', 'h', 'planes', 'op', 'block', 'pass', 'whole');
interface Frame {
  w: number;
  h: number;
  src: readonly Plane[];
  dst: readonly Plane[];
  work: readonly Plane[];
  picture: readonly Plane[];
  use: Use;
  pass: Pass;
}
/**
 * Head of the table that a frame pass is given, before the planes themselves: how many of each kind, so that a kernel
 * with a number of frames that changes knows where they lie.
 */
export const FRAME_HEAD = 4;
/** What a piece counts as. */
const PIECE_PIXELS = 400_000;
export const framePass = task<Frame>({
  rows: (c) => (c.pass.whole ? 1 : (c.pass.pieces ?? c.h)),
  // A piece is worth a thread of its own, however small the picture is.
  width: (c) => (c.pass.pieces ? PIECE_PIXELS : c.w),
  pack: ({ w, h, src, dst, work, picture, use, pass }, put) =>
    frameFields.pack({
      w,
      h,
      planes: put(
        Uint32Array.of(...[src.length, dst.length, work.length, picture.length], ...src, ...dst, ...work, ...picture),
      ),
      op: use.opIndex,
      block: put(use.block),
      pass: passOf(use, pass.name),
      whole: pass.whole ? 1 : 0,
    }),
  band(ctx, y0, y1, a) {
    const { w, h, planes, op, block, pass, whole } = frameFields.unpack(a);
    const o = ops[op]!;
    const rows = whole ? [0, h] : [y0, y1];
    ctx.kernels[`frame_${o.id}_${kernelsOf(o)[pass]}`]!(block, planes, ctx.scratch, w, h, rows[0]!, rows[1]!);
  },
});
