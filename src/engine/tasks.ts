/**
 * Band tasks: pieces of a stage over rows y0..y1-1, run by the coordinator and by helper threads alike. Arguments are
 * plain numbers (addresses, sizes), so that a helper needs nothing but the shared memory.
 */
import { ops } from '../core/ops/registry.gen';
import type { Kernels } from './kernels';
import { scopeBand } from './scopeBand';
import { viewBand } from './viewBand';

export interface TaskContext {
  memory: WebAssembly.Memory;
  kernels: Kernels;
  /** This thread's scratch memory. */
  scratch: number;
}
export type Task = (ctx: TaskContext, y0: number, y1: number, a: ArrayLike<number>) => void;

/** Pixels handled at once: three planes of it, doubled, stay in the second-level cache. */
export const CHUNK = 4096;
const BYTES = CHUNK * 4;
/** Scratch per thread: seven chunks for pixel work, or lines for area steps (4 (w + h) + 256 numbers). */
export const scratchBytes = (w: number, h: number): number => Math.max(8 * (BYTES + 64), 4 * (4 * (w + h) + 256)) + 64;

function chunks(w: number, y0: number, y1: number, f: (offset: number, n: number) => void): void {
  for (let i = y0 * w, end = y1 * w; i < end; i += CHUNK) f(i * 4, Math.min(CHUNK, end - i));
}

/** The memory as bytes; only the first of a band's calls pays for it. */
const bytesOf = (ctx: TaskContext): Uint8Array<ArrayBufferLike> => new Uint8Array(ctx.memory.buffer);

export const tasks = {
  /** [w, r, g, b, m, opIndex, block] */
  key(ctx, y0, y1, a) {
    const [w, r, g, b, m, op, block] = a as unknown as number[];
    const u8 = bytesOf(ctx);
    const s = ctx.scratch;
    const fn = ctx.kernels[`key_${ops[op!]!.id}`]!;
    chunks(w!, y0, y1, (o, n) => {
      [r!, g!, b!].forEach((p, c) => u8.copyWithin(s + c * BYTES, p + o, p + o + n * 4));
      fn(block!, s, s + BYTES, s + 2 * BYTES, s + 3 * BYTES, n);
      u8.copyWithin(m! + o, s + 3 * BYTES, s + 3 * BYTES + n * 4);
    });
  },
  /** [w, m, opIndex, block, originX, originY] */
  shape(ctx, y0, y1, a) {
    const [w, m, op, block, ox, oy] = a as unknown as number[];
    const u8 = bytesOf(ctx);
    const s = ctx.scratch;
    const fn = ctx.kernels[`shape_${ops[op!]!.id}`]!;
    for (let y = y0; y < y1; y++)
      for (let x = 0; x < w!; x += CHUNK) {
        const n = Math.min(CHUNK, w! - x);
        fn(block!, s, ox! + x, oy! + y, n);
        u8.copyWithin(m! + (y * w! + x) * 4, s, s + n * 4);
      }
  },
  /** [w, a, b, how, not]: a <- join of a and b; how 2 sets. */
  join(ctx, y0, y1, a) {
    const [w, p, q, how, not] = a as unknown as number[];
    const u8 = bytesOf(ctx);
    const s = ctx.scratch;
    chunks(w!, y0, y1, (o, n) => {
      u8.copyWithin(s, p! + o, p! + o + n * 4);
      u8.copyWithin(s + BYTES, q! + o, q! + o + n * 4);
      ctx.kernels['join']!(s, s + BYTES, how!, not!, n);
      u8.copyWithin(p! + o, s, s + n * 4);
    });
  },
  /** [w, from, to, opIndex, block] */
  tidyPoint(ctx, y0, y1, a) {
    const [w, from, to, op, block] = a as unknown as number[];
    const u8 = bytesOf(ctx);
    const s = ctx.scratch;
    const fn = ctx.kernels[`tidy_${ops[op!]!.id}`]!;
    chunks(w!, y0, y1, (o, n) => {
      u8.copyWithin(s, from! + o, from! + o + n * 4);
      fn(block!, s, n);
      u8.copyWithin(to! + o, s, s + n * 4);
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
    const u8 = bytesOf(ctx);
    const s = ctx.scratch;
    const [r, g, b, cr, cg, cb, cm] = [0, 1, 2, 3, 4, 5, 6].map((i) => s + i * BYTES) as [number, number, number, number, number, number, number];
    const fns: [(...x: number[]) => number | void, number][] = [];
    for (let i = 0; i < count!; i++) fns.push([ctx.kernels[`px_${ops[a[10 + 2 * i]!]!.id}`]!, a[11 + 2 * i]!]);
    const blend = ctx.kernels['blend']!;
    const allZero = ctx.kernels['allZero']!;
    chunks(w!, y0, y1, (o, n) => {
      const bytes = n * 4;
      if (m) {
        u8.copyWithin(cm, m + o, m + o + bytes);
        // The padding after a short run must not look like matte.
        u8.fill(0, cm + bytes, cm + bytes + 16);
        if (allZero(cm, n)) {
          u8.copyWithin(or! + o, ir! + o, ir! + o + bytes);
          u8.copyWithin(og! + o, ig! + o, ig! + o + bytes);
          u8.copyWithin(ob! + o, ib! + o, ib! + o + bytes);
          return;
        }
      }
      u8.copyWithin(cr, ir! + o, ir! + o + bytes);
      u8.copyWithin(cg, ig! + o, ig! + o + bytes);
      u8.copyWithin(cb, ib! + o, ib! + o + bytes);
      u8.copyWithin(r, cr, cr + bytes);
      u8.copyWithin(g, cg, cg + bytes);
      u8.copyWithin(b, cb, cb + bytes);
      for (const [fn, block] of fns) fn(block, r, g, b, n);
      blend(cr, cg, cb, r, g, b, m ? cm : 0, mix!, n);
      u8.copyWithin(or! + o, r, r + bytes);
      u8.copyWithin(og! + o, g, g + bytes);
      u8.copyWithin(ob! + o, b, b + bytes);
    });
  },
  /** [w, h, src, dst]: rows count in the halved plane. */
  halve(ctx, y0, y1, a) {
    ctx.kernels['halve']!(a[2]!, a[3]!, a[0]!, a[1]!, y0, y1);
  },
  scope: scopeBand,
  view: viewBand,
} satisfies Record<string, Task>;

export type TaskName = keyof typeof tasks;
/** The order is the wire format between coordinator and helpers of one build. */
export const taskNames = Object.keys(tasks) as TaskName[];
