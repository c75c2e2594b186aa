/**
 * How much chroma fits: for a lightness and a hue of OKLab the largest chroma whose light every channel of a set of
 * primaries can give. Found by halving; a table by lightness and hue, since the surface has no short formula (for
 * BT.709 see B. Ottosson, "Okhsv and Okhsl", 2021, which approximates its ridge).
 */
import { apply3, decode, rgbToRgb } from './encodings';
import type { Encoding } from './encodings';
import { oklabToLinear } from './oklab';

/** Steps of lightness over 0..1 and of hue over the circle; one more of each closes the table. */
export const LIGHTS = 64;
export const HUES = 256;
export const GAMUT_FLOATS = (LIGHTS + 1) * (HUES + 1);
/** No colour of light that eyes see lies further out. */
const MOST = 0.6;
/** A channel that is drawn in ends a code or more from the end of its range. */
const INSIDE = 0.98;

/** 0..4 once round from +a towards +b, without an arc tangent: steps along a diamond. */
export function diamond(a: number, b: number): number {
  const s = Math.abs(a) + Math.abs(b);
  if (!(s > 0)) return 0;
  const t = b / s;
  return a < 0 ? 2 - t : t < 0 ? 4 + t : t;
}
const ofDiamond = (d: number): [number, number] =>
  d < 1 ? [1 - d, d] : d < 2 ? [1 - d, 2 - d] : d < 3 ? [d - 3, 2 - d] : [d - 3, d - 4];

/** By halving: exact to 1e-6. */
export function mostChroma(L: number, a: number, b: number, fits: (lab: [number, number, number]) => boolean): number {
  const n = Math.hypot(a, b);
  let [low, high] = [0, MOST];
  for (let i = 0; i < 20; i++) {
    const c = (low + high) / 2;
    if (fits([L, (c * a) / n, (c * b) / n])) low = c;
    else high = c;
  }
  return low;
}
/** Whether an encoding's range holds a colour: no channel below 0 or above its largest light. */
export function fitsIn(e: Encoding): (lab: readonly [number, number, number]) => boolean {
  const m = rgbToRgb('bt709', e.primaries);
  const top = decode(e, 1) * (1 + 1e-6);
  return (lab) => apply3(m, oklabToLinear(...lab)).every((v) => v >= -1e-6 && v <= top);
}
const made = new Map<string, Float32Array>();
/** Rows by lightness, hues by diamond: the largest chroma, drawn in by a fiftieth. Made once for each range. */
export function gamutTable(e: Encoding): Float32Array {
  const key = `${e.primaries}|${decode(e, 1)}`;
  const known = made.get(key);
  if (known) return known;
  const fits = fitsIn(e);
  const t = new Float32Array(GAMUT_FLOATS);
  for (let i = 0; i <= LIGHTS; i++) {
    const row = Float32Array.from({ length: HUES }, (_, j) =>
      mostChroma(i / LIGHTS, ...ofDiamond((4 * j) / HUES), fits),
    );
    // The least of neighbours: where the surface jumps from hue to hue (towards blue) a line would lie outside.
    for (let j = 0; j <= HUES; j++)
      t[i * (HUES + 1) + j] = INSIDE * Math.min(row[(j + HUES - 1) % HUES]!, row[j % HUES]!, row[(j + 1) % HUES]!);
  }
  if (made.size >= 8) made.clear();
  made.set(key, t);
  return t;
}

/** The same with each place beside the next lightness at its hue, so that four corners lie side by side. */
export const PAIR_FLOATS = 2 * LIGHTS * (HUES + 1);
const paired = new WeakMap<Float32Array, Float32Array>();
export function gamutPairs(e: Encoding): Float32Array {
  const t = gamutTable(e);
  let out = paired.get(t);
  if (!out) {
    out = new Float32Array(PAIR_FLOATS);
    for (let i = 0; i < LIGHTS * (HUES + 1); i++) {
      out[2 * i] = t[i]!;
      out[2 * i + 1] = t[i + HUES + 1]!;
    }
    paired.set(t, out);
  }
  return out;
}
