/**
 * Band tasks: pieces of a stage over rows y0..y1-1, run by the coordinator and by helper threads alike. Arguments are
 * plain numbers (addresses, sizes), so that a helper needs nothing but the shared memory.
 */
import { ops } from '../core/ops/registry.gen';
import type { Kernels } from './kernels';
import { scopeBand } from './scopeBand';
import { VIEW_ROWS, viewBand } from './viewBand';

export interface TaskContext {
  memory: WebAssembly.Memory;
  kernels: Kernels;
  /** 0 for the coordinator, 1.. for helpers. */
  thread: number;
  /** This thread's scratch memory. */
  scratch: number;
}
export type Task = (ctx: TaskContext, y0: number, y1: number, a: ArrayLike<number>) => void;

/** Pixels handled at once: three planes of it stay in the first-level cache, doubled in the second. */
export const CHUNK = 2048;
const BYTES = CHUNK * 4;
/** Scratch per thread: seven chunks for pixel work, or lines for area steps (4 (w + h) + 256 numbers). */
export const scratchBytes = (w: number, h: number): number =>
  Math.max(8 * (BYTES + 64), 4 * (4 * (w + h) + 256), VIEW_ROWS * (w + 8) * 4) + 64;

function chunks(w: number, y0: number, y1: number, f: (offset: number, n: number) => void): void {
  for (let i = y0 * w, end = y1 * w; i < end; i += CHUNK) f(i * 4, Math.min(CHUNK, end - i));
}

