/**
 * Transfer curves as numbers, so that a kernel and its SIMD twin read one and the same block. `decode` gives linear
 * light,
 * `encode` the signal. Linear 1 is diffuse white (100 % reflectance, 18 % grey is 0.18); for PQ and HLG that is the
 * reference
 * white of ITU-R BT.2408 (203 cd/m2, 75 % HLG).
 */

/**
 * Constants of a curve that is logarithmic above a break and straight below, named as in the Common LUT Format
 * (S-2014-006, cameraLinToLog).
 */
export interface LogConstants {
  base: number;
  logSideSlope: number;
  logSideOffset: number;
  linSideSlope: number;
  linSideOffset: number;
  /** Linear value of the break; null: logarithmic all the way (values that have no logarithm give the lowest code). */
  linSideBreak: number | null;
  /** Slope of the straight part; left out: the one that continues the curve without a corner. */
  linearSlope?: number;
}
export type Curve =
  | { kind: 'linear' }
  /** v = slope x up to the break, (1 + a) x^(1/gamma) - a above; mirrored about 0. */
  | { kind: 'power'; gamma: number; a: number; slope: number; breakLinear: number }
  | ({ kind: 'log' } & LogConstants)
  | { kind: 'acescc' }
  | { kind: 'pq' }
  | { kind: 'hlg' };

/** Numbers of a curve's block. */
export const CURVE_FLOATS = 12;
const KINDS = ['linear', 'power', 'log', 'acescc', 'pq', 'hlg'] as const;

/** cd/m2 of linear 1 in PQ: the HDR reference white of ITU-R BT.2408-7, table 1. */
export const PQ_WHITE = 203;
/** HLG's scene light of linear 1: what 75 % signal decodes to (BT.2100-2 table 5, BT.2408-7 table 1). */
export const HLG_WHITE = (Math.exp((0.75 - 0.55991073) / 0.17883277) + 0.28466892) / 12;

/** The straight part of a log curve: v = slope x + offset. */
export function logLinear(curve: LogConstants): { slope: number; offset: number; breakLog: number } {
  if (curve.linSideBreak === null) return { slope: 0, offset: 0, breakLog: -Infinity };
  const at = curve.linSideSlope * curve.linSideBreak + curve.linSideOffset;
  const breakLog = (curve.logSideSlope * Math.log(at)) / Math.log(curve.base) + curve.logSideOffset;
  const slope = curve.linearSlope ?? (curve.logSideSlope * curve.linSideSlope) / (at * Math.log(curve.base));
  return { slope, offset: breakLog - slope * curve.linSideBreak, breakLog };
}

/** Faults of typed constants, in words; empty when they make a rising curve. */
export function logFaults(curve: LogConstants): string[] {
  const out: string[] = [];
  for (const [k, v] of Object.entries(curve))
    if (v !== null && v !== undefined && !Number.isFinite(v)) out.push(`${k} is not a number`);
  if (out.length) return out;
  if (!(curve.base > 1)) out.push('the base must be above 1');
  if (!(curve.logSideSlope > 0)) out.push('the log side slope must be above 0');
  if (!(curve.linSideSlope > 0)) out.push('the linear side slope must be above 0');
  if (curve.linSideBreak !== null && !(curve.linSideSlope * curve.linSideBreak + curve.linSideOffset > 0))
    out.push('at the break, linear side slope x break + linear side offset must be above 0');
  if (curve.linearSlope !== undefined && !(curve.linearSlope > 0))
    out.push('the slope of the straight part must be above 0');
  return out;
}

