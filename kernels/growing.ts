/**
 * Twins of what a growing region does with every pixel, to the bit: see `fielded` (src/core/matte/geodesic.ts),
 * `distances` and `learning` (src/core/matte/likeness.ts), `modelled` (src/core/matte/model.ts) for what each is.
 */

const STEP: f64 = 0.02;
const ROUNDS: i32 = 3;
const NONE: i32 = 1 << 30;

// Of each row the part that a pass has to look at: from and to, of the pass down, then of the pass up.
let DOWN: usize = 0;
let UP: usize = 0;
let ROWS: i32 = 0;

// @ts-ignore: decorator
@inline function f(at: usize, i: i32): f64 {
  return <f64>load<f32>(at + ((<usize>i) << 2));
}
// @ts-ignore: decorator
@inline function zero(d: usize, i: i32): bool {
  return load<f32>(d + ((<usize>i) << 2)) == 0;
}
// @ts-ignore: decorator
@inline function shorter(v: f64, t: f64): f64 {
  return select(t, v, t < v);
}
function add(parts: usize, y: i32, x0: i32, x1: i32): void {
  if (y < 0 || y >= ROWS) return;
  const at = parts + ((<usize>y) << 3);
  if (x0 < load<i32>(at)) store<i32>(at, x0);
  if (x1 > load<i32>(at, 4)) store<i32>(at, x1, 4);
}
function changed(y: i32, x0: i32, x1: i32): void {
  add(DOWN, y + 1, x0 - 1, x1 + 1);
  add(UP, y - 1, x0 - 1, x1 + 1);
}

/** @param spare 16 bytes a row */
export function grow_field(
  w: i32,
  h: i32,
  right: usize,
  below: usize,
  fall: usize,
  rise: usize,
  foreign: usize,
  seed: usize,
  cap: f64,
  d: usize,
  spare: usize,
): void {
  const long = <f64>max(w, h);
  const n = w * h;
  // What is no seed, and one pixel about it.
  let x0 = w;
  let x1 = -1;
  let y0 = h;
  let y1 = -1;
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (load<u8>(seed + <usize>i) == 1) {
        store<f32>(d + ((<usize>i) << 2), 0);
        continue;
      }
      store<f32>(d + ((<usize>i) << 2), <f32>cap);
      x0 = min(x0, x);
      x1 = max(x1, x);
      y0 = min(y0, y);
      y1 = y;
    }
  DOWN = spare;
  UP = spare + ((<usize>h) << 3);
  ROWS = h;
  for (let y = 0; y < 2 * h; y++) {
    store<i32>(spare + ((<usize>y) << 3), NONE);
    store<i32>(spare + ((<usize>y) << 3), -1, 4);
  }
  for (let y = max(0, y0 - 1); y <= min(h - 1, y1 + 1); y++)
    for (let x = max(0, x0 - 1), i = y * w + x; x <= min(w - 1, x1 + 1); x++, i++) {
      if (!zero(d, i)) continue;
      const l = x > 0;
      const r = x + 1 < w;
      const u = y > 0;
      const b = y + 1 < h;
      const lone =
        (l && (!zero(d, i - 1) || (u && !zero(d, i - w - 1)) || (b && !zero(d, i + w - 1)))) ||
        (r && (!zero(d, i + 1) || (u && !zero(d, i - w + 1)) || (b && !zero(d, i + w + 1)))) ||
        (u && !zero(d, i - w)) ||
        (b && !zero(d, i + w));
      if (!lone) continue;
      changed(y, x, x);
      add(DOWN, y, x, x + 1);
      add(UP, y, x - 1, x);
    }
  for (let round = 0; round < ROUNDS; round++) {
    for (let y = 0; y < h; y++) {
      const at = DOWN + ((<usize>y) << 3);
      const from = load<i32>(at);
      const to = load<i32>(at, 4);
      store<i32>(at, NONE);
      store<i32>(at, -1, 4);
      let first = -1;
      let last = -1;
      for (let x = max(0, from), i = y * w + x; x < w && (x <= to || last == x - 1); x++, i++) {
        const a = <f64>(<f32>((STEP + f(foreign, i)) / long));
        const s = a * Math.SQRT2;
        const was = f(d, i);
        let v = was;
        if (x > 0) v = shorter(v, f(d, i - 1) + a + f(right, i - 1));
        if (y > 0) {
          v = shorter(v, f(d, i - w) + a + f(below, i - w));
          if (x > 0) v = shorter(v, f(d, i - w - 1) + s + f(fall, i - w - 1));
          if (x + 1 < w) v = shorter(v, f(d, i - w + 1) + s + f(rise, i - w + 1));
        }
        // What is shorter or not is hard to guess: nothing branches on it.
        const less = v < was;
        store<f32>(d + ((<usize>i) << 2), <f32>v);
        last = select(x, last, less);
        first = select(x, first, less && first < 0);
      }
      if (first < 0) continue;
      changed(y, first, last);
      add(UP, y, first - 1, last);
    }
    for (let y = h - 1; y >= 0; y--) {
      const at = UP + ((<usize>y) << 3);
      const from = load<i32>(at);
      const to = load<i32>(at, 4);
      store<i32>(at, NONE);
      store<i32>(at, -1, 4);
      let first = w;
      let last = w;
      for (let x = min(w - 1, to), i = y * w + x; x >= 0 && (x >= from || first == x + 1); x--, i--) {
        const a = <f64>(<f32>((STEP + f(foreign, i)) / long));
        const s = a * Math.SQRT2;
        const was = f(d, i);
        let v = was;
        if (x + 1 < w) v = shorter(v, f(d, i + 1) + a + f(right, i));
        if (y + 1 < h) {
          v = shorter(v, f(d, i + w) + a + f(below, i));
          if (x + 1 < w) v = shorter(v, f(d, i + w + 1) + s + f(fall, i));
          if (x > 0) v = shorter(v, f(d, i + w - 1) + s + f(rise, i));
        }
        const less = v < was;
        store<f32>(d + ((<usize>i) << 2), <f32>v);
        first = select(x, first, less);
        last = select(x, last, less && last == w);
      }
      if (first == w) continue;
      changed(y, first, last);
      add(DOWN, y, first, last + 1);
    }
  }
}

