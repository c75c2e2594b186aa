/** What a region and its outside are as colours, before and after, and how far they are apart. */
import { chromaPct, hueDeg, rgbToYcbcr } from '../color/ycbcr';
import { ciede2000, displayToLab } from '../color/lab';
import type { TransferCurve } from '../color/transfer';
import { TICK_PIXELS } from './surround';

type Rgb = readonly [number, number, number];
/** Mean R'G'B' of the signal, each pixel counted by how much it is on that side; null where nothing is. */
export interface SideMeans {
  inside: Rgb | null;
  outside: Rgb | null;
}
interface Channels {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}
/**
 * @param matte 0..1 a pixel; null: the whole picture is inside
 * @param tick told now and then, and may throw to end it
 */
export function sideMeans({ r, g, b }: Channels, matte: Float32Array | null, tick: () => void): SideMeans {
  const sums = new Float64Array(8);
  for (let i = 0; i < r.length; i++) {
    if (i % TICK_PIXELS === 0) tick();
    // What is no number is no colour of either side.
    if (!Number.isFinite(r[i]! + g[i]! + b[i]!)) continue;
    const m = matte ? matte[i]! : 1;
    for (let s = 0; s < 2; s++) {
      const k = s ? 1 - m : m;
      sums[4 * s]! += k * r[i]!;
      sums[4 * s + 1]! += k * g[i]!;
      sums[4 * s + 2]! += k * b[i]!;
      sums[4 * s + 3]! += k;
    }
  }
  const mean = (s: number): Rgb | null =>
    sums[s + 3]! > 0.5 ? [sums[s]! / sums[s + 3]!, sums[s + 1]! / sums[s + 3]!, sums[s + 2]! / sums[s + 3]!] : null;
  return { inside: mean(0), outside: mean(4) };
}

/** Of one mean: luma and chroma in %, hue in degrees of the vectorscope, null below 2 % chroma. */
export interface SideFigures {
  lumaPct: number;
  chromaPct: number;
  hueDeg: number | null;
}
const GREY_PCT = 2;
export function sideFigures(rgb: Rgb): SideFigures {
  const [y, cb, cr] = rgbToYcbcr(...rgb);
  const chroma = chromaPct(cb, cr);
  return { lumaPct: 100 * y, chromaPct: chroma, hueDeg: chroma < GREY_PCT ? null : hueDeg(cb, cr) };
}
/** CIEDE2000 between the two sides; null where one of them is nothing. */
export function sideDistance({ inside, outside }: SideMeans, curve: TransferCurve): number | null {
  const lab = (c: Rgb) =>
    displayToLab(curve, ...(c.map((v) => Math.min(1, Math.max(0, v))) as [number, number, number]));
  return inside && outside ? ciede2000(lab(inside), lab(outside)) : null;
}
