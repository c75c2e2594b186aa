/**
 * Regions that grow over a small copy of the picture: how it is made, how strokes lie on it, how the region comes back
 * to full size.
 */
import type { FrameRun } from '../op/contract';
import type { OpContext } from '../op/contract';
import { labOf, LIGHT_BLOCK, lightBlock } from './light';
import { SPREAD_SIDE } from './spread';
import type { Marks, SmallPicture } from './spread';
import type { Reach } from './twoThings';

export interface GrowthFlags {
  apart?: boolean;
  asGrown?: boolean;
  /** What is two things is looked at as any other, as before version 4 of the skin operation. */
  together?: boolean;
  /** Each guess is looked at by itself, as before version 5 of it. */
  asOne?: boolean;
  /** Guesses are compared with all that is in them, as before version 6 of it. */
  unparted?: boolean;
  /** Strokes alone grow once, as before version 3 of the spread. */
  once?: boolean;
  /** A spread grows as far as is asked, whatever it finds, as before version 4 of it. */
  asAsked?: boolean;
  /** A loose shape holds what is beside the thing as well, as before version 5 of it. */
  heldByShape?: boolean;
  /** In a shape it takes what a longer reach finds, whatever that is, as before version 6 of it. */
  anyMore?: boolean;
  /** Only how much of a shape is filled tells of a longer reach there, as before version 7 of it. */
  byFill?: boolean;
  /** What lies beside skin goes along, as before version 8 of it. */
  besideToo?: boolean;
  /** Share of the picture that was found where it was pressed, 0..1; 0: not known. */
  share?: number;
}
/** Where in a block: reach, brush, strokes, flags, share, then the way to OKLab, the strokes. */
const LIGHT = 5;
/** Flags, a bit each in this order. */
const FLAGS = [
  'apart',
  'asGrown',
  'together',
  'asOne',
  'once',
  'unparted',
  'asAsked',
  'heldByShape',
  'anyMore',
  'byFill',
  'besideToo',
] as const satisfies (keyof GrowthFlags)[];
type Flag = (typeof FLAGS)[number];
const STROKES = LIGHT + LIGHT_BLOCK;
/**
 * Block: reach 0..1, brush in px, number of strokes, flags, share; the way to OKLab; each stroke's kind, count and
 * points.
 */
export const grownBlock = (
  reachPct: number,
  brushPx: number,
  { encoding, strokes = [] }: OpContext,
  { share = 0, ...flags }: GrowthFlags = {},
): Float32Array =>
  Float32Array.of(
    reachPct / 100,
    brushPx,
    strokes.length,
    FLAGS.reduce((sum, name, k) => sum + (flags[name] === true ? 2 ** k : 0), 0),
    share,
    ...lightBlock(encoding),
    ...strokes.flatMap(({ keep, points }) => [keep ? 1 : 0, points.length, ...points.flat()]),
  );
export interface Small {
  w: number;
  h: number;
  /** Pixels of it over those of the picture. */
  s: number;
}
export function sizeOf(w: number, h: number): Small {
  const s = Math.min(1, SPREAD_SIDE / Math.max(w, h));
  return { w: Math.max(1, Math.round(w * s)), h: Math.max(1, Math.round(h * s)), s };
}
/**
 * Means of whole pixels that make up each small one.
 *
 * @param of only of these small pixels, the others stay 0; left out: of all
 */
