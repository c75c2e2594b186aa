import { arg, hermite } from './lib/math';

/** Twin of src/core/ops/zones. */
export function px_zones(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const inv = arg(k, 4);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    const y = f32x4.add(
      f32x4.add(f32x4.mul(f32x4.splat(0.2126), R), f32x4.mul(f32x4.splat(0.7152), G)),
      f32x4.mul(f32x4.splat(0.0722), B),
    );
    let ar = arg(k, 8),
      ag = arg(k, 9),
      ab = arg(k, 10),
      s = arg(k, 11);
    for (let j = 0; j < 4; j++) {
      const w = hermite(f32x4.add(f32x4.mul(y, inv), arg(k, j)));
      ar = f32x4.add(ar, f32x4.mul(w, arg(k, 12 + 4 * j)));
      ag = f32x4.add(ag, f32x4.mul(w, arg(k, 13 + 4 * j)));
      ab = f32x4.add(ab, f32x4.mul(w, arg(k, 14 + 4 * j)));
      s = f32x4.add(s, f32x4.mul(w, arg(k, 15 + 4 * j)));
    }
    v128.store(r + i, f32x4.add(f32x4.add(R, ar), f32x4.mul(s, f32x4.sub(R, y))));
    v128.store(g + i, f32x4.add(f32x4.add(G, ag), f32x4.mul(s, f32x4.sub(G, y))));
    v128.store(b + i, f32x4.add(f32x4.add(B, ab), f32x4.mul(s, f32x4.sub(B, y))));
  }
}
