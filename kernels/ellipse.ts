import { arg } from './lib/math';
import { fall } from './lib/edge';

/** Twin of src/core/ops/ellipse. */
export function shape_ellipse(k: usize, m: usize, x0: i32, y: i32, n: i32): void {
  const c = arg(k, 2),
    s = arg(k, 3),
    ix = arg(k, 4),
    iy = arg(k, 5),
    invIn = arg(k, 6),
    invOut = arg(k, 7);
  const one = f32x4.splat(1),
    zero = f32x4.splat(0);
  const dy = f32x4.splat(<f32>y + 0.5 - load<f32>(k + 4));
  const ax = f32x4.mul(dy, s),
    bx = f32x4.mul(dy, c);
  let dx = f32x4.sub(f32x4.add(f32x4.splat(<f32>x0), f32x4(0.5, 1.5, 2.5, 3.5)), arg(k, 0));
  const four = f32x4.splat(4);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const a = f32x4.mul(f32x4.sub(f32x4.mul(dx, c), ax), ix);
    const b = f32x4.mul(f32x4.add(f32x4.mul(dx, s), bx), iy);
    const f = f32x4.sqrt(f32x4.add(f32x4.mul(a, a), f32x4.mul(b, b)));
    const p = f32x4.mul(a, ix),
      q = f32x4.mul(b, iy);
    const grad = f32x4.sqrt(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q)));
    const v = fall(f32x4.div(f32x4.mul(f, f32x4.sub(f, one)), grad), invIn, invOut);
    v128.store(m + i, v128.bitselect(v, one, f32x4.gt(grad, zero)));
    dx = f32x4.add(dx, four);
  }
}
