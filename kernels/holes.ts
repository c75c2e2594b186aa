/** Twin of src/core/ops/holes. */
import { dropIslands } from './lib/components';
import { plane } from './lib/frame';

export function frame_holes_fill(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const least = load<f32>(k),
    level = load<f32>(k + 4);
  const m = plane(t, 0),
    dst = plane(t, 1),
    open = plane(t, 2);
  const end = (<usize>(w * h)) << 2;
  const one = f32x4.splat(1),
    zero = f32x4.splat(0);
  const fours = end & ~15;
  for (let i: usize = 0; i < fours; i += 16) v128.store(open + i, f32x4.sub(one, v128.load(m + i)));
  for (let i = fours; i < end; i += 4) store<f32>(open + i, 1 - load<f32>(m + i));
  dropIslands(open, dst, plane(t, 3), plane(t, 4), plane(t, 5), plane(t, 6), w, h, level, least, false);
  for (let i: usize = 0; i < fours; i += 16) {
    const filled = v128.and(f32x4.gt(v128.load(open + i), zero), f32x4.eq(v128.load(dst + i), zero));
    v128.store(dst + i, v128.bitselect(one, v128.load(m + i), filled));
  }
  for (let i = fours; i < end; i += 4) {
    if (load<f32>(open + i) > 0 && load<f32>(dst + i) == 0) store<f32>(dst + i, 1);
    else store<u32>(dst + i, load<u32>(m + i));
  }
}
