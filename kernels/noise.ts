/** Twin of src/core/ops/noise, to the bit: see there for the method. */

// @ts-ignore: decorator
@inline function held(i: i32, n: i32): i32 {
  return i < 0 ? 0 : i >= n ? n - 1 : i;
}
function select(a: usize, n: i32, k: i32): f32 {
  let lo = 0,
    hi = n - 1;
  while (lo < hi) {
    const x = load<f32>(a + ((<usize>k) << 2));
    let i = lo,
      j = hi;
    do {
      while (load<f32>(a + ((<usize>i) << 2)) < x) i++;
      while (x < load<f32>(a + ((<usize>j) << 2))) j--;
      if (i <= j) {
        const p = a + ((<usize>i) << 2),
          q = a + ((<usize>j) << 2);
        const t = load<f32>(p);
        store<f32>(p, load<f32>(q));
        store<f32>(q, t);
        i++;
        j--;
      }
    } while (i <= j);
    if (j < k) lo = i;
    if (k < i) hi = j;
  }
  return load<f32>(a + ((<usize>k) << 2));
}

/** All that sixteen pixels from x on see is one value. */
function alike(src: usize, w: i32, h: i32, x: i32, y: i32, r: i32): bool {
  const first = v128.load32_splat(src + ((<usize>(y * w + x)) << 2));
  for (let dy = -r; dy <= r; dy++) {
    const row = src + ((<usize>(held(y + dy, h) * w + x - r)) << 2);
    for (let i = 0; i < 16 + 2 * r; i += 4)
      if (!v128.all_true<i32>(f32x4.eq(v128.load(row + ((<usize>i) << 2)), first))) return false;
  }
  return true;
}

export function area_noise_median(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
): void {
  const r = <i32>load<f32>(k);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < w; x++) {
      // Most of a matte is nothing or full: sixteen pixels that see one value alone keep it.
      if ((x & 15) == 0 && x >= r && x + 16 + r + 4 < w && alike(src, w, h, x, y, r)) {
        const v = load<f32>(src + ((<usize>(y * w + x)) << 2));
        const row = dst + ((<usize>(y * w + x)) << 2);
        for (let i: usize = 0; i < 64; i += 4) store<f32>(row + i, v > 0 ? v : 0);
        x += 15;
        continue;
      }
      const inner = x >= r && x + r < w;
      let n = 0;
      let least: f32 = Infinity,
        most: f32 = -Infinity;
      for (let dy = -r; dy <= r; dy++) {
        const row = src + ((<usize>(held(y + dy, h) * w)) << 2);
        const half = <i32>Math.floor(Math.sqrt(<f64>(r * r + r - dy * dy)));
        for (let dx = -half; dx <= half; dx++) {
          const v = load<f32>(row + ((<usize>(inner ? x + dx : held(x + dx, w))) << 2));
          const u: f32 = v > 0 ? v : 0;
          least = u < least ? u : least;
          most = u > most ? u : most;
          store<f32>(scratch + ((<usize>n) << 2), u);
          n++;
        }
      }
      store<f32>(dst + ((<usize>(y * w + x)) << 2), least == most ? least : select(scratch, n, n >> 1));
    }
}
