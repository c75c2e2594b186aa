import { arg } from './lib/math';

/** Twin of src/core/ops/evenness. */
export function px_evenness(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const cos = arg(k, 0),
    sin = arg(k, 1),
    steep = arg(k, 2),
    per = arg(k, 3),
    hue = arg(k, 4),
    chroma = arg(k, 5);
  const KR = f32x4.splat(0.2126),
    KG = f32x4.splat(0.7152),
    KB = f32x4.splat(0.0722),
    IG = f32x4.splat(1 / 0.7152);
  const CB = f32x4.splat(1.8556),
    CR = f32x4.splat(1.5748),
    IB = f32x4.splat(1 / 1.8556),
    IR = f32x4.splat(1 / 1.5748);
  const zero = f32x4.splat(0),
    one = f32x4.splat(1),
    far = f32x4.splat(1 / 0.9),
    inf = f32x4.splat(Infinity);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    const y = f32x4.add(f32x4.add(f32x4.mul(KR, R), f32x4.mul(KG, G)), f32x4.mul(KB, B));
    const u = f32x4.mul(f32x4.sub(B, y), IB),
      v = f32x4.mul(f32x4.sub(R, y), IR);
    const p = f32x4.add(f32x4.mul(u, cos), f32x4.mul(v, sin));
    const q = f32x4.sub(f32x4.mul(v, cos), f32x4.mul(u, sin));
    const across = f32x4.div(f32x4.mul(q, steep), p);
    const mean = f32x4.mul(per, y);
    const off = f32x4.sub(p, mean);
    const apart = f32x4.div(f32x4.mul(off, far), mean);
    const a = f32x4.sub(one, f32x4.mul(across, across)),
      c = f32x4.sub(one, f32x4.mul(apart, apart));
    const some = v128.and(
      v128.and(v128.and(f32x4.gt(y, zero), f32x4.lt(y, inf)), f32x4.gt(p, zero)),
      v128.and(f32x4.gt(a, zero), f32x4.gt(c, zero)),
    );
    if (!v128.any_true(some)) continue;
    const weight = f32x4.mul(f32x4.mul(a, a), f32x4.mul(c, c));
    const dq = f32x4.neg(f32x4.mul(f32x4.mul(q, hue), weight)),
      dp = f32x4.neg(f32x4.mul(f32x4.mul(off, chroma), weight));
    const du = f32x4.sub(f32x4.mul(dp, cos), f32x4.mul(dq, sin)),
      dv = f32x4.add(f32x4.mul(dp, sin), f32x4.mul(dq, cos));
    const dR = f32x4.mul(CR, dv),
      dB = f32x4.mul(CB, du);
    const dG = f32x4.neg(f32x4.mul(f32x4.add(f32x4.mul(KR, dR), f32x4.mul(KB, dB)), IG));
    v128.store(r + i, v128.bitselect(f32x4.add(R, dR), R, some));
    v128.store(g + i, v128.bitselect(f32x4.add(G, dG), G, some));
    v128.store(b + i, v128.bitselect(f32x4.add(B, dB), B, some));
  }
}
