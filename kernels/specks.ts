/** Twin of src/core/ops/specks. */
import { dropIslands } from './lib/components';
import { plane } from './lib/frame';

export function frame_specks_drop(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const least = load<f32>(k),
    level = load<f32>(k + 4);
  dropIslands(plane(t, 0), plane(t, 1), plane(t, 2), plane(t, 3), plane(t, 4), plane(t, 5), w, h, level, least, true);
}
