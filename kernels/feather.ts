/** Twin of src/core/ops/feather: see there for the method. */
import { moveFloats, zeroFloats } from './lib/move';

// @ts-ignore: decorator
@inline function at(i: i32, n: i32): i32 {
  return i < 0 ? 0 : i >= n ? n - 1 : i;
}

export function area_feather_firH(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
): void {
  const R = <i32>load<f32>(k + 4);
  const weights = k + 20;
  // A copy of the row with both ends held, so that the inner loop needs no test.
  for (let y = y0; y < y1; y++) {
    const row = src + ((<usize>(y * w)) << 2);
    const out = dst + ((<usize>(y * w)) << 2);
    const first = load<f32>(row),
      last = load<f32>(row + ((<usize>(w - 1)) << 2));
    for (let j = 0; j < R; j++) store<f32>(scratch + ((<usize>j) << 2), first);
    moveFloats(scratch + ((<usize>R) << 2), row, (<usize>w) << 2);
    for (let j = 0; j < R + 4; j++) store<f32>(scratch + ((<usize>(R + w + j)) << 2), last);
    const mid = scratch + ((<usize>R) << 2);
    let x = 0;
    for (; x + 4 <= w; x += 4) {
      const p = mid + ((<usize>x) << 2);
      let sum = f32x4.mul(v128.load32_splat(weights), v128.load(p));
      for (let j = 1; j <= R; j++) {
        const o = (<usize>j) << 2;
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(weights + o), f32x4.add(v128.load(p - o), v128.load(p + o))));
      }
      v128.store(out + ((<usize>x) << 2), sum);
    }
    for (; x < w; x++) {
      const p = mid + ((<usize>x) << 2);
      let sum: f32 = load<f32>(weights) * load<f32>(p);
      for (let j = 1; j <= R; j++) {
        const o = (<usize>j) << 2;
        sum += load<f32>(weights + o) * (load<f32>(p - o) + load<f32>(p + o));
      }
      store<f32>(out + ((<usize>x) << 2), sum);
    }
  }
}

/** Columns handled together: all the rows that a pixel reaches stay in the second-level cache. */
const TILE: i32 = 512;

export function area_feather_firV(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
): void {
  const R = <i32>load<f32>(k + 4);
  const weights = k + 20;
  const one = f32x4.splat(1),
    full = f32x4.splat(0.999999);
  for (let x0 = 0; x0 < w; x0 += TILE) {
    const x1 = min(x0 + TILE, w);
    for (let y = y0; y < y1; y++) {
      const out = dst + ((<usize>(y * w)) << 2);
      // Row by row, so that memory is read in order: out = w0 row, then out += wj (row - j, row + j).
      for (let j = 0; j <= R; j++) {
        const a = src + ((<usize>(at(y - j, h) * w)) << 2);
        const b = src + ((<usize>(at(y + j, h) * w)) << 2);
        const wj: f32 = load<f32>(weights + ((<usize>j) << 2));
        const wv = f32x4.splat(wj);
        let x = x0;
        for (; x + 4 <= x1; x += 4) {
          const o = (<usize>x) << 2;
          if (j == 0) v128.store(out + o, f32x4.mul(wv, v128.load(a + o)));
          else
            v128.store(
              out + o,
              f32x4.add(v128.load(out + o), f32x4.mul(wv, f32x4.add(v128.load(a + o), v128.load(b + o)))),
            );
        }
        for (; x < x1; x++) {
          const o = (<usize>x) << 2;
          if (j == 0) store<f32>(out + o, wj * load<f32>(a + o));
          else store<f32>(out + o, load<f32>(out + o) + wj * (load<f32>(a + o) + load<f32>(b + o)));
        }
      }
      let x = x0;
      for (; x + 4 <= x1; x += 4) {
        const o = out + ((<usize>x) << 2);
        const v = v128.load(o);
        v128.store(o, v128.bitselect(one, v, f32x4.gt(v, full)));
      }
      for (; x < x1; x++) {
        const o = out + ((<usize>x) << 2);
        const v = load<f32>(o);
        if (v > <f32>0.999999) store<f32>(o, 1);
      }
    }
  }
}

/** Of the boxes of version 1, which agree with the definition to the bit. */
const ONE: i32 = 1 << 20;