/**
 * Distance to where bytes are `value`, in columns and rows from x0, y0 to before x1, y1, as if nothing lay beyond: by
 * two passes over eight neighbours.
 */
export function grow_distance(on: usize, w: i32, value: i32, x0: i32, y0: i32, x1: i32, y1: i32, d: usize): void {
  for (let y = y0; y < y1; y++)
    for (let x = x0, i = y * w + x; x < x1; x++, i++) {
      let v: f64 = 0;
      if (<i32>load<u8>(on + <usize>i) != value) {
        v = 1e9;
        if (x > x0) v = shorter(v, f(d, i - 1) + 1);
        if (y > y0) {
          v = shorter(v, f(d, i - w) + 1);
          if (x > x0) v = shorter(v, f(d, i - w - 1) + Math.SQRT2);
          if (x + 1 < x1) v = shorter(v, f(d, i - w + 1) + Math.SQRT2);
        }
      }
      store<f32>(d + ((<usize>i) << 2), <f32>v);
    }
  for (let y = y1 - 1; y >= y0; y--)
    for (let x = x1 - 1, i = y * w + x; x >= x0; x--, i--) {
      let v = f(d, i);
      if (v == 0) continue;
      if (x + 1 < x1) v = shorter(v, f(d, i + 1) + 1);
      if (y + 1 < y1) {
        v = shorter(v, f(d, i + w) + 1);
        if (x + 1 < x1) v = shorter(v, f(d, i + w + 1) + Math.SQRT2);
        if (x > x0) v = shorter(v, f(d, i + w - 1) + Math.SQRT2);
      }
      store<f32>(d + ((<usize>i) << 2), <f32>v);
    }
}

const BORDER: f32 = 3;
const LITTLE: f64 = 2e-4;

// @ts-ignore: decorator
@inline function one(table: usize, c: i32): void {
  const at = table + ((<usize>c) << 2);
  store<f32>(at, load<f32>(at) + 1);
}
// @ts-ignore: decorator
@inline function oneMore(all: usize, k: i32): void {
  const at = all + ((<usize>k) << 2);
  store<i32>(at, load<i32>(at) + 1);
}
/**
 * @param tables four of `size`, one after the other: in the region, outside, kept, left; all 0
 * @param all the same four, counted in all; all 0
 * @param deep all 0
 * @param spare two planes
 */
