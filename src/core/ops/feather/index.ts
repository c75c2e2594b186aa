/**
 * Gaussian blur of the matte. Below sigma 3 px the true kernel, cut at 3.25 sigma. From there on the blurred plane
 * holds nothing finer than its own sigma: it is computed on a grid of knots two thirds of a sigma apart, and cubic
 * B-splines over the knots give every pixel. A B-spline blurs too, by a third of its step squared (M. Unser, "Splines:
 * a perfect fit for signal and image processing", IEEE Signal Processing Magazine 16, 1999, sec. "B-splines"): the
 * kernel at the knots is narrower by just that. Within 0.2 % of full scale of the true Gaussian on an edge and 0.4 % on
 * a blob. Knots lie at multiples of their step in the picture: any tiling and any window of it gives the same bits;
 * weights are never below nothing, so that the matte never overshoots and exact 0 stays beyond the reach.
 *
 * Projects of version 1 keep what they were made with: the kernel cut at 3 sigma, and beyond sigma 12 px four box
 * passes with fractional ends whose variances add up to the Gaussian's (P. Gwosdek, S. Grewenig, A. Bruhn, J. Weickert,
 * "Theoretical foundations of Gaussian convolution by extended box filtering", SSVM 2011), on whole numbers (matte
 * times 2^20).
 */
import { defineTidyAreaOp } from '../../op/contract';
import type { AreaRun } from '../../op/contract';
import { short } from '../../op/words';
import { params } from './params';

const KNOT_MIN_SIGMA_PX = 3;
/** Planes narrower or lower than this are blurred by the true kernel: their knots would not find room in it. */
const LEAST = 8;
const CUT = 3.25;
/** Weights add up to 1 but for rounding: what is full all around stays exactly full. */
const FULL = 0.999999;

/** Of version 1: sigma to which the true kernel was taken, whole numbers in the boxes. */
const FIR_MAX_SIGMA_PX = 12;
const ONE = 1 << 20;
export const BOXES = 4;

/** Whole radius and weight of the two end pixels of a box, so that four of them have the standard deviation. */
export function extendedBox(sigmaPx: number): { r: number; alpha: number } {
  const v = (sigmaPx * sigmaPx) / BOXES;
  const r = Math.floor(0.5 * Math.sqrt(12 * v + 1) - 0.5);
  return { r, alpha: ((2 * r + 1) * (r * (r + 1) - 3 * v)) / (6 * (v - (r + 1) * (r + 1))) };
}

const at = (i: number, n: number): number => (i < 0 ? 0 : i >= n ? n - 1 : i);

/** Where the parts of a block lie: weights of the true kernel, then of the kernel at the knots, then of the splines. */
const layout = (k: Float32Array): Layout => {
  const [R, knotR, step] = [k[1]!, k[2]!, k[3]!];
  const padded = (step + 3) & ~3;
  const spline = 5 + R + 1 + ((2 * knotR + 1 + 3) & ~3);
  return { R, knotR, step, knot: 5 + R + 1, spline, padded };
};
interface Layout {
  R: number;
  knotR: number;
  step: number;
  knot: number;
  spline: number;
  padded: number;
}

function firH(k: Float32Array, { src, dst, w, y0, y1 }: AreaRun): void {
  const { R } = layout(k);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < w; x++) {
      let sum = k[5]! * src[y * w + x]!;
      for (let j = 1; j <= R; j++) sum += k[5 + j]! * (src[y * w + at(x - j, w)]! + src[y * w + at(x + j, w)]!);
      dst[y * w + x] = sum;
    }
}
function firV(k: Float32Array, { src, dst, w, h, y0, y1 }: AreaRun): void {
  const { R } = layout(k);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < w; x++) {
      let sum = k[5]! * src[y * w + x]!;
      for (let j = 1; j <= R; j++) sum += k[5 + j]! * (src[at(y - j, h) * w + x]! + src[at(y + j, h) * w + x]!);
      dst[y * w + x] = sum > FULL ? 1 : sum;
    }
}

/** How many knots a line of n pixels has that begins `from` pixels after a knot: one before it, two after it. */
const knotsOf = (n: number, step: number, from: number): number => Math.floor((n - 1 + from) / step) + 4;

