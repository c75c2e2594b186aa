import { arg, hermite } from './lib/math';

/** Twin of src/core/ops/ramp. */
export function shape_ramp(k: usize, m: usize, x0: i32, y: i32, n: i32): void {
  const ax = arg(k, 0),
    nx = arg(k, 2);
  const one = f32x4.splat(1);
  const dy = f32x4.splat((<f32>y + 0.5 - load<f32>(k + 4)) * load<f32>(k + 12));
  for (let i = 0; i < n; i += 4) {
    const dx = f32x4.sub(f32x4.add(f32x4.splat(<f32>(x0 + i)), f32x4(0.5, 1.5, 2.5, 3.5)), ax);
    v128.store(m + ((<usize>i) << 2), hermite(f32x4.sub(one, f32x4.add(f32x4.mul(dx, nx), dy))));
  }
}
