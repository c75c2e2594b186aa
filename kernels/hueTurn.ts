import { applyMatrix } from './lib/matrix';

/** Twin of src/core/ops/hueTurn: one 3x3 matrix. */
export function px_hueTurn(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  applyMatrix(k, r, g, b, n);
}