/** The kernel at one knot, the ends of the line held. `stride`: from one pixel of the line to the next. */
function atKnot(
  k: Float32Array,
  l: Layout,
  src: Float32Array,
  from: number,
  stride: number,
  n: number,
  x: number,
): number {
  let sum = 0;
  for (let i = 0; i <= 2 * l.knotR; i++) sum += k[l.knot + i]! * src[from + at(x + i - l.knotR, n) * stride]!;
  return sum;
}
/** Knots of each row, at the start of the row. */
function knotH(k: Float32Array, run: AreaRun): void {
  const { src, dst, w, h, y0, y1, left } = run;
  if (w < LEAST || h < LEAST) return firH(k, run);
  const l = layout(k);
  const begin = left % l.step;
  for (let y = y0; y < y1; y++)
    for (let j = 0, n = knotsOf(w, l.step, begin); j < n; j++)
      dst[y * w + j] = atKnot(k, l, src, y * w, 1, w, (j - 1) * l.step - begin);
}
/** Knots of each column of knots, in the first rows. */
function knotV(k: Float32Array, run: AreaRun): void {
  const { src, dst, w, h, y0, y1, left, top } = run;
  if (w < LEAST || h < LEAST) return firV(k, run);
  const l = layout(k);
  const begin = top % l.step;
  const columns = knotsOf(w, l.step, left % l.step);
  for (let y = y0, end = Math.min(y1, knotsOf(h, l.step, begin)); y < end; y++)
    for (let x = 0; x < columns; x++) dst[y * w + x] = atKnot(k, l, src, x, w, h, (y - 1) * l.step - begin);
}
/** Every pixel from the four by four knots around it. */
function spline(k: Float32Array, { src, dst, scratch, w, h, y0, y1, left, top }: AreaRun): void {
  if (w < LEAST || h < LEAST) return void dst.set(src.subarray(y0 * w, y1 * w), y0 * w);
  const { step, spline, padded } = layout(k);
  const [beginX, beginY] = [left % step, top % step];
  const columns = knotsOf(w, step, beginX);
  const line = new Float32Array(scratch.buffer, scratch.byteOffset, columns);
  const weight = (q: number, phase: number): number => k[spline + q * padded + phase]!;
  for (let y = y0; y < y1; y++) {
    const [row, phase] = [Math.floor((y + beginY) / step) * w, (y + beginY) % step];
    for (let x = 0; x < columns; x++) {
      let sum = 0;
      for (let q = 0; q < 4; q++) sum += weight(q, phase) * src[row + q * w + x]!;
      line[x] = sum;
    }
    for (let x = 0; x < w; x++) {
      const [j, part] = [Math.floor((x + beginX) / step), (x + beginX) % step];
      let sum = 0;
      for (let q = 0; q < 4; q++) sum += weight(q, part) * line[j + q]!;
      dst[y * w + x] = sum > FULL ? 1 : sum;
    }
  }
}

/** One running-sum box along a line of whole numbers, edges held. */
function boxLine(line: Int32Array, from: number, to: number, n: number, r: number, alpha: number): void {
  const inv = 1 / (2 * r + 1 + 2 * alpha);
  let sum = 0;
  for (let j = -r; j <= r; j++) sum += line[from + at(j, n)]!;
  for (let x = 0; x < n; x++) {
    const next = line[from + at(x + r + 1, n)]!;
    const ends = next + line[from + at(x - r - 1, n)]!;
    line[to + x] = Math.floor((sum + alpha * ends) * inv + 0.5);
    sum += next - line[from + at(x - r, n)]!;
  }
}
function boxH(k: Float32Array, { src, dst, scratch, w, y0, y1 }: AreaRun): void {
  for (let y = y0; y < y1; y++) {
    for (let x = 0; x < w; x++) {
      const v = src[y * w + x]!;
      scratch[x] = v > 0 ? Math.floor(Math.min(v, 1) * ONE + 0.5) : 0;
    }
    for (let i = 0; i < BOXES; i++) boxLine(scratch, (i & 1) * w, ((i + 1) & 1) * w, w, k[1]!, k[2]!);
    for (let x = 0; x < w; x++) dst[y * w + x] = scratch[x]!;
  }
}
const boxV =
  (scale: number) =>
  (k: Float32Array, { src, dst, scratch, w, h, y0, y1 }: AreaRun): void => {
    const r = k[1]!;
    const alpha = k[2]!;
    const inv = 1 / (2 * r + 1 + 2 * alpha);
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let j = -r; j <= r; j++) sum += src[at(y0 + j, h) * w + x]!;
      scratch[x] = sum;
    }
    for (let y = y0; y < y1; y++) {
      const add = at(y + r + 1, h) * w;
      const end = at(y - r - 1, h) * w;
      const sub = at(y - r, h) * w;
      for (let x = 0; x < w; x++) {
        const sum = scratch[x]!;
        const next = src[add + x]!;
        dst[y * w + x] = Math.floor((sum + alpha * (next + src[end + x]!)) * inv + 0.5) * scale;
        scratch[x] = sum + next - src[sub + x]!;
      }
    }
  };

/** Of a Gaussian step that is one half on the edge: what is full there, or nothing there. */
function side(k: Float32Array, { src, dst, w, y0, y1 }: AreaRun): void {
  const from = k[0]! & OUT ? 0 : 1;
  for (let i = y0 * w; i < y1 * w; i++) {
    const v = 2 * src[i]! - from;
    dst[i] = v > 0 ? (v < 1 ? v : 1) : 0;
  }
}
/** What a block's first number says. */
const [KNOTS, IN, OUT, BOXED] = [1, 2, 4, 8];

