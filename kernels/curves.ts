import { A_OF, B_OF, pairs4 } from './lib/table';

/** Twin of src/core/ops/curves: tables of 4097 values and two end slopes. */
const CELLS: i32 = 4096;
const SIZE: usize = (4096 + 3) << 2;

// @ts-ignore: decorator
@inline function look(o: usize, v: v128): v128 {
  const low = f32x4.add(v, f32x4.splat(0.5)),
    high = f32x4.sub(v, f32x4.splat(1.5));
  const t = f32x4.mul(low, f32x4.splat(2048));
  // NaN comes through the comparisons as the value itself, at the end.
  const c = f32x4.pmin(f32x4.pmax(f32x4.splat(0), t), f32x4.splat(<f32>CELLS - 0.5));
  const i = i32x4.trunc_sat_f32x4_s(c);
  const at = i32x4.shl(i, 2);
  const lo = pairs4(o, at, 0),
    hi = pairs4(o, at, 2);
  const a = A_OF(lo, hi),
    b = B_OF(lo, hi);
  let y = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), f32x4.sub(t, f32x4.convert_i32x4_s(i))));
  y = v128.bitselect(
    f32x4.add(v128.load32_splat(o), f32x4.mul(v128.load32_splat(o + ((CELLS + 1) << 2)), low)),
    y,
    f32x4.le(t, f32x4.splat(0)),
  );
  y = v128.bitselect(
    f32x4.add(v128.load32_splat(o + (CELLS << 2)), f32x4.mul(v128.load32_splat(o + ((CELLS + 2) << 2)), high)),
    y,
    f32x4.ge(t, f32x4.splat(<f32>CELLS)),
  );
  return v128.bitselect(y, v, f32x4.eq(v, v));
}

export function px_curves(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const head = k + 16;
  const end = (<usize>n) << 2;
  if (load<f32>(k) != 0)
    for (let i: usize = 0; i < end; i += 16) {
      const R = v128.load(r + i),
        G = v128.load(g + i),
        B = v128.load(b + i);
      const y = f32x4.add(
        f32x4.add(f32x4.mul(f32x4.splat(0.2126), R), f32x4.mul(f32x4.splat(0.7152), G)),
        f32x4.mul(f32x4.splat(0.0722), B),
      );
      const d = f32x4.sub(look(head, y), y);
      v128.store(r + i, f32x4.add(R, d));
      v128.store(g + i, f32x4.add(G, d));
      v128.store(b + i, f32x4.add(B, d));
    }
  if (load<f32>(k + 4) != 0)
    for (let c = 0; c < 3; c++) {
      const p = c == 0 ? r : c == 1 ? g : b;
      const table = head + <usize>(c + 1) * SIZE;
      for (let i: usize = 0; i < end; i += 16) v128.store(p + i, look(table, v128.load(p + i)));
    }
}
