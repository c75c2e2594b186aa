import { arg } from './lib/math';

/** Twin of src/core/ops/invert. */
export function tidy_invert(k: usize, m: usize, n: i32): void {
  const on = f32x4.gt(arg(k, 0), f32x4.splat(0));
  const zero = f32x4.splat(0),
    one = f32x4.splat(1);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const v = f32x4.pmin(f32x4.pmax(zero, v128.load(m + i)), one);
    v128.store(m + i, v128.bitselect(f32x4.sub(one, v), v, on));
  }
}
