import { arg } from './lib/math';
import { fall } from './lib/edge';

/** Twin of src/core/ops/box. */
export function shape_box(k: usize, m: usize, x0: i32, y: i32, n: i32): void {
  const c = arg(k, 2),
    s = arg(k, 3),
    rx = arg(k, 4),
    ry = arg(k, 5),
    qx = arg(k, 6),
    qy = arg(k, 7),
    iqx = arg(k, 8),
    iqy = arg(k, 9),
    invIn = arg(k, 10),
    invOut = arg(k, 11);
  const sharp = load<f32>(k + 24) <= 0;
  const one = f32x4.splat(1),
    zero = f32x4.splat(0);
  const dy = f32x4.splat(<f32>y + 0.5 - load<f32>(k + 4));
  const ax = f32x4.mul(dy, s),
    bx = f32x4.mul(dy, c);
  const cx = arg(k, 0);
  for (let i = 0; i < n; i += 4) {
    const dx = f32x4.sub(f32x4.add(f32x4.splat(<f32>(x0 + i)), f32x4(0.5, 1.5, 2.5, 3.5)), cx);
    const a = f32x4.sub(f32x4.abs(f32x4.sub(f32x4.mul(dx, c), ax)), rx);
    const b = f32x4.sub(f32x4.abs(f32x4.add(f32x4.mul(dx, s), bx)), ry);
    const side = f32x4.max(a, b);
    const u = f32x4.add(a, qx),
      v = f32x4.add(b, qy);
    let round: v128;
    if (sharp) round = f32x4.sqrt(f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v)));
    else {
      const e = f32x4.mul(u, iqx),
        g = f32x4.mul(v, iqy);
      const f = f32x4.sqrt(f32x4.add(f32x4.mul(e, e), f32x4.mul(g, g)));
      const p = f32x4.mul(e, iqx),
        q = f32x4.mul(g, iqy);
      const grad = f32x4.sqrt(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q)));
      round = f32x4.max(side, f32x4.div(f32x4.mul(f, f32x4.sub(f, one)), grad));
    }
    const corner = v128.and(f32x4.gt(u, zero), f32x4.gt(v, zero));
    v128.store(m + ((<usize>i) << 2), fall(v128.bitselect(round, side, corner), invIn, invOut));
  }
}
