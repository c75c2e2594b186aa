/** Twin of src/core/ops/grain: see there. */
import { plane } from './lib/frame';

const ROOT3: f32 = 1.7320508075688772;

// @ts-ignore: decorator
@inline function hash(x: i32, y: i32, key: u32): u32 {
  let h: u32 = (<u32>(x * <i32>0x9e3779b1)) ^ (<u32>(y * <i32>0x85ebca77)) ^ key;
  h = (h ^ (h >> 16)) * 0x85ebca6b;
  h = (h ^ (h >> 13)) * 0xc2b2ae35;
  return h ^ (h >> 16);
}
// @ts-ignore: decorator
@inline function value(x: i32, y: i32, key: u32): f32 {
  return (<f32>(hash(x, y, key) >> 8) / 8388608.0 - 1) * ROOT3;
}
/** Weight k of a cubic B-spline at f. */
// @ts-ignore: decorator
@inline function wide(f: f32): f32 {
  return (3 * f * f * f - 6 * f * f + 4) / 6;
}
/** Of each column: the cell that it lies in, and its four weights, divided by their length. */
function across(cell: f64, w: i32, places: usize, weights: usize): void {
  for (let x = 0; x < w; x++) {
    const u = (<f64>x + 0.5) / cell;
    const left = <i32>u;
    const e: f32 = <f32>(u - <f64>left);
    const o: f32 = 1 - e;
    const a: f32 = (o * o * o) / 6,
      b: f32 = wide(e),
      c: f32 = wide(o),
      d: f32 = (e * e * e) / 6;
    const l: f32 = 1 / sqrt<f32>(a * a + b * b + c * c + d * d);
    store<i32>(places + ((<usize>x) << 2), left);
    const to = weights + ((<usize>x) << 4);
    store<f32>(to, a * l);
    store<f32>(to, b * l, 4);
    store<f32>(to, c * l, 8);
    store<f32>(to, d * l, 12);
  }
}
function add(k: usize, t: usize, scratch: usize, w: i32, y0: i32, y1: i32, field: i32, share: f32): void {
  // Of 28 (w + 8) numbers: four weights a column, its cell, and of a row's cells at most 2 w + 5.
  const weights = scratch,
    places = scratch + ((<usize>w) << 4),
    column = places + ((<usize>w) << 2);
  const cell = load<f32>(k + 4),
    shadows = load<f32>(k + 8),
    middle = load<f32>(k + 12),
    highlights = load<f32>(k + 16);
  const key = hash(<i32>load<f32>(k + 20), <i32>load<f32>(k + 24), <u32>field);
  const cells = <i32>Math.floor((<f64>w - 0.5) / <f64>cell) + 5;
  const R = plane(t, 0),
    G = plane(t, 1),
    B = plane(t, 2);
  const first = field == 0 ? 0 : field - 1,
    last = field == 0 ? 3 : field;
  for (let y = y0; y < y1; y++) {
    const v = (<f64>y + 0.5) / <f64>cell;
    const top = <i32>Math.floor(v);
    const f: f32 = <f32>(v - <f64>top);
    const g: f32 = 1 - f;
    const p: f32 = (g * g * g) / 6,
      q: f32 = wide(f),
      r: f32 = wide(g),
      s: f32 = (f * f * f) / 6;
    const vertical: f32 = 1 / sqrt<f32>(p * p + q * q + r * r + s * s);
    for (let i = 0; i < cells; i++)
      store<f32>(
        column + ((<usize>i) << 2),
        (p * value(i - 1, top - 1, key) +
          q * value(i - 1, top, key) +
          r * value(i - 1, top + 1, key) +
          s * value(i - 1, top + 2, key)) *
          vertical,
      );
    for (let x = 0; x < w; x++) {
      const at = (<usize>(y * w + x)) << 2;
      const left = load<i32>(places + ((<usize>x) << 2));
      const v4 = f32x4.mul(v128.load(column + ((<usize>left) << 2)), v128.load(weights + ((<usize>x) << 4)));
      const n: f32 =
        f32x4.extract_lane(v4, 0) + f32x4.extract_lane(v4, 1) + f32x4.extract_lane(v4, 2) + f32x4.extract_lane(v4, 3);
      const luma: f32 = 0.2126 * load<f32>(R + at) + 0.7152 * load<f32>(G + at) + 0.0722 * load<f32>(B + at);
      const tone: f32 = luma > 0 ? min<f32>(1, luma) : 0;
      const low: f32 = max<f32>(0, 1 - 2 * tone),
        high: f32 = max<f32>(0, 2 * tone - 1);
      const by = share * n * (shadows * low + middle * (1 - low - high) + highlights * high);
      for (let ch = first; ch < last; ch++) {
        const to = plane(t, 3 + ch) + at;
        store<f32>(to, load<f32>(to) + by);
      }
    }
  }
}
export function frame_grain_grain(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const from = (<usize>(y0 * w)) << 2,
    bytes = (<usize>((y1 - y0) * w)) << 2;
  for (let c = 0; c < 3; c++) memory.copy(plane(t, 3 + c) + from, plane(t, c) + from, bytes);
  const strength = load<f32>(k),
    colour = load<f32>(k + 28);
  const plain: f32 = 1 - colour;
  const length = sqrt<f32>(plain * plain + colour * colour);
  across(<f64>load<f32>(k + 4), w, scratch + ((<usize>w) << 4), scratch);
  if (colour < 1) add(k, t, scratch, w, y0, y1, 0, (strength * plain) / length);
  if (colour > 0) for (let f = 1; f < 4; f++) add(k, t, scratch, w, y0, y1, f, (strength * colour) / length);
}
