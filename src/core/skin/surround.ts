/** Figures of what a correction moved: inside, at the fringe, and in the surround (where the matte is 0). */
import { ciede2000, displayToLab } from '../color/lab';
import type { TransferCurve } from '../color/transfer';

export interface SurroundFigures {
  /** Shares of the picture, 0..1. */
  surroundShare: number;
  fringeShare: number;
  fullShare: number;
  /** Largest and mean change in the surround, 16-bit code values. */
  surroundMaxCodes: number;
  surroundMeanCodes: number;
  /** Largest change anywhere, 16-bit code values. */
  regionMaxCodes: number;
  /** Mean CIEDE2000 where the matte is above 0, over at most 20000 evenly spread pixels; 0 for an empty matte. */
  regionMeanDe: number;
  pixels: number;
}

export interface Rgb {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}
const code16 = (v: number): number => (v > 0 ? (v < 1 ? Math.floor(v * 65535 + 0.5) : 65535) : 0);

/** `m` null: the whole picture is the region. All planes have equal length. */
export function surroundFigures(before: Rgb, after: Rgb, m: Float32Array | null, curve: TransferCurve): SurroundFigures {
  const n = before.r.length;
  let zero = 0;
  let full = 0;
  let sMax = 0;
  let sSum = 0;
  let rMax = 0;
  const touched = m ? 0 : n;
  let inside = touched;
  for (let i = 0; i < n; i++) {
    const k = m ? m[i]! : 1;
    // Compared as bits would be: identical floats are no change, whatever their codes.
    let d = 0;
    for (const c of ['r', 'g', 'b'] as const) {
      const p = before[c][i]!;
      const q = after[c][i]!;
      if (p !== q) d = Math.max(d, Math.abs(code16(p) - code16(q)));
    }
    if (k === 0) {
      zero++;
      sSum += d;
      if (d > sMax) sMax = d;
    } else {
      if (m) inside++;
      if (k >= 1) full++;
      if (d > rMax) rMax = d;
    }
  }
  let de = 0;
  let count = 0;
  const stride = Math.max(1, Math.floor(inside / 20000));
  let seen = 0;
  for (let i = 0; i < n && inside > 0; i++) {
    if ((m && m[i]! === 0) || seen++ % stride) continue;
    de += ciede2000(displayToLab(curve, before.r[i]!, before.g[i]!, before.b[i]!), displayToLab(curve, after.r[i]!, after.g[i]!, after.b[i]!));
    count++;
  }
  return {
    surroundShare: zero / n,
    fringeShare: (n - zero - full) / n,
    fullShare: full / n,
    surroundMaxCodes: sMax,
    surroundMeanCodes: zero ? sSum / zero : 0,
    regionMaxCodes: rMax,
    regionMeanDe: count ? de / count : 0,
    pixels: n,
  };
}
