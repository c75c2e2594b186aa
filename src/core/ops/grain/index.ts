/**
 * Grain: random numbers on a lattice, smoothed by cubic B-splines (value noise; C. de Boor, "A practical guide to
 * splines", 1978, for the spline), divided by the length of the weights so that its deviation is the same everywhere.
 * The lattice hangs on the picture's corner and its cells are half a grain wide: a draft of half the size has the same
 * grain. Each frame has numbers of its own, told by the seed: they are the same whenever it is made.
 */
import { defineAreaOp } from '../../op/contract';
import type { FrameRun } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { params } from './params';

/** The first is that of luma, the others of red, green and blue. */
const FIELDS = 4;
/** Finer cells than this would need more of them than there is room for. */
const LEAST_CELL = 0.5;
/** 32 bits of three numbers, well mixed (the finisher is that of MurmurHash3, A. Appleby, public domain). */
function hash(x: number, y: number, seed: number): number {
  let h = Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca77) ^ seed;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}
/** Evenly from -sqrt 3 to sqrt 3: a deviation of 1. */
const ROOT3 = Math.sqrt(3);
const value = (h: number): number => ((h >>> 8) / 2 ** 23 - 1) * ROOT3;

/** The four weights of a cubic B-spline at f, and one over their length. */
function spline(f: number): [number, number, number, number, number] {
  const g = 1 - f;
  const a = (g * g * g) / 6;
  const b = (3 * f * f * f - 6 * f * f + 4) / 6;
  const c = (3 * g * g * g - 6 * g * g + 4) / 6;
  const d = (f * f * f) / 6;
  return [a, b, c, d, 1 / Math.sqrt(a * a + b * b + c * c + d * d)];
}
/** Adds one field to some channels of the rows that are asked for. */
function add(block: Float32Array, run: FrameRun, column: Float32Array, field: number, share: number): void {
  const { w, src, dst, y0, y1 } = run;
  const cell = block[1]!;
  const cells = Math.floor((w - 0.5) / cell) + 5;
  // Mixed, so that no seed on one frame is another on the next.
  const key = hash(block[5]! | 0, block[6]! | 0, field);
  const channels = field === 0 ? [0, 1, 2] : [field - 1];
  for (let y = y0; y < y1; y++) {
    const v = (y + 0.5) / cell;
    const top = Math.floor(v);
    const [p, q, r, s, vertical] = spline(v - top);
    for (let i = 0; i < cells; i++)
      column[i] =
        (p * value(hash(i - 1, top - 1, key)) +
          q * value(hash(i - 1, top, key)) +
          r * value(hash(i - 1, top + 1, key)) +
          s * value(hash(i - 1, top + 2, key))) *
        vertical;
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const u = (x + 0.5) / cell;
      const left = Math.floor(u);
      const [a, b, c, d, across] = spline(u - left);
      const n = (a * column[left]! + b * column[left + 1]! + c * column[left + 2]! + d * column[left + 3]!) * across;
      // What is no number counts as dark.
      const luma = 0.2126 * src[0]![i]! + 0.7152 * src[1]![i]! + 0.0722 * src[2]![i]!;
      const t = luma > 0 ? Math.min(1, luma) : 0;
      const [low, high] = [Math.max(0, 1 - 2 * t), Math.max(0, 2 * t - 1)];
      const by = share * n * (block[2]! * low + block[3]! * (1 - low - high) + block[4]! * high);
      for (const k of channels) dst[k]![i] = dst[k]![i]! + by;
    }
  }
}
function grain(block: Float32Array, run: FrameRun): void {
  const { w, src, dst, y0, y1 } = run;
  for (let k = 0; k < 3; k++) dst[k]!.set(src[k]!.subarray(y0 * w, y1 * w), y0 * w);
  const column = new Float32Array(Math.floor((w - 0.5) / block[1]!) + 5);
  const [strength, colour] = [block[0]!, block[7]!];
  const length = Math.hypot(1 - colour, colour);
  if (colour < 1) add(block, run, column, 0, (strength * (1 - colour)) / length);
  if (colour > 0) for (let f = 1; f < FIELDS; f++) add(block, run, column, f, (strength * colour) / length);
}

export default defineAreaOp<typeof params>({
  id: 'grain',
  title: 'Grain',
  doc:
    'Lays grain over the picture: of a size, a strength by tone, of luma or of colour too. Every frame has its own, ' +
    'and the same one whenever it is made.',
  version: 1,
  params,
  refs: [
    'cubic B-spline: C. de Boor, "A practical guide to splines", 1978',
    'mixing of bits: A. Appleby, MurmurHash3 (public domain)',
  ],
  edge: 'NaN stays NaN, infinity infinite; what is no number counts as dark for the response by tone. Nothing clamps.',
  migrations: [],
  /** Block: strength; cell in pixels; shares of shadows, middle, highlights; seed; frame; share of colour. */
  prepare: (p, { frame = 0 }) =>
    Float32Array.of(
      p.strengthPct / 100,
      Math.max(LEAST_CELL, p.sizePx / 2),
      p.shadowsPct / 100,
      p.middlePct / 100,
      p.highlightsPct / 100,
      Math.round(p.seed),
      frame,
      p.colourPct / 100,
    ),
  // It hangs on the picture's corner: a window elsewhere would have another grain.
  haloPx: () => 'all',
  workPlanes: 0,
  passes: () => [{ name: 'grain' }],
  kernels: { grain },
  isNoOp: (p) => p.strengthPct === 0 || (p.shadowsPct === 0 && p.middlePct === 0 && p.highlightsPct === 0),
  say: (p) => [`grain ${formatNumber(p.strengthPct, 1)} %`],
  brief: (p) => `${formatNumber(p.strengthPct, 1)} %`,
});
