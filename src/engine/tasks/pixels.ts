/** Tasks that look at one pixel at a time: keys, shapes, joins, tidying by point, adjustments. */
import { ops } from '../../core/ops/registry.gen';
import type { Plane } from '../memory';
import { chunks, CHUNK, CHUNK_BYTES as BYTES, fields, task } from './task';
import type { Rgb, Use } from './task';

interface Size {
  w: number;
  h: number;
}
const size = { rows: (c: Size): number => c.h, width: (c: Size): number => c.w };

const keyFields = fields('w', 'r', 'g', 'b', 'to', 'op', 'block');
export const key = task<Size & { from: Rgb; to: Plane; use: Use }>({
  ...size,
  pack: ({ w, from, to, use }, put) => keyFields.pack({ w, ...rgb(from), to, op: use.opIndex, block: put(use.block) }),
  band(ctx, y0, y1, a) {
    const { w, r, g, b, to, op, block } = keyFields.unpack(a);
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    const fn = ctx.kernels[`key_${ops[op]!.id}`]!;
    chunks(w, y0, y1, (o, n) => {
      move(s, r + o, n * 4);
      move(s + BYTES, g + o, n * 4);
      move(s + 2 * BYTES, b + o, n * 4);
      fn(block, s, s + BYTES, s + 2 * BYTES, s + 3 * BYTES, n);
      move(to + o, s + 3 * BYTES, n * 4);
    });
  },
});

const shapeFields = fields('w', 'to', 'op', 'block', 'x', 'y');
/** `x`, `y`: where the plane lies in the picture. */
export const shape = task<Size & { to: Plane; use: Use; x: number; y: number }>({
  ...size,
  pack: ({ w, to, use, x, y }, put) => shapeFields.pack({ w, to, op: use.opIndex, block: put(use.block), x, y }),
  band(ctx, y0, y1, a) {
    const { w, to, op, block, x: ox, y: oy } = shapeFields.unpack(a);
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    const fn = ctx.kernels[`shape_${ops[op]!.id}`]!;
    for (let y = y0; y < y1; y++)
      for (let x = 0; x < w; x += CHUNK) {
        const n = Math.min(CHUNK, w - x);
        fn(block, s, ox + x, oy + y, n);
        move(to + (y * w + x) * 4, s, n * 4);
      }
  },
});

const hows = ['and', 'or', 'take'] as const;
const joinFields = fields('w', 'a', 'b', 'how', 'not', 'to');
/** to <- a and b, a or b, or b alone; `not` turns b round first. */
export const join = task<Size & { a: Plane; b: Plane; how: (typeof hows)[number]; not: boolean; to: Plane }>({
  ...size,
  pack: ({ w, a, b, how, not, to }) => joinFields.pack({ w, a, b, how: hows.indexOf(how), not: not ? 1 : 0, to }),
  band(ctx, y0, y1, args) {
    const { w, a, b, how, not, to } = joinFields.unpack(args);
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    chunks(w, y0, y1, (o, n) => {
      if (how !== 2) move(s, a + o, n * 4);
      move(s + BYTES, b + o, n * 4);
      ctx.kernels['join']!(s, s + BYTES, how, not, n);
      move(to + o, s, n * 4);
    });
  },
});

const pointFields = fields('w', 'from', 'to', 'op', 'block');
export const tidyPoint = task<Size & { from: Plane; to: Plane; use: Use }>({
  ...size,
  pack: ({ w, from, to, use }, put) => pointFields.pack({ w, from, to, op: use.opIndex, block: put(use.block) }),
  band(ctx, y0, y1, a) {
    const { w, from, to, op, block } = pointFields.unpack(a);
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    const fn = ctx.kernels[`tidy_${ops[op]!.id}`]!;
    chunks(w, y0, y1, (o, n) => {
      move(s, from + o, n * 4);
      fn(block, s, n);
      move(to + o, s, n * 4);
    });
  },
});

