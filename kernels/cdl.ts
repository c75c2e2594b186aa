import { arg, powPositive } from './lib/math';

// @ts-ignore: decorator
@inline function cut(v: v128): v128 {
  const one = f32x4.splat(1),
    zero = f32x4.splat(0);
  return v128.bitselect(one, v128.bitselect(zero, v, f32x4.lt(v, zero)), f32x4.gt(v, one));
}

/** Twin of src/core/ops/cdl. */
export function px_cdl(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const clamp = load<f32>(k + 40) != 0;
  const zero = f32x4.splat(0),
    inf = f32x4.splat(Infinity);
  for (let c = 0; c < 3; c++) {
    const at = c == 0 ? r : c == 1 ? g : b;
    const s = arg(k, c),
      o = arg(k, 3 + c),
      p = arg(k, 6 + c);
    const power = load<f32>(k + ((<usize>(6 + c)) << 2)) != 1;
    for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
      let v = f32x4.add(f32x4.mul(v128.load(at + i), s), o);
      if (clamp) v = cut(v);
      if (power) v = v128.bitselect(powPositive(v, p), v, v128.and(f32x4.gt(v, zero), f32x4.lt(v, inf)));
      v128.store(at + i, v);
    }
  }
  const sat = load<f32>(k + 36) != 1;
  if (!sat && !clamp) return;
  const s = arg(k, 9);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    let R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    if (sat) {
      const y = f32x4.add(
        f32x4.add(f32x4.mul(f32x4.splat(0.2126), R), f32x4.mul(f32x4.splat(0.7152), G)),
        f32x4.mul(f32x4.splat(0.0722), B),
      );
      R = f32x4.add(y, f32x4.mul(s, f32x4.sub(R, y)));
      G = f32x4.add(y, f32x4.mul(s, f32x4.sub(G, y)));
      B = f32x4.add(y, f32x4.mul(s, f32x4.sub(B, y)));
    }
    if (clamp) {
      R = cut(R);
      G = cut(G);
      B = cut(B);
    }
    v128.store(r + i, R);
    v128.store(g + i, G);
    v128.store(b + i, B);
  }
}
