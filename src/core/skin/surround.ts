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
/** What the first walk counts, in this order; its twin in kernels/surround.ts adds to the same eight numbers. */
export const SURROUND_COUNTS = ['zero', 'full', 'changed', 'far', 'sMax', 'sSum', 'rMax', 'pixels'] as const;
export type SurroundCounts = Record<(typeof SURROUND_COUNTS)[number], number>;
export const noCounts = (): SurroundCounts => ({
  zero: 0,
  full: 0,
  changed: 0,
  far: 0,
  sMax: 0,
  sSum: 0,
  rMax: 0,
  pixels: 0,
});
/** Counts of two pieces of a picture, as those of both. */
export const addCounts = (a: SurroundCounts, b: SurroundCounts): SurroundCounts => ({
  zero: a.zero + b.zero,
  full: a.full + b.full,
  changed: a.changed + b.changed,
  far: Math.max(a.far, b.far),
  sMax: Math.max(a.sMax, b.sMax),
  sSum: a.sSum + b.sSum,
  rMax: Math.max(a.rMax, b.rMax),
  pixels: a.pixels + b.pixels,
});

/** The first walk: which bits changed where the matte is 0, and by how much. `m` null: it is 1 everywhere. */
export function countSurround(before: Rgb, after: Rgb, m: Float32Array | null): SurroundCounts {
  const n = before.r.length;
  // Bits, not numbers: 2 -> 5 is a change though both are white in a file, and so is 0 -> -0.
  const bits = (p: Float32Array): Uint32Array => new Uint32Array(p.buffer, p.byteOffset, p.length);
  const planes = (['r', 'g', 'b'] as const).map((c) => ({
    p: before[c],
    q: after[c],
    pb: bits(before[c]),
    qb: bits(after[c]),
  }));
  const c = noCounts();
  for (let i = 0; i < n; i++) {
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
      c.zero++;
      if (!moved) continue;
      c.changed++;
      c.far = Math.max(c.far, far);
      c.sSum += d;
      c.sMax = Math.max(c.sMax, d);
    } else {
      if (k >= 1) c.full++;
      c.rMax = Math.max(c.rMax, d);
    }
  }
  c.pixels = n;
  return c;
}

/** The figures of counts and of the colours themselves. `tick` is called now and then: it may throw to end the work. */
export function figuresOf(
  c: SurroundCounts,
  before: Rgb,
  after: Rgb,
  m: Float32Array | null,
  curve: TransferCurve,
  tick: () => void = () => {},
): SurroundFigures {
  const n = c.pixels;
  if (n === 0 || n !== before.r.length) throw new RangeError('There is no pixel to compare');
  const inside = n - c.zero;
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
    surroundShare: c.zero / n,
    fringeShare: (inside - c.full) / n,
    fullShare: c.full / n,
    surroundChanged: c.changed,
    surroundMaxChange: c.far,
    surroundMaxCodes: c.sMax,
    surroundMeanCodes: c.zero ? c.sSum / c.zero : 0,
    regionMaxCodes: c.rMax,
    regionMeanDe: count ? de / count : 0,
    pixels: n,
  };
}
/** `m` null: the whole picture is the region. All planes have equal length. */
export const surroundFigures = (
  before: Rgb,
  after: Rgb,
  m: Float32Array | null,
  curve: TransferCurve,
): SurroundFigures => figuresOf(countSurround(before, after, m), before, after, m, curve);