/** Under so many pixels in a line the knots would find no room (src/core/ops/feather: LEAST). */
const LEAST: i32 = 8;

// @ts-ignore: decorator
@inline function knotsOf(n: i32, step: i32, from: i32): i32 {
  return (n - 1 + from) / step + 4;
}
// @ts-ignore: decorator
@inline function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3));
}

export function area_feather_knotH(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
  left: i32,
  top: i32,
): void {
  if (w < LEAST || h < LEAST) return area_feather_firH(k, src, dst, scratch, w, h, y0, y1);
  const R = <i32>load<f32>(k + 8),
    step = <i32>load<f32>(k + 12);
  const weights = k + ((<usize>(6 + <i32>load<f32>(k + 4))) << 2);
  const taps = (2 * R + 1 + 3) & ~3;
  const begin = left % step;
  const count = knotsOf(w, step, begin);
  for (let y = y0; y < y1; y++) {
    const row = src + ((<usize>(y * w)) << 2),
      out = dst + ((<usize>(y * w)) << 2);
    for (let j = 0; j < count; j++) {
      const from = (j - 1) * step - begin - R;
      let sum: f32 = 0;
      if (from >= 0 && from + taps <= w) {
        const p = row + ((<usize>from) << 2);
        let a = f32x4.splat(0),
          b = f32x4.splat(0);
        let i = 0;
        for (; i + 8 <= taps; i += 8) {
          const o = (<usize>i) << 2;
          a = f32x4.add(a, f32x4.mul(v128.load(weights + o), v128.load(p + o)));
          b = f32x4.add(b, f32x4.mul(v128.load(weights + o, 16), v128.load(p + o, 16)));
        }
        if (i < taps) {
          const o = (<usize>i) << 2;
          a = f32x4.add(a, f32x4.mul(v128.load(weights + o), v128.load(p + o)));
        }
        sum = sumOf(f32x4.add(a, b));
      } else {
        for (let i = 0; i <= 2 * R; i++)
          sum += load<f32>(weights + ((<usize>i) << 2)) * load<f32>(row + ((<usize>at(from + i, w)) << 2));
      }
      store<f32>(out + ((<usize>j) << 2), sum);
    }
  }
}

export function area_feather_knotV(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
  left: i32,
  top: i32,
): void {
  if (w < LEAST || h < LEAST) return area_feather_firV(k, src, dst, scratch, w, h, y0, y1);
  const R = <i32>load<f32>(k + 8),
    step = <i32>load<f32>(k + 12);
  const weights = k + ((<usize>(6 + <i32>load<f32>(k + 4))) << 2);
  const begin = top % step;
  const columns = knotsOf(w, step, left % step);
  for (let y = y0, end = min(y1, knotsOf(h, step, begin)); y < end; y++) {
    const out = dst + ((<usize>(y * w)) << 2);
    const from = (y - 1) * step - begin - R;
    let x = 0;
    for (; x + 4 <= columns; x += 4) {
      const o = (<usize>x) << 2;
      let sum = f32x4.splat(0);
      for (let i = 0; i <= 2 * R; i++)
        sum = f32x4.add(
          sum,
          f32x4.mul(
            v128.load32_splat(weights + ((<usize>i) << 2)),
            v128.load(src + ((<usize>(at(from + i, h) * w)) << 2) + o),
          ),
        );
      v128.store(out + o, sum);
    }
    for (; x < columns; x++) {
      const o = (<usize>x) << 2;
      let sum: f32 = 0;
      for (let i = 0; i <= 2 * R; i++)
        sum += load<f32>(weights + ((<usize>i) << 2)) * load<f32>(src + ((<usize>(at(from + i, h) * w)) << 2) + o);
      store<f32>(out + o, sum);
    }
  }
}

// @ts-ignore: decorator
@inline function full(v: v128): v128 {
  return v128.bitselect(f32x4.splat(1), v, f32x4.gt(v, f32x4.splat(0.999999)));
}

