/**
 * A matrix on linear light: decode, 3x3, encode. Operations that are no more than that share this block and its
 * kernels, so that
 * a run of them can be one (core/graph/plan.ts). The block carries tables of both curves for the fast twin.
 */
import type { PixelRun } from '../op/contract';
import { CURVE_FLOATS, curveBlock, decodeBlock, encodeBlock } from './curves';
import type { Curve } from './curves';
import type { Matrix3 } from './matrix3';

/** Block: 9 of the matrix, the curve, 1 for a curve mirrored about 0, 2 unused; then two tables of LIGHT_CELLS + 1. */
export const LIGHT_HEAD = 24;
/**
 * Tables by the bits of a float: 42 octaves from 2^-36 up, 256 cells each, straight between. The relative error of a
 * power p is below
 * p (p - 1) / 8 x 2^-16.
 */
const OCTAVES = 42;
const LOWEST = -36;
export const LIGHT_CELLS = OCTAVES * 256;
/** All of a block, and where its curve lies. */
export const LIGHT_FLOATS = LIGHT_HEAD + 2 * (LIGHT_CELLS + 1);
export const LIGHT_CURVE = 9;

const PLAIN: readonly Curve['kind'][] = ['linear', 'power'];
const MIRRORED: readonly Curve['kind'][] = ['linear', 'power', 'pq', 'hlg'];
const tables = new WeakMap<Curve, Float32Array>();
function tablesOf(curve: Curve): Float32Array {
  let t = tables.get(curve);
  if (!t) {
    const b = curveBlock(curve);
    t = new Float32Array(2 * (LIGHT_CELLS + 1));
    const steep = !PLAIN.includes(curve.kind);
    for (let i = 0; i <= LIGHT_CELLS; i++) {
      const x = 2 ** (LOWEST + Math.floor(i / 256)) * (1 + (i % 256) / 256);
      // Logarithmic signals grow so fast that a straight line is not good enough where channels mix: NaN sends them
      // to the curve itself.
      t[i] = steep ? NaN : decodeBlock(b, 0, x);
      t[LIGHT_CELLS + 1 + i] = encodeBlock(b, 0, x);
    }
    tables.set(curve, t);
  }
  return t;
}

export function lightBlock(curve: Curve, m: Matrix3): Float32Array {
  const out = new Float32Array(LIGHT_FLOATS);
  out.set(m, 0);
  out.set(curveBlock(curve), LIGHT_CURVE);
  out[LIGHT_CURVE + CURVE_FLOATS] = MIRRORED.includes(curve.kind) ? 1 : 0;
  out.set(tablesOf(curve), LIGHT_HEAD);
  return out;
}

/** The definition: exact curves, no tables. */
export function lightKernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = k as unknown as Matrix3;
  for (let i = 0; i < n; i++) {
    const x = decodeBlock(k, LIGHT_CURVE, r[i]!);
    const y = decodeBlock(k, LIGHT_CURVE, g[i]!);
    const z = decodeBlock(k, LIGHT_CURVE, b[i]!);
    r[i] = encodeBlock(k, LIGHT_CURVE, m0 * x + m1 * y + m2 * z);
    g[i] = encodeBlock(k, LIGHT_CURVE, m3 * x + m4 * y + m5 * z);
    b[i] = encodeBlock(k, LIGHT_CURVE, m6 * x + m7 * y + m8 * z);
  }
}
