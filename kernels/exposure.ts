import { arg } from './lib/math';
import { decode4, encode4 } from './lib/curve';

/** Twin of src/core/ops/exposure. */
export function px_exposure(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const gain = arg(k, 12);
  for (let c = 0; c < 3; c++) {
    const p = c == 0 ? r : c == 1 ? g : b;
    for (let i: usize = 0, end = <usize>n << 2; i < end; i += 16) v128.store(p + i, encode4(k, f32x4.mul(decode4(k, v128.load(p + i)), gain)));
  }
}
