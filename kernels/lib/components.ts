import { zeroFloats } from './move';

/** Twin of src/core/op/components.ts, to the bit. Planes of float32 and of int32, four bytes a pixel. */

// @ts-ignore: decorator
@inline function i32at(p: usize, i: i32): i32 {
  return load<i32>(p + ((<usize>i) << 2));
}
// @ts-ignore: decorator
@inline function put(p: usize, i: i32, v: i32): void {
  store<i32>(p + ((<usize>i) << 2), v);
}
// @ts-ignore: decorator
@inline function f32at(p: usize, i: i32): f32 {
  return load<f32>(p + ((<usize>i) << 2));
}

function find(parent: usize, i: i32): i32 {
  let p = i32at(parent, i);
  while (p != i) {
    const up = i32at(parent, p);
    put(parent, i, up);
    i = up;
    p = i32at(parent, i);
  }
  return i;
}
function unite(parent: usize, i: i32, j: i32): void {
  const a = find(parent, i),
    b = find(parent, j);
  if (a < b) put(parent, b, a);
  else put(parent, a, b);
}
/** `level`: pixels from it on; with `above` those above 0. */
function components(parent: usize, src: usize, w: i32, h: i32, level: f32, above: bool, eight: bool): void {
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const v = f32at(src, i);
      if (above ? !(v > 0) : !(v >= level)) {
        put(parent, i, -1);
        continue;
      }
      const left = x > 0 && i32at(parent, i - 1) >= 0;
      if (y == 0) {
        put(parent, i, left ? find(parent, i - 1) : i);
        continue;
      }
      const before = x > 0 && i32at(parent, i - w - 1) >= 0;
      if (i32at(parent, i - w) >= 0) {
        // What else it touches hangs together with the one above already, unless by sides alone.
        put(parent, i, find(parent, i - w));
        if (left && !eight && !before) unite(parent, i, i - 1);
        continue;
      }
      const one = left ? i - 1 : eight && before ? i - w - 1 : -1;
      put(parent, i, one >= 0 ? find(parent, one) : i);
      if (eight && x + 1 < w && i32at(parent, i - w + 1) >= 0) unite(parent, i, i - w + 1);
    }
}

export function dropIslands(
  src: usize,
  dst: usize,
  strong: usize,
  count: usize,
  weak: usize,
  whole: usize,
  w: i32,
  h: i32,
  level: f32,
  least: f32,
  eight: bool,
): void {
  const n = w * h;
  components(strong, src, w, h, level, false, eight);
  zeroFloats(count, (<usize>n) << 2);
  for (let i = 0; i < n; i++)
    if (i32at(strong, i) >= 0) {
      const r = find(strong, i);
      put(count, r, i32at(count, r) + 1);
    }
  components(weak, src, w, h, 0, true, eight);
  zeroFloats(whole, (<usize>n) << 2);
  for (let i = 0; i < n; i++)
    if (i32at(weak, i) >= 0) {
      const r = find(weak, i);
      put(whole, r, i32at(whole, r) + 1);
    }
  for (let i = 0; i < n; i++)
    if (i32at(strong, i) >= 0 && <f32>i32at(count, find(strong, i)) >= least) {
      const r = find(weak, i);
      put(whole, r, i32at(whole, r) | 0x40000000);
    }
  for (let i = 0; i < n; i++) {
    const kept =
      i32at(strong, i) >= 0
        ? <f32>i32at(count, find(strong, i)) >= least
        : i32at(weak, i) < 0 || <f64>i32at(whole, find(weak, i)) >= 4 * <f64>least;
    put(dst, i, kept ? i32at(src, i) : 0);
  }
}
