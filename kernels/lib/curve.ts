/**
 * Twins of decodeBlock and encodeBlock in src/core/color/curves.ts: the same 12 numbers, four values at a time. The
 * kind is the
 * same for a whole row, so the branch costs nothing.
 */
import { arg, exp2v, log2v, powPositive } from './math';

const M1: f32 = 2610.0 / 16384.0;
const M2: f32 = (2523.0 / 4096.0) * 128.0;
const C1: f32 = 3424.0 / 4096.0;
const C2: f32 = (2413.0 / 4096.0) * 32.0;
const C3: f32 = (2392.0 / 4096.0) * 32.0;
const HA: f32 = 0.17883277;
const HB: f32 = 0.28466892;
const HC: f32 = 0.55991073;
const HLG_WHITE: f32 = 0.26496256;
const LOG2E: f32 = 1.4426950408889634;
const LN2: f32 = 0.6931471805599453;
/** Below this a power is taken of it instead: log2 needs a normal number. */
const TINY: f32 = 1e-30;

// @ts-ignore: decorator
@inline function pos(v: v128): v128 {
  return f32x4.pmax(f32x4.splat(TINY), v);
}
// @ts-ignore: decorator
@inline function signed(y: v128, v: v128): v128 {
  return v128.xor(y, v128.and(v, i32x4.splat(<i32>0x80000000)));
}
/** Infinity and NaN of v come through, whatever y is. */
// @ts-ignore: decorator
@inline function through(y: v128, v: v128): v128 {
  const d = f32x4.sub(v, v);
  return v128.bitselect(y, v, f32x4.eq(d, f32x4.splat(0)));
}

export function decode4(k: usize, v: v128): v128 {
  const kind = <i32>load<f32>(k);
  if (kind == 1) {
    const x = f32x4.abs(v);
    const low = f32x4.div(x, arg(k, 4));
    const a = arg(k, 1);
    const high = powPositive(pos(f32x4.div(f32x4.add(x, a), f32x4.add(f32x4.splat(1), a))), arg(k, 2));
    return through(signed(v128.bitselect(low, high, f32x4.le(x, arg(k, 6))), v), v);
  }
  if (kind == 2) {
    const e = exp2v(f32x4.div(f32x4.sub(v, arg(k, 2)), arg(k, 1)));
    const high = f32x4.div(f32x4.sub(e, arg(k, 4)), arg(k, 3));
    if (!(load<f32>(k + 24) > 0)) return v128.bitselect(high, f32x4.sub(v, v), f32x4.gt(v, arg(k, 8)));
    const low = f32x4.div(f32x4.sub(v, arg(k, 7)), arg(k, 6));
    return v128.bitselect(high, low, f32x4.gt(v, arg(k, 8)));
  }
  if (kind == 3) {
    const x = exp2v(f32x4.sub(f32x4.mul(v, f32x4.splat(17.52)), f32x4.splat(9.72)));
    const low = f32x4.mul(f32x4.sub(x, f32x4.splat(1.0 / 65536.0)), f32x4.splat(2));
    const high = f32x4.pmin(f32x4.splat(65504), x);
    const y = v128.bitselect(low, high, f32x4.le(v, f32x4.splat((9.72 - 15) / 17.52)));
    return v128.bitselect(y, v, f32x4.eq(v, v));
  }
  if (kind == 4) {
    const p = powPositive(pos(f32x4.min(f32x4.splat(1), f32x4.abs(v))), f32x4.splat(1 / M2));
    const num = f32x4.pmax(f32x4.splat(0), f32x4.sub(p, f32x4.splat(C1)));
    const q = f32x4.div(num, f32x4.sub(f32x4.splat(C2), f32x4.mul(f32x4.splat(C3), p)));
    const y = f32x4.mul(powPositive(pos(q), f32x4.splat(1 / M1)), f32x4.splat(10000.0 / 203.0));
    return v128.bitselect(
      signed(v128.bitselect(f32x4.splat(0), y, f32x4.eq(num, f32x4.splat(0))), v),
      v,
      f32x4.eq(v, v),
    );
  }
  if (kind == 5) {
    const x = f32x4.abs(v);
    const low = f32x4.div(f32x4.mul(x, x), f32x4.splat(3));
    const high = f32x4.div(
      f32x4.add(
        exp2v(f32x4.mul(f32x4.div(f32x4.sub(x, f32x4.splat(HC)), f32x4.splat(HA)), f32x4.splat(LOG2E))),
        f32x4.splat(HB),
      ),
      f32x4.splat(12),
    );
    return through(
      signed(f32x4.div(v128.bitselect(low, high, f32x4.le(x, f32x4.splat(0.5))), f32x4.splat(HLG_WHITE)), v),
      v,
    );
  }
  return v;
}

