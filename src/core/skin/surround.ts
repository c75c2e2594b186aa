/** Figures of what a correction moved: inside, at the fringe, and in the surround (where the matte is 0). */
import { ciede2000, displayToLab } from '../color/lab';
import type { TransferCurve } from '../color/transfer';

export interface SurroundFigures {
  /** Shares of the picture, 0..1. */
  surroundShare: number;
  fringeShare: number;
  fullShare: number;
  /**
   * Pixels of the surround of which a bit differs, and the largest difference of their signal: no clamp, no rounding.
   * NaN against NaN of the same bits is no change; a difference that cannot be told (NaN against a number) is infinite.
   */
  surroundChanged: number;
  surroundMaxChange: number;
  /** Largest and mean change in the surround, 16-bit code values as a file would hold them. */
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

/** Pixels between two ticks: a millisecond or two. */
export const TICK_PIXELS = 1 << 16;
/**
 * `m` null: the whole picture is the region. All planes have equal length. `tick` is called now and then: it may throw
 * to end the work.
 */
export function surroundFigures(
  before: Rgb,
  after: Rgb,
  m: Float32Array | null,
  curve: TransferCurve,
  tick: () => void = () => {},
): SurroundFigures {
  const n = before.r.length;
  if (n === 0) throw new RangeError('There is no pixel to compare');
  // Bits, not numbers: 2 -> 5 is a change though both are white in a file, and so is 0 -> -0.
  const bits = (p: Float32Array): Uint32Array => new Uint32Array(p.buffer, p.byteOffset, p.length);
  const planes = (['r', 'g', 'b'] as const).map((c) => ({
    p: before[c],
    q: after[c],
    pb: bits(before[c]),
    qb: bits(after[c]),
  }));
  let zero = 0;
  let full = 0;
  let changed = 0;
  let change = 0;
  let sMax = 0;
  let sSum = 0;
  let rMax = 0;
  const touched = m ? 0 : n;
  let inside = touched;
  for (let i = 0; i < n; i++) {
    if (i % TICK_PIXELS === 0) tick();
    const k = m ? m[i]! : 1;
    let d = 0;
    let moved = false;
    let far = 0;
    for (const { p, q, pb, qb } of planes)
      if (pb[i] !== qb[i]) {
        moved = true;
        d = Math.max(d, Math.abs(code16(p[i]!) - code16(q[i]!)));
        const by = Math.abs(p[i]! - q[i]!);
        far = Math.max(far, Number.isNaN(by) ? Infinity : by);
      }
    if (k === 0) {
      zero++;
      if (!moved) continue;
      changed++;
      change = Math.max(change, far);
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
    if (i % TICK_PIXELS === 0) tick();
    if ((m && m[i]! === 0) || seen++ % stride) continue;
    de += ciede2000(
      displayToLab(curve, before.r[i]!, before.g[i]!, before.b[i]!),
      displayToLab(curve, after.r[i]!, after.g[i]!, after.b[i]!),
    );
    count++;
  }
  return {
    surroundShare: zero / n,
    fringeShare: (n - zero - full) / n,
    fullShare: full / n,
    surroundChanged: changed,
    surroundMaxChange: change,
    surroundMaxCodes: sMax,
    surroundMeanCodes: zero ? sSum / zero : 0,
    regionMaxCodes: rMax,
    regionMeanDe: count ? de / count : 0,
    pixels: n,
  };
}
