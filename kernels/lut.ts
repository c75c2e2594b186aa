/**
 * Twin of src/core/ops/lut: scalar, since every pixel reads places of its own; a table entry's three channels are one
 * vector load.
 */
const HEAD: usize = 12 << 2;

// @ts-ignore: decorator
@inline function place(v: f32, k: usize, c: i32, top: f32): f32 {
  const t: f32 = v * load<f32>(k + ((<usize>(4 + c)) << 2)) + load<f32>(k + ((<usize>(7 + c)) << 2));
  return t > 0 ? (t < top ? t : top) : t <= 0 ? 0 : t;
}
// @ts-ignore: decorator
@inline function mixv(a: v128, b: v128, t: v128): v128 {
  return f32x4.add(a, f32x4.mul(f32x4.sub(b, a), t));
}

export function px_lut(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const dims = <i32>load<f32>(k);
  if (dims == 0) return;
  const N = <i32>load<f32>(k + 4);
  const top = <f32>(N - 1);
  const data = k + HEAD;
  const end = (<usize>n) << 2;
  if (dims == 1) {
    for (let c = 0; c < 3; c++) {
      const p = c == 0 ? r : c == 1 ? g : b;
      for (let i: usize = 0; i < end; i += 4) {
        const t = place(load<f32>(p + i), k, c, top);
        const j = min<i32>(<i32>t, N - 2);
        const at = data + ((<usize>(3 * j + c)) << 2);
        const a = load<f32>(at);
        store<f32>(p + i, a + (load<f32>(at + 12) - a) * (t - <f32>j));
      }
    }
    return;
  }
  const linear = load<f32>(k + 8) == 1;
  const X: usize = 12,
    Y: usize = <usize>(12 * N),
    Z: usize = <usize>(12 * N * N);
  for (let i: usize = 0; i < end; i += 4) {
    const x = place(load<f32>(r + i), k, 0, top),
      y = place(load<f32>(g + i), k, 1, top),
      z = place(load<f32>(b + i), k, 2, top);
    const xi = min<i32>(<i32>x, N - 2),
      yi = min<i32>(<i32>y, N - 2),
      zi = min<i32>(<i32>z, N - 2);
    const fx: f32 = x - <f32>xi,
      fy: f32 = y - <f32>yi,
      fz: f32 = z - <f32>zi;
    const o = data + <usize>xi * X + <usize>yi * Y + <usize>zi * Z;
    let v: v128;
    if (linear) {
      const vx = f32x4.splat(fx),
        vy = f32x4.splat(fy);
      const lo = mixv(mixv(v128.load(o), v128.load(o + X), vx), mixv(v128.load(o + Y), v128.load(o + X + Y), vx), vy);
      const q = o + Z;
      const hi = mixv(mixv(v128.load(q), v128.load(q + X), vx), mixv(v128.load(q + Y), v128.load(q + X + Y), vx), vy);
      v = mixv(lo, hi, f32x4.splat(fz));
    } else {
      let p: usize, q: usize, f1: f32, f2: f32, f3: f32;
      if (fx >= fy) {
        if (fy >= fz) {
          p = X;
          q = X + Y;
          f1 = fx;
          f2 = fy;
          f3 = fz;
        } else if (fx >= fz) {
          p = X;
          q = X + Z;
          f1 = fx;
          f2 = fz;
          f3 = fy;
        } else {
          p = Z;
          q = Z + X;
          f1 = fz;
          f2 = fx;
          f3 = fy;
        }
      } else if (fz >= fy) {
        p = Z;
        q = Z + Y;
        f1 = fz;
        f2 = fy;
        f3 = fx;
      } else if (fz >= fx) {
        p = Y;
        q = Y + Z;
        f1 = fy;
        f2 = fz;
        f3 = fx;
      } else {
        p = Y;
        q = Y + X;
        f1 = fy;
        f2 = fx;
        f3 = fz;
      }
      v = f32x4.add(
        f32x4.add(f32x4.mul(v128.load(o), f32x4.splat(1 - f1)), f32x4.mul(v128.load(o + p), f32x4.splat(f1 - f2))),
        f32x4.add(
          f32x4.mul(v128.load(o + q), f32x4.splat(f2 - f3)),
          f32x4.mul(v128.load(o + X + Y + Z), f32x4.splat(f3)),
        ),
      );
    }
    store<f32>(r + i, f32x4.extract_lane(v, 0));
    store<f32>(g + i, f32x4.extract_lane(v, 1));
    store<f32>(b + i, f32x4.extract_lane(v, 2));
  }
}