export function shrink(
  p: Float32Array,
  w: number,
  h: number,
  to: Small,
  of: Reach = { x0: 0, y0: 0, x1: to.w, y1: to.h },
): Float32Array {
  const out = new Float32Array(to.w * to.h);
  const cut = (i: number, n: number, full: number): number => Math.floor((i * full) / n);
  const from = Int32Array.from({ length: to.w }, (_, x) => cut(x, to.w, w));
  const until = Int32Array.from({ length: to.w }, (_, x) => Math.max(from[x]! + 1, cut(x + 1, to.w, w)));
  for (let y = of.y0; y < of.y1; y++) {
    const v0 = cut(y, to.h, h);
    const v1 = Math.max(v0 + 1, cut(y + 1, to.h, h));
    for (let x = of.x0; x < of.x1; x++) {
      const left = from[x]!;
      const n = until[x]! - left;
      let sum = 0;
      // Of pictures as wide as most are three or four pixels: in the same order, without a loop for so few.
      if (n === 4)
        for (let v = v0, i = v0 * w + left; v < v1; v++, i += w) sum = sum + p[i]! + p[i + 1]! + p[i + 2]! + p[i + 3]!;
      else if (n === 3)
        for (let v = v0, i = v0 * w + left; v < v1; v++, i += w) sum = sum + p[i]! + p[i + 1]! + p[i + 2]!;
      else for (let v = v0; v < v1; v++) for (let i = v * w + left, end = i + n; i < end; i++) sum += p[i]!;
      const mean = sum / ((v1 - v0) * n);
      // What is no number is dark.
      out[y * to.w + x] = mean > 0 ? Math.min(mean, 4) : 0;
    }
  }
  return out;
}
/** Strokes as discs along their lines: 1 keep, 2 leave; the last one painted wins. */
function paint(block: Float32Array, to: Small): Uint8Array {
  const marks = new Uint8Array(to.w * to.h);
  const R = Math.max(0.5, (block[1]! * to.s) / 2);
  let at = STROKES;
  const disc = (cx: number, cy: number, v: number): void => {
    for (let y = Math.max(0, Math.floor(cy - R)); y <= Math.min(to.h - 1, cy + R); y++)
      for (let x = Math.max(0, Math.floor(cx - R)); x <= Math.min(to.w - 1, cx + R); x++)
        if ((x + 0.5 - cx) ** 2 + (y + 0.5 - cy) ** 2 <= R * R) marks[y * to.w + x] = v;
  };
  for (let k = 0; k < block[2]!; k++) {
    const v = block[at]! ? 1 : 2;
    const n = block[at + 1]!;
    at += 2;
    for (let i = 0; i < n; i++) {
      const [x0, y0] = [block[at + 2 * i]! * to.s, block[at + 2 * i + 1]! * to.s];
      const j = Math.min(n - 1, i + 1);
      const [x1, y1] = [block[at + 2 * j]! * to.s, block[at + 2 * j + 1]! * to.s];
      const steps = Math.max(1, Math.ceil(2 * Math.hypot(x1 - x0, y1 - y0)));
      for (let t = 0; t <= steps; t++) disc(x0 + ((x1 - x0) * t) / steps, y0 + ((y1 - y0) * t) / steps, v);
    }
    at += 2 * n;
  }
  return marks;
}
/** The small copy of a run's picture, with what was painted on it. */
export interface Looked {
  p: SmallPicture;
  /** 1 keep (one at least), 2 leave. */
  marks: Marks;
  /** 1 where the region may be: where the shapes in `src` are; null: everywhere. */
  inside: Uint8Array | null;
  reach: number;
  flags: Required<GrowthFlags>;
}
/** Reach and flags of a block. */
export const growthOf = (block: Float32Array): { reach: number; flags: Required<GrowthFlags> } => ({
  reach: block[0]!,
  flags: {
    ...(Object.fromEntries(FLAGS.map((name, k) => [name, (block[3]! & (1 << k)) !== 0])) as Record<Flag, boolean>),
    share: block[4]!,
  },
});
/** OKLab of the small copy, a plane each. */
export type Lab = readonly [L: Float32Array, a: Float32Array, b: Float32Array];
/** Writes the small rows that begin within the rows of a run: bands of them make the whole, in any order. */
export function lookRows(block: Float32Array, { picture, w, h, y0, y1 }: FrameRun, [L, a, b]: Lab): void {
  const to = sizeOf(w, h);
  const begins = (y: number): number => Math.floor((y * h) / to.h);
  let from = Math.floor((y0 * to.h) / h);
  while (begins(from) < y0) from++;
  let until = from;
  while (until < to.h && begins(until) < y1) until++;
  const rows = { x0: 0, y0: from, x1: to.w, y1: until };
  const [R, G, B] = picture.map((p) => shrink(p, w, h, to, rows)) as [Float32Array, Float32Array, Float32Array];
  for (let i = from * to.w; i < until * to.w; i++) {
    const lab = labOf(block, LIGHT, R[i]!, G[i]!, B[i]!);
    L[i] = lab[0];
    a[i] = lab[1];
    b[i] = lab[2];
  }
}
/**
 * Null where nothing is painted as kept.
 *
 * @param lab what `lookRows` made of all rows, where that was done before
 */
