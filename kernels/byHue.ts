/** Twin of src/core/ops/byHue: a table of 1025 places over the circle, turn, saturation and level side by side. */
import { hermite } from './lib/math';

/** All numbers of a place by one load, and a share `f` of the way to the next one; of one lane. */
// @ts-ignore: decorator
@inline function placeAt(k: usize, byte: i32, f: v128): v128 {
  const p = v128.load(k + byte),
    q = v128.load(k + byte, 16);
  return f32x4.add(p, f32x4.mul(f, f32x4.sub(q, p)));
}
/** 1 + a z + b z^2 + c z^3 + d z^4. */
// @ts-ignore: decorator
@inline function series(z: v128, a: f64, b: f64, c: f64, d: f64): v128 {
  let p = f32x4.add(f32x4.mul(f32x4.splat(<f32>d), z), f32x4.splat(<f32>c));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(<f32>b));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(<f32>a));
  return f32x4.add(f32x4.mul(p, z), f32x4.splat(1));
}

/** Cells of the table once round. */
const ROUND: f32 = 1024;
/**
 * Place of a hue in the table, 0..1024: the angle's Chebyshev interpolation, fitted by us, within 1e-5 of a cell. Its
 * even and odd powers are two chains, each half as long. The origin lies at 0.
 */
// @ts-ignore: decorator
@inline function placeOf(y: v128, x: v128): v128 {
  const zero = f32x4.splat(0);
  const ax = f32x4.abs(x),
    ay = f32x4.abs(y);
  const swap = f32x4.gt(ay, ax);
  const hi = v128.bitselect(ay, ax, swap),
    lo = v128.bitselect(ax, ay, swap);
  const t = v128.bitselect(zero, f32x4.div(lo, hi), f32x4.eq(hi, zero));
  const z = f32x4.mul(t, t);
  const zz = f32x4.mul(z, z);
  let p = f32x4.add(f32x4.mul(f32x4.splat(3.875621974), zz), f32x4.splat(16.0837501));
  let q = f32x4.add(f32x4.mul(f32x4.splat(-0.7431305564), zz), f32x4.splat(-9.587759117));
  p = f32x4.add(f32x4.mul(p, zz), f32x4.splat(32.5410885));
  q = f32x4.add(f32x4.mul(q, zz), f32x4.splat(-22.82181481));
  p = f32x4.add(f32x4.mul(p, zz), f32x4.splat(162.9746425));
  q = f32x4.add(f32x4.mul(q, zz), f32x4.splat(-54.32240892));
  let a = f32x4.mul(f32x4.add(p, f32x4.mul(q, z)), t);
  a = v128.bitselect(f32x4.sub(f32x4.splat(ROUND / 4), a), a, swap);
  a = v128.bitselect(f32x4.sub(f32x4.splat(ROUND / 2), a), a, f32x4.lt(x, zero));
  return v128.bitselect(f32x4.sub(f32x4.splat(ROUND), a), a, f32x4.lt(y, zero));
}

export function px_byHue(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const KR = f32x4.splat(0.2126),
    KG = f32x4.splat(0.7152),
    KB = f32x4.splat(0.0722);
  const one = f32x4.splat(1),
    zero = f32x4.splat(0);
  const quarter = f32x4.splat(<f32>(Math.PI / 720));
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    const y = f32x4.add(f32x4.add(f32x4.mul(KR, R), f32x4.mul(KG, G)), f32x4.mul(KB, B));
    const cb = f32x4.mul(f32x4.sub(B, y), f32x4.splat(1 / 1.8556)),
      cr = f32x4.mul(f32x4.sub(R, y), f32x4.splat(1 / 1.5748));
    const chroma = f32x4.mul(f32x4.splat(200), f32x4.sqrt(f32x4.add(f32x4.mul(cb, cb), f32x4.mul(cr, cr))));
    const at = placeOf(cr, cb);
    const cell = i32x4.trunc_sat_f32x4_s(f32x4.pmin(f32x4.pmax(zero, at), f32x4.splat(1023.5)));
    const f = f32x4.sub(at, f32x4.convert_i32x4_s(cell));
    const byte = i32x4.shl(cell, 4);
    const p0 = placeAt(k, i32x4.extract_lane(byte, 0), v128.shuffle<f32>(f, f, 0, 0, 0, 0)),
      p1 = placeAt(k, i32x4.extract_lane(byte, 1), v128.shuffle<f32>(f, f, 1, 1, 1, 1)),
      p2 = placeAt(k, i32x4.extract_lane(byte, 2), v128.shuffle<f32>(f, f, 2, 2, 2, 2)),
      p3 = placeAt(k, i32x4.extract_lane(byte, 3), v128.shuffle<f32>(f, f, 3, 3, 3, 3));
    // Turn and saturation of two lanes side by side, then each of all four.
    const low = v128.shuffle<f32>(p0, p1, 0, 4, 1, 5),
      high = v128.shuffle<f32>(p2, p3, 0, 4, 1, 5);
    const turns = v128.shuffle<f32>(low, high, 0, 1, 4, 5),
      sats = v128.shuffle<f32>(low, high, 2, 3, 6, 7);
    const levels = v128.shuffle<f32>(
      v128.shuffle<f32>(p0, p1, 2, 6, 3, 7),
      v128.shuffle<f32>(p2, p3, 2, 6, 3, 7),
      0,
      1,
      4,
      5,
    );
    // Sine and cosine of a quarter of the turn by their series, doubled twice: 0 is exactly no turn.
    const q = f32x4.mul(turns, quarter);
    const z = f32x4.mul(q, q);
    const s1 = f32x4.mul(q, series(z, -1.0 / 6.0, 1.0 / 120.0, -1.0 / 5040.0, 1.0 / 362880.0));
    const c1 = series(z, -1.0 / 2.0, 1.0 / 24.0, -1.0 / 720.0, 1.0 / 40320.0);
    const two = f32x4.splat(2);
    const s2 = f32x4.mul(two, f32x4.mul(s1, c1)),
      c2 = f32x4.sub(one, f32x4.mul(two, f32x4.mul(s1, s1)));
    const gain = f32x4.add(one, sats);
    const s = f32x4.mul(gain, f32x4.mul(two, f32x4.mul(s2, c2))),
      c = f32x4.sub(f32x4.mul(gain, f32x4.sub(one, f32x4.mul(two, f32x4.mul(s2, s2)))), one);
    const some = hermite(f32x4.mul(f32x4.sub(chroma, one), f32x4.splat(0.2)));
    const level = f32x4.add(one, f32x4.mul(levels, some));
    const db = f32x4.sub(f32x4.mul(c, cb), f32x4.mul(s, cr)),
      dr = f32x4.add(f32x4.mul(s, cb), f32x4.mul(c, cr));
    const dg = f32x4.add(
      f32x4.mul(f32x4.splat(<f32>((-0.0722 * 1.8556) / 0.7152)), db),
      f32x4.mul(f32x4.splat(<f32>((-0.2126 * 1.5748) / 0.7152)), dr),
    );
    v128.store(r + i, f32x4.mul(level, f32x4.add(R, f32x4.mul(f32x4.splat(1.5748), dr))));
    v128.store(g + i, f32x4.mul(level, f32x4.add(G, dg)));
    v128.store(b + i, f32x4.mul(level, f32x4.add(B, f32x4.mul(f32x4.splat(1.8556), db))));
  }
}