export function grow_count(
  n: i32,
  w: i32,
  size: i32,
  cell: usize,
  mask: usize,
  marks: usize,
  beyond: usize,
  near: f64,
  x0: i32,
  y0: i32,
  x1: i32,
  y1: i32,
  tables: usize,
  all: usize,
  deep: usize,
  spare: usize,
): void {
  const toOut = spare;
  const toIn = spare + ((<usize>n) << 2);
  grow_distance(mask, w, 0, x0, y0, x1, y1, toOut);
  grow_distance(mask, w, 1, x0, y0, x1, y1, toIn);
  const step = (<usize>size) << 2;
  for (let i = 0; i < n; i++) {
    const mark = load<u8>(marks + <usize>i);
    if (mark != 1 && mark != 2) continue;
    const k = mark == 1 ? 2 : 3;
    one(tables + <usize>k * step, <i32>load<u16>(cell + ((<usize>i) << 1)));
    oneMore(all, k);
  }
  for (let y = y0; y < y1; y++)
    for (let x = x0, i = y * w + x; x < x1; x++, i++) {
      const at = (<usize>i) << 2;
      let k = 0;
      if (load<u8>(mask + <usize>i) == 1) {
        if (!(load<f32>(toOut + at) >= BORDER)) continue;
        store<u8>(deep + <usize>i, 1);
      } else {
        if (load<u8>(beyond + <usize>i) != 1) continue;
        const d = load<f32>(toIn + at);
        if (!(d > BORDER && <f64>d < near)) continue;
        k = 1;
      }
      one(tables + <usize>k * step, <i32>load<u16>(cell + ((<usize>i) << 1)));
      oneMore(all, k);
    }
}
export function grow_weigh(
  n: i32,
  cell: usize,
  is: usize,
  isNot: usize,
  model: usize,
  belongs: usize,
  density: usize,
): void {
  for (let i = 0; i < n; i++) {
    const c = <i32>load<u16>(cell + ((<usize>i) << 1));
    const own = f(is, c);
    store<f32>(belongs + ((<usize>i) << 2), <f32>((own + LITTLE * f(model, i)) / (own + f(isNot, c) + LITTLE)));
    store<f32>(density + ((<usize>i) << 2), <f32>own);
  }
}

const L_WEIGHT: f64 = 0.3;
const NEAR: f64 = 0.05;
const FAR: f64 = 1.5001 * NEAR * (1.5001 * NEAR);
const HALF: f64 = 0.5;

// @ts-ignore: decorator
@inline function pair(at: usize, i: i32): v128 {
  return f64x2.promote_low_f32x4(v128.load64_zero(at + ((<usize>i) << 2)));
}
// @ts-ignore: decorator
@inline function num(at: usize, k: i32): v128 {
  return v128.load64_splat(at + ((<usize>k) << 3));
}
/** Within a range, from 0 (or below) to 1 (or above). */
// @ts-ignore: decorator
@inline function within(range: usize, k: i32, v: v128): v128 {
  const d = f64x2.min(f64x2.sub(v, num(range, k)), f64x2.sub(num(range, k + 1), v));
  return f64x2.add(f64x2.div(d, num(range, k + 2)), f64x2.splat(HALF));
}
/** The square of the distance to the nearest of some colours. */
// @ts-ignore: decorator
@inline function nearest(to: usize, n: i32, w: v128, a: v128, b: v128): v128 {
  let best = f64x2.splat(Infinity);
  for (let k = 0; k < n; k += 3) {
    const x = f64x2.sub(num(to, k), w);
    const y = f64x2.sub(num(to, k + 1), a);
    const z = f64x2.sub(num(to, k + 2), b);
    best = f64x2.min(best, f64x2.add(f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y)), f64x2.mul(z, z)));
  }
  return best;
}
/**
 * Two pixels at once.
 *
 * @param n an even number
 * @param ranges 11 doubles each: slopes of a and b; from, to and fade of L, a and b
 * @param keep,leave colours, three doubles each, light weighed
 */
export function grow_model(
  n: i32,
  L: usize,
  A: usize,
  B: usize,
  out: usize,
  ranges: usize,
  rangeCount: i32,
  keep: usize,
  keepCount: i32,
  leave: usize,
  leaveCount: i32,
): void {
  const zeros = f64x2.splat(0);
  const ones = f64x2.splat(1);
  const half = f64x2.splat(HALF);
  const far = f64x2.splat(FAR);
  const near = f64x2.splat(NEAR);
  for (let i = 0; i < n; i += 2) {
    const l = pair(L, i);
    const a = pair(A, i);
    const b = pair(B, i);
    let most = zeros;
    for (let k = 0; k < rangeCount; k++) {
      const r = ranges + <usize>(88 * k);
      const light = within(r, 2, l);
      if (!v128.any_true(f64x2.gt(light, most))) continue;
      const x = within(r, 5, f64x2.sub(a, f64x2.mul(num(r, 0), l)));
      const y = within(r, 8, f64x2.sub(b, f64x2.mul(num(r, 1), l)));
      most = f64x2.max(most, f64x2.min(ones, f64x2.min(light, f64x2.min(x, y))));
    }
    const w = f64x2.mul(l, f64x2.splat(L_WEIGHT));
    const kept = nearest(keep, 3 * keepCount, w, a, b);
    let is = zeros;
    if (v128.any_true(f64x2.lt(kept, far))) {
      const left = nearest(leave, 3 * leaveCount, w, a, b);
      const d = f64x2.sub(f64x2.min(near, f64x2.sqrt(left)), f64x2.sqrt(kept));
      is = f64x2.max(zeros, f64x2.min(ones, f64x2.add(f64x2.div(d, near), half)));
    }
    v128.store64_lane(out + ((<usize>i) << 2), f32x4.demote_f64x2_zero(f64x2.mul(half, f64x2.add(most, is))), 0);
  }
}
