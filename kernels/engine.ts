/** What the engine itself does to planes: limiting by the matte, joining mattes, halving, copying out. */
import { moveFloats } from './lib/move';

/**
 * o <- in + m mix (op - in); where m mix is 0 the bits of `in` are copied, where it is 1 the bits of `op`.
 * m = 0 as an address means a matte of 1 everywhere. Results go to the `op` buffers. Padded buffers.
 */
export function blend(ir: usize, ig: usize, ib: usize, r: usize, g: usize, b: usize, m: usize, mix: f32, n: i32): void {
  const zero = f32x4.splat(0),
    one = f32x4.splat(1),
    mixv = f32x4.splat(mix);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const k = m ? f32x4.mul(v128.load(m + i), mixv) : mixv;
    const none = f32x4.le(k, zero),
      all = f32x4.ge(k, one);
    for (let c = 0; c < 3; c++) {
      const ip = (c == 0 ? ir : c == 1 ? ig : ib) + i;
      const op = (c == 0 ? r : c == 1 ? g : b) + i;
      const a = v128.load(ip),
        o = v128.load(op);
      let v = f32x4.add(a, f32x4.mul(k, f32x4.sub(o, a)));
      v = v128.bitselect(o, v, all);
      v128.store(op, v128.bitselect(a, v, none));
    }
  }
}

/**
 * Changes that stand beside each other, added up: cur <- cur + (own - start). Where one of the two still has the bits
 * of start, the other's bits stand. Padded buffers.
 */
export function beside(start: usize, cur: usize, own: usize, n: i32): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const s = v128.load(start + i),
      a = v128.load(cur + i),
      b = v128.load(own + i);
    let v = f32x4.add(a, f32x4.sub(b, s));
    v = v128.bitselect(b, v, i32x4.eq(a, s));
    v128.store(cur + i, v128.bitselect(a, v, i32x4.eq(b, s)));
  }
}

/** True where every value of the run is 0 (padded buffer). */
export function allZero(m: usize, n: i32): i32 {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    if (v128.any_true(f32x4.ne(v128.load(m + i), f32x4.splat(0)))) return 0;
  return 1;
}

/** how 0: a <- min(a, b); 1: a <- max(a, b); `not` turns b into 1 - b first. Padded buffers. */
export function join(a: usize, b: usize, how: i32, not: i32, n: i32): void {
  const one = f32x4.splat(1);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    let v = v128.load(b + i);
    if (not) v = f32x4.sub(one, v);
    const p = v128.load(a + i);
    v128.store(a + i, how == 0 ? f32x4.pmin(p, v) : how == 1 ? f32x4.pmax(p, v) : v);
  }
}

/** Rows y0..y1 of a plane half as large: the mean of 2x2 pixels, an odd last column or row repeated. */
export function halve(src: usize, dst: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const hw = (w + 1) >> 1;
  for (let y = y0; y < y1; y++) {
    const a = src + ((<usize>(2 * y * w)) << 2);
    const b = 2 * y + 1 < h ? a + ((<usize>w) << 2) : a;
    const out = dst + ((<usize>(y * hw)) << 2);
    for (let x = 0; x < hw; x++) {
      const x0 = (<usize>(2 * x)) << 2;
      const x1 = 2 * x + 1 < w ? x0 + 4 : x0;
      store<f32>(
        out + ((<usize>x) << 2),
        0.25 * (load<f32>(a + x0) + load<f32>(a + x1) + load<f32>(b + x0) + load<f32>(b + x1)),
      );
    }
  }
}

/**
 * One row of a plane as a view sees it: out[i] = bilinear value between rows a and b (weight fy) and columns x0[i],
 * x1[i]
 * (weight fx[i]). Columns are byte offsets.
 */
export function sampleRow(a: usize, b: usize, fy: f32, x0: usize, x1: usize, fx: usize, n: i32, out: usize): void {
  if (a == b || fy == 0) {
    for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
      const p = load<f32>(a + load<u32>(x0 + i));
      store<f32>(out + i, p + load<f32>(fx + i) * (load<f32>(a + load<u32>(x1 + i)) - p));
    }
    return;
  }
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const l = <usize>load<u32>(x0 + i),
      r = <usize>load<u32>(x1 + i);
    const f = load<f32>(fx + i);
    const p: f32 = load<f32>(a + l),
      q: f32 = load<f32>(b + l);
    const top: f32 = p + f * (load<f32>(a + r) - p);
    const low: f32 = q + f * (load<f32>(b + r) - q);
    store<f32>(out + i, top + fy * (low - top));
  }
}

/** Three rows of values 0..1 to opaque RGBA bytes; rounds to nearest and clamps. Padded rows, four pixels at a time. */
export function packRow(r: usize, g: usize, b: usize, n: i32, out: usize): void {
  const k = f32x4.splat(255),
    half = f32x4.splat(0.5);
  const zero = f32x4.splat(0),
    top = f32x4.splat(255);
  let i: usize = 0;
  const end = (<usize>(n & ~3)) << 2;
  for (; i < end; i += 16) {
    const R = i32x4.trunc_sat_f32x4_s(
      f32x4.add(f32x4.pmin(f32x4.pmax(zero, f32x4.mul(v128.load(r + i), k)), top), half),
    );
    const G = i32x4.trunc_sat_f32x4_s(
      f32x4.add(f32x4.pmin(f32x4.pmax(zero, f32x4.mul(v128.load(g + i), k)), top), half),
    );
    const B = i32x4.trunc_sat_f32x4_s(
      f32x4.add(f32x4.pmin(f32x4.pmax(zero, f32x4.mul(v128.load(b + i), k)), top), half),
    );
    v128.store(out + i, v128.or(v128.or(R, i32x4.shl(G, 8)), v128.or(i32x4.shl(B, 16), i32x4.splat(<i32>0xff000000))));
  }
  for (const stop = (<usize>n) << 2; i < stop; i += 4) {
    const R = <i32>(min<f32>(max<f32>(load<f32>(r + i) * 255, 0), 255) + 0.5);
    const G = <i32>(min<f32>(max<f32>(load<f32>(g + i) * 255, 0), 255) + 0.5);
    const B = <i32>(min<f32>(max<f32>(load<f32>(b + i) * 255, 0), 255) + 0.5);
    store<i32>(out + i, R | (G << 8) | (B << 16) | (<i32>0xff000000));
  }
}

/** Whole float32 numbers from one place to another. */
export function move(to: usize, from: usize, bytes: usize): void {
  moveFloats(to, from, bytes);
}

/** to[i] += from[i], unsigned whole numbers. Addresses are multiples of 4, no padding needed. */
export function addCounts(to: usize, from: usize, n: i32): void {
  let i: usize = 0;
  const end = (<usize>n) << 2;
  for (const whole = (<usize>(n & ~3)) << 2; i < whole; i += 16)
    v128.store(to + i, i32x4.add(v128.load(to + i), v128.load(from + i)));
  for (; i < end; i += 4) store<u32>(to + i, load<u32>(to + i) + load<u32>(from + i));
}
