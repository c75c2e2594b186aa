/** Twin of src/core/ops/steady: see there for the method. */
import { plane } from './lib/frame';

const R: i32 = 2;
const COUNT: f32 = 25;
const LIGHT: f32 = 0.04;
const EVERY: i32 = 4;
const DARK: f64 = 0.02;
const BINS: i32 = 512;
const FEW: i32 = 16;
/** Pixels that are handled together. */
const GROUP: i32 = 16;

// @ts-ignore: decorator
@inline function held(i: i32, n: i32): i32 {
  return i < 0 ? 0 : i >= n ? n - 1 : i;
}
/** The table of planes: how many mattes, how many wanted, how many of the step's own; then where they lie. */
// @ts-ignore: decorator
@inline function pictureOf(t: usize, frames: i32, i: i32): usize {
  return plane(t, frames + 2 + i);
}

/** In float64 and in the definition's order, to the bit. */
function differenceAt(t: usize, frames: i32, f: i32, gains: usize, x: i32, y: i32, w: i32, h: i32): f64 {
  let squares: f64 = 0,
    level: f64 = 0;
  for (let c = 0; c < 3; c++) {
    const here = pictureOf(t, frames, c),
      there = pictureOf(t, frames, 3 * f + c);
    const g = <f64>load<f32>(gains + ((<usize>(4 * (f - 1) + c)) << 2));
    let shift: f64 = 0;
    for (let dy = -R; dy <= R; dy++)
      for (let dx = -R; dx <= R; dx++) {
        const i = (<usize>(held(y + dy, h) * w + held(x + dx, w))) << 2;
        const d = g * <f64>load<f32>(there + i) - <f64>load<f32>(here + i);
        squares += d * d;
        shift += d;
      }
    const mean = shift / 25;
    level += min<f64>(mean * mean, 0.04 * 0.04);
  }
  return (squares / 25 - level) / 3;
}
const APART: i32 = 12;
const NOISE_BINS: i32 = 256;
function noiseBetween(t: usize, frames: i32, f: i32, gains: usize, bins: usize, w: i32, h: i32): f64 {
  for (let i = 0; i <= NOISE_BINS; i++) store<i32>(bins + ((<usize>i) << 2), 0);
  let n = 0;
  for (let y = APART >> 1; y < h; y += APART)
    for (let x = APART >> 1; x < w; x += APART) {
      const d = Math.sqrt(Math.max(0, differenceAt(t, frames, f, gains, x, y, w, h)));
      if (!(d >= 0)) continue;
      const bin = Math.min(<f64>NOISE_BINS, Math.floor((d / 0.06) * <f64>NOISE_BINS));
      const p = bins + ((<usize>(<i32>bin)) << 2);
      store<i32>(p, load<i32>(p) + 1);
      n++;
    }
  if (n == 0) return 0;
  const quarter = <f64>n / 4;
  let bin = 0,
    below: f64 = 0;
  while (below + <f64>load<i32>(bins + ((<usize>bin) << 2)) < quarter) {
    below += <f64>load<i32>(bins + ((<usize>bin) << 2));
    bin++;
  }
  const d = ((<f64>bin + (quarter - below) / <f64>load<i32>(bins + ((<usize>bin) << 2))) / <f64>NOISE_BINS) * 0.06;
  return Math.min((d * d) / (66.4 / 75), 0.03 * 0.03);
}

export function frame_steady_light(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const frames = load<i32>(t);
  const gains = plane(t, frames + 1);
  for (let f = 1; f < frames; f++)
    for (let c = 0; c < 3; c++) {
      const here = pictureOf(t, frames, c),
        there = pictureOf(t, frames, 3 * f + c);
      for (let i = 0; i < BINS; i++) store<i32>(scratch + ((<usize>i) << 2), 0);
      let n = 0;
      for (let y = 0; y < h; y += EVERY)
        for (let x = 0; x < w; x += EVERY) {
          const i = (<usize>(y * w + x)) << 2;
          const a = <f64>load<f32>(here + i),
            b = <f64>load<f32>(there + i);
          if (!(a > DARK) || !(b > DARK)) continue;
          const bin = Math.floor((a / b - 0.5) * <f64>BINS);
          if (!(bin >= 0 && bin < <f64>BINS)) continue;
          const p = scratch + ((<usize>(<i32>bin)) << 2);
          store<i32>(p, load<i32>(p) + 1);
          n++;
        }
      let ratio: f64 = 1;
      if (n >= FEW) {
        const half = <f64>n / 2;
        let bin = 0,
          below: f64 = 0;
        while (below + <f64>load<i32>(scratch + ((<usize>bin) << 2)) < half) {
          below += <f64>load<i32>(scratch + ((<usize>bin) << 2));
          bin++;
        }
        ratio = 0.5 + (<f64>bin + (half - below) / <f64>load<i32>(scratch + ((<usize>bin) << 2))) / <f64>BINS;
      }
      store<f32>(gains + ((<usize>(4 * (f - 1) + c)) << 2), <f32>ratio);
      if (c == 2)
        store<f32>(gains + ((<usize>(4 * f - 1)) << 2), <f32>noiseBetween(t, frames, f, gains, scratch, w, h));
    }
}

/** Whether any of the pixels needs the other frames: it is more than nothing, and they do not all say the same. */
function differs(t: usize, frames: i32, at: usize, n: i32): bool {
  const own = plane(t, 0) + at;
  for (let x = 0; x < n; x++) {
    const i = (<usize>x) << 2;
    const m = load<f32>(own + i);
    if (!(m > 0)) continue;
    for (let f = 1; f < frames; f++) if (load<f32>(plane(t, f) + at + i) != m) return true;
  }
  return false;
}
/**
 * Sums down the five rows about y of the squares of what differs, over the channels, and of each channel's difference.
 */