export function area_feather_spline(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
  left: i32,
  top: i32,
): void {
  if (w < LEAST || h < LEAST) {
    moveFloats(dst + ((<usize>(y0 * w)) << 2), src + ((<usize>(y0 * w)) << 2), (<usize>((y1 - y0) * w)) << 2);
    return;
  }
  const R = <i32>load<f32>(k + 8),
    step = <i32>load<f32>(k + 12);
  const padded = (<usize>((step + 3) & ~3)) << 2;
  const s0 = k + ((<usize>(6 + <i32>load<f32>(k + 4) + ((2 * R + 1 + 3) & ~3))) << 2);
  const s1 = s0 + padded,
    s2 = s1 + padded,
    s3 = s2 + padded;
  const beginX = left % step,
    beginY = top % step;
  const columns = knotsOf(w, step, beginX);
  const pitch = (<usize>w) << 2;
  // Intervals are written in fours, the next one over what is too much of the last: hence a line of our own.
  const line = scratch + ((<usize>((columns + 3) & ~3)) << 2);
  for (let y = y0; y < y1; y++) {
    const row = src + <usize>((y + beginY) / step) * pitch;
    const phase = (<usize>((y + beginY) % step)) << 2;
    const a = load<f32>(s0 + phase),
      b = load<f32>(s1 + phase),
      c = load<f32>(s2 + phase),
      d = load<f32>(s3 + phase);
    for (let x = 0; x < columns; x++) {
      const p = row + ((<usize>x) << 2);
      store<f32>(
        scratch + ((<usize>x) << 2),
        a * load<f32>(p) + b * load<f32>(p + pitch) + c * load<f32>(p + 2 * pitch) + d * load<f32>(p + 3 * pitch),
      );
    }
    for (let j = 0; j * step < w + beginX; j++) {
      const p = scratch + ((<usize>j) << 2),
        to = line + ((<usize>(j * step)) << 2);
      const c0 = v128.load32_splat(p),
        c1 = v128.load32_splat(p + 4),
        c2 = v128.load32_splat(p + 8),
        c3 = v128.load32_splat(p + 12);
      for (let i: usize = 0; i < padded; i += 16) {
        const low = f32x4.add(f32x4.mul(c0, v128.load(s0 + i)), f32x4.mul(c1, v128.load(s1 + i)));
        const high = f32x4.add(f32x4.mul(c2, v128.load(s2 + i)), f32x4.mul(c3, v128.load(s3 + i)));
        v128.store(to + i, full(f32x4.add(low, high)));
      }
    }
    moveFloats(dst + <usize>y * pitch, line + ((<usize>beginX) << 2), pitch);
  }
}

function boxLine(from: usize, to: usize, n: i32, r: i32, alpha: f64, inv: f64): void {
  let sum: i32 = 0;
  for (let j = -r; j <= r; j++) sum += load<i32>(from + ((<usize>at(j, n)) << 2));
  for (let x = 0; x < n; x++) {
    const next = load<i32>(from + ((<usize>at(x + r + 1, n)) << 2));
    const ends = next + load<i32>(from + ((<usize>at(x - r - 1, n)) << 2));
    store<i32>(to + ((<usize>x) << 2), <i32>Math.floor((<f64>sum + alpha * <f64>ends) * inv + 0.5));
    sum += next - load<i32>(from + ((<usize>at(x - r, n)) << 2));
  }
}

export function area_feather_boxH(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
): void {
  const r = <i32>load<f32>(k + 4);
  const alpha = <f64>load<f32>(k + 8);
  const inv: f64 = 1.0 / (<f64>(2 * r + 1) + 2.0 * alpha);
  const other = scratch + ((<usize>w) << 2);
  for (let y = y0; y < y1; y++) {
    const row = src + ((<usize>(y * w)) << 2);
    const out = dst + ((<usize>(y * w)) << 2);
    let any = false;
    for (let x = 0; x < w; x++) {
      const v = load<f32>(row + ((<usize>x) << 2));
      // float64 so that the rounding is the definition's to the bit
      const q: i32 = v > 0 ? <i32>Math.floor(Math.min(<f64>v, 1) * <f64>ONE + 0.5) : 0;
      if (q != 0) any = true;
      store<i32>(scratch + ((<usize>x) << 2), q);
    }
    if (!any) {
      zeroFloats(out, (<usize>w) << 2);
      continue;
    }
    boxLine(scratch, other, w, r, alpha, inv);
    boxLine(other, scratch, w, r, alpha, inv);
    boxLine(scratch, other, w, r, alpha, inv);
    boxLine(other, scratch, w, r, alpha, inv);
    for (let x = 0; x < w; x++) store<f32>(out + ((<usize>x) << 2), <f32>load<i32>(scratch + ((<usize>x) << 2)));
  }
}

