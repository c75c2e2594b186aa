import { arg } from './lib/math';

const HEAD: usize = 3 << 2;
const EACH: usize = 5 << 2;

/** Twin of src/core/ops/pulls: shifts of (Cb, Cr) by radial functions about some places. */
export function px_pulls(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const places = <usize>load<f32>(k);
  const last = k + HEAD + places * EACH;
  const per = arg(k, 1),
    per2 = arg(k, 2);
  const KR = f32x4.splat(0.2126),
    KG = f32x4.splat(0.7152),
    KB = f32x4.splat(0.0722);
  const IB = f32x4.splat(1 / 1.8556),
    IR = f32x4.splat(1 / 1.5748);
  const one = f32x4.splat(1),
    four = f32x4.splat(4),
    zero = f32x4.splat(0);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    const y = f32x4.add(f32x4.add(f32x4.mul(KR, R), f32x4.mul(KG, G)), f32x4.mul(KB, B));
    const cb = f32x4.mul(f32x4.sub(B, y), IB),
      cr = f32x4.mul(f32x4.sub(R, y), IR);
    let u = zero,
      v = zero,
      level = zero,
      some = zero;
    for (let p = k + HEAD; p < last; p += EACH) {
      const dx = f32x4.sub(cb, v128.load32_splat(p)),
        dy = f32x4.sub(cr, v128.load32_splat(p, 4));
      const d = f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy));
      const near = f32x4.lt(f32x4.mul(d, per2), one);
      if (!v128.any_true(near)) continue;
      some = v128.or(some, near);
      const s = f32x4.mul(f32x4.sqrt(d), per);
      const t = f32x4.sub(one, s);
      const t2 = f32x4.mul(t, t);
      const w = v128.and(f32x4.mul(f32x4.mul(t2, t2), f32x4.add(f32x4.mul(four, s), one)), near);
      u = f32x4.add(u, f32x4.mul(v128.load32_splat(p, 8), w));
      v = f32x4.add(v, f32x4.mul(v128.load32_splat(p, 12), w));
      level = f32x4.add(level, f32x4.mul(v128.load32_splat(p, 16), w));
    }
    if (!v128.any_true(some)) continue;
    const l = f32x4.mul(level, y);
    const dg = f32x4.add(
      f32x4.mul(f32x4.splat(<f32>((-0.0722 * 1.8556) / 0.7152)), u),
      f32x4.mul(f32x4.splat(<f32>((-0.2126 * 1.5748) / 0.7152)), v),
    );
    v128.store(r + i, v128.bitselect(f32x4.add(f32x4.add(R, f32x4.mul(f32x4.splat(1.5748), v)), l), R, some));
    v128.store(g + i, v128.bitselect(f32x4.add(f32x4.add(G, dg), l), G, some));
    v128.store(b + i, v128.bitselect(f32x4.add(f32x4.add(B, f32x4.mul(f32x4.splat(1.8556), u)), l), B, some));
  }
}
