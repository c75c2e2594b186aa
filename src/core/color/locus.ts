/**
 * Whites along the locus of black bodies: M. Krystek, "An algorithm to calculate correlated colour temperature",
 * Color Research and Application 10 (1985) 38-40.
 */
import { adapt } from './encodings';
import type { Xy } from './encodings';
import type { Matrix3 } from './matrix3';

const U_TOP = [0.860117757, 1.54118254e-4, 1.28641212e-7] as const;
const U_BOTTOM = [1, 8.42420235e-4, 7.08145163e-7] as const;
const V_TOP = [0.317398726, 4.22806245e-5, 4.20481691e-8] as const;
const V_BOTTOM = [1, -2.89741816e-5, 1.61456053e-7] as const;
/** CIE 1960 (u, v) of a black body of 1000 to 15000 K. Proving number: 2856 K (illuminant A) -> 0.2560, 0.3495. */
export function planckUv(kelvin: number): Xy {
  const at = (c: readonly [number, number, number]): number => c[0] + c[1] * kelvin + c[2] * kelvin * kelvin;
  return [at(U_TOP) / at(U_BOTTOM), at(V_TOP) / at(V_BOTTOM)];
}
/** Derivative of `planckUv` by temperature: the direction of the locus, exactly. */
export function planckTangent(kelvin: number): Xy {
  const t = kelvin;
  const slope = (n: readonly [number, number, number], d: readonly [number, number, number]): number => {
    const [N, D] = [n[0] + n[1] * t + n[2] * t * t, d[0] + d[1] * t + d[2] * t * t];
    return ((n[1] + 2 * n[2] * t) * D - N * (d[1] + 2 * d[2] * t)) / (D * D);
  };
  return [slope(U_TOP, U_BOTTOM), slope(V_TOP, V_BOTTOM)];
}
export const uvToXy = ([u, v]: Xy): Xy => [(3 * u) / (2 * u - 8 * v + 4), (2 * v) / (2 * u - 8 * v + 4)];
export const xyToUv = ([x, y]: Xy): Xy => [(4 * x) / (-2 * x + 12 * y + 3), (6 * y) / (-2 * x + 12 * y + 3)];

/** Where the scale begins: the nominal temperature of D65. */
export const BASE_KELVIN = 6504;
export const miredToKelvin = (shift: number): number => 1e6 / (1e6 / BASE_KELVIN + shift);
export const kelvinToMired = (kelvin: number): number => 1e6 / kelvin - 1e6 / BASE_KELVIN;

/**
 * XYZ under `white` -> as under a light shifted by `mired` along the locus and by `tint` thousandths off it
 * (positive: towards
 * magenta). No shift gives the identity exactly.
 */
export function adaptWhite(white: Xy, mired: number, tint: number): Matrix3 {
  if (mired === 0 && tint === 0) return [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const t = Math.min(15000, Math.max(1000, miredToKelvin(mired)));
  const a = planckUv(BASE_KELVIN);
  const b = planckUv(t);
  // Across the locus at the new temperature, away from green.
  const along = planckTangent(t);
  const len = Math.hypot(...along);
  const across: Xy = [-along[1] / len, along[0] / len];
  const sign = across[1] > 0 ? -1 : 1;
  // The move is added to the encoding's own white, so that whites off the locus keep their place beside it.
  const w = xyToUv(white);
  const k = (sign * tint) / 1000;
  return adapt(white, uvToXy([w[0] + b[0] - a[0] + k * across[0], w[1] + b[1] - a[1] + k * across[1]]));
}
