import { px_byHue } from './byHue';

/** Twin of src/core/ops/bands: the same tables over the circle as those of curves by hue. */
export function px_bands(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  px_byHue(k, r, g, b, n);
}