export function lookedAt(block: Float32Array, run: FrameRun, lab?: Lab): Looked | null {
  const { src, w, h } = run;
  const to = sizeOf(w, h);
  const n = to.w * to.h;
  const marks = paint(block, to);
  if (!marks.includes(1)) return null;
  const [L, a, b] = lab ?? [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  if (!lab) lookRows(block, { ...run, y0: 0, y1: h }, [L, a, b]);
  let inside: Uint8Array | null = null;
  if (src.length > 0) {
    inside = new Uint8Array(n).fill(1);
    for (let y = 0; y < to.h; y++)
      for (let x = 0; x < to.w; x++) {
        const i = Math.min(h - 1, Math.floor((y + 0.5) / to.s)) * w + Math.min(w - 1, Math.floor((x + 0.5) / to.s));
        if (src.some((p) => !(p[i]! > 0))) inside[y * to.w + x] = 0;
      }
  }
  return { p: { w: to.w, h: to.h, L, a, b }, marks, inside, ...growthOf(block) };
}
/**
 * Grows a region over the small copy of a run's picture and writes it at full size.
 *
 * @param grow 1 inside, 0 outside; null: nothing
 */
export function grown(block: Float32Array, run: FrameRun, grow: (of: Looked) => Uint8Array | null): void {
  const of = lookedAt(block, run);
  atFullSize(of && grow(of), run);
}
/** Writes a mask of the small copy at full size, by straight lines between its pixels; null: nothing is in. */
export function atFullSize(mask: Uint8Array | null, { dst, w, h }: FrameRun): void {
  const to = sizeOf(w, h);
  const out = dst[0]!;
  if (!mask) {
    out.fill(0, 0, w * h);
    return;
  }
  const lefts = new Int32Array(w);
  const parts = new Float64Array(w);
  for (let x = 0; x < w; x++) {
    const u = Math.min(to.w - 1, Math.max(0, ((x + 0.5) * to.w) / w - 0.5));
    lefts[x] = Math.floor(u);
    parts[x] = u - lefts[x]!;
  }
  const end = to.w - 1;
  // Where each small pixel is the left one of a pair: from here to where the next is.
  const begins = new Int32Array(to.w + 1).fill(w);
  for (let x = w - 1; x >= 0; x--) begins[lefts[x]!] = x;
  for (let l = end; l >= 0; l--) begins[l] = Math.min(begins[l]!, begins[l + 1]!);
  // Most of the picture lies on one side of the border: so far as it does, it is filled at once. Where which begins,
  // and 0, 1 or MIXED from there on; several rows lie between the same two of the mask.
  const MIXED = 2;
  const starts = new Int32Array(to.w + 1);
  const values = new Uint8Array(to.w);
  let [runs, known] = [0, -1];
  for (let y = 0; y < h; y++) {
    const v = Math.min(to.h - 1, Math.max(0, ((y + 0.5) * to.h) / h - 0.5));
    const top = Math.floor(v);
    const fy = v - top;
    const ra = top * to.w;
    const rb = Math.min(to.h - 1, top + 1) * to.w;
    if (top !== known) {
      [runs, known] = [0, top];
      for (let left = 0; left <= end; left++) {
        const right = left < end ? left + 1 : end;
        const a = mask[ra + left]!;
        const one = a === mask[ra + right]! && a === mask[rb + left]! && a === mask[rb + right]! ? a : MIXED;
        if (runs > 0 && one !== MIXED && one === values[runs - 1]) continue;
        starts[runs] = left;
        values[runs++] = one;
      }
      starts[runs] = to.w;
    }
    const row = y * w;
    for (let k = 0; k < runs; k++) {
      const left = starts[k]!;
      const [begin, until] = [begins[left]!, begins[starts[k + 1]!]!];
      if (values[k] !== MIXED) {
        out.fill(values[k]!, row + begin, row + until);
        continue;
      }
      const right = left < end ? left + 1 : end;
      const a = mask[ra + left]!;
      const b = mask[ra + right]!;
      const c = mask[rb + left]!;
      const d = mask[rb + right]!;
      for (let x = begin; x < until; x++) {
        const upper = a + parts[x]! * (b - a);
        const lower = c + parts[x]! * (d - c);
        out[row + x] = upper + fy * (lower - upper);
      }
    }
  }
}
