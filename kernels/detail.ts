/**
 * Twin of src/core/ops/detail, to the bit: see there and src/core/op/windows.ts. Two pixels at a time; every sum is of
 * steps of a power of two, so that it is exact in whatever order it is made.
 */
import { plane } from './lib/frame';
import { guideOf, mirror, said } from './lib/windows';

const FINER: f64 = 131072;
const SAID: f64 = 262144;

// @ts-ignore: decorator
@inline function two(at: usize): v128 {
  return f64x2.promote_low_f32x4(v128.load64_zero(at));
}
// @ts-ignore: decorator
@inline function put(at: usize, v: v128): void {
  v128.store64_lane(at, f32x4.demote_f64x2_zero(v), 0);
}
// @ts-ignore: decorator
@inline function luma(r: usize, g: usize, b: usize): f64 {
  return 0.2126 * <f64>load<f32>(r) + 0.7152 * <f64>load<f32>(g) + 0.0722 * <f64>load<f32>(b);
}
// @ts-ignore: decorator
@inline function luma2(r: usize, g: usize, b: usize): v128 {
  return f64x2.add(
    f64x2.add(f64x2.mul(f64x2.splat(0.2126), two(r)), f64x2.mul(f64x2.splat(0.7152), two(g))),
    f64x2.mul(f64x2.splat(0.0722), two(b)),
  );
}
/** What a window sums of the luma at a place; no number counts as the least. */
// @ts-ignore: decorator
@inline function guide2(r: usize, g: usize, b: usize): v128 {
  const v = luma2(r, g, b);
  const high = f64x2.splat(2),
    low = f64x2.splat(-0.5);
  const c = v128.bitselect(v128.bitselect(v, high, f64x2.lt(v, high)), low, f64x2.gt(v, low));
  const steps = f64x2.floor(f64x2.add(f64x2.mul(c, f64x2.splat(FINER)), f64x2.splat(0.5)));
  return f64x2.mul(steps, f64x2.splat(1.0 / FINER));
}
// @ts-ignore: decorator
@inline function said2(v: v128): v128 {
  const steps = f64x2.floor(f64x2.add(f64x2.mul(v, f64x2.splat(SAID)), f64x2.splat(0.5)));
  return f64x2.mul(steps, f64x2.splat(1.0 / SAID));
}
// @ts-ignore: decorator
@inline function add(at: usize, v: v128): void {
  v128.store(at, f64x2.add(v128.load(at), v));
}
// @ts-ignore: decorator
@inline function both(a: f64, b: f64): v128 {
  return f64x2.replace_lane(f64x2.splat(a), 1, b);
}
/** The next column's sums on the right of a window at x, and the last one's on its left. */
// @ts-ignore: decorator
@inline function entering(cols: usize, x: i32, r: i32, w: i32): v128 {
  return v128.load(cols + ((<usize>(x + r < w ? x + r : mirror(x + r, w))) << 4));
}
// @ts-ignore: decorator
@inline function leaving(cols: usize, x: i32, r: i32, w: i32): v128 {
  return v128.load(cols + ((<usize>(x >= r ? x - r : mirror(x - r, w))) << 4));
}

