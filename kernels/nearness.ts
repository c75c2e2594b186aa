import { A_OF, B_OF, pairs4 } from './lib/table';
import { arg, hermite, powPositive } from './lib/math';

/** Numbers of the table from signal to light (src/core/matte/light.ts). */
const CELLS: f32 = 1024;
const LIGHT: usize = 5 << 2;
const TABLE: usize = LIGHT + (9 << 2);
const COLOURS: usize = TABLE + (1025 << 2);

// @ts-ignore: decorator
@inline function light(t: usize, v: v128): v128 {
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
@inline function row(k: usize, i: i32, r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(arg(k, i), r), f32x4.mul(arg(k, i + 1), g)), f32x4.mul(arg(k, i + 2), b));
}
// @ts-ignore: decorator
@inline function mix(a: f32, r: v128, b: f32, g: v128, c: f32, s: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(f32x4.splat(a), r), f32x4.mul(f32x4.splat(b), g)), f32x4.mul(f32x4.splat(c), s));
}
/** Cube root with its sign; 0 at 0. */
// @ts-ignore: decorator
@inline function cbrt(v: v128): v128 {
  const size = f32x4.abs(v);
  const root = powPositive(f32x4.pmax(size, f32x4.splat(1e-30)), f32x4.splat(<f32>(1.0 / 3.0)));
  const signed = v128.bitselect(f32x4.neg(root), root, f32x4.lt(v, f32x4.splat(0)));
  return v128.and(signed, f32x4.gt(size, f32x4.splat(1e-30)));
}
// @ts-ignore: decorator
@inline function nearest(p: usize, count: i32, L: v128, a: v128, b: v128): v128 {
  let best = f32x4.splat(Infinity);
  for (let i = 0; i < count; i++) {
    const at = p + <usize>(12 * i);
    const u = f32x4.sub(v128.load32_splat(at), L),
      v = f32x4.sub(v128.load32_splat(at + 4), a),
      w = f32x4.sub(v128.load32_splat(at + 8), b);
    best = f32x4.pmin(best, f32x4.add(f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v)), f32x4.mul(w, w)));
  }
  return f32x4.sqrt(best);
}

/** Twin of src/core/ops/nearness. */
export function key_nearness(k: usize, r: usize, g: usize, b: usize, m: usize, n: i32): void {
  const reach = arg(k, 0),
    inv = arg(k, 1),
    weight = arg(k, 2);
  const near = <i32>load<f32>(k + 12),
    far = <i32>load<f32>(k + 16);
  const half = f32x4.splat(0.5),
    inf = f32x4.splat(Infinity);
  const others = k + COLOURS + <usize>(12 * near);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    const lr = light(k + TABLE, R),
      lg = light(k + TABLE, G),
      lb = light(k + TABLE, B);
    const x = row(k + LIGHT, 0, lr, lg, lb),
      y = row(k + LIGHT, 3, lr, lg, lb),
      z = row(k + LIGHT, 6, lr, lg, lb);
    const l = cbrt(mix(0.4122214708, x, 0.5363325363, y, 0.0514459929, z)),
      q = cbrt(mix(0.2119034982, x, 0.6806995451, y, 0.1073969566, z)),
      s = cbrt(mix(0.0883024619, x, 0.2817188376, y, 0.6299787005, z));
    const L = f32x4.mul(weight, mix(0.2104542553, l, 0.793617785, q, -0.0040720468, s));
    const u = mix(1.9779984951, l, -2.428592205, q, 0.4505937099, s),
      v = mix(0.0259040371, l, 0.7827717662, q, -0.808675766, s);
    const d = nearest(k + COLOURS, near, L, u, v);
    const limit = far > 0 ? f32x4.pmin(reach, nearest(others, far, L, u, v)) : reach;
    const t = f32x4.add(half, f32x4.mul(f32x4.sub(limit, d), inv));
    const ok = v128.and(
      v128.and(f32x4.lt(f32x4.abs(R), inf), f32x4.lt(f32x4.abs(G), inf)),
      f32x4.lt(f32x4.abs(B), inf),
    );
    v128.store(m + i, v128.and(hermite(t), ok));
  }
}
