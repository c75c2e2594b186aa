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
    most = plane(t, 3);
  for (let y = y0; y < y1; y++) {
    const row = (<usize>(y * w)) << 2;
    for (let g = 0; g * GROUP < w; g++) {
      let lo: f32 = 1,
        hi: f32 = 0;
      const end = min(w, (g + 1) * GROUP);
      let x = g * GROUP;
      if (end - x == GROUP) {
        const p = m + row + ((<usize>x) << 2);
        const a = four(p, false),
          b = four(p + 16, false),
          c = four(p + 32, false),
          d = four(p + 48, false);
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
        lo = min<f32>(lo, u);
        hi = max<f32>(hi, u);
      }
      store<f32>(least + row + ((<usize>g) << 2), lo);
      store<f32>(most + row + ((<usize>g) << 2), hi);
    }
  }
}

// @ts-ignore: decorator
@inline function at(m: usize, x: i32, y: i32, w: i32, h: i32, choke: bool): f32 {
  const u = unit(load<f32>(m + ((<usize>(held(y, h) * w + held(x, w))) << 2)));
  return choke ? -u : u;
}
/** Anywhere, one pixel at a time. */
function single(k: usize, m: usize, x: i32, y: i32, w: i32, h: i32, choke: bool, R: i32, count: i32): f32 {
  const rows = k + 16,
    dots = k + ((<usize>(5 + 2 * R)) << 2);
  let best: f32 = -1;
  for (let dy = -R; dy <= R; dy++) {
    const half = <i32>load<f32>(rows + ((<usize>(dy + R)) << 2));
    for (let dx = -half; dx <= half; dx++) best = max<f32>(best, at(m, x + dx, y + dy, w, h, choke));
  }
  for (let i = 0; i < count; i++) {
    const p = dots + ((<usize>i) << 4);
    const ix = x + <i32>load<f32>(p),
      iy = y + <i32>load<f32>(p + 4);
    const fx = load<f32>(p + 8),
      fy = load<f32>(p + 12);
    const a = at(m, ix, iy, w, h, choke),
      b = at(m, ix + 1, iy, w, h, choke),
      c = at(m, ix, iy + 1, w, h, choke),
      d = at(m, ix + 1, iy + 1, w, h, choke);
    const top: f32 = a + fx * (b - a),
      low: f32 = c + fx * (d - c);
    best = max<f32>(best, top + fy * (low - top));
  }
  return best;
}
// @ts-ignore: decorator
@inline function four(p: usize, choke: bool): v128 {
  const one = f32x4.splat(1);
  const u = f32x4.pmin(f32x4.pmax(f32x4.splat(0), v128.load(p)), one);
  return choke ? f32x4.neg(u) : u;
}
/** Four pixels whose reach lies within the row. */
function together(
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
  let best = four(m + ((<usize>(y * w + x)) << 2), choke);
  for (let dy = -R; dy <= R; dy++) {
    const half = <i32>load<f32>(rows + ((<usize>(dy + R)) << 2));
    const row = m + ((<usize>(held(y + dy, h) * w + x)) << 2);
    for (let dx = -half; dx <= half; dx++) best = f32x4.max(best, four(row + ((<isize>dx) << 2), choke));
    // Nothing in reach is more.
    if (v128.all_true<i32>(f32x4.ge(best, most))) return best;
  }
  for (let i = 0; i < count; i++) {
    const p = dots + ((<usize>i) << 4);
    const ix = x + <i32>load<f32>(p),
      iy = y + <i32>load<f32>(p + 4);
    const fx = v128.load32_splat(p + 8),
      fy = v128.load32_splat(p + 12);
    const upper = m + ((<usize>(held(iy, h) * w + ix)) << 2),
      lower = m + ((<usize>(held(iy + 1, h) * w + ix)) << 2);
    const a = four(upper, choke),
      c = four(lower, choke);
    const top = f32x4.add(a, f32x4.mul(fx, f32x4.sub(four(upper + 4, choke), a)));
    const low = f32x4.add(c, f32x4.mul(fx, f32x4.sub(four(lower + 4, choke), c)));
    best = f32x4.max(best, f32x4.add(top, f32x4.mul(fy, f32x4.sub(low, top))));
  }
  return f32x4.min(best, most);
}

export function frame_grow_grow(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const choke = load<f32>(k) > 0;
  const R = <i32>load<f32>(k + 4),
    reach = <i32>load<f32>(k + 8),
    count = <i32>load<f32>(k + 12);
  const m = plane(t, 0),
    dst = plane(t, 1),
    least = plane(t, 2),
    most = plane(t, 3);
  const zero = f32x4.splat(0);
  for (let y = y0; y < y1; y++) {
    const out = dst + ((<usize>(y * w)) << 2);
    for (let from = 0; from < w; from += GROUP) {
      const to = min(w, from + GROUP);
      let lo: f32 = 1,
        hi: f32 = 0;
      const first = max(0, from - reach) / GROUP,
        last = min(w - 1, to - 1 + reach) / GROUP;
      for (let yy = y - reach; yy <= y + reach; yy++) {
        const row = (<usize>(held(yy, h) * w)) << 2;
        for (let g = first; g <= last; g++) {
          lo = min<f32>(lo, load<f32>(least + row + ((<usize>g) << 2)));
          hi = max<f32>(hi, load<f32>(most + row + ((<usize>g) << 2)));
        }
      }
      const top = f32x4.splat(choke ? -lo : hi);
      let x = from;
      if (lo == hi) {
        for (; x < to; x++) store<f32>(out + ((<usize>x) << 2), lo);
        continue;
      }
      while (x < to) {
        if (x + 4 <= to && x - reach >= 0 && x + 4 + reach < w) {
          const v = together(k, m, x, y, w, h, choke, R, count, top);
          v128.store(out + ((<usize>x) << 2), choke ? f32x4.add(f32x4.neg(v), zero) : v);
          x += 4;
        } else {
          const v = min<f32>(single(k, m, x, y, w, h, choke, R, count), choke ? -lo : hi);
          store<f32>(out + ((<usize>x) << 2), choke ? -v + 0 : v);
          x++;
        }
      }
    }
  }
}
