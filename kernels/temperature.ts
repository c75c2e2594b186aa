import { applyMatrix } from './lib/matrix';
import { light } from './lib/light';

/** Twin of src/core/ops/temperature: the first number says "even", the rest is a matrix on the signal or on light. */
export function px_temperature(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  if (load<f32>(k) != 0) applyMatrix(k + 4, r, g, b, n);
  else light(k + 4, r, g, b, n);
}
