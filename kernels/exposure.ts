import { light } from './lib/light';

/** Twin of src/core/ops/exposure. */
export function px_exposure(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  light(k, r, g, b, n);
}
