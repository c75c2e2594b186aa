/**
 * Float32x4 approximations. Coefficients: Chebyshev interpolation, fitted by us; the worst error stands beside each.
 */

// @ts-ignore: decorator
@inline export function splat(v: f32): v128 {
  return f32x4.splat(v);
}
// @ts-ignore: decorator
@inline export function arg(block: usize, i: i32): v128 {
  return v128.load32_splat(block + ((<usize>i) << 2));
}

/** atan2(y, x) in degrees, -180..180; absolute error below 2e-5 degrees for finite input, 0 at the origin. */
export function atan2Deg(y: v128, x: v128): v128 {
  const ax = f32x4.abs(x);
  const ay = f32x4.abs(y);
  const swap = f32x4.gt(ay, ax);
  const hi = v128.bitselect(ay, ax, swap);
  const lo = v128.bitselect(ax, ay, swap);
  const zero = f32x4.splat(0);
  const t = v128.bitselect(zero, f32x4.div(lo, hi), f32x4.eq(hi, zero));
  const z = f32x4.mul(t, t);
  let p = f32x4.splat(0.002766283501);
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-0.01573124912));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(0.04213762359));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-0.07456854826));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(0.1061837064));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-0.1419779779));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(0.1999187203));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-0.3333303671));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(0.9999999818));
  let a = f32x4.mul(f32x4.mul(p, t), f32x4.splat(57.29577951));
  a = v128.bitselect(f32x4.sub(f32x4.splat(90), a), a, swap);
  a = v128.bitselect(f32x4.sub(f32x4.splat(180), a), a, f32x4.lt(x, zero));
  return v128.bitselect(f32x4.neg(a), a, f32x4.lt(y, zero));
}

/** log2 of normal v > 0; absolute error below 3e-7 near 1, relative 1e-7 elsewhere. Other v: undefined. */
// @ts-ignore: decorator
@inline export function log2v(v: v128): v128 {
  // v = m 2^k with m in sqrt(1/2)..sqrt(2)
  const bits = i32x4.sub(v, i32x4.splat(0x3f3504f3));
  const k = i32x4.shr_s(bits, 23);
  const m = i32x4.sub(v, i32x4.shl(k, 23));
  const one = f32x4.splat(1);
  const s = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one));
  const z = f32x4.mul(s, s);
  let p = f32x4.splat(0.431717696);
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(0.5767151861));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(0.9617988388));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(2.88539008));
  return f32x4.add(f32x4.mul(p, s), f32x4.convert_i32x4_s(k));
}

/** 2^w, w limited to -126..127.9999; relative error below 1e-7 plus that of w. */
// @ts-ignore: decorator
@inline export function exp2v(v: v128): v128 {
  const w = f32x4.pmin(f32x4.pmax(v, f32x4.splat(-126)), f32x4.splat(127.9999));
  // Adding 1.5 x 2^23 leaves the nearest whole number in the low bits: cheaper than rounding and converting.
  const magic = f32x4.splat(12582912);
  const t = f32x4.add(w, magic);
  const n = i32x4.sub(t, magic);
  const f = f32x4.sub(w, f32x4.sub(t, magic));
  let q = f32x4.splat(0.000154614447);
  q = f32x4.add(f32x4.mul(q, f), f32x4.splat(0.001340042818));
  q = f32x4.add(f32x4.mul(q, f), f32x4.splat(0.009618056679));
  q = f32x4.add(f32x4.mul(q, f), f32x4.splat(0.05550327227));
  q = f32x4.add(f32x4.mul(q, f), f32x4.splat(0.2402265092));
  q = f32x4.add(f32x4.mul(q, f), f32x4.splat(0.6931472067));
  q = f32x4.add(f32x4.mul(q, f), f32x4.splat(1));
  return i32x4.add(q, i32x4.shl(n, 23));
}

/** v^e for normal v > 0 by exp2(e log2 v); relative error below 2e-6 for results in 2^-8..2^8. Other v: see wheels. */
export function powPositive(v: v128, e: v128): v128 {
  return exp2v(f32x4.mul(log2v(v), e));
}

/** t clamped to 0..1, then the Hermite step 3t^2 - 2t^3. NaN gives 0. */
// @ts-ignore: decorator
@inline export function hermite(t: v128): v128 {
  const c = f32x4.pmin(f32x4.pmax(f32x4.splat(0), t), f32x4.splat(1));
  return f32x4.mul(f32x4.mul(c, c), f32x4.sub(f32x4.splat(3), f32x4.add(c, c)));
}
