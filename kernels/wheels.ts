import { arg, powPositive } from './lib/math';

/** Twin of src/core/ops/wheels. Values that are not normal and above 0 skip the power; +infinity stays. */
function channel(k: usize, p: usize, n: i32): void {
  const a = arg(k, 0), s = arg(k, 1), e = arg(k, 2);
  const zero = f32x4.splat(0);
  const inf = f32x4.splat(Infinity);
  const power = load<f32>(k + 8) != 1;
  for (let i: usize = 0, end = <usize>n << 2; i < end; i += 16) {
    let v = f32x4.add(a, f32x4.mul(s, v128.load(p + i)));
    if (power) {
      const ok = v128.and(f32x4.gt(v, zero), f32x4.lt(v, inf));
      v = v128.bitselect(powPositive(v, e), v, ok);
    }
    v128.store(p + i, v);
  }
}

export function px_wheels(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  channel(k, r, n);
  channel(k + 12, g, n);
  channel(k + 24, b, n);
}
