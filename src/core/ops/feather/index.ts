/**
 * Gaussian blur of the matte. Up to sigma 12 px the true kernel, cut at 3 sigma; beyond, four box passes with
 * fractional
 * ends whose variances add up to the Gaussian's exactly (P. Gwosdek, S. Grewenig, A. Bruhn, J. Weickert, "Theoretical
 * foundations of Gaussian convolution by extended box filtering", SSVM 2011): on a straight edge within 0.8 % of full
 * scale of
 * the true Gaussian, on a blob no larger than the feather within 2.5 %. The boxes run on whole numbers (matte times
 * 2^20), so sums neither drift nor depend on where a band
 * begins: any tiling gives the same bits, and where nothing is near, the matte stays exactly 0.
 */
import { defineTidyAreaOp } from '../../op/contract';
import type { AreaRun } from '../../op/contract';
import { short } from '../../op/words';
import { params } from './params';

export const FIR_MAX_SIGMA_PX = 12;
const ONE = 1 << 20;
const FULL = 0.999999;

export const BOXES = 4;

/** Whole radius and weight of the two end pixels of a box, so that four of them have the standard deviation. */
export function extendedBox(sigmaPx: number): { r: number; alpha: number } {
  const v = (sigmaPx * sigmaPx) / BOXES;
  const r = Math.floor(0.5 * Math.sqrt(12 * v + 1) - 0.5);
  return { r, alpha: ((2 * r + 1) * (r * (r + 1) - 3 * v)) / (6 * (v - (r + 1) * (r + 1))) };
}

const at = (i: number, n: number): number => (i < 0 ? 0 : i >= n ? n - 1 : i);

function firH(k: Float32Array, { src, dst, w, y0, y1 }: AreaRun): void {
  const R = k[1]!;
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < w; x++) {
      let sum = k[2]! * src[y * w + x]!;
      for (let j = 1; j <= R; j++) sum += k[2 + j]! * (src[y * w + at(x - j, w)]! + src[y * w + at(x + j, w)]!);
      dst[y * w + x] = sum;
    }
}
function firV(k: Float32Array, { src, dst, w, h, y0, y1 }: AreaRun): void {
  const R = k[1]!;
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < w; x++) {
      let sum = k[2]! * src[y * w + x]!;
      for (let j = 1; j <= R; j++) sum += k[2 + j]! * (src[at(y - j, h) * w + x]! + src[at(y + j, h) * w + x]!);
      // Weights add up to 1 but for rounding: full stays exactly full.
      dst[y * w + x] = sum > FULL ? 1 : sum;
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
  const from = k[0]! >= 2 * OUT ? 0 : 1;
  for (let i = y0 * w; i < y1 * w; i++) {
    const v = 2 * src[i]! - from;
    dst[i] = v > 0 ? (v < 1 ? v : 1) : 0;
  }
}
const IN = 1;
const OUT = 2;

export default defineTidyAreaOp<typeof params>({
  id: 'feather',
  title: 'Feather',
  doc:
    'Gaussian softening of the matte, standard deviation = radius / 2. True kernel up to sigma 12 px, ' +
    'four whole-number box passes beyond (within 0.8 % of full scale of the Gaussian on a straight edge, ' +
    '2.5 % on a blob smaller than the feather).',
  version: 1,
  params,
  refs: [
    'P. Gwosdek et al., "Theoretical foundations of Gaussian convolution by extended box filtering", SSVM 2011',
    'float64 Gaussian in testkit/naive.ts',
  ],
  edge:
    'Edges of the picture hold their value outwards. Radius 0 changes nothing. NaN spreads with the ' +
    'true kernel and counts as 0 in the box passes; tidy steps before it never give NaN.',
  migrations: [],
  /**
   * Block: 0, reach, weights from the centre outwards; or 1, box radius, weight of its ends; 2 more inwards, 4
   * outwards.
   */
  prepare({ radiusPx, side: to }) {
    const sigma = radiusPx / 2;
    const where = 2 * (to === 'in' ? IN : to === 'out' ? OUT : 0);
    if (sigma > FIR_MAX_SIGMA_PX) {
      const { r, alpha } = extendedBox(sigma);
      return Float32Array.of(1 + where, r, alpha);
    }
    const R = sigma > 0.01 ? Math.ceil(3 * sigma) : 0;
    const w = Array.from({ length: R + 1 }, (_, j) => (R > 0 ? Math.exp((-j * j) / (2 * sigma * sigma)) : 1));
    const total = w.reduce((a, v, j) => a + (j === 0 ? v : 2 * v), 0);
    // Without a reach the edge stays where it is, to whichever side.
    return Float32Array.of(R > 0 ? where : 0, R, ...w.map((v) => v / total));
  },
  haloPx({ radiusPx }) {
    const sigma = radiusPx / 2;
    return sigma > FIR_MAX_SIGMA_PX ? BOXES * (extendedBox(sigma).r + 1) : Math.ceil(3 * sigma);
  },
  passes: (block) => [
    ...(block[0]! % 2 === 0 ? ['firH', 'firV'] : ['boxH', 'boxV', 'boxV', 'boxV', 'boxVLast']),
    ...(block[0]! >= 2 ? ['side'] : []),
  ],
  kernels: { firH, firV, boxH, boxV: boxV(1), boxVLast: boxV(1 / ONE), side },
  // Below a fiftieth of a pixel the kernel is its middle alone.
  isNoOp: (p) => p.radiusPx <= 0.02,
  place: 60,
  standing: true,
  say: (p) => [`feather ${short(p.radiusPx)} px${p.side === 'both' ? '' : p.side === 'in' ? ' inwards' : ' outwards'}`],
});
