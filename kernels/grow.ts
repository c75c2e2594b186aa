/** Twin of src/core/ops/grow, to the bit: see there for the method. */
import { plane } from './lib/frame';

const GROUP: i32 = 16;

// @ts-ignore: decorator
@inline function held(i: i32, n: i32): i32 {
  return i < 0 ? 0 : i >= n ? n - 1 : i;
}
// @ts-ignore: decorator
@inline function unit(v: f32): f32 {
  return v > 0 ? (v < 1 ? v : 1) : 0;
}

export function frame_grow_scan(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const m = plane(t, 0),
    least = plane(t, 2),
    most = plane(t, 3),
    all = plane(t, 4);
  for (let y = y0; y < y1; y++) {
    const row = (<usize>(y * w)) << 2;
    for (let g = 0; g * GROUP < w; g++) {
      let lo: f32 = 1,
        hi: f32 = 0;
      const end = min(w, (g + 1) * GROUP);
      let x = g * GROUP;
      if (end - x == GROUP) {
        const p = m + row + ((<usize>x) << 2);
        const a = four(p),
          b = four(p + 16),
          c = four(p + 32),
          d = four(p + 48);
        const q = all + row + ((<usize>x) << 2);
        v128.store(q, a);
        v128.store(q + 16, b);
        v128.store(q + 32, c);
        v128.store(q + 48, d);
        const l = f32x4.min(f32x4.min(a, b), f32x4.min(c, d)),
          h = f32x4.max(f32x4.max(a, b), f32x4.max(c, d));
        lo = min<f32>(
          min<f32>(f32x4.extract_lane(l, 0), f32x4.extract_lane(l, 1)),
          min<f32>(f32x4.extract_lane(l, 2), f32x4.extract_lane(l, 3)),
        );
        hi = max<f32>(
          max<f32>(f32x4.extract_lane(h, 0), f32x4.extract_lane(h, 1)),
          max<f32>(f32x4.extract_lane(h, 2), f32x4.extract_lane(h, 3)),
        );
        x = end;
      }
      for (; x < end; x++) {
        const u = unit(load<f32>(m + row + ((<usize>x) << 2)));
        store<f32>(all + row + ((<usize>x) << 2), u);
        lo = min<f32>(lo, u);
        hi = max<f32>(hi, u);
      }
      store<f32>(least + row + ((<usize>g) << 2), lo);
      store<f32>(most + row + ((<usize>g) << 2), hi);
    }
  }
}

// @ts-ignore: decorator
@inline function at(m: usize, x: i32, y: i32, w: i32, h: i32): f32 {
  return load<f32>(m + ((<usize>(held(y, h) * w + held(x, w))) << 2));
}
// @ts-ignore: decorator
@inline function more(a: f32, b: f32, choke: bool): f32 {
  return choke ? min<f32>(a, b) : max<f32>(a, b);
}
/** Anywhere, one pixel at a time. */
function single(k: usize, m: usize, x: i32, y: i32, w: i32, h: i32, choke: bool, R: i32, count: i32): f32 {
  const rows = k + 16,
    dots = k + ((<usize>(5 + 2 * R)) << 2);
  let best = at(m, x, y, w, h);
  for (let dy = -R; dy <= R; dy++) {
    const half = <i32>load<f32>(rows + ((<usize>(dy + R)) << 2));
    for (let dx = -half; dx <= half; dx++) best = more(best, at(m, x + dx, y + dy, w, h), choke);
  }
  for (let i = 0; i < count; i++) {
    const p = dots + ((<usize>i) << 4);
    const ix = x + <i32>load<f32>(p),
      iy = y + <i32>load<f32>(p + 4);
    const fx = load<f32>(p + 8),
      fy = load<f32>(p + 12);
    const a = at(m, ix, iy, w, h),
      b = at(m, ix + 1, iy, w, h),
      c = at(m, ix, iy + 1, w, h),
      d = at(m, ix + 1, iy + 1, w, h);
    const top: f32 = a + fx * (b - a),
      low: f32 = c + fx * (d - c);
    best = more(best, top + fy * (low - top), choke);
  }
  return best;
}
// @ts-ignore: decorator
@inline function four(p: usize): v128 {
  return f32x4.pmin(f32x4.pmax(f32x4.splat(0), v128.load(p)), f32x4.splat(1));
}
// @ts-ignore: decorator
@inline function more4(a: v128, b: v128, choke: bool): v128 {
  return choke ? f32x4.min(a, b) : f32x4.max(a, b);
}
// @ts-ignore: decorator
@inline function between(a: v128, b: v128, f: v128): v128 {
  return f32x4.add(a, f32x4.mul(f, f32x4.sub(b, a)));
}
/**
 * Four pixels whose reach lies within the row. Of places on a row or a column of pixels two neighbours are enough:
 * between equal weights of the other two lies the same number. `choke` is told apart once, for all of it.
 */
