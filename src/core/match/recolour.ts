/** Recolouring solved: which colour to aim at so that a region's mean becomes the one that was asked for. */
import { decode, rgbToRgb, apply3 } from '../color/encodings';
import type { Encoding } from '../color/encodings';
import { ciede2000, linearToLab } from '../color/lab';
import { linearToOklab, oklabToLinear } from '../color/oklab';

export type Lab3 = [number, number, number];
/** Pixels of a region with the share that each is in it. */
export interface Weighed {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  weight: Float32Array;
}
/** Mean in OKLab, each pixel by its weight; null where nothing is in, or nothing is a number. */
export function meanOklab({ r, g, b, weight }: Weighed, e: Encoding): Lab3 | null {
  const m = rgbToRgb(e.primaries, 'bt709');
  const sum = [0, 0, 0, 0];
  for (let i = 0; i < r.length; i++) {
    const k = weight[i]!;
    if (!(k > 0) || !Number.isFinite(r[i]! + g[i]! + b[i]!)) continue;
    const lab = linearToOklab(...apply3(m, [decode(e, r[i]!), decode(e, g[i]!), decode(e, b[i]!)]));
    for (let c = 0; c < 3; c++) sum[c]! += k * lab[c]!;
    sum[3]! += k;
  }
  return sum[3]! > 0 ? [sum[0]! / sum[3]!, sum[1]! / sum[3]!, sum[2]! / sum[3]!] : null;
}
/** CIEDE2000 between two colours of OKLab; light outside BT.709 is cut there, as a display does. */
export function labApart(p: Lab3, q: Lab3): number {
  const lab = (v: Lab3) =>
    linearToLab(...(oklabToLinear(...v).map((x) => Math.min(1, Math.max(0, x))) as [number, number, number]));
  return ciede2000(lab(p), lab(q));
}
/** Degrees between two hues of OKLab; null where one of them has hardly a colour. */
export function hueApart(p: Lab3, q: Lab3): number | null {
  if (Math.hypot(p[1], p[2]) < 0.02 || Math.hypot(q[1], q[2]) < 0.02) return null;
  const d = Math.atan2(p[2], p[1]) - Math.atan2(q[2], q[1]);
  return (Math.abs(Math.atan2(Math.sin(d), Math.cos(d))) * 180) / Math.PI;
}
/** An aim is moved no further than this: beyond, folds would be flattened against the border of the range. */
const MOST_TRIM = 0.08;
const ROUNDS = 10;
const NEAR_ENOUGH = 2e-4;

/**
 * By what was missed, again and again, as long as it helps.
 *
 * @param mean the mean that comes of a trim
 */
export function solveTrim(to: Lab3, mean: (trim: Lab3) => Lab3, start: Lab3 = [0, 0, 0]): { trim: Lab3; mean: Lab3 } {
  const missed = (m: Lab3): number => Math.hypot(m[0] - to[0], m[1] - to[1], m[2] - to[2]);
  let best = { trim: start, mean: mean(start) };
  let at = best;
  for (let round = 0; round < ROUNDS && missed(best.mean) > NEAR_ENOUGH; round++) {
    const next = at.trim.map((v, c) => Math.min(MOST_TRIM, Math.max(-MOST_TRIM, v + to[c]! - at.mean[c]!))) as Lab3;
    at = { trim: next, mean: mean(next) };
    if (missed(at.mean) < missed(best.mean)) best = at;
    else if (round > 2) break;
  }
  return best;
}
