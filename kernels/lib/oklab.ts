/** From a signal to OKLab by the block of src/core/matte/light.ts: its matrix, then its table. */
import { A_OF, B_OF, pairs4 } from './table';
import { arg } from './math';

/** Numbers of the table from signal to light. */
const CELLS: f32 = 1024;
/** Bytes of the matrix before the table, and of both. */
const TABLE: usize = 9 << 2;
export const LIGHT_BYTES: usize = TABLE + (1025 << 2);

// @ts-ignore: decorator
@inline function lookUp(t: usize, v: v128): v128 {
  const zero = f32x4.splat(0);
  const c = f32x4.pmin(f32x4.pmax(zero, f32x4.mul(v, f32x4.splat(CELLS))), f32x4.splat(1023.999));
  const i = i32x4.trunc_sat_f32x4_s(c);
  const at = i32x4.shl(i, 2);
  const lo = pairs4(t, at, 0),
    hi = pairs4(t, at, 2);
  const a = A_OF(lo, hi),
    b = B_OF(lo, hi);
  return f32x4.add(a, f32x4.mul(f32x4.sub(c, f32x4.convert_i32x4_s(i)), f32x4.sub(b, a)));
}
// @ts-ignore: decorator
@inline function mix(a: v128, r: v128, b: v128, g: v128, c: v128, s: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(a, r), f32x4.mul(b, g)), f32x4.mul(c, s));
}
// @ts-ignore: decorator
@inline function fixed(a: f32, r: v128, b: f32, g: v128, c: f32, s: v128): v128 {
  return mix(f32x4.splat(a), r, f32x4.splat(b), g, f32x4.splat(c), s);
}
/**
 * Cube root with its sign, 0 at 0: a third of the bits as a first guess (within 4 %), then Halley's step twice, each of
 * which cubes the error; relative error below 3e-7 for normal numbers.
 */
// @ts-ignore: decorator
@inline function cbrt(v: v128): v128 {
  const size = f32x4.abs(v);
  const third = i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.convert_i32x4_s(size), f32x4.splat(<f32>(1.0 / 3.0))));
  let y = i32x4.add(third, i32x4.splat(0x2a514067));
  for (let k = 0; k < 2; k++) {
    const c = f32x4.mul(f32x4.mul(y, y), y);
    const two = f32x4.add(size, size);
    y = f32x4.div(f32x4.mul(y, f32x4.add(c, two)), f32x4.add(f32x4.add(c, c), size));
  }
  const signed = v128.or(y, v128.and(v, i32x4.splat(<i32>0x80000000)));
  return v128.and(signed, f32x4.gt(size, f32x4.splat(1e-30)));
}

// A function returns one value only: light of a channel, then its rows, then cones, then each axis.

/** Light of a signal. */
// @ts-ignore: decorator
@inline export function lightOf(k: usize, v: v128): v128 {
  return lookUp(k + TABLE, v);
}
/** Row i of the matrix to BT.709 light. */
// @ts-ignore: decorator
@inline export function rowOf(k: usize, i: i32, r: v128, g: v128, b: v128): v128 {
  return mix(arg(k, 3 * i), r, arg(k, 3 * i + 1), g, arg(k, 3 * i + 2), b);
}
// @ts-ignore: decorator
@inline export function longOf(x: v128, y: v128, z: v128): v128 {
  return cbrt(fixed(0.4122214708, x, 0.5363325363, y, 0.0514459929, z));
}
// @ts-ignore: decorator
@inline export function middleOf(x: v128, y: v128, z: v128): v128 {
  return cbrt(fixed(0.2119034982, x, 0.6806995451, y, 0.1073969566, z));
}
// @ts-ignore: decorator
@inline export function shortOf(x: v128, y: v128, z: v128): v128 {
  return cbrt(fixed(0.0883024619, x, 0.2817188376, y, 0.6299787005, z));
}
// @ts-ignore: decorator
@inline export function axisL(l: v128, m: v128, s: v128): v128 {
  return fixed(0.2104542553, l, 0.793617785, m, -0.0040720468, s);
}
// @ts-ignore: decorator
@inline export function axisA(l: v128, m: v128, s: v128): v128 {
  return fixed(1.9779984951, l, -2.428592205, m, 0.4505937099, s);
}
// @ts-ignore: decorator
@inline export function axisB(l: v128, m: v128, s: v128): v128 {
  return fixed(0.0259040371, l, 0.7827717662, m, -0.808675766, s);
}