/** Block: kind, then constants. Layout is shared with kernels/lib/curve.ts. */
export function curveBlock(curve: Curve): number[] {
  const out = new Array<number>(CURVE_FLOATS).fill(0);
  out[0] = KINDS.indexOf(curve.kind);
  if (curve.kind === 'power')
    out.splice(
      1,
      6,
      curve.a,
      curve.gamma,
      1 / curve.gamma,
      curve.slope,
      curve.breakLinear,
      curve.slope * curve.breakLinear,
    );
  if (curve.kind === 'log') {
    const { slope, offset, breakLog } = logLinear(curve);
    // Slope per binary logarithm.
    const k = (curve.logSideSlope * Math.LN2) / Math.log(curve.base);
    out.splice(
      1,
      8,
      k,
      curve.logSideOffset,
      curve.linSideSlope,
      curve.linSideOffset,
      curve.linSideBreak ?? -3e38,
      slope,
      offset,
      Math.max(-3e38, breakLog),
    );
  }
  return out;
}

const M1 = 2610 / 16384;
const M2 = (2523 / 4096) * 128;
const C1 = 3424 / 4096;
const C2 = (2413 / 4096) * 32;
const C3 = (2392 / 4096) * 32;
const HA = 0.17883277;
const HB = 0.28466892;
const HC = 0.55991073;
/** Smallest number that a logarithm is taken of, so that black has a finite code. */
const TINY = 2 ** -24;

/** Signal -> linear by a block at `o`. NaN stays NaN. */
export function decodeBlock(b: ArrayLike<number>, o: number, v: number): number {
  switch (b[o]) {
    case 1: {
      const x = Math.abs(v);
      const y = x <= b[o + 6]! ? x / b[o + 4]! : ((x + b[o + 1]!) / (1 + b[o + 1]!)) ** b[o + 2]!;
      return v < 0 ? -y : y;
    }
    case 2:
      return v > b[o + 8]!
        ? (2 ** ((v - b[o + 2]!) / b[o + 1]!) - b[o + 4]!) / b[o + 3]!
        : b[o + 6]! > 0
          ? (v - b[o + 7]!) / b[o + 6]!
          : v - v;
    case 3: {
      const x = 2 ** (v * 17.52 - 9.72);
      return v <= (9.72 - 15) / 17.52 ? (x - 2 ** -16) * 2 : Math.min(x, 65504);
    }
    case 4: {
      // The scale ends at 10000 cd/m2: beyond, the formula has a pole.
      const p = Math.min(Math.abs(v), 1) ** (1 / M2);
      const y = ((Math.max(p - C1, 0) / (C2 - C3 * p)) ** (1 / M1) * 10000) / PQ_WHITE;
      return v < 0 ? -y : y;
    }
    case 5: {
      const x = Math.abs(v);
      const y = (x <= 0.5 ? (x * x) / 3 : (Math.exp((x - HC) / HA) + HB) / 12) / HLG_WHITE;
      return v < 0 ? -y : y;
    }
    default:
      return v;
  }
}

/** Linear -> signal by a block at `o`. NaN stays NaN. */
export function encodeBlock(b: ArrayLike<number>, o: number, v: number): number {
  switch (b[o]) {
    case 1: {
      const x = Math.abs(v);
      const y = x <= b[o + 5]! ? x * b[o + 4]! : (1 + b[o + 1]!) * x ** b[o + 3]! - b[o + 1]!;
      return v < 0 ? -y : y;
    }
    case 2: {
      if (v <= b[o + 5]!) return b[o + 6]! * v + b[o + 7]!;
      const t = b[o + 3]! * v + b[o + 4]!;
      return b[o + 1]! * Math.log2(t < TINY ? TINY : t) + b[o + 2]!;
    }
    case 3:
      // A minimum and a maximum that let NaN through.
      return (Math.log2(v < 0 ? 2 ** -16 : v < 2 ** -15 ? 2 ** -16 + v * 0.5 : v) + 9.72) / 17.52;
    case 4: {
      const p = Math.min((Math.abs(v) * PQ_WHITE) / 10000, 1) ** M1;
      const y = ((C1 + C2 * p) / (1 + C3 * p)) ** M2;
      return v < 0 ? -y : y;
    }
    case 5: {
      const x = Math.abs(v) * HLG_WHITE;
      const y = x <= 1 / 12 ? Math.sqrt(3 * x) : HA * Math.log(12 * x - HB) + HC;
      return v < 0 ? -y : y;
    }
    default:
      return v;
  }
}
