/** Twin of src/core/ops/detail, to the bit: see there and src/core/op/windows.ts. */
import { plane } from './lib/frame';
import { guideOf, mirror, said } from './lib/windows';

// @ts-ignore: decorator
@inline function luma(r: usize, g: usize, b: usize): f64 {
  return 0.2126 * <f64>load<f32>(r) + 0.7152 * <f64>load<f32>(g) + 0.0722 * <f64>load<f32>(b);
}
// @ts-ignore: decorator
@inline function add(at: usize, a: f64, b: f64): void {
  v128.store(at, f64x2.add(v128.load(at), f64x2.replace_lane(f64x2.splat(a), 1, b)));
}

function fitRow(t: usize, cols: usize, w: i32, y: i32, sign: f64): void {
  const o = (<usize>(y * w)) << 2;
  const r = plane(t, 0) + o,
    g = plane(t, 1) + o,
    b = plane(t, 2) + o;
  for (let i: usize = 0, end = <usize>w; i < end; i++) {
    const v = guideOf(luma(r + (i << 2), g + (i << 2), b + (i << 2)), 131072);
    add(cols + (i << 4), sign * v, sign * v * v);
  }
}
export function frame_detail_fit(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  lines(<i32>load<f32>(k), k, t, scratch, w, h, y0, y1);
}
export function frame_detail_fitFiner(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  lines(<i32>load<f32>(k + 16), k, t, scratch, w, h, y0, y1);
}
function lines(r: i32, k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const eps: f64 = <f64>load<f32>(k + 4);
  const n: f64 = <f64>((2 * r + 1) * (2 * r + 1));
  for (let i: usize = 0, end = (<usize>w) << 4; i < end; i += 16) v128.store(scratch + i, f64x2.splat(0));
  for (let y = y0 - r; y < y0 + r; y++) fitRow(t, scratch, w, mirror(y, h), 1);
  for (let y = y0; y < y1; y++) {
    fitRow(t, scratch, w, mirror(y + r, h), 1);
    let s = f64x2.splat(0);
    for (let x = -r; x < r; x++) s = f64x2.add(s, v128.load(scratch + ((<usize>mirror(x, w)) << 4)));
    const o = (<usize>(y * w)) << 2;
    const a = plane(t, 6) + o,
      b = plane(t, 7) + o;
    for (let x = 0; x < w; x++) {
      s = f64x2.add(s, v128.load(scratch + ((<usize>mirror(x + r, w)) << 4)));
      const mean = f64x2.extract_lane(s, 0) / n;
      const spread = f64x2.extract_lane(s, 1) / n - mean * mean;
      const q = spread / (spread + eps);
      store<f32>(a + ((<usize>x) << 2), said(q));
      store<f32>(b + ((<usize>x) << 2), said(mean - q * mean));
      s = f64x2.sub(s, v128.load(scratch + ((<usize>mirror(x - r, w)) << 4)));
    }
    fitRow(t, scratch, w, mirror(y - r, h), -1);
  }
}

function applyRow(t: usize, cols: usize, w: i32, y: i32, sign: f64): void {
  const o = (<usize>(y * w)) << 2;
  const a = plane(t, 6) + o,
    b = plane(t, 7) + o;
  for (let i: usize = 0, end = <usize>w; i < end; i++)
    add(cols + (i << 4), sign * <f64>load<f32>(a + (i << 2)), sign * <f64>load<f32>(b + (i << 2)));
}
export function frame_detail_finer(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  beneath(<i32>load<f32>(k + 16), true, k, t, scratch, w, h, y0, y1);
}
export function frame_detail_apply(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  beneath(<i32>load<f32>(k), false, k, t, scratch, w, h, y0, y1);
}
function beneath(r: i32, keep: bool, k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const amount: f64 = <f64>load<f32>(k + 8),
    from: f64 = <f64>load<f32>(k + 12);
  const band = load<f32>(k + 16) > 0;
  const n: f64 = <f64>((2 * r + 1) * (2 * r + 1));
  for (let i: usize = 0, end = (<usize>w) << 4; i < end; i += 16) v128.store(scratch + i, f64x2.splat(0));
  for (let y = y0 - r; y < y0 + r; y++) applyRow(t, scratch, w, mirror(y, h), 1);
  for (let y = y0; y < y1; y++) {
    applyRow(t, scratch, w, mirror(y + r, h), 1);
    let s = f64x2.splat(0);
    for (let x = -r; x < r; x++) s = f64x2.add(s, v128.load(scratch + ((<usize>mirror(x, w)) << 4)));
    const o = (<usize>(y * w)) << 2;
    for (let x = 0; x < w; x++) {
      s = f64x2.add(s, v128.load(scratch + ((<usize>mirror(x + r, w)) << 4)));
      const i = o + ((<usize>x) << 2);
      const v = luma(plane(t, 0) + i, plane(t, 1) + i, plane(t, 2) + i);
      const under = (f64x2.extract_lane(s, 0) * v + f64x2.extract_lane(s, 1)) / n;
      s = f64x2.sub(s, v128.load(scratch + ((<usize>mirror(x - r, w)) << 4)));
      if (keep) {
        store<f32>(plane(t, 8) + i, <f32>under);
        continue;
      }
      const top: f64 = band ? <f64>load<f32>(plane(t, 8) + i) : v;
      const d = top - under;
      const size = Math.abs(d) - from;
      const by = amount * (size > 0 ? (d > 0 ? size : -size) : 0);
      for (let c = 0; c < 3; c++) store<f32>(plane(t, 3 + c) + i, <f32>(<f64>load<f32>(plane(t, c) + i) + by));
    }
    applyRow(t, scratch, w, mirror(y - r, h), -1);
  }
}
