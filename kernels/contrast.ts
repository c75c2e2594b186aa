import { arg, powPositive } from './lib/math';

/** Twin of src/core/ops/contrast. */
export function px_contrast(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const c = arg(k, 0), p = arg(k, 1);
  const soft = load<f32>(k + 8) != 0;
  const one = f32x4.splat(1), zero = f32x4.splat(0), tiny = f32x4.splat(1e-30);
  const q = f32x4.sub(one, p);
  for (let ch = 0; ch < 3; ch++) {
    const at = ch == 0 ? r : ch == 1 ? g : b;
    for (let i: usize = 0, end = <usize>n << 2; i < end; i += 16) {
      const v = v128.load(at + i);
      if (!soft) {
        v128.store(at + i, f32x4.add(p, f32x4.mul(c, f32x4.sub(v, p))));
        continue;
      }
      const up = f32x4.ge(v, p);
      const t = v128.bitselect(f32x4.div(f32x4.sub(one, v), q), f32x4.div(v, p), up);
      const w = powPositive(f32x4.pmax(tiny, t), c);
      const y = v128.bitselect(f32x4.sub(one, f32x4.mul(q, w)), f32x4.mul(p, w), up);
      v128.store(at + i, v128.bitselect(y, v, v128.and(f32x4.gt(v, zero), f32x4.lt(v, one))));
    }
  }
}
