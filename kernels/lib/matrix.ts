import { arg } from './math';

/** (r, g, b) <- M (r, g, b); buffers are padded to a multiple of four pixels. */
export function applyMatrix(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const a0 = arg(k, 0),
    a1 = arg(k, 1),
    a2 = arg(k, 2);
  const b0 = arg(k, 3),
    b1 = arg(k, 4),
    b2 = arg(k, 5);
  const c0 = arg(k, 6),
    c1 = arg(k, 7),
    c2 = arg(k, 8);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(r + i),
      y = v128.load(g + i),
      z = v128.load(b + i);
    v128.store(r + i, f32x4.add(f32x4.add(f32x4.mul(a0, x), f32x4.mul(a1, y)), f32x4.mul(a2, z)));
    v128.store(g + i, f32x4.add(f32x4.add(f32x4.mul(b0, x), f32x4.mul(b1, y)), f32x4.mul(b2, z)));
    v128.store(b + i, f32x4.add(f32x4.add(f32x4.mul(c0, x), f32x4.mul(c1, y)), f32x4.mul(c2, z)));
  }
}