export const tasks = {
  /** [w, r, g, b, m, opIndex, block] */
  key(ctx, y0, y1, a) {
    const [w, r, g, b, m, op, block] = a as unknown as number[];
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    const fn = ctx.kernels[`key_${ops[op!]!.id}`]!;
    chunks(w!, y0, y1, (o, n) => {
      [r!, g!, b!].forEach((p, c) => move(s + c * BYTES, p + o, n * 4));
      fn(block!, s, s + BYTES, s + 2 * BYTES, s + 3 * BYTES, n);
      move(m! + o, s + 3 * BYTES, n * 4);
    });
  },
  /** [w, m, opIndex, block, originX, originY] */
  shape(ctx, y0, y1, a) {
    const [w, m, op, block, ox, oy] = a as unknown as number[];
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    const fn = ctx.kernels[`shape_${ops[op!]!.id}`]!;
    for (let y = y0; y < y1; y++)
      for (let x = 0; x < w!; x += CHUNK) {
        const n = Math.min(CHUNK, w! - x);
        fn(block!, s, ox! + x, oy! + y, n);
        move(m! + (y * w! + x) * 4, s, n * 4);
      }
  },
  /** [w, a, b, how, not, to]: to <- join of a and b; how 2 takes b alone. */
  join(ctx, y0, y1, a) {
    const [w, p, q, how, not, to] = a as unknown as number[];
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    chunks(w!, y0, y1, (o, n) => {
      if (how !== 2) move(s, p! + o, n * 4);
      move(s + BYTES, q! + o, n * 4);
      ctx.kernels['join']!(s, s + BYTES, how!, not!, n);
      move(to! + o, s, n * 4);
    });
  },
  /** [w, from, to, opIndex, block] */
  tidyPoint(ctx, y0, y1, a) {
    const [w, from, to, op, block] = a as unknown as number[];
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    const fn = ctx.kernels[`tidy_${ops[op!]!.id}`]!;
    chunks(w!, y0, y1, (o, n) => {
      move(s, from! + o, n * 4);
      fn(block!, s, n);
      move(to! + o, s, n * 4);
    });
  },
  /** [w, h, src, dst, opIndex, block, passIndex] */
  tidyArea(ctx, y0, y1, a) {
    const [w, h, src, dst, op, block, pass] = a as unknown as number[];
    const o = ops[op!]!;
    if (o.kind !== 'tidy' || !o.area) throw new Error(`${o.id} is not an area step`);
    const name = o.passes(new Float32Array(ctx.memory.buffer, block!, 64) as Float32Array)[pass!]!;
    ctx.kernels[`area_${o.id}_${name}`]!(block!, src!, dst!, ctx.scratch, w!, h!, y0, y1);
  },
  /** [w, inR, inG, inB, outR, outG, outB, matte or 0, mix, count, (opIndex, block) ...] */
  chain(ctx, y0, y1, a) {
    const [w, ir, ig, ib, or, og, ob, m, mix, count] = a as unknown as number[];
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    const [r, g, b, cr, cg, cb, cm] = [0, 1, 2, 3, 4, 5, 6].map((i) => s + i * BYTES) as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const fns: [(...x: number[]) => number | void, number][] = [];
    for (let i = 0; i < count!; i++) fns.push([ctx.kernels[`px_${ops[a[10 + 2 * i]!]!.id}`]!, a[11 + 2 * i]!]);
    const blend = ctx.kernels['blend']!;
    const allZero = ctx.kernels['allZero']!;
    const plain = !m && mix === 1;
    chunks(w!, y0, y1, (o, n) => {
      const bytes = n * 4;
      if (m) {
        move(cm, m + o, bytes);
        // The padding after a short run must not look like matte.
        new Uint8Array(ctx.memory.buffer, cm + bytes, 16).fill(0);
        if (allZero(cm, n)) {
          move(or! + o, ir! + o, bytes);
          move(og! + o, ig! + o, bytes);
          move(ob! + o, ib! + o, bytes);
          return;
        }
      }
      if (plain) {
        // The whole picture in full: nothing to blend with.
        move(r, ir! + o, bytes);
        move(g, ig! + o, bytes);
        move(b, ib! + o, bytes);
        for (const [fn, block] of fns) fn(block, r, g, b, n);
        move(or! + o, r, bytes);
        move(og! + o, g, bytes);
        move(ob! + o, b, bytes);
        return;
      }
      move(cr, ir! + o, bytes);
      move(cg, ig! + o, bytes);
      move(cb, ib! + o, bytes);
      move(r, cr, bytes);
      move(g, cg, bytes);
      move(b, cb, bytes);
      for (const [fn, block] of fns) fn(block, r, g, b, n);
      blend(cr, cg, cb, r, g, b, m ? cm : 0, mix!, n);
      move(or! + o, r, bytes);
      move(og! + o, g, bytes);
      move(ob! + o, b, bytes);
    });
  },
  /** [w, start, cur, own, to]: to <- cur and own added up, as changes of start. */
  beside(ctx, y0, y1, a) {
    const [w, start, cur, own, to] = a as unknown as number[];
    const move = ctx.kernels['move']!;
    const s = ctx.scratch;
    chunks(w!, y0, y1, (o, n) => {
      [start!, cur!, own!].forEach((p, i) => move(s + i * BYTES, p + o, n * 4));
      ctx.kernels['beside']!(s, s + BYTES, s + 2 * BYTES, n);
      move(to! + o, s + BYTES, n * 4);
    });
  },
  /** [w, h, src, dst]: rows count in the halved plane. */
  halve(ctx, y0, y1, a) {
    ctx.kernels['halve']!(a[2]!, a[3]!, a[0]!, a[1]!, y0, y1);
  },
  /** [srcW, srcH, src, dstW, dstH, dst]: bilinear, for ratios from a half to one. */
  resize(ctx, y0, y1, a) {
    const [sw, sh, src, dw, dh, dst] = a as unknown as [number, number, number, number, number, number];
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
      ctx.kernels['sampleRow']!(src + ra * sw * 4, src + rb * sw * 4, at - top, ...tables, dw, dst + y * dw * 4);
    }
  },
  scope: scopeBand,
  view: viewBand,
} satisfies Record<string, Task>;

export type TaskName = keyof typeof tasks;
/** The order is the wire format between coordinator and helpers of one build. */
export const taskNames = Object.keys(tasks) as TaskName[];
