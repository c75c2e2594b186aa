/** How noisy a picture's colour is, and where a hue begins to mean something because of it. */
import { chromaPct, rgbToYcbcr, ycbcrToRgb } from '../color/ycbcr';
import type { Encoding } from '../color/encodings';
import { measure } from './keySpace';
import type { KeySpace } from './keySpace';
import { params as keyParams } from '../ops/key/params';
import { clamp, median, quantileSorted } from '../math/stats';

/** So many places tell the noise to about two percent. */
const PLACES = 12_000;
/**
 * Standard deviation of the noise of colour difference, in % of chroma, along one axis of it: the median of second
 * differences along rows, which what is drawn on the picture hardly moves (smooth shading and most edges drop out).
 *
 * @param w pixels in a row
 * @param r, g, b R'G'B' in rows
 * @returns 0 where there is none to be seen, as in flat pictures and in those of fewer than three columns
 * Source: J. Immerkaer, "Fast noise variance estimation", CVIU 64(2), 1996 (second differences); the median absolute
 * deviation as a robust scale: D. Donoho, I. Johnstone, Biometrika 81(3), 1994
 */
export function chromaNoisePct(r: Float32Array, g: Float32Array, b: Float32Array, w: number): number {
  const inner = w - 2;
  const n = inner > 0 ? inner * Math.floor(r.length / w) : 0;
  if (n <= 0) return 0;
  // An odd step that no width divides evenly walks over every column.
  const step = Math.max(1, Math.floor(n / PLACES) | 1);
  const diffs: [number[], number[]] = [[], []];
  for (let k = 0; k < n; k += step) {
    const i = Math.floor(k / inner) * w + 1 + (k % inner);
    const at = (k: number) => rgbToYcbcr(r[k]!, g[k]!, b[k]!);
    const [a, m, z] = [at(i - 1), at(i), at(i + 1)];
    const [cb, cr] = [a[1] - 2 * m[1] + z[1], a[2] - 2 * m[2] + z[2]];
    if (!Number.isFinite(cb + cr)) continue;
    diffs[0].push(Math.abs(cb));
    diffs[1].push(Math.abs(cr));
  }
  if (diffs[0].length === 0) return 0;
  // The noise of 1, -2, 1 is the root of 6 times that of one pixel; 0.6745 is the quartile of a normal distribution.
  const [cb, cr] = diffs.map((d) => median(Float32Array.from(d)) / 0.6745 / Math.sqrt(6)) as [number, number];
  return chromaPct(cb, cr) / Math.SQRT2;
}

/** Hues that scatter by more than this mean nothing: one standard deviation, in degrees. */
const SCATTER_DEG = 15;
/** A key's own default, which a clean picture keeps, and the most that is set unasked. */
const GUARD_MOST = keyParams.neutralPct.max;
const LEAST = 2;
const MOST = 10;
/**
 * A neutral guard as a percentage of another space's chroma, which means about the same.
 *
 * @param luma signal 0..1 of what the key holds
 */
export function guardIn(pct: number, from: KeySpace, to: KeySpace, luma: number, encoding?: Encoding): number {
  const by = stretch(measure(to, encoding), luma) / stretch(measure(from, encoding), luma);
  return Math.round(10 * clamp(pct * by, 0, GUARD_MOST)) / 10;
}
/** How much larger a small colour difference of a grey is in that measure than in the scopes'. */
function stretch(measured: ReturnType<typeof measure>, luma: number): number {
  const step = 0.01;
  const parts = [0, 90, 180, 270].map((deg) => {
    const a = (deg * Math.PI) / 180;
    const c = measured(...ycbcrToRgb(luma, step * Math.cos(a), step * Math.sin(a)));
    return chromaPct(c[1], c[2]) / chromaPct(step, 0);
  });
  return parts.reduce((x, y) => x + y, 0) / 4;
}
/**
 * Neutral guard of a key, in % of chroma, for a picture of such noise: noise of s scatters the hue of a chroma c by
 * s / c. What was sampled stays in: all of a guard is passed from one and a half of it on.
 *
 * @param sampled Cb, Cr, luma of what the key was fitted to, one after the other
 */
export function guardFor(
  noisePct: number,
  sampled: readonly number[],
  space: KeySpace = 'scope',
  encoding?: Encoding,
): number {
  const measured = measure(space, encoding);
  const colours = Array.from({ length: Math.floor(sampled.length / 3) }, (_, i) =>
    measured(...ycbcrToRgb(sampled[3 * i + 2]!, sampled[3 * i]!, sampled[3 * i + 1]!)),
  );
  const chroma = Float32Array.from(colours, (c) => chromaPct(c[1], c[2])).sort();
  const low = chroma.length > 0 ? quantileSorted(chroma, 0.05) / 1.5 : 0;
  const luma = sampled.length > 0 ? median(Float32Array.from(colours, (_, i) => sampled[3 * i + 2]!)) : 0.5;
  const want = (noisePct * stretch(measured, luma)) / ((SCATTER_DEG * Math.PI) / 180);
  return Math.round(10 * clamp(Math.min(want, low), LEAST, MOST)) / 10;
}
