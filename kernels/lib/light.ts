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
function slowDecode(k: usize, v: v128, y: v128): v128 {
  return v128.bitselect(y, decode4(k + CURVE, v), f32x4.eq(y, y));
}
function slowEncode(k: usize, v: v128, y: v128): v128 {
  return v128.bitselect(y, encode4(k + CURVE, v), f32x4.eq(y, y));
}
// @ts-ignore: decorator
@inline function decode(k: usize, t: usize, v: v128, odd: bool): v128 {
  const y = look4(t, v, odd);
  return whole(y) ? y : slowDecode(k, v, y);
}
// @ts-ignore: decorator
@inline function encode(k: usize, t: usize, v: v128, odd: bool): v128 {
  const y = look4(t, v, odd);
  return whole(y) ? y : slowEncode(k, v, y);
}

/** Bytes of a block. */
export const LIGHT_BLOCK: usize = HEAD + ((<usize>(2 * (CELLS + 1))) << 2);
// @ts-ignore: decorator
@inline export function oddCurve(k: usize): bool {
  return load<f32>(k + ODD) != 0;
}
/** Light of a signal by a block, and a signal of light; `odd` as oddCurve says. */
// @ts-ignore: decorator
@inline export function lightOfSignal(k: usize, v: v128, odd: bool): v128 {
  return decode(k, k + HEAD, v, odd);
}
// @ts-ignore: decorator
@inline export function signalOfLight(k: usize, v: v128, odd: bool): v128 {
  return encode(k, k + HEAD + ((<usize>(CELLS + 1)) << 2), v, odd);
}

export function light(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const odd = load<f32>(k + ODD) != 0;
  const d = k + HEAD;
  const e = d + ((<usize>(CELLS + 1)) << 2);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = decode(k, d, v128.load(r + i), odd),
      y = decode(k, d, v128.load(g + i), odd),
      z = decode(k, d, v128.load(b + i), odd);
    v128.store(
      r + i,
      encode(
        k,
        e,
        f32x4.add(f32x4.add(f32x4.mul(arg(k, 0), x), f32x4.mul(arg(k, 1), y)), f32x4.mul(arg(k, 2), z)),
        odd,
      ),
    );
    v128.store(
      g + i,
      encode(
        k,
        e,
        f32x4.add(f32x4.add(f32x4.mul(arg(k, 3), x), f32x4.mul(arg(k, 4), y)), f32x4.mul(arg(k, 5), z)),
        odd,
      ),
    );
    v128.store(
      b + i,
      encode(
        k,
        e,
        f32x4.add(f32x4.add(f32x4.mul(arg(k, 6), x), f32x4.mul(arg(k, 7), y)), f32x4.mul(arg(k, 8), z)),
        odd,
      ),
    );
  }
}
