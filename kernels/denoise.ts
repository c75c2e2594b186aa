/** Twin of src/core/ops/denoise: see there. */
import { plane } from './lib/frame';
import { mirror } from './lib/windows';

// @ts-ignore: decorator
@inline function spline(i: i32): f32 {
  return i == 0 ? 6 : i == 1 || i == -1 ? 4 : 1;
}
/** One pixel near the border. */
function one(t: usize, from: i32, to: i32, w: i32, h: i32, x: i32, y: i32, step: i32, inv: f32): void {
  const i = (<usize>(y * w + x)) << 2;
  const r = plane(t, from),
    g = plane(t, from + 1),
    b = plane(t, from + 2);
  const R = load<f32>(r + i),
    G = load<f32>(g + i),
    B = load<f32>(b + i);
  let sum: f32 = 0,
    sr: f32 = 0,
    sg: f32 = 0,
    sb: f32 = 0;
  for (let v = -2; v <= 2; v++) {
    const row = mirror(y + v * step, h) * w;
    for (let u = -2; u <= 2; u++) {
      const j = (<usize>(row + mirror(x + u * step, w))) << 2;
      const dr = load<f32>(r + j) - R,
        dg = load<f32>(g + j) - G,
        db = load<f32>(b + j) - B;
      const q: f32 = <f32>1 - (dr * dr + dg * dg + db * db) * inv;
      if (!(q > 0)) continue;
      const k = spline(v) * spline(u) * q * q;
      sum += k;
      sr += k * dr;
      sg += k * dg;
      sb += k * db;
    }
  }
  const any = sum > 0;
  store<f32>(plane(t, to) + i, any ? R + sr / sum : R);
  store<f32>(plane(t, to + 1) + i, any ? G + sg / sum : G);
  store<f32>(plane(t, to + 2) + i, any ? B + sb / sum : B);
}
function pass(t: usize, from: i32, to: i32, w: i32, h: i32, y0: i32, y1: i32, step: i32, inv: f32): void {
  const r = plane(t, from),
    g = plane(t, from + 1),
    b = plane(t, from + 2);
  const zero = f32x4.splat(0),
    full = f32x4.splat(1),
    scale = f32x4.splat(inv);
  const rim = min(w, 2 * step);
  const last = w - 2 * step - 4;
  for (let y = y0; y < y1; y++) {
    let x = 0;
    for (; x < rim; x++) one(t, from, to, w, h, x, y, step, inv);
    for (; x <= last; x += 4) {
      const i = (<usize>(y * w + x)) << 2;
      const R = v128.load(r + i),
        G = v128.load(g + i),
        B = v128.load(b + i);
      let sum = zero,
        sr = zero,
        sg = zero,
        sb = zero;
      for (let v = -2; v <= 2; v++) {
        const row = (<usize>(mirror(y + v * step, h) * w + x - 2 * step)) << 2;
        const weight = spline(v);
        for (let u = -2; u <= 2; u++) {
          const j = row + ((<usize>((u + 2) * step)) << 2);
          const dr = f32x4.sub(v128.load(r + j), R),
            dg = f32x4.sub(v128.load(g + j), G),
            db = f32x4.sub(v128.load(b + j), B);
          const d = f32x4.add(f32x4.add(f32x4.mul(dr, dr), f32x4.mul(dg, dg)), f32x4.mul(db, db));
          const q = f32x4.sub(full, f32x4.mul(d, scale));
          // Also where it is no number: differences there must not spread.
          const on = f32x4.gt(q, zero);
          const k = v128.and(f32x4.mul(f32x4.mul(f32x4.splat(weight * spline(u)), q), q), on);
          sum = f32x4.add(sum, k);
          sr = f32x4.add(sr, f32x4.mul(k, v128.and(dr, on)));
          sg = f32x4.add(sg, f32x4.mul(k, v128.and(dg, on)));
          sb = f32x4.add(sb, f32x4.mul(k, v128.and(db, on)));
        }
      }
      const any = f32x4.gt(sum, zero);
      const inverse = f32x4.div(full, v128.bitselect(sum, full, any));
      v128.store(plane(t, to) + i, f32x4.add(R, v128.and(f32x4.mul(sr, inverse), any)));
      v128.store(plane(t, to + 1) + i, f32x4.add(G, v128.and(f32x4.mul(sg, inverse), any)));
      v128.store(plane(t, to + 2) + i, f32x4.add(B, v128.and(f32x4.mul(sb, inverse), any)));
    }
    for (; x < w; x++) one(t, from, to, w, h, x, y, step, inv);
  }
}
// Planes: 0..2 given, 3..5 wanted, 6..8 spare.
export function frame_denoise_near(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  pass(t, 0, 6, w, h, y0, y1, <i32>load<f32>(k), load<f32>(k + 8));
}
export function frame_denoise_far(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  pass(t, 6, 3, w, h, y0, y1, <i32>load<f32>(k + 4), load<f32>(k + 12));
  const keep: f32 = <f32>1 - load<f32>(k + 16);
  if (keep == 0) return;
  for (let i = (<usize>(y0 * w)) << 2, end = (<usize>(y1 * w)) << 2; i < end; i += 4) {
    const r = load<f32>(plane(t, 3) + i),
      g = load<f32>(plane(t, 4) + i),
      b = load<f32>(plane(t, 5) + i);
    const by: f32 =
      keep *
      (<f32>0.2126 * (load<f32>(plane(t, 0) + i) - r) +
        <f32>0.7152 * (load<f32>(plane(t, 1) + i) - g) +
        <f32>0.0722 * (load<f32>(plane(t, 2) + i) - b));
    if (by == by) {
      store<f32>(plane(t, 3) + i, r + by);
      store<f32>(plane(t, 4) + i, g + by);
      store<f32>(plane(t, 5) + i, b + by);
    }
  }
}
