import { moveFloats, zeroFloats } from './move';

/**
 * Twin of src/core/op/components.ts, to the bit, by runs of a row instead of pixels: what hangs together and how much
 * it is does not depend on how it is counted. Per kind of run two planes: whose it is (its parent's number; of a root
 * its size, negative), and where it lies (first and one past its last pixel, sixteen bits each). A row of w pixels has
 * at most (w + 1) / 2 runs, so that a plane always has room, and for where each row's runs begin behind the spans.
 */

// @ts-ignore: decorator
@inline function i32at(p: usize, i: i32): i32 {
  return load<i32>(p + ((<usize>i) << 2));
}
// @ts-ignore: decorator
@inline function put(p: usize, i: i32, v: i32): void {
  store<i32>(p + ((<usize>i) << 2), v);
}
// @ts-ignore: decorator
@inline function from(span: i32): i32 {
  return span & 0xffff;
}
// @ts-ignore: decorator
@inline function past(span: i32): i32 {
  return span >>> 16;
}

function find(owner: usize, i: i32): i32 {
  let p = i32at(owner, i);
  while (p >= 0) {
    const up = i32at(owner, p);
    if (up < 0) return p;
    put(owner, i, up);
    i = up;
    p = i32at(owner, i);
  }
  return i;
}
function unite(owner: usize, i: i32, j: i32): void {
  let a = find(owner, i),
    b = find(owner, j);
  if (a == b) return;
  // The larger one takes the other in.
  if (i32at(owner, a) > i32at(owner, b)) {
    const t = a;
    a = b;
    b = t;
  }
  put(owner, a, i32at(owner, a) + i32at(owner, b));
  put(owner, b, a);
}

/** Which of four pixels count: from a level on, or with `above` what is more than 0. */
// @ts-ignore: decorator
@inline function marks(p: usize, level: f32, above: bool): i32 {
  const v = v128.load(p);
  return i32x4.bitmask(above ? f32x4.gt(v, f32x4.splat(0)) : f32x4.ge(v, f32x4.splat(level)));
}
// @ts-ignore: decorator
@inline function marked(p: usize, level: f32, above: bool): bool {
  const v = load<f32>(p);
  return above ? v > 0 : v >= level;
}

/** Where the numbers of the first runs of the rows stand. */
// @ts-ignore: decorator
@inline function startsOf(spans: usize, w: i32, h: i32): usize {
  return spans + ((<usize>(((w + 1) >> 1) * h)) << 2);
}

/** Runs of every row, joined with those of the row above that they touch. Returns how many there are. */
function components(owner: usize, spans: usize, src: usize, w: i32, h: i32, level: f32, above: bool, eight: bool): i32 {
  const starts = startsOf(spans, w, h);
  let count = 0,
    before = 0;
  // Corners touch as well where eight neighbours count.
  const reach = eight ? 1 : 0;
  for (let y = 0; y < h; y++) {
    const row = src + ((<usize>(y * w)) << 2);
    const first = count;
    put(starts, y, first);
    let x = 0;
    while (x < w) {
      while (x + 4 <= w && marks(row + ((<usize>x) << 2), level, above) == 0) x += 4;
      while (x < w && !marked(row + ((<usize>x) << 2), level, above)) x++;
      if (x >= w) break;
      const start = x;
      while (x + 4 <= w && marks(row + ((<usize>x) << 2), level, above) == 15) x += 4;
      while (x < w && marked(row + ((<usize>x) << 2), level, above)) x++;
      put(spans, count, start | (x << 16));
      put(owner, count, start - x);
      count++;
    }
    let up = before;
    for (let i = first; i < count; i++) {
      const span = i32at(spans, i);
      while (up < first && past(i32at(spans, up)) + reach <= from(span)) up++;
      for (let j = up; j < first && from(i32at(spans, j)) < past(span) + reach; j++) unite(owner, i, j);
    }
    before = first;
  }
  return count;
}

/** Weak components with this size, taken as negative, hold a strong one that stays. */
const HELD: i32 = -0x40000000;

export function dropIslands(
  src: usize,
  dst: usize,
  strong: usize,
  strongAt: usize,
  weak: usize,
  weakAt: usize,
  w: i32,
  h: i32,
  level: f32,
  least: f32,
  eight: bool,
): void {
  if (w == 1 && h > 1) return dropIslands(src, dst, strong, strongAt, weak, weakAt, h, 1, level, least, eight);
  const bytes = (<usize>(w * h)) << 2;
  moveFloats(dst, src, bytes);
  if (w * h == 1) {
    const v = load<f32>(src);
    if (v >= level ? least > 1 : v > 0 && <f64>least > 0.25) store<u32>(dst, 0);
    return;
  }
  const strongs = components(strong, strongAt, src, w, h, level, false, eight);
  const weaks = components(weak, weakAt, src, w, h, 0, true, eight);
  const strongStarts = startsOf(strongAt, w, h),
    weakStarts = startsOf(weakAt, w, h);
  // What is only a little holds on to what stays and hangs together with it.
  for (let y = 0; y < h; y++) {
    const end = y + 1 < h ? i32at(strongStarts, y + 1) : strongs,
      weakEnd = y + 1 < h ? i32at(weakStarts, y + 1) : weaks;
    let j = i32at(weakStarts, y);
    for (let i = i32at(strongStarts, y); i < end; i++) {
      if (<f32>-i32at(strong, find(strong, i)) < least) continue;
      const span = i32at(strongAt, i);
      while (j < weakEnd && past(i32at(weakAt, j)) <= from(span)) j++;
      for (let k = j; k < weakEnd && from(i32at(weakAt, k)) < past(span); k++) put(weak, find(weak, k), HELD);
    }
  }
  for (let y = 0; y < h; y++) {
    const row = (<usize>(y * w)) << 2;
    for (let j = i32at(weakStarts, y), end = y + 1 < h ? i32at(weakStarts, y + 1) : weaks; j < end; j++) {
      const size = i32at(weak, find(weak, j));
      if (<f64>-size < 4 * <f64>least && size != HELD) clear(dst + row, i32at(weakAt, j));
    }
    for (let i = i32at(strongStarts, y), end = y + 1 < h ? i32at(strongStarts, y + 1) : strongs; i < end; i++) {
      const span = i32at(strongAt, i);
      if (<f32>-i32at(strong, find(strong, i)) < least) clear(dst + row, span);
      else {
        const at = row + ((<usize>from(span)) << 2);
        moveFloats(dst + at, src + at, (<usize>(past(span) - from(span))) << 2);
      }
    }
  }
}
function clear(row: usize, span: i32): void {
  zeroFloats(row + ((<usize>from(span)) << 2), (<usize>(past(span) - from(span))) << 2);
}
