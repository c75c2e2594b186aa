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
/** Evenly from -sqrt 3 to sqrt 3, of four places by their mixed x; `row` is y and key mixed. */
// @ts-ignore: decorator
@inline function values4(mixedX: v128, row: u32): v128 {
  let h = v128.xor(mixedX, i32x4.splat(<i32>row));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 16)), i32x4.splat(<i32>0x85ebca6b));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 13)), i32x4.splat(<i32>0xc2b2ae35));
  h = v128.xor(h, i32x4.shr_u(h, 16));
  const even = f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(h, 8)), f32x4.splat(1.0 / 8388608.0));
  return f32x4.mul(f32x4.sub(even, f32x4.splat(1)), f32x4.splat(ROOT3));
}
// @ts-ignore: decorator
@inline function mixed(y: i32, key: u32): u32 {
  return (<u32>(y * <i32>0x85ebca77)) ^ key;
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
/** The four cells that a column lies in, by its weights. */
// @ts-ignore: decorator
@inline function weighed(column: usize, places: usize, weights: usize, x: i32): v128 {
  const left = load<i32>(places + ((<usize>x) << 2));
  return f32x4.mul(v128.load(column + ((<usize>left) << 2)), v128.load(weights + ((<usize>x) << 4)));
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
  const zero = f32x4.splat(0),
    one = f32x4.splat(1);
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
    const row0 = mixed(top - 1, key),
      row1 = mixed(top, key),
      row2 = mixed(top + 1, key),
      row3 = mixed(top + 2, key);
    // A few numbers beyond the last one are written; nobody reads them.
    for (let i = 0; i < cells; i += 4) {
      const x4 = i32x4.mul(i32x4.add(i32x4.splat(i - 1), i32x4(0, 1, 2, 3)), i32x4.splat(<i32>0x9e3779b1));
      let sum = f32x4.mul(f32x4.splat(p), values4(x4, row0));
      sum = f32x4.add(sum, f32x4.mul(f32x4.splat(q), values4(x4, row1)));
      sum = f32x4.add(sum, f32x4.mul(f32x4.splat(r), values4(x4, row2)));
      sum = f32x4.add(sum, f32x4.mul(f32x4.splat(s), values4(x4, row3)));
      v128.store(column + ((<usize>i) << 2), f32x4.mul(sum, f32x4.splat(vertical)));
    }
    let x: i32 = 0;
    for (; x + 4 <= w; x += 4) {
      const at = (<usize>(y * w + x)) << 2;
      const n0 = weighed(column, places, weights, x),
        n1 = weighed(column, places, weights, x + 1),
        n2 = weighed(column, places, weights, x + 2),
        n3 = weighed(column, places, weights, x + 3);
      // Columns of the four: each sum in the order of one by one.
      const a01 = v128.shuffle<f32>(n0, n1, 0, 4, 1, 5),
        b01 = v128.shuffle<f32>(n0, n1, 2, 6, 3, 7),
        a23 = v128.shuffle<f32>(n2, n3, 0, 4, 1, 5),
        b23 = v128.shuffle<f32>(n2, n3, 2, 6, 3, 7);
      const n = f32x4.add(
        f32x4.add(
          f32x4.add(v128.shuffle<f32>(a01, a23, 0, 1, 4, 5), v128.shuffle<f32>(a01, a23, 2, 3, 6, 7)),
          v128.shuffle<f32>(b01, b23, 0, 1, 4, 5),
        ),
        v128.shuffle<f32>(b01, b23, 2, 3, 6, 7),
      );
      const luma = f32x4.add(
        f32x4.add(f32x4.mul(f32x4.splat(0.2126), v128.load(R + at)), f32x4.mul(f32x4.splat(0.7152), v128.load(G + at))),
        f32x4.mul(f32x4.splat(0.0722), v128.load(B + at)),
      );
      // What is no number counts as dark.
      const tone = v128.and(f32x4.pmin(luma, one), f32x4.gt(luma, zero));
      const low = f32x4.pmax(zero, f32x4.sub(one, f32x4.add(tone, tone))),
        high = f32x4.pmax(zero, f32x4.sub(f32x4.add(tone, tone), one));
      const rest = f32x4.sub(f32x4.sub(one, low), high);
      const answer = f32x4.add(
        f32x4.add(f32x4.mul(f32x4.splat(shadows), low), f32x4.mul(f32x4.splat(middle), rest)),
        f32x4.mul(f32x4.splat(highlights), high),
      );
      const by = f32x4.mul(f32x4.mul(f32x4.splat(share), n), answer);
      for (let ch = first; ch < last; ch++) {
        const to = plane(t, 3 + ch) + at;
        v128.store(to, f32x4.add(v128.load(to), by));
      }
    }
    for (; x < w; x++) {
      const at = (<usize>(y * w + x)) << 2;
      const v4 = weighed(column, places, weights, x);
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
