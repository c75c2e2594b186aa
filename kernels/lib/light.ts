/**
 * Twin of src/core/color/light.ts: the same block; curves by its tables, and by decode4 and encode4 where the tables
 * end.
 */
import { decode4, encode4 } from './curve';
import { arg } from './math';
import { pairs4, A_OF, B_OF } from './table';

const CURVE: usize = 36;
const ODD: usize = 84;
const HEAD: usize = 96;
const CELLS: i32 = 42 * 256;
/** Index of 2^-36: its exponent and no mantissa. */
const FIRST: i32 = (127 - 36) << 8;

/** Values by the table at `t`, an index by the bits of the float; lanes that it does not reach come back as NaN. */
// @ts-ignore: decorator
@inline function look4(t: usize, v: v128, odd: bool): v128 {
  const bits = v128.and(v, i32x4.splat(0x7fffffff));
  const i = i32x4.sub(i32x4.shr_u(bits, 15), i32x4.splat(FIRST));
  const ok = i32x4.lt_u(i, i32x4.splat(CELLS));
  const at = i32x4.shl(v128.and(i, ok), 2);
  const lo = pairs4(t, at, 0),
    hi = pairs4(t, at, 2);
  const a = A_OF(lo, hi),
    b = B_OF(lo, hi);
  const f = f32x4.mul(f32x4.convert_i32x4_s(v128.and(bits, i32x4.splat(0x7fff))), f32x4.splat(1.0 / 32768.0));
  let y = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), f));
  const sign = v128.and(v, i32x4.splat(<i32>0x80000000));
  y = v128.xor(y, sign);
  if (odd) {
    // Zero is zero.
    const zero = f32x4.eq(v, f32x4.splat(0));
    return v128.bitselect(v, v128.bitselect(y, f32x4.splat(NaN), ok), zero);
  }
  return v128.bitselect(y, f32x4.splat(NaN), v128.andnot(ok, i32x4.shr_s(v, 31)));
}
// @ts-ignore: decorator
@inline function whole(y: v128): bool {
  return i32x4.bitmask(f32x4.eq(y, y)) == 15;
}
/** What the tables know; NaN in other lanes: `decoded` and `encoded` fill these in. */
// @ts-ignore: decorator
@inline export function lightOfSignal(k: usize, v: v128, odd: bool): v128 {
  return look4(k + HEAD, v, odd);
}
// @ts-ignore: decorator
@inline export function signalOfLight(k: usize, v: v128, odd: bool): v128 {
  return look4(k + HEAD + ((<usize>(CELLS + 1)) << 2), v, odd);
}
/** Whether three values are whole; asked once for all of them. */
// @ts-ignore: decorator
@inline export function known(x: v128, y: v128, z: v128): bool {
  return whole(f32x4.add(f32x4.add(x, y), z));
}
export function decoded(k: usize, v: v128, y: v128): v128 {
  return v128.bitselect(y, decode4(k + CURVE, v), f32x4.eq(y, y));
}
export function encoded(k: usize, v: v128, y: v128): v128 {
  return v128.bitselect(y, encode4(k + CURVE, v), f32x4.eq(y, y));
}
/** Bytes of a block. */
export const LIGHT_BLOCK: usize = HEAD + ((<usize>(2 * (CELLS + 1))) << 2);
// @ts-ignore: decorator
@inline export function oddCurve(k: usize): bool {
  return load<f32>(k + ODD) != 0;
}
// @ts-ignore: decorator
@inline function rowOf(k: usize, i: i32, x: v128, y: v128, z: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(arg(k, 3 * i), x), f32x4.mul(arg(k, 3 * i + 1), y)),
    f32x4.mul(arg(k, 3 * i + 2), z),
  );
}

export function light(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const odd = oddCurve(k);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    let x = lightOfSignal(k, R, odd),
      y = lightOfSignal(k, G, odd),
      z = lightOfSignal(k, B, odd);
    if (!known(x, y, z)) {
      x = decoded(k, R, x);
      y = decoded(k, G, y);
      z = decoded(k, B, z);
    }
    const p = rowOf(k, 0, x, y, z),
      q = rowOf(k, 1, x, y, z),
      s = rowOf(k, 2, x, y, z);
    let to = signalOfLight(k, p, odd),
      to2 = signalOfLight(k, q, odd),
      to3 = signalOfLight(k, s, odd);
    if (!known(to, to2, to3)) {
      to = encoded(k, p, to);
      to2 = encoded(k, q, to2);
      to3 = encoded(k, s, to3);
    }
    v128.store(r + i, to);
    v128.store(g + i, to2);
    v128.store(b + i, to3);
  }
}