function boxV(k: usize, src: usize, dst: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32, out: f64): void {
  const r = <i32>load<f32>(k + 4);
  const alpha = <f64>load<f32>(k + 8);
  const inv: f64 = 1.0 / (<f64>(2 * r + 1) + 2.0 * alpha);
  zeroFloats(scratch, (<usize>w) << 2);
  for (let j = -r; j <= r; j++) {
    const row = src + ((<usize>(at(y0 + j, h) * w)) << 2);
    for (let x = 0; x < w; x++) {
      const o = (<usize>x) << 2;
      store<i32>(scratch + o, load<i32>(scratch + o) + <i32>load<f32>(row + o));
    }
  }
  const inv2 = f64x2.splat(inv),
    half = f64x2.splat(0.5),
    out2 = f64x2.splat(out),
    alpha2 = f64x2.splat(alpha);
  for (let y = y0; y < y1; y++) {
    const to = dst + ((<usize>(y * w)) << 2);
    const add = src + ((<usize>(at(y + r + 1, h) * w)) << 2);
    const end = src + ((<usize>(at(y - r - 1, h) * w)) << 2);
    const sub = src + ((<usize>(at(y - r, h) * w)) << 2);
    let x = 0;
    for (; x + 4 <= w; x += 4) {
      const o = (<usize>x) << 2;
      const sum = v128.load(scratch + o);
      const next = i32x4.trunc_sat_f32x4_s(v128.load(add + o));
      const ends = i32x4.add(next, i32x4.trunc_sat_f32x4_s(v128.load(end + o)));
      const sLo = f64x2.add(f64x2.convert_low_i32x4_s(sum), f64x2.mul(alpha2, f64x2.convert_low_i32x4_s(ends)));
      const sHi = f64x2.add(
        f64x2.convert_low_i32x4_s(i64x2.shuffle(sum, sum, 1, 0)),
        f64x2.mul(alpha2, f64x2.convert_low_i32x4_s(i64x2.shuffle(ends, ends, 1, 0))),
      );
      const lo = f64x2.mul(f64x2.floor(f64x2.add(f64x2.mul(sLo, inv2), half)), out2);
      const hi = f64x2.mul(f64x2.floor(f64x2.add(f64x2.mul(sHi, inv2), half)), out2);
      v128.store(to + o, i64x2.shuffle(f32x4.demote_f64x2_zero(lo), f32x4.demote_f64x2_zero(hi), 0, 2));
      v128.store(scratch + o, i32x4.add(sum, i32x4.sub(next, i32x4.trunc_sat_f32x4_s(v128.load(sub + o)))));
    }
    for (; x < w; x++) {
      const o = (<usize>x) << 2;
      const sum = load<i32>(scratch + o);
      const next = <i32>load<f32>(add + o);
      const ends = next + <i32>load<f32>(end + o);
      store<f32>(to + o, <f32>(Math.floor((<f64>sum + alpha * <f64>ends) * inv + 0.5) * out));
      store<i32>(scratch + o, sum + next - <i32>load<f32>(sub + o));
    }
  }
}
export function area_feather_boxV(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
): void {
  boxV(k, src, dst, scratch, w, h, y0, y1, 1);
}
export function area_feather_boxVLast(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
): void {
  boxV(k, src, dst, scratch, w, h, y0, y1, 1.0 / <f64>ONE);
}

export function area_feather_side(
  k: usize,
  src: usize,
  dst: usize,
  scratch: usize,
  w: i32,
  h: i32,
  y0: i32,
  y1: i32,
): void {
  const from: f32 = (<i32>load<f32>(k)) & 4 ? 0 : 1;
  for (let i = (<usize>(y0 * w)) << 2, end = (<usize>(y1 * w)) << 2; i < end; i += 4) {
    const v: f32 = 2 * load<f32>(src + i) - from;
    store<f32>(dst + i, v > 0 ? (v < 1 ? v : 1) : 0);
  }
}
