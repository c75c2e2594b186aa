/** Twin of src/core/ops/feather: see there for the method. The box passes agree with it to the bit. */
import { moveFloats, zeroFloats } from './lib/move';

const ONE: i32 = 1 << 20;

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
  const weights = k + 8;
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
  const weights = k + 8;
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
  const from: f32 = load<f32>(k) >= 4 ? 0 : 1;
  for (let i = (<usize>(y0 * w)) << 2, end = (<usize>(y1 * w)) << 2; i < end; i += 4) {
    const v: f32 = 2 * load<f32>(src + i) - from;
    store<f32>(dst + i, v > 0 ? (v < 1 ? v : 1) : 0);
  }
}
