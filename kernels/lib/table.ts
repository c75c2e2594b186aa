/** Lookups in tables of float32 where there is no gather: a value and the next one come by one load of 64 bits. */

/** Two pairs, for lanes `lane` and `lane + 1` of the byte offsets `at`: a0 b0 a1 b1. */
// @ts-ignore: decorator
@inline export function pairs4(t: usize, at: v128, lane: i32): v128 {
  if (lane == 0) {
    const p = v128.load64_zero(t + i32x4.extract_lane(at, 0));
    return v128.load64_lane(t + i32x4.extract_lane(at, 1), p, 1);
  }
  const p = v128.load64_zero(t + i32x4.extract_lane(at, 2));
  return v128.load64_lane(t + i32x4.extract_lane(at, 3), p, 1);
}
/** The first and the second of each pair. */
// @ts-ignore: decorator
@inline export function A_OF(lo: v128, hi: v128): v128 {
  return v128.shuffle<f32>(lo, hi, 0, 2, 4, 6);
}
// @ts-ignore: decorator
@inline export function B_OF(lo: v128, hi: v128): v128 {
  return v128.shuffle<f32>(lo, hi, 1, 3, 5, 7);
}
/** Values of a table at the byte offsets `at`, and a share `f` of the way to the next ones. */
// @ts-ignore: decorator
@inline export function between4(t: usize, at: v128, f: v128): v128 {
  const lo = pairs4(t, at, 0),
    hi = pairs4(t, at, 2);
  const a = A_OF(lo, hi),
    b = B_OF(lo, hi);
  return f32x4.add(a, f32x4.mul(f, f32x4.sub(b, a)));
}
