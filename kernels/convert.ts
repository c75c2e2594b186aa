import { arg } from './lib/math';
import { decode4, encode4 } from './lib/curve';

const MATRIX: usize = 48;
const TONE: usize = 84;
const GAMUT: usize = 100;
const TO: usize = 112;

// @ts-ignore: decorator
@inline function draw(v: v128, ach: v128, t: v128, s: v128, ok: v128): v128 {
  const d = f32x4.sub(f32x4.div(f32x4.sub(ach, v), ach), t);
  const e = f32x4.mul(
    ach,
    f32x4.sub(f32x4.splat(1), f32x4.add(t, f32x4.div(d, f32x4.add(f32x4.splat(1), f32x4.div(d, s))))),
  );
  return v128.bitselect(e, v, v128.and(ok, f32x4.gt(d, f32x4.splat(0))));
}
// @ts-ignore: decorator
@inline function tone(v: v128, k: usize, shoulder: bool): v128 {
  const y = f32x4.mul(v, arg(k, 0));
  if (!shoulder) return y;
  const knee = arg(k, 1),
    range = arg(k, 2),
    top = arg(k, 3);
  const u = f32x4.div(f32x4.sub(y, knee), range);
  const w = f32x4.div(
    f32x4.mul(f32x4.mul(range, u), f32x4.add(f32x4.splat(1), f32x4.div(u, f32x4.mul(top, top)))),
    f32x4.add(f32x4.splat(1), u),
  );
  return v128.bitselect(f32x4.add(knee, w), y, f32x4.gt(y, knee));
}

/** Twin of src/core/ops/convert. */
export function px_convert(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const m = k + MATRIX;
  const t = arg(k + GAMUT, 0),
    s = arg(k + GAMUT, 1);
  const gamut = load<f32>(k + GAMUT + 8) != 0;
  const shoulder = load<f32>(k + TONE + 8) > 0;
  const zero = f32x4.splat(0);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = decode4(k, v128.load(r + i)),
      y = decode4(k, v128.load(g + i)),
      z = decode4(k, v128.load(b + i));
    let R = f32x4.add(f32x4.add(f32x4.mul(arg(m, 0), x), f32x4.mul(arg(m, 1), y)), f32x4.mul(arg(m, 2), z));
    let G = f32x4.add(f32x4.add(f32x4.mul(arg(m, 3), x), f32x4.mul(arg(m, 4), y)), f32x4.mul(arg(m, 5), z));
    let B = f32x4.add(f32x4.add(f32x4.mul(arg(m, 6), x), f32x4.mul(arg(m, 7), y)), f32x4.mul(arg(m, 8), z));
    if (gamut) {
      const ach = f32x4.max(f32x4.max(R, G), B);
      const ok = f32x4.gt(ach, zero);
      R = draw(R, ach, t, s, ok);
      G = draw(G, ach, t, s, ok);
      B = draw(B, ach, t, s, ok);
    }
    v128.store(r + i, encode4(k + TO, tone(R, k + TONE, shoulder)));
    v128.store(g + i, encode4(k + TO, tone(G, k + TONE, shoulder)));
    v128.store(b + i, encode4(k + TO, tone(B, k + TONE, shoulder)));
  }
}