/** Adds a row's luma and its square to the columns, and takes another row's (-1: none) away. */
function fitRow(t: usize, cols: usize, w: i32, y: i32, gone: i32): void {
  const o = (<usize>(y * w)) << 2,
    p = (<usize>((gone < 0 ? 0 : gone) * w)) << 2;
  const r = plane(t, 0),
    g = plane(t, 1),
    b = plane(t, 2);
  let x: i32 = 0;
  for (; x + 2 <= w; x += 2) {
    const i = (<usize>x) << 2;
    const v = guide2(r + o + i, g + o + i, b + o + i);
    let sum = v,
      square = f64x2.mul(v, v);
    if (gone >= 0) {
      const u = guide2(r + p + i, g + p + i, b + p + i);
      sum = f64x2.sub(sum, u);
      square = f64x2.sub(square, f64x2.mul(u, u));
    }
    const at = cols + ((<usize>x) << 4);
    add(at, v128.shuffle<f64>(sum, square, 0, 2));
    add(at + 16, v128.shuffle<f64>(sum, square, 1, 3));
  }
  for (; x < w; x++) {
    const i = (<usize>x) << 2;
    const v = guideOf(luma(r + o + i, g + o + i, b + o + i), FINER);
    const u = gone < 0 ? 0 : guideOf(luma(r + p + i, g + p + i, b + p + i), FINER);
    add(cols + ((<usize>x) << 4), both(v - u, v * v - u * u));
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
  const n2 = f64x2.splat(n),
    eps2 = f64x2.splat(eps);
  for (let i: usize = 0, end = (<usize>w) << 4; i < end; i += 16) v128.store(scratch + i, f64x2.splat(0));
  for (let y = y0 - r; y < y0 + r; y++) fitRow(t, scratch, w, mirror(y, h), -1);
  for (let y = y0; y < y1; y++) {
    fitRow(t, scratch, w, mirror(y + r, h), y > y0 ? mirror(y - 1 - r, h) : -1);
    let s = f64x2.splat(0);
    for (let x = -r; x < r; x++) s = f64x2.add(s, v128.load(scratch + ((<usize>mirror(x, w)) << 4)));
    const o = (<usize>(y * w)) << 2;
    const a = plane(t, 6) + o,
      b = plane(t, 7) + o;
    let x: i32 = 0;
    for (; x + 2 <= w; x += 2) {
      const first = f64x2.add(s, entering(scratch, x, r, w));
      const second = f64x2.add(f64x2.sub(first, leaving(scratch, x, r, w)), entering(scratch, x + 1, r, w));
      s = f64x2.sub(second, leaving(scratch, x + 1, r, w));
      const mean = f64x2.div(v128.shuffle<f64>(first, second, 0, 2), n2);
      const spread = f64x2.sub(f64x2.div(v128.shuffle<f64>(first, second, 1, 3), n2), f64x2.mul(mean, mean));
      const q = f64x2.div(spread, f64x2.add(spread, eps2));
      put(a + ((<usize>x) << 2), said2(q));
      put(b + ((<usize>x) << 2), said2(f64x2.sub(mean, f64x2.mul(q, mean))));
    }
    for (; x < w; x++) {
      s = f64x2.add(s, entering(scratch, x, r, w));
      const mean = f64x2.extract_lane(s, 0) / n;
      const spread = f64x2.extract_lane(s, 1) / n - mean * mean;
      const q = spread / (spread + eps);
      store<f32>(a + ((<usize>x) << 2), said(q));
      store<f32>(b + ((<usize>x) << 2), said(mean - q * mean));
      s = f64x2.sub(s, leaving(scratch, x, r, w));
    }
  }
}

/** Adds a row's lines to the columns, and takes another row's (-1: none) away. */
function applyRow(t: usize, cols: usize, w: i32, y: i32, gone: i32): void {
  const o = (<usize>(y * w)) << 2,
    p = (<usize>((gone < 0 ? 0 : gone) * w)) << 2;
  const a = plane(t, 6),
    b = plane(t, 7);
  let x: i32 = 0;
  for (; x + 2 <= w; x += 2) {
    const i = (<usize>x) << 2;
    let slope = two(a + o + i),
      offset = two(b + o + i);
    if (gone >= 0) {
      slope = f64x2.sub(slope, two(a + p + i));
      offset = f64x2.sub(offset, two(b + p + i));
    }
    const at = cols + ((<usize>x) << 4);
    add(at, v128.shuffle<f64>(slope, offset, 0, 2));
    add(at + 16, v128.shuffle<f64>(slope, offset, 1, 3));
  }
  for (; x < w; x++) {
    const i = (<usize>x) << 2;
    const slope: f64 = gone < 0 ? 0 : <f64>load<f32>(a + p + i),
      offset: f64 = gone < 0 ? 0 : <f64>load<f32>(b + p + i);
    add(cols + ((<usize>x) << 4), both(<f64>load<f32>(a + o + i) - slope, <f64>load<f32>(b + o + i) - offset));
  }
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
  const n2 = f64x2.splat(n),
    amount2 = f64x2.splat(amount),
    from2 = f64x2.splat(from),
    zero = f64x2.splat(0);
  for (let i: usize = 0, end = (<usize>w) << 4; i < end; i += 16) v128.store(scratch + i, zero);
  for (let y = y0 - r; y < y0 + r; y++) applyRow(t, scratch, w, mirror(y, h), -1);
  for (let y = y0; y < y1; y++) {
    applyRow(t, scratch, w, mirror(y + r, h), y > y0 ? mirror(y - 1 - r, h) : -1);
    let s = zero;
    for (let x = -r; x < r; x++) s = f64x2.add(s, v128.load(scratch + ((<usize>mirror(x, w)) << 4)));
    const o = (<usize>(y * w)) << 2;
    const r0 = plane(t, 0) + o,
      g0 = plane(t, 1) + o,
      b0 = plane(t, 2) + o,
      kept = plane(t, 8) + o;
    let x: i32 = 0;
    for (; x + 2 <= w; x += 2) {
      const first = f64x2.add(s, entering(scratch, x, r, w));
      const second = f64x2.add(f64x2.sub(first, leaving(scratch, x, r, w)), entering(scratch, x + 1, r, w));
      s = f64x2.sub(second, leaving(scratch, x + 1, r, w));
      const i = (<usize>x) << 2;
      const v = luma2(r0 + i, g0 + i, b0 + i);
      const sum = f64x2.add(
        f64x2.mul(v128.shuffle<f64>(first, second, 0, 2), v),
        v128.shuffle<f64>(first, second, 1, 3),
      );
      const under = f64x2.div(sum, n2);
      if (keep) {
        put(kept + i, under);
        continue;
      }
      const d = f64x2.sub(band ? two(kept + i) : v, under);
      const size = f64x2.sub(f64x2.abs(d), from2);
      const way = v128.bitselect(size, f64x2.neg(size), f64x2.gt(d, zero));
      const by = f64x2.mul(amount2, v128.bitselect(way, zero, f64x2.gt(size, zero)));
      for (let c = 0; c < 3; c++) put(plane(t, 3 + c) + o + i, f64x2.add(two(plane(t, c) + o + i), by));
    }
    for (; x < w; x++) {
      s = f64x2.add(s, entering(scratch, x, r, w));
      const i = (<usize>x) << 2;
      const v = luma(r0 + i, g0 + i, b0 + i);
      const under = (f64x2.extract_lane(s, 0) * v + f64x2.extract_lane(s, 1)) / n;
      s = f64x2.sub(s, leaving(scratch, x, r, w));
      if (keep) {
        store<f32>(kept + i, <f32>under);
        continue;
      }
      const top: f64 = band ? <f64>load<f32>(kept + i) : v;
      const d = top - under;
      const size = Math.abs(d) - from;
      const by = amount * (size > 0 ? (d > 0 ? size : -size) : 0);
      for (let c = 0; c < 3; c++) store<f32>(plane(t, 3 + c) + o + i, <f32>(<f64>load<f32>(plane(t, c) + o + i) + by));
    }
  }
}
