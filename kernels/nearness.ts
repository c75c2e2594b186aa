import { axisA, axisB, axisL, LIGHT_BYTES, lightOf, longOf, middleOf, rowOf, shortOf } from './lib/oklab';
import { arg, hermite } from './lib/math';

const LIGHT: usize = 5 << 2;
const COLOURS: usize = LIGHT + LIGHT_BYTES;

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
    const lr = lightOf(k + LIGHT, R),
      lg = lightOf(k + LIGHT, G),
      lb = lightOf(k + LIGHT, B);
    const x = rowOf(k + LIGHT, 0, lr, lg, lb),
      y = rowOf(k + LIGHT, 1, lr, lg, lb),
      z = rowOf(k + LIGHT, 2, lr, lg, lb);
    const l = longOf(x, y, z),
      q = middleOf(x, y, z),
      s = shortOf(x, y, z);
    const L = f32x4.mul(weight, axisL(l, q, s));
    const u = axisA(l, q, s),
      v = axisB(l, q, s);
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
