import { arg, powPositive } from './lib/math';
import { A_OF, B_OF, pairs4 } from './lib/table';

/** The soft S by its table: 4096 cells over 0..1, straight between. */
function byTable(k: usize, at: usize, n: i32): void {
  const t = k + 16;
  const zero = f32x4.splat(0),
    one = f32x4.splat(1);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const v = v128.load(at + i);
    const c = f32x4.mul(f32x4.pmin(f32x4.pmax(zero, v), f32x4.splat(0.9999999)), f32x4.splat(4096));
    const j = i32x4.trunc_sat_f32x4_s(c);
    const o = i32x4.shl(j, 2);
    const lo = pairs4(t, o, 0),
      hi = pairs4(t, o, 2);
    const a = A_OF(lo, hi);
    const y = f32x4.add(a, f32x4.mul(f32x4.sub(B_OF(lo, hi), a), f32x4.sub(c, f32x4.convert_i32x4_s(j))));
    v128.store(at + i, v128.bitselect(y, v, v128.and(f32x4.gt(v, zero), f32x4.lt(v, one))));
  }
}

/** Twin of src/core/ops/contrast. */
export function px_contrast(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const c = arg(k, 0),
    p = arg(k, 1);
  const soft = load<f32>(k + 8) != 0;
  if (load<f32>(k + 12) != 0) {
    byTable(k, r, n);
    byTable(k, g, n);
    byTable(k, b, n);
    return;
  }
  const one = f32x4.splat(1),
    zero = f32x4.splat(0),
    tiny = f32x4.splat(1e-30);
  const q = f32x4.sub(one, p);
  for (let ch = 0; ch < 3; ch++) {
    const at = ch == 0 ? r : ch == 1 ? g : b;
    for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
      const v = v128.load(at + i);
      if (!soft) {
        v128.store(at + i, f32x4.add(p, f32x4.mul(c, f32x4.sub(v, p))));
        continue;
      }
      const up = f32x4.ge(v, p);
      const t = v128.bitselect(f32x4.div(f32x4.sub(one, v), q), f32x4.div(v, p), up);
      const w = powPositive(f32x4.pmax(tiny, t), c);
      const y = v128.bitselect(f32x4.sub(one, f32x4.mul(q, w)), f32x4.mul(p, w), up);
      v128.store(at + i, v128.bitselect(y, v, v128.and(f32x4.gt(v, zero), f32x4.lt(v, one))));
    }
  }
}