// @ts-ignore: decorator
@inline function together(
  k: usize,
  m: usize,
  x: i32,
  y: i32,
  w: i32,
  h: i32,
  choke: bool,
  R: i32,
  count: i32,
  most: v128,
): v128 {
  const rows = k + 16,
    dots = k + ((<usize>(5 + 2 * R)) << 2);
  let best = v128.load(m + ((<usize>(y * w + x)) << 2));
  for (let dy = -R; dy <= R; dy++) {
    const half = <i32>load<f32>(rows + ((<usize>(dy + R)) << 2));
    const row = m + ((<usize>(held(y + dy, h) * w + x)) << 2);
    for (let dx = -half; dx <= half; dx++) best = more4(best, v128.load(row + ((<isize>dx) << 2)), choke);
    // Nothing in reach is more.
    if (v128.all_true<i32>(choke ? f32x4.le(best, most) : f32x4.ge(best, most))) return best;
  }
  for (let i = 0; i < count; i++) {
    const p = dots + ((<usize>i) << 4);
    const ix = x + <i32>load<f32>(p),
      iy = y + <i32>load<f32>(p + 4);
    const fx = v128.load32_splat(p + 8),
      fy = v128.load32_splat(p + 12);
    const upper = m + ((<usize>(held(iy, h) * w + ix)) << 2);
    const a = v128.load(upper);
    if (load<f32>(p + 12) == 0) {
      best = more4(best, between(a, v128.load(upper + 4), fx), choke);
      continue;
    }
    const lower = m + ((<usize>(held(iy + 1, h) * w + ix)) << 2);
    const c = v128.load(lower);
    best =
      load<f32>(p + 8) == 0
        ? more4(best, between(a, c, fy), choke)
        : more4(best, between(between(a, v128.load(upper + 4), fx), between(c, v128.load(lower + 4), fx), fy), choke);
  }
  return choke ? f32x4.max(best, most) : f32x4.min(best, most);
}
function grown4(k: usize, m: usize, x: i32, y: i32, w: i32, h: i32, R: i32, count: i32, most: v128): v128 {
  return together(k, m, x, y, w, h, false, R, count, most);
}
function choked4(k: usize, m: usize, x: i32, y: i32, w: i32, h: i32, R: i32, count: i32, most: v128): v128 {
  return together(k, m, x, y, w, h, true, R, count, most);
}

export function frame_grow_grow(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const choke = load<f32>(k) > 0;
  const R = <i32>load<f32>(k + 4),
    reach = <i32>load<f32>(k + 8),
    count = <i32>load<f32>(k + 12);
  const dst = plane(t, 1),
    least = plane(t, 2),
    most = plane(t, 3),
    m = plane(t, 4);
  const groups = (w + GROUP - 1) / GROUP;
  // Of a row's groups the least and the most of all rows in reach, four groups at a time; room for four more of each.
  const lows = scratch,
    highs = scratch + ((<usize>groups + 4) << 2);
  for (let y = y0; y < y1; y++) {
    const out = dst + ((<usize>(y * w)) << 2);
    const top0 = max(0, y - reach),
      end0 = min(h - 1, y + reach);
    for (let g = 0; g < groups; g += 4) {
      const o = (<usize>g) << 2;
      let row = ((<usize>(top0 * w)) << 2) + o;
      let l = v128.load(least + row),
        u = v128.load(most + row);
      for (let yy = top0 + 1; yy <= end0; yy++) {
        row += (<usize>w) << 2;
        l = f32x4.min(l, v128.load(least + row));
        u = f32x4.max(u, v128.load(most + row));
      }
      v128.store(lows + o, l);
      v128.store(highs + o, u);
    }
    for (let from = 0; from < w; from += GROUP) {
      const to = min(w, from + GROUP);
      let lo: f32 = 1,
        hi: f32 = 0;
      const first = max(0, from - reach) / GROUP,
        last = min(w - 1, to - 1 + reach) / GROUP;
      for (let g = first; g <= last; g++) {
        lo = min<f32>(lo, load<f32>(lows + ((<usize>g) << 2)));
        hi = max<f32>(hi, load<f32>(highs + ((<usize>g) << 2)));
      }
      const top = f32x4.splat(choke ? lo : hi);
      let x = from;
      if (lo == hi) {
        for (; x < to; x++) store<f32>(out + ((<usize>x) << 2), lo);
        continue;
      }
      while (x < to) {
        if (x + 4 <= to && x - reach >= 0 && x + 4 + reach < w) {
          const v = choke ? choked4(k, m, x, y, w, h, R, count, top) : grown4(k, m, x, y, w, h, R, count, top);
          v128.store(out + ((<usize>x) << 2), v);
          x += 4;
        } else {
          const v = single(k, m, x, y, w, h, choke, R, count);
          store<f32>(out + ((<usize>x) << 2), choke ? max<f32>(v, lo) : min<f32>(v, hi));
          x++;
        }
      }
    }
  }
}