function columns(
  t: usize,
  frames: i32,
  f: i32,
  gains: usize,
  sums: usize,
  pitch: usize,
  x0: i32,
  x1: i32,
  y: i32,
  w: i32,
  h: i32,
): void {
  for (let x = x0; x < x1; x++) store<f32>(sums + ((<usize>(x - x0)) << 2), 0);
  for (let c = 0; c < 3; c++) {
    const here = pictureOf(t, frames, c),
      there = pictureOf(t, frames, 3 * f + c);
    const g: f32 = load<f32>(gains + ((<usize>(4 * (f - 1) + c)) << 2));
    const g4 = f32x4.splat(g);
    const to = sums + <usize>(c + 1) * pitch;
    let x = x0;
    for (; x + 4 <= x1; x += 4) {
      const o = (<usize>(x - x0)) << 2;
      let squares = v128.load(sums + o),
        shift = f32x4.splat(0);
      for (let dy = -R; dy <= R; dy++) {
        const i = (<usize>(held(y + dy, h) * w + x)) << 2;
        const d = f32x4.sub(f32x4.mul(g4, v128.load(there + i)), v128.load(here + i));
        squares = f32x4.add(squares, f32x4.mul(d, d));
        shift = f32x4.add(shift, d);
      }
      v128.store(sums + o, squares);
      v128.store(to + o, shift);
    }
    for (; x < x1; x++) {
      const o = (<usize>(x - x0)) << 2;
      let squares = load<f32>(sums + o),
        shift: f32 = 0;
      for (let dy = -R; dy <= R; dy++) {
        const i = (<usize>(held(y + dy, h) * w + x)) << 2;
        const d = g * load<f32>(there + i) - load<f32>(here + i);
        squares += d * d;
        shift += d;
      }
      store<f32>(sums + o, squares);
      store<f32>(to + o, shift);
    }
  }
}
// @ts-ignore: decorator
@inline function across(line: usize, x0: i32, x: i32, w: i32): f32 {
  let sum: f32 = 0;
  for (let dx = -R; dx <= R; dx++) sum += load<f32>(line + ((<usize>(held(x + dx, w) - x0)) << 2));
  return sum;
}

export function frame_steady_steady(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const frames = load<i32>(t);
  const strength = load<f32>(k),
    still = load<f32>(k + 4),
    rare = load<f32>(k + 8);
  const limit: f32 = 3 * still * still;
  const own = plane(t, 0),
    dst = plane(t, frames),
    gains = plane(t, frames + 1);
  // Four lines of a group with its sides, then the sums of mattes, of weights, and of those of empty frames.
  const pitch = <usize>((GROUP + 2 * R) << 2);
  const said = scratch + 4 * pitch,
    total = said + ((<usize>GROUP) << 2),
    nothing = total + ((<usize>GROUP) << 2);
  for (let y = y0; y < y1; y++)
    for (let from = 0; from < w; from += GROUP) {
      const at = (<usize>(y * w + from)) << 2;
      const n = min(GROUP, w - from);
      for (let x = 0; x < n; x++) {
        const o = (<usize>x) << 2;
        store<u32>(dst + at + o, load<u32>(own + at + o));
      }
      if (!differs(t, frames, at, n)) continue;
      const x0 = max(0, from - R),
        x1 = min(w, from + n + R);
      for (let x = 0; x < n; x++) {
        const o = (<usize>x) << 2;
        store<f32>(said + o, load<f32>(own + at + o));
        store<f32>(total + o, 1);
        store<f32>(nothing + o, 0);
      }
      for (let f = 1; f < frames; f++) {
        const other = plane(t, f);
        const noise: f32 = <f32>3 * load<f32>(gains + ((<usize>(4 * f - 1)) << 2));
        columns(t, frames, f, gains, scratch, pitch, x0, x1, y, w, h);
        for (let x = 0; x < n; x++) {
          const o = (<usize>x) << 2;
          if (!(load<f32>(own + at + o) > 0)) continue;
          let level: f32 = 0;
          for (let c = 1; c <= 3; c++) {
            const mean: f32 = across(scratch + <usize>c * pitch, x0, from + x, w) / COUNT;
            level += min<f32>(mean * mean, LIGHT * LIGHT);
          }
          const u: f32 = (across(scratch, x0, from + x, w) / COUNT - level - noise) / limit;
          if (!(u < 1)) continue;
          const one: f32 = 1 - max<f32>(0, u);
          const weight: f32 = one * one;
          const there = load<f32>(other + at + o);
          store<f32>(said + o, load<f32>(said + o) + weight * there);
          store<f32>(total + o, load<f32>(total + o) + weight);
          if (!(there > 0)) store<f32>(nothing + o, load<f32>(nothing + o) + weight);
        }
      }
      for (let x = 0; x < n; x++) {
        const o = (<usize>x) << 2;
        const m = load<f32>(own + at + o);
        if (!(m > 0)) continue;
        const all = load<f32>(total + o);
        const half: f32 = min<f32>(1, 2 * (1 - load<f32>(nothing + o) / all));
        const fade: f32 = half * half * (half * half);
        const mean: f32 = (load<f32>(said + o) / all) * (1 - rare * (1 - fade));
        store<f32>(dst + at + o, m + strength * (mean - m));
      }
    }
}
