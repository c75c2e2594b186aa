import { arg, atan2Deg, hermite } from './lib/math';
import { axisA, axisB, axisL, lightOf, longOf, middleOf, rowOf, shortOf } from './lib/oklab';

// @ts-ignore: decorator
@inline function fall(d: v128, half: v128, below: v128, above: v128): v128 {
  const inv = v128.bitselect(below, above, f32x4.lt(d, f32x4.splat(0)));
  return hermite(f32x4.sub(f32x4.splat(1), f32x4.mul(f32x4.sub(f32x4.abs(d), half), inv)));
}

/** Where the way to OKLab stands in the block. */
const LIGHT: usize = 19 << 2;
/** Chroma in % of 0.4, as CSS Color 4 tells it. */
const CHROMA: f32 = 250;

/** Twin of src/core/ops/key. */
export function key_key(k: usize, r: usize, g: usize, b: usize, m: usize, n: i32): void {
  const perceptual = load<f32>(k + 72) != 0;
  const way = k + LIGHT;
  const hueOn = load<f32>(k) != 0,
    satOn = load<f32>(k + 20) != 0,
    lumaOn = load<f32>(k + 40) != 0;
  const hueC = arg(k, 1),
    hueHalf = arg(k, 2),
    hueBelow = arg(k, 3),
    hueAbove = arg(k, 4);
  const satC = arg(k, 6),
    satHalf = arg(k, 7),
    satBelow = arg(k, 8),
    satAbove = arg(k, 9);
  const lumaC = arg(k, 11),
    lumaHalf = arg(k, 12),
    lumaBelow = arg(k, 13),
    lumaAbove = arg(k, 14);
  const guardLo = arg(k, 15),
    guardInv = arg(k, 16),
    lean = arg(k, 17);
  const KR = f32x4.splat(0.2126),
    KG = f32x4.splat(0.7152),
    KB = f32x4.splat(0.0722);
  const IB = f32x4.splat(1 / 1.8556),
    IR = f32x4.splat(1 / 1.5748);
  const one = f32x4.splat(1),
    full = f32x4.splat(360),
    turn = f32x4.splat(180),
    inf = f32x4.splat(Infinity);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    let luma: v128,
      u: v128,
      w: v128,
      scale: f32 = 200;
    if (perceptual) {
      const lr = lightOf(way, R),
        lg = lightOf(way, G),
        lb = lightOf(way, B);
      const x = rowOf(way, 0, lr, lg, lb),
        y = rowOf(way, 1, lr, lg, lb),
        z = rowOf(way, 2, lr, lg, lb);
      const l = longOf(x, y, z),
        m = middleOf(x, y, z),
        s = shortOf(x, y, z);
      luma = f32x4.mul(f32x4.splat(100), axisL(l, m, s));
      u = axisA(l, m, s);
      w = axisB(l, m, s);
      scale = CHROMA;
    } else {
      const y = f32x4.add(f32x4.add(f32x4.mul(KR, R), f32x4.mul(KG, G)), f32x4.mul(KB, B));
      luma = f32x4.mul(f32x4.splat(100), y);
      u = f32x4.mul(f32x4.sub(B, y), IB);
      w = f32x4.mul(f32x4.sub(R, y), IR);
    }
    let v = one;
    if (lumaOn) v = fall(f32x4.sub(luma, lumaC), lumaHalf, lumaBelow, lumaAbove);
    if ((satOn || hueOn) && v128.any_true(f32x4.gt(v, f32x4.splat(0)))) {
      const chroma = f32x4.mul(f32x4.splat(scale), f32x4.sqrt(f32x4.add(f32x4.mul(u, u), f32x4.mul(w, w))));
      if (satOn) {
        const level = f32x4.sub(chroma, f32x4.mul(lean, f32x4.sub(luma, f32x4.splat(50))));
        v = f32x4.pmin(v, fall(f32x4.sub(level, satC), satHalf, satBelow, satAbove));
      }
      // The angle is dear: pixels that nothing can take any more do without it.
      if (hueOn && v128.any_true(f32x4.gt(v, f32x4.splat(0)))) {
        v = f32x4.pmin(v, f32x4.sub(one, fall(chroma, guardLo, guardInv, guardInv)));
        if (v128.any_true(f32x4.gt(v, f32x4.splat(0)))) {
          let d = f32x4.sub(atan2Deg(w, u), hueC);
          d = v128.bitselect(f32x4.sub(d, full), d, f32x4.gt(d, turn));
          d = v128.bitselect(f32x4.add(d, full), d, f32x4.lt(d, f32x4.neg(turn)));
          v = f32x4.pmin(v, fall(d, hueHalf, hueBelow, hueAbove));
        }
      }
    }
    const ok = v128.and(
      v128.and(f32x4.lt(f32x4.abs(R), inf), f32x4.lt(f32x4.abs(G), inf)),
      f32x4.lt(f32x4.abs(B), inf),
    );
    v128.store(m + i, v128.and(v, ok));
  }
}
