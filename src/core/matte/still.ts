/**
 * Where the picture of another frame stands still. Light that changes over the whole picture is no motion: each channel
 * of the other frame is first brought to this one's by the median of their ratio. What is left is compared in windows
 * of five by five pixels, less a shift of level that the window has as a whole (up to LIGHT), which a shadow or a
 * warming lamp brings and an edge does not.
 */
export type ThreePlanes = readonly [Float32Array, Float32Array, Float32Array];

const R = 2;
const COUNT = (2 * R + 1) ** 2;
/** A change of level that a whole window may have, of full scale. */
export const LIGHT = 0.04;
/** Every so many pixels and rows are asked for the light. */
const EVERY = 4;
/** Darker than this a ratio says nothing. */
const DARK = 0.02;
const [LEAST_RATIO, BINS] = [0.5, 512];
const FEW = 16;

const at = (i: number, n: number): number => (i < 0 ? 0 : i >= n ? n - 1 : i);

/**
 * By how much one channel of another frame is multiplied for the light of this one; 0.5 to 1.5, 1 where it cannot be
 * told.
 */
export function lightRatio(here: Float32Array, there: Float32Array, w: number, h: number): number {
  const bins = new Int32Array(BINS);
  let n = 0;
  for (let y = 0; y < h; y += EVERY)
    for (let x = 0; x < w; x += EVERY) {
      const [a, b] = [here[y * w + x]!, there[y * w + x]!];
      if (!(a > DARK) || !(b > DARK)) continue;
      const bin = Math.floor((a / b - LEAST_RATIO) * BINS);
      if (!(bin >= 0 && bin < BINS)) continue;
      bins[bin]!++;
      n++;
    }
  if (n < FEW) return 1;
  let [bin, below] = [0, 0];
  while (below + bins[bin]! < n / 2) below += bins[bin++]!;
  return LEAST_RATIO + (bin + (n / 2 - below) / bins[bin]!) / BINS;
}

/**
 * The mean square by which the window about a pixel differs, per channel: the noise of both frames where nothing moved.
 */
export function differenceAt(
  here: ThreePlanes,
  there: ThreePlanes,
  gain: readonly [number, number, number],
  x: number,
  y: number,
  w: number,
  h: number,
): number {
  let [squares, level] = [0, 0];
  for (let c = 0; c < 3; c++) {
    const [a, b, g] = [here[c]!, there[c]!, gain[c]!];
    let shift = 0;
    for (let dy = -R; dy <= R; dy++)
      for (let dx = -R; dx <= R; dx++) {
        const j = at(y + dy, h) * w + at(x + dx, w);
        const d = g * b[j]! - a[j]!;
        squares += d * d;
        shift += d;
      }
    level += Math.min((shift / COUNT) ** 2, LIGHT * LIGHT);
  }
  return (squares / COUNT - level) / 3;
}

/** Windows that far apart tell of the noise. */
const APART = 12;
const [NOISE_BINS, NOISE_MOST] = [256, 0.06];
/**
 * Of windows in which only noise differs a quarter lie below this share of their mean: 75 independent squares
 * (chi-squared of 75 degrees, first quartile 66.4).
 */
const QUARTER = 66.4 / 75;
/**
 * The mean square that noise alone brings between two frames: the first quartile of what windows differ by, since at
 * least a quarter of a picture holds still, or is flat. At most the square of 0.03: more than that may be motion.
 */
export function noiseBetween(
  here: ThreePlanes,
  there: ThreePlanes,
  gain: readonly [number, number, number],
  w: number,
  h: number,
): number {
  const bins = new Int32Array(NOISE_BINS + 1);
  let n = 0;
  for (let y = APART >> 1; y < h; y += APART)
    for (let x = APART >> 1; x < w; x += APART) {
      const d = Math.sqrt(Math.max(0, differenceAt(here, there, gain, x, y, w, h)));
      if (!(d >= 0)) continue;
      bins[Math.min(NOISE_BINS, Math.floor((d / NOISE_MOST) * NOISE_BINS))]!++;
      n++;
    }
  if (n === 0) return 0;
  let [bin, below] = [0, 0];
  while (below + bins[bin]! < n / 4) below += bins[bin++]!;
  const d = ((bin + (n / 4 - below) / bins[bin]!) / NOISE_BINS) * NOISE_MOST;
  return Math.min((d * d) / QUARTER, 0.03 * 0.03);
}

/**
 * What differs by this much beyond the noise moved. An edge of 30 % that moves by a third of a pixel differs by 4 %
 * over its window, the window's own shift of level taken out: its matte changes because it must, which is no flicker.
 */
export const STILL = 0.03;
/** A matte and the picture that it was made of. */
export interface MatteFrame {
  matte: Float32Array;
  picture: ThreePlanes;
}
export interface Flicker {
  /** Mean change of the matte from one frame to the other, 0 to 1, over what is still and in either matte. */
  change: number;
  /** Share of what is in either matte that stood still, 0 to 1: with none of it there is nothing to tell. */
  still: number;
}
/** How much a matte changes between two frames where the picture did not. Null where both are empty. */
export function flickerOf(a: MatteFrame, b: MatteFrame, w: number, h: number): Flicker | null {
  const gain = [0, 1, 2].map((c) => lightRatio(a.picture[c]!, b.picture[c]!, w, h)) as [number, number, number];
  const noise = noiseBetween(a.picture, b.picture, gain, w, h);
  let [sum, still, any] = [0, 0, 0];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const [m, n] = [a.matte[i]!, b.matte[i]!];
      if (!(m > 0) && !(n > 0)) continue;
      any++;
      if (!(differenceAt(a.picture, b.picture, gain, x, y, w, h) - noise < STILL * STILL)) continue;
      still++;
      sum += Math.abs(m - n);
    }
  return any === 0 ? null : { change: still > 0 ? sum / still : 0, still: still / any };
}
