import { arg } from './lib/math';

/** Twin of src/core/ops/points. */
export function px_points(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const s = arg(k, 0),
    o = arg(k, 1);
  for (let c = 0; c < 3; c++) {
    const p = c == 0 ? r : c == 1 ? g : b;
    for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
      v128.store(p + i, f32x4.add(o, f32x4.mul(s, v128.load(p + i))));
  }
}
