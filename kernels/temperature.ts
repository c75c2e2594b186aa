import { applyMatrix } from './lib/matrix';
import { decode4, encode4 } from './lib/curve';

/** Twin of src/core/ops/temperature. */
export function px_temperature(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const linear = load<f32>(k) == 0;
  const curve = k + 40;
  for (let c = 0; linear && c < 3; c++) {
    const p = c == 0 ? r : c == 1 ? g : b;
    for (let i: usize = 0, end = <usize>n << 2; i < end; i += 16) v128.store(p + i, decode4(curve, v128.load(p + i)));
  }
  applyMatrix(k + 4, r, g, b, n);
  for (let c = 0; linear && c < 3; c++) {
    const p = c == 0 ? r : c == 1 ? g : b;
    for (let i: usize = 0, end = <usize>n << 2; i < end; i += 16) v128.store(p + i, encode4(curve, v128.load(p + i)));
  }
}