const reachOf = (sigmaPx: number, cut = CUT): number => (sigmaPx > 0.01 ? Math.ceil(cut * sigmaPx) : 0);
export const stepOf = (sigmaPx: number): number => Math.floor(sigmaPx / 1.5);
/** What the splines blur already is left out: the variance of a cubic B-spline is a third of its step squared. */
export const narrowed = (sigmaPx: number): number => Math.sqrt(sigmaPx ** 2 - stepOf(sigmaPx) ** 2 / 3);
/** Weights from the centre outwards that add up to 1, both sides together. */
function gaussian(sigmaPx: number, cut = CUT): number[] {
  const w = Array.from({ length: reachOf(sigmaPx, cut) + 1 }, (_, j) =>
    j > 0 ? Math.exp((-j * j) / (2 * sigmaPx * sigmaPx)) : 1,
  );
  const total = w.reduce((a, v, j) => a + (j === 0 ? v : 2 * v), 0);
  return w.map((v) => v / total);
}
/** The uniform cubic B-spline: weight of the q-th of four knots at t in 0..1 between the second and the third. */
function cubic(q: number, t: number): number {
  if (q === 0) return (1 - t) ** 3 / 6;
  if (q === 1) return (3 * t ** 3 - 6 * t * t + 4) / 6;
  if (q === 2) return (-3 * t ** 3 + 3 * t * t + 3 * t + 1) / 6;
  return t ** 3 / 6;
}
const fours = (v: number[]): number[] => [...v, ...Array.from({ length: -v.length & 3 }, () => 0)];

export default defineTidyAreaOp<typeof params>({
  id: 'feather',
  title: 'Feather',
  doc:
    'Gaussian softening of the matte, standard deviation = radius / 2. The true kernel up to a radius of 6 px; ' +
    'beyond, the blurred plane on knots with cubic B-splines between them (within 0.2 % of full scale of the ' +
    'Gaussian on an edge, 0.4 % on a blob no larger than the feather).',
  version: 2,
  params,
  refs: [
    'M. Unser, "Splines: a perfect fit for signal and image processing", IEEE Signal Processing Magazine 16, 1999',
    'P. Gwosdek et al., "Theoretical foundations of Gaussian convolution by extended box filtering", SSVM 2011',
    'float64 Gaussian in testkit/naive.ts',
  ],
  edge:
    'Edges of the picture hold their value outwards. Radius 0 changes nothing. NaN spreads as far as the ' +
    'kernel reaches; tidy steps before it never give NaN.',
  migrations: [{ from: 1, up: (s) => ({ ...s, kernel: 'boxes' }) }],
  /**
   * Block: 1 where knots are used, 2 more inwards, 4 outwards, 8 with boxes (then their radius and the weight of their
   * ends); reach of the true kernel, reach at the knots, step of the
   * knots, 0; weights of the true kernel from the centre outwards; of the knots' kernel from end to end, in fours; of
   * the four splines by the place between two knots, each in fours.
   */
  prepare({ radiusPx, side: to, kernel }) {
    const sigma = radiusPx / 2;
    const where = to === 'in' ? IN : to === 'out' ? OUT : 0;
    if (kernel === 'boxes' && sigma > FIR_MAX_SIGMA_PX) {
      const { r, alpha } = extendedBox(sigma);
      return Float32Array.of(BOXED + where, r, alpha);
    }
    const whole = gaussian(sigma, kernel === 'boxes' ? 3 : CUT);
    const R = whole.length - 1;
    // Without a reach the edge stays where it is, to whichever side.
    if (kernel === 'boxes' || sigma < KNOT_MIN_SIGMA_PX)
      return Float32Array.of(R > 0 ? where : 0, R, 0, 0, 0, ...whole);
    const step = stepOf(sigma);
    const half = gaussian(narrowed(sigma));
    const [, ...right] = half;
    return Float32Array.of(
      ...[KNOTS + where, R, half.length - 1, step, 0, ...whole],
      ...fours([...right.reverse(), ...half]),
      ...[0, 1, 2, 3].flatMap((q) => fours(Array.from({ length: step }, (_, i) => cubic(q, i / step)))),
    );
  },
  haloPx({ radiusPx, kernel }) {
    const sigma = radiusPx / 2;
    if (kernel === 'boxes') return sigma > FIR_MAX_SIGMA_PX ? BOXES * (extendedBox(sigma).r + 1) : reachOf(sigma, 3);
    if (sigma < KNOT_MIN_SIGMA_PX) return reachOf(sigma);
    // Four more: what the vectors of the twin read beyond the last weight.
    return Math.max(reachOf(sigma), reachOf(narrowed(sigma)) + 2 * stepOf(sigma) + 4);
  },
  passes: (block) => [
    ...(block[0]! & BOXED
      ? ['boxH', 'boxV', 'boxV', 'boxV', 'boxVLast']
      : block[0]! & KNOTS
        ? ['knotH', 'knotV', 'spline']
        : ['firH', 'firV']),
    ...(block[0]! & (IN | OUT) ? ['side'] : []),
  ],
  kernels: { firH, firV, knotH, knotV, spline, boxH, boxV: boxV(1), boxVLast: boxV(1 / ONE), side },
  // Below a fiftieth of a pixel the kernel is its middle alone.
  isNoOp: (p) => p.radiusPx <= 0.02,
  place: 60,
  standing: true,
  say: (p) => [`feather ${short(p.radiusPx)} px${p.side === 'both' ? '' : p.side === 'in' ? ' inwards' : ' outwards'}`],
});
