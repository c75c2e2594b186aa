import { arg, powPositive } from './lib/math';

/** Values that are not normal and above 0 skip the power; +infinity stays. */
// @ts-ignore: decorator
@inline function one(k: usize, v: v128, power: bool, low: v128, range: v128): v128 {
  if (!power) return f32x4.add(arg(k, 0), f32x4.mul(arg(k, 1), v));
  const w = f32x4.add(arg(k, 0), f32x4.mul(arg(k, 1), f32x4.sub(v, low)));
  const ok = v128.and(f32x4.gt(w, f32x4.splat(0)), f32x4.lt(w, f32x4.splat(Infinity)));
  return f32x4.add(low, f32x4.mul(range, v128.bitselect(powPositive(w, arg(k, 2)), w, ok)));
}

/**
 * Twin of src/core/ops/wheels. The channels go side by side: a power is a long chain, three of them fill the
 * processor.
 */
export function px_wheels(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const pr = load<f32>(k + 8) != 1,
    pg = load<f32>(k + 20) != 1,
    pb = load<f32>(k + 32) != 1;
  const low = arg(k, 9),
    range = arg(k, 10);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    v128.store(r + i, one(k, v128.load(r + i), pr, low, range));
    v128.store(g + i, one(k + 12, v128.load(g + i), pg, low, range));
    v128.store(b + i, one(k + 24, v128.load(b + i), pb, low, range));
  }
}