export function encode4(k: usize, v: v128): v128 {
  const kind = <i32>load<f32>(k);
  if (kind == 1) {
    const x = f32x4.abs(v);
    const a = arg(k, 1);
    const high = f32x4.sub(f32x4.mul(f32x4.add(f32x4.splat(1), a), powPositive(pos(x), arg(k, 3))), a);
    return through(signed(v128.bitselect(f32x4.mul(x, arg(k, 4)), high, f32x4.le(x, arg(k, 5))), v), v);
  }
  if (kind == 2) {
    const t = f32x4.pmax(f32x4.splat(1.0 / 16777216.0), f32x4.add(f32x4.mul(arg(k, 3), v), arg(k, 4)));
    const high = f32x4.add(f32x4.mul(arg(k, 1), log2v(t)), arg(k, 2));
    const low = f32x4.add(f32x4.mul(arg(k, 6), v), arg(k, 7));
    const y = v128.bitselect(low, high, f32x4.le(v, arg(k, 5)));
    return v128.bitselect(y, v, f32x4.lt(f32x4.sub(v, v), f32x4.splat(Infinity)));
  }
  if (kind == 3) {
    const small = f32x4.add(f32x4.splat(1.0 / 65536.0), f32x4.mul(v, f32x4.splat(0.5)));
    let t = v128.bitselect(small, v, f32x4.lt(v, f32x4.splat(1.0 / 32768.0)));
    t = v128.bitselect(f32x4.splat(1.0 / 65536.0), t, f32x4.lt(v, f32x4.splat(0)));
    const y = f32x4.div(f32x4.add(log2v(t), f32x4.splat(9.72)), f32x4.splat(17.52));
    return v128.bitselect(y, v, f32x4.lt(v, f32x4.splat(Infinity)));
  }
  if (kind == 4) {
    const p = powPositive(
      pos(f32x4.min(f32x4.splat(1), f32x4.mul(f32x4.abs(v), f32x4.splat(203.0 / 10000.0)))),
      f32x4.splat(M1),
    );
    const q = f32x4.div(
      f32x4.add(f32x4.splat(C1), f32x4.mul(f32x4.splat(C2), p)),
      f32x4.add(f32x4.splat(1), f32x4.mul(f32x4.splat(C3), p)),
    );
    const y = signed(powPositive(q, f32x4.splat(M2)), v);
    return v128.bitselect(y, v, f32x4.eq(v, v));
  }
  if (kind == 5) {
    const x = f32x4.mul(f32x4.abs(v), f32x4.splat(HLG_WHITE));
    const low = f32x4.sqrt(f32x4.mul(f32x4.splat(3), x));
    const high = f32x4.add(
      f32x4.mul(f32x4.splat(HA * LN2), log2v(pos(f32x4.sub(f32x4.mul(f32x4.splat(12), x), f32x4.splat(HB))))),
      f32x4.splat(HC),
    );
    return through(signed(v128.bitselect(low, high, f32x4.le(x, f32x4.splat(1.0 / 12.0))), v), v);
  }
  return v;
}
