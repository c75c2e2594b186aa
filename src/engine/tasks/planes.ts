/** Tasks about planes as such: other sizes, and from a file's numbers to planes. */
import { chromaRows } from '../../core/color/yuv';
import type { Siting } from '../../core/color/yuv';
import type { Plane } from '../memory';
import { fields, task } from './task';
import type { Rgb } from './task';

const halveFields = fields('w', 'h', 'from', 'to');
/** `w`, `h`: of the larger plane. */
export const halve = task<{ w: number; h: number; from: Plane; to: Plane }>({
  rows: (c) => (c.h + 1) >> 1,
  width: (c) => c.w,
  pack: halveFields.pack,
  band(ctx, y0, y1, a) {
    const { w, h, from, to } = halveFields.unpack(a);
    ctx.kernels['halve']!(from, to, w, h, y0, y1);
  },
});

const resizeFields = fields('sw', 'sh', 'from', 'dw', 'dh', 'to');
/** Bilinear, for ratios from a half to one. */
export const resize = task<{ sw: number; sh: number; from: Plane; dw: number; dh: number; to: Plane }>({
  rows: (c) => c.dh,
  width: (c) => c.dw,
  pack: resizeFields.pack,
  band(ctx, y0, y1, a) {
    const { sw, sh, from, dw, dh, to } = resizeFields.unpack(a);
    const pitch = (dw + 8) * 4;
    const tables = [0, 1, 2].map((i) => ctx.scratch + i * pitch) as [number, number, number];
    const left = new Uint32Array(ctx.memory.buffer, tables[0], dw);
    const right = new Uint32Array(ctx.memory.buffer, tables[1], dw);
    const frac = new Float32Array(ctx.memory.buffer, tables[2], dw);
    for (let x = 0; x < dw; x++) {
      const at = ((x + 0.5) * sw) / dw - 0.5;
      const x0 = Math.floor(at);
      frac[x] = at - x0;
      left[x] = 4 * Math.max(0, x0);
      right[x] = 4 * Math.min(sw - 1, x0 + 1);
    }
    for (let y = y0; y < y1; y++) {
      const at = ((y + 0.5) * sh) / dh - 0.5;
      const top = Math.floor(at);
      const [ra, rb] = [Math.max(0, top), Math.min(sh - 1, top + 1)];
      ctx.kernels['sampleRow']!(from + ra * sw * 4, from + rb * sw * 4, at - top, ...tables, dw, to + y * dw * 4);
    }
  },
});

const planarFields = fields('w', 'h', 'from', 'bytes', 'scale', 'r', 'g', 'b');
/**
 * Interleaved R, G, B of 1, 2 (whole numbers) or 4 bytes (floats) to planes, times `scale`. `from` holds the numbers as
 * the file gave them.
 */
export const planar = task<{ w: number; h: number; from: Plane; bytes: 1 | 2 | 4; scale: number; to: Rgb }>({
  rows: (c) => c.h,
  width: (c) => c.w,
  pack: ({ w, h, from, bytes, scale, to }) =>
    planarFields.pack({ w, h, from, bytes, scale, r: to.r, g: to.g, b: to.b }),
  band(ctx, y0, y1, a) {
    const { w, from, bytes, scale, r, g, b } = planarFields.unpack(a);
    const at = y0 * w;
    ctx.kernels[`planar${bytes}`]!(from + 3 * bytes * at, r + 4 * at, g + 4 * at, b + 4 * at, (y1 - y0) * w, scale);
  },
});

const SITINGS: readonly Siting[] = ['left', 'centre', 'topLeft'];
const yuvFields = fields(
  ...(['w', 'y', 'u', 'v', 'bytes', 'cw', 'ch', 'subX', 'subY', 'siting', 'gbr', 'block', 'r', 'g', 'b'] as const),
);
/** Y, Cb, Cr of 1 or 2 bytes to R'G'B'; chroma has `cw` by `ch` numbers. `block`: media/yuv.ts. */
export const yuv = task<{
  w: number;
  h: number;
  y: Plane;
  u: Plane;
  v: Plane;
  bytes: 1 | 2;
  cw: number;
  ch: number;
  subX: 1 | 2;
  subY: 1 | 2;
  siting: Siting;
  gbr: boolean;
  block: Float32Array;
  to: Rgb;
}>({
  rows: (c) => c.h,
  width: (c) => c.w,
  pack: ({ h: _h, siting, gbr, block, to, ...c }, put) =>
    yuvFields.pack({ ...c, ...to, siting: SITINGS.indexOf(siting), gbr: gbr ? 1 : 0, block: put(block) }),
  band(ctx, y0, y1, args) {
    const { w, y, u, v, bytes, cw, ch, subX, subY, siting, gbr, block, r, g, b } = yuvFields.unpack(args);
    const where = SITINGS[siting]!;
    const how = (subX === 2 ? 1 : 0) | (where === 'centre' ? 2 : 0) | (gbr ? 4 : 0);
    for (let line = y0; line < y1; line++) {
      const [a, c, f] = chromaRows(line, ch, subY as 1 | 2, where);
      const at = (plane: number, row: number): number => plane + row * cw * bytes;
      const o = line * w * 4;
      const rows = [at(u, a), at(u, c), at(v, a), at(v, c)] as const;
      const to = [r + o, g + o, b + o] as const;
      ctx.kernels['yuvRow']!(block, y + line * w * bytes, ...rows, f, cw, bytes, how, ctx.scratch, ...to, w);
    }
  },
});
