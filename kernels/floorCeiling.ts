import { arg } from './lib/math';

/** Twin of src/core/ops/floorCeiling. */
export function tidy_floorCeiling(k: usize, m: usize, n: i32): void {
  const floor = arg(k, 0),
    inv = arg(k, 1),
    soft = arg(k, 2);
  const zero = f32x4.splat(0),
    one = f32x4.splat(1);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const t = f32x4.mul(f32x4.sub(v128.load(m + i), floor), inv);
    const v = f32x4.pmin(f32x4.pmax(zero, t), one);
    const bend = f32x4.mul(f32x4.mul(f32x4.mul(soft, v), f32x4.sub(one, v)), f32x4.sub(f32x4.add(v, v), one));
    v128.store(m + i, f32x4.add(v, bend));
  }
}
