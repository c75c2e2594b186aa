import { arg } from './lib/math';
import { fall } from './lib/edge';

/** Twin of src/core/ops/band. */
export function shape_band(k: usize, m: usize, x0: i32, y: i32, n: i32): void {
  const cx = arg(k, 0),
    nx = arg(k, 2),
    half = arg(k, 4),
    invIn = arg(k, 5),
    invOut = arg(k, 6);
  const dy = f32x4.splat((<f32>y + 0.5 - load<f32>(k + 4)) * load<f32>(k + 12));
  for (let i = 0; i < n; i += 4) {
    const dx = f32x4.sub(f32x4.add(f32x4.splat(<f32>(x0 + i)), f32x4(0.5, 1.5, 2.5, 3.5)), cx);
    const d = f32x4.sub(f32x4.abs(f32x4.add(f32x4.mul(dx, nx), dy)), half);
    v128.store(m + ((<usize>i) << 2), fall(d, invIn, invOut));
  }
}
