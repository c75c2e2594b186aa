/**
 * The light of a picture from its own statistics, where nothing grey can be measured: four known estimators over linear
 * light, and how far they agree. Grey world: the mean is grey (G. Buchsbaum, J. Franklin Institute 310, 1980). Largest
 * channels: the brightest is white (E. Land, Scientific American 237, 1977), here the Minkowski mean of order 24, which
 * noise does not lead. Shades of grey: the Minkowski mean of order 6 (G. Finlayson, E. Trezzi, Color Imaging Conference
 * 12, 2004). Grey edge: the mean of order 6 of the differences between neighbours (J. van de Weijer, T. Gevers,
 * A. Gijsenij, IEEE Trans. Image Processing 16, 2007, first derivatives).
 */
import { DEG } from '../math/angle';

export type Light = readonly [number, number, number];
export interface LightEstimate {
  /** Of unit length. */
  light: Light;
  /** Each by its name. */
  each: { name: string; light: Light }[];
  /** Mean angle between an estimate and the one that is used, degrees: what they disagree by. */
  apartDeg: number;
  /** Share of the pixels that were asked, 0..1: clipped and nearly black ones say nothing. */
  asked: number;
}
const unit = (v: readonly number[]): Light => {
  const n = Math.hypot(...v);
  return [v[0]! / n, v[1]! / n, v[2]! / n];
};
/** Angle between two lights, degrees: the measure of this field's literature. */
export const lightsApart = (a: Light, b: Light): number =>
  Math.acos(Math.min(1, a[0] * b[0] + a[1] * b[1] + a[2] * b[2])) * DEG;

const DARK = 0.004;
/** Mean of order p, scaled so that large orders do not leave the numbers. */
function minkowski(values: readonly (readonly number[])[], p: number): Light | null {
  const sums = [0, 0, 0];
  let most = 0;
  for (const v of values) most = Math.max(most, v[0]!, v[1]!, v[2]!);
  if (!(most > 0)) return null;
  for (const v of values) for (let c = 0; c < 3; c++) sums[c]! += (v[c]! / most) ** p;
  const m = sums.map((s) => (s / values.length) ** (1 / p));
  return m.every((x) => x > 0) ? unit(m) : null;
}

/**
 * `rgb`: linear light of a picture of w by h; `usable`: 1 where no channel clips. Null where too little can be asked,
 * or there is no light at all.
 */
export function estimateLight(
  rgb: readonly [Float32Array, Float32Array, Float32Array],
  usable: Uint8Array,
  w: number,
  h: number,
): LightEstimate | null {
  const pixels: number[][] = [];
  const edges: number[][] = [];
  const good = (i: number): boolean =>
    usable[i] === 1 &&
    rgb.every((p) => p[i]! >= 0 && Number.isFinite(p[i]!)) &&
    Math.max(...rgb.map((p) => p[i]!)) > DARK;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (!good(i)) continue;
      pixels.push(rgb.map((p) => p[i]!));
      if (x + 1 < w && y + 1 < h && good(i + 1) && good(i + w))
        edges.push(rgb.map((p) => Math.hypot(p[i + 1]! - p[i]!, p[i + w]! - p[i]!)));
    }
  if (pixels.length < 64) return null;
  const all: [string, Light | null][] = [
    ['grey world', minkowski(pixels, 1)],
    ['largest channels', minkowski(pixels, 24)],
    ['shades of grey', minkowski(pixels, 6)],
    ['grey edge', edges.length >= 64 ? minkowski(edges, 6) : null],
  ];
  const each = all.flatMap(([name, light]) => (light ? [{ name, light }] : []));
  if (each.length === 0) return null;
  const light = unit([0, 1, 2].map((c) => each.reduce((a, e) => a + e.light[c]!, 0)));
  return {
    light,
    each,
    apartDeg: each.reduce((a, e) => a + lightsApart(e.light, light), 0) / each.length,
    asked: pixels.length / (w * h),
  };
}
/** How sure that is, in words. */
export function lightSaid(e: Pick<LightEstimate, 'apartDeg' | 'asked'>): string {
  const few = e.asked < 0.2 ? ` Only ${(100 * e.asked).toFixed(0)} % of the picture could be asked.` : '';
  const by = `four estimates lie ${e.apartDeg.toFixed(1)} degrees apart`;
  if (e.apartDeg <= 2) return `Sure: ${by}.${few}`;
  if (e.apartDeg <= 5) return `Fairly sure: ${by}.${few}`;
  return `Unsure: ${by}. Measure something grey instead, or set it at a lower strength.${few}`;
}