const chainFields = fields(
  ...(['w', 'baseR', 'baseG', 'baseB', 'fromR', 'fromG', 'fromB', 'toR', 'toG', 'toB', 'matte', 'mix'] as const),
);
/**
 * to <- base + matte mix (uses(from) - base); where matte mix is 0 the bits of base are copied, and whole runs of zeros
 * are not even computed. `base` and `from` are one picture but where a chain was cut by an area adjustment.
 */
export const chain = task<
  Size & { base: Rgb; from: Rgb; to: Rgb; matte: Plane | null; mix: number; uses: readonly Use[] }
>({
  ...size,
  pack: ({ w, base, from, to, matte, mix, uses }, put) => [
    ...chainFields.pack({
      w,
      baseR: base.r,
      baseG: base.g,
      baseB: base.b,
      fromR: from.r,
      fromG: from.g,
      fromB: from.b,
      toR: to.r,
      toG: to.g,
      toB: to.b,
      matte: matte ?? 0,
      mix,
    }),
    ...uses.flatMap((u) => [u.opIndex, put(u.block)]),
    // The end: a helper finds arguments of longer commands behind these.
    -1,
  ],
  band(ctx, y0, y1, a) {
    const c = chainFields.unpack(a);
    const { w, matte: m, mix } = c;
    const move = ctx.kernels['move']!;
    const [r, g, b, cr, cg, cb, cm] = [0, 1, 2, 3, 4, 5, 6].map((i) => ctx.scratch + i * BYTES) as Seven;
    const fns: [(...x: number[]) => number | void, number][] = [];
    for (let i = chainFields.length; a[i]! >= 0; i += 2) fns.push([ctx.kernels[`px_${ops[a[i]!]!.id}`]!, a[i + 1]!]);
    const blend = ctx.kernels['blend']!;
    const allZero = ctx.kernels['allZero']!;
    const plain = !m && mix === 1;
    const same = c.baseR === c.fromR;
    chunks(w, y0, y1, (o, n) => {
      const bytes = n * 4;
      if (m) {
        move(cm, m + o, bytes);
        // The padding after a short run must not look like matte.
        new Uint8Array(ctx.memory.buffer, cm + bytes, 16).fill(0);
        if (allZero(cm, n)) {
          move(c.toR + o, c.baseR + o, bytes);
          move(c.toG + o, c.baseG + o, bytes);
          move(c.toB + o, c.baseB + o, bytes);
          return;
        }
      }
      if (plain) {
        // The whole picture in full: nothing to blend with.
        move(r, c.fromR + o, bytes);
        move(g, c.fromG + o, bytes);
        move(b, c.fromB + o, bytes);
      } else {
        move(cr, c.baseR + o, bytes);
        move(cg, c.baseG + o, bytes);
        move(cb, c.baseB + o, bytes);
        move(r, same ? cr : c.fromR + o, bytes);
        move(g, same ? cg : c.fromG + o, bytes);
        move(b, same ? cb : c.fromB + o, bytes);
      }
      for (const [fn, block] of fns) fn(block, r, g, b, n);
      if (!plain) blend(cr, cg, cb, r, g, b, m ? cm : 0, mix, n);
      move(c.toR + o, r, bytes);
      move(c.toG + o, g, bytes);
      move(c.toB + o, b, bytes);
    });
  },
});
type Seven = [number, number, number, number, number, number, number];

const besideFields = fields('w', 'start', 'cur', 'own', 'to');
/** to <- cur and own added up, as changes of start. */
export const beside = task<Size & { start: Plane; cur: Plane; own: Plane; to: Plane }>({
  ...size,
  pack: besideFields.pack,
  band(ctx, y0, y1, a) {
    const { w, start, cur, own, to } = besideFields.unpack(a);
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    chunks(w, y0, y1, (o, n) => {
      move(s, start + o, n * 4);
      move(s + BYTES, cur + o, n * 4);
      move(s + 2 * BYTES, own + o, n * 4);
      ctx.kernels['beside']!(s, s + BYTES, s + 2 * BYTES, n);
      move(to + o, s + BYTES, n * 4);
    });
  },
});

const rgb = ({ r, g, b }: Rgb): Rgb => ({ r, g, b });
