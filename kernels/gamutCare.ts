import { arg } from './lib/math';

/** Twin of src/core/ops/gamutCare. */
export function px_gamutCare(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const amount = arg(k, 0),
    t = arg(k, 1);
  const KR = f32x4.splat(0.2126),
    KG = f32x4.splat(0.7152),
    KB = f32x4.splat(0.0722);
  const zero = f32x4.splat(0),
    one = f32x4.splat(1),
    far = f32x4.splat(1e6),
    nan = f32x4.splat(NaN);
  const room = f32x4.sub(one, t);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    const y = f32x4.add(f32x4.add(f32x4.mul(KR, R), f32x4.mul(KG, G)), f32x4.mul(KB, B));
    const lit = f32x4.pmin(f32x4.pmax(zero, y), one);
    const dr = f32x4.sub(R, y),
      dg = f32x4.sub(G, y),
      db = f32x4.sub(B, y);
    const most = f32x4.max(f32x4.max(dr, dg), db),
      least = f32x4.neg(f32x4.min(f32x4.min(dr, dg), db));
    const up = v128.and(f32x4.div(most, f32x4.sub(one, lit)), f32x4.gt(most, zero)),
      down = v128.and(f32x4.div(least, lit), f32x4.gt(least, zero));
    const d = f32x4.max(up, down);
    const number = f32x4.eq(y, y);
    const kept = v128.and(f32x4.le(d, t), f32x4.eq(lit, y));
    if (v128.all_true<i32>(kept)) continue;
    const x = f32x4.div(f32x4.sub(d, t), room);
    const drawn = f32x4.div(f32x4.add(t, f32x4.div(f32x4.mul(room, x), f32x4.add(one, x))), d);
    const s = v128.bitselect(one, v128.and(drawn, f32x4.lt(d, far)), f32x4.le(d, t));
    const some = f32x4.gt(s, zero);
    v128.store(r + i, put(R, lit, s, dr, some, amount, kept, number, nan));
    v128.store(g + i, put(G, lit, s, dg, some, amount, kept, number, nan));
    v128.store(b + i, put(B, lit, s, db, some, amount, kept, number, nan));
  }
}
// @ts-ignore: decorator
@inline
function put(
  c: v128,
  lit: v128,
  s: v128,
  d: v128,
  some: v128,
  amount: v128,
  kept: v128,
  number: v128,
  nan: v128,
): v128 {
  const to = f32x4.add(lit, v128.and(f32x4.mul(s, d), some));
  const made = f32x4.add(c, f32x4.mul(amount, f32x4.sub(to, c)));
  return v128.bitselect(v128.bitselect(c, made, kept), nan, number);
}
