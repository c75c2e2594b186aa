/**
 * Gaussian blur of the matte. Up to sigma 6 px the true kernel, cut at 3 sigma; beyond, three box passes whose
 * variances add up to the Gaussian's (P. Kovesi, "Fast almost-Gaussian filtering", DICTA 2010): at most 0.9 % of full
 * scale from the true Gaussian on a step edge. The boxes run on whole numbers (matte times 2^20), so sums neither drift nor depend on
 * where a band begins: any tiling gives the same bits, and where nothing is near, the matte stays exactly 0.
 */
import { defineTidyAreaOp } from '../../op/contract';
import type { AreaRun } from '../../op/contract';
import { params } from './params';

export const FIR_MAX_SIGMA_PX = 6;
const ONE = 1 << 20;

/** Radii (widths 2r + 1) of three boxes for a standard deviation, after Kovesi. */
export function boxRadii(sigmaPx: number): [number, number, number] {
  const ideal = Math.sqrt(4 * sigmaPx * sigmaPx + 1);
  let lower = Math.floor(ideal);
  if (lower % 2 === 0) lower--;
  const shorter = Math.round((12 * sigmaPx * sigmaPx - 3 * lower * lower - 12 * lower - 9) / (-4 * lower - 4));
  const r = (lower - 1) / 2;
  return [0, 1, 2].map((i) => (i < shorter ? r : r + 1)) as [number, number, number];
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
      dst[y * w + x] = sum > 1 ? 1 : sum;
    }
}

/** One running-sum box along a line of whole numbers, edges held. */
function boxLine(from: Int32Array, to: Int32Array, n: number, r: number, offFrom: number, offTo: number): void {
  const inv = 1 / (2 * r + 1);
  let sum = 0;
  for (let j = -r; j <= r; j++) sum += from[offFrom + at(j, n)]!;
  for (let x = 0; x < n; x++) {
    to[offTo + x] = Math.floor(sum * inv + 0.5);
    sum += from[offFrom + at(x + r + 1, n)]! - from[offFrom + at(x - r, n)]!;
  }
}
function boxH(k: Float32Array, { src, dst, scratch, w, y0, y1 }: AreaRun): void {
  for (let y = y0; y < y1; y++) {
    for (let x = 0; x < w; x++) {
      const v = src[y * w + x]!;
      scratch[x] = v > 0 ? Math.floor(Math.min(v, 1) * ONE + 0.5) : 0;
    }
    boxLine(scratch, scratch, w, k[1]!, 0, w);
    boxLine(scratch, scratch, w, k[2]!, w, 0);
    boxLine(scratch, scratch, w, k[3]!, 0, w);
    for (let x = 0; x < w; x++) dst[y * w + x] = scratch[w + x]!;
  }
}
const boxV = (which: 1 | 2 | 3) => (k: Float32Array, { src, dst, scratch, w, h, y0, y1 }: AreaRun): void => {
  const r = k[which]!;
  const inv = 1 / (2 * r + 1);
  const out = which === 3 ? 1 / ONE : 1;
  for (let x = 0; x < w; x++) {
    let sum = 0;
    for (let j = -r; j <= r; j++) sum += src[at(y0 + j, h) * w + x]!;
    scratch[x] = sum;
  }
  for (let y = y0; y < y1; y++) {
    const add = at(y + r + 1, h) * w;
    const sub = at(y - r, h) * w;
    for (let x = 0; x < w; x++) {
      const sum = scratch[x]!;
      dst[y * w + x] = Math.floor(sum * inv + 0.5) * out;
      scratch[x] = sum + src[add + x]! - src[sub + x]!;
    }
  }
};

export default defineTidyAreaOp<typeof params>({
  id: 'feather',
  title: 'Feather',
  doc: 'Gaussian softening of the matte, standard deviation = radius / 2. True kernel up to sigma 6 px, three whole-number box passes beyond (at most 0.9 % of full scale from the Gaussian on an edge).',
  version: 1,
  params,
  refs: ['P. Kovesi, "Fast almost-Gaussian filtering", DICTA 2010', 'float64 Gaussian in testkit/naive.ts'],
  edge: 'Edges of the picture hold their value outwards. Radius 0 changes nothing. NaN spreads with the true kernel and counts as 0 in the box passes; tidy steps before it never give NaN.',
  migrations: [],
  /** Block: 0, reach, weights from the centre outwards; or 1 and three box radii. */
  prepare({ radiusPx }) {
    const sigma = radiusPx / 2;
    if (sigma > FIR_MAX_SIGMA_PX) return Float32Array.of(1, ...boxRadii(sigma));
    const R = Math.max(0, Math.ceil(3 * sigma));
    const w = Array.from({ length: R + 1 }, (_, j) => (sigma > 0 ? Math.exp((-j * j) / (2 * sigma * sigma)) : 1));
    const total = w.reduce((a, v, j) => a + (j === 0 ? v : 2 * v), 0);
    return Float32Array.of(0, R, ...w.map((v) => v / total));
  },
  haloPx({ radiusPx }) {
    const sigma = radiusPx / 2;
    return sigma > FIR_MAX_SIGMA_PX ? boxRadii(sigma).reduce((a, r) => a + r, 0) : Math.ceil(3 * sigma);
  },
  passes: (block) => (block[0] === 0 ? ['firH', 'firV'] : ['boxH', 'boxV1', 'boxV2', 'boxV3']),
  kernels: { firH, firV, boxH, boxV1: boxV(1), boxV2: boxV(2), boxV3: boxV(3) },
  isNoOp: (p) => p.radiusPx === 0,
});
