/**
 * Whether pixels have one hue or two: the split of the histogram that tells its two sides best, and how well it does
 * (N. Otsu, "A threshold selection method from gray-level histograms", IEEE SMC 9(1), 1979: eta, the share of the
 * variance that lies between the sides). One bell has 0.64, an even spread 0.75.
 */
import { DEG } from '../math/angle';

export interface TwoHues {
  /** Share of the pixels on the lower side. */
  share: number;
  /** Mean hue of either side, in degrees from the hue that they are told from, counter-clockwise. */
  low: number;
  high: number;
}
const ETA = 0.82;
const LEAST_APART_DEG = 10;
/** A side smaller than this is a rest, and left out elsewhere. */
const LEAST_SHARE = 0.15;
/** In steps of an 8-bit code: nearer hues may be one, rounded to two. */
const CODES = 4;
const LEAST_PIXELS = 40;

/** What has less of the mean's chroma than this is a glint, an eye, hair: its hue says nothing of light. */
const COLOURED = 0.4;

/**
 * All pixels with colour count: where one light holds more of a patch than the other, a trimmed mean leaves the other
 * out.
 *
 * @param cb of the pixels, with `cr`; signal
 * @param mean what hues are told from, as (Cb, Cr)
 */
export function twoHues(cb: Float32Array, cr: Float32Array, mean: readonly [number, number]): TwoHues | null {
  const chroma = Math.hypot(mean[0], mean[1]);
  if (chroma === 0) return null;
  const [ux, uy] = [mean[0] / chroma, mean[1] / chroma];
  // A degree a cell, half a turn either way.
  const cells = new Float64Array(361);
  let n = 0;
  for (let i = 0; i < cb.length; i++) {
    if (Math.hypot(cb[i]!, cr[i]!) < COLOURED * chroma) continue;
    const deg = Math.atan2(cr[i]! * ux - cb[i]! * uy, cb[i]! * ux + cr[i]! * uy) * DEG;
    cells[Math.round(deg) + 180]!++;
    n++;
  }
  if (n < LEAST_PIXELS) return null;
  let [all, square] = [0, 0];
  cells.forEach((v, c) => {
    all += v * (c - 180);
    square += v * (c - 180) ** 2;
  });
  const middle = all / n;
  const total = square / n - middle * middle;
  let best: (TwoHues & { eta: number }) | null = null;
  let [count, sum] = [0, 0];
  for (let c = 0; c < 360; c++) {
    count += cells[c]!;
    sum += cells[c]! * (c - 180);
    if (count === 0 || count === n) continue;
    const [low, high] = [sum / count, (all - sum) / (n - count)];
    const eta = ((count / n) * (1 - count / n) * (high - low) ** 2) / total;
    if (!best || eta > best.eta) best = { share: count / n, low, high, eta };
  }
  if (!best || best.eta < ETA || Math.min(best.share, 1 - best.share) < LEAST_SHARE) return null;
  const least = Math.max(LEAST_APART_DEG, Math.asin(Math.min(1, CODES / 255 / chroma)) * DEG);
  return best.high - best.low >= least ? { share: best.share, low: best.low, high: best.high } : null;
}
