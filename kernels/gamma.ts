import { arg, powPositive } from './lib/math';

/** Twin of src/core/ops/gamma. */
export function tidy_gamma(k: usize, m: usize, n: i32): void {
  const e = arg(k, 0);
  const one = f32x4.splat(1),
    // Smaller numbers have no logarithm here; their power is as good as nothing.
    least = f32x4.splat(1e-37);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const v = v128.load(m + i);
    const p = f32x4.pmin(powPositive(v128.bitselect(v, one, f32x4.gt(v, least)), e), one);
    const in01 = v128.bitselect(one, p, f32x4.ge(v, one));
    v128.store(m + i, v128.and(in01, f32x4.gt(v, least)));
  }
}
