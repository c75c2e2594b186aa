/** Twin of src/core/ops/byTone: four tables of 1025 values over 0..100 %. */
import { between4 } from './lib/table';

const SIZE: usize = 1025 << 2;

/** Where a share lies in a table, held at its ends. */
// @ts-ignore: decorator
@inline function place(v: v128): v128 {
  return f32x4.pmin(f32x4.pmax(f32x4.splat(0), f32x4.mul(v, f32x4.splat(1024))), f32x4.splat(1024));
}
// @ts-ignore: decorator
@inline function cellOf(at: v128): v128 {
  return i32x4.trunc_sat_f32x4_s(f32x4.pmin(at, f32x4.splat(1023.5)));
}

export function px_byTone(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const KR = f32x4.splat(0.2126),
    KG = f32x4.splat(0.7152),
    KB = f32x4.splat(0.0722);
  const one = f32x4.splat(1);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const R = v128.load(r + i),
      G = v128.load(g + i),
      B = v128.load(b + i);
    const y = f32x4.add(f32x4.add(f32x4.mul(KR, R), f32x4.mul(KG, G)), f32x4.mul(KB, B));
    const cb = f32x4.mul(f32x4.sub(B, y), f32x4.splat(1 / 1.8556)),
      cr = f32x4.mul(f32x4.sub(R, y), f32x4.splat(1 / 1.5748));
    const chroma = f32x4.mul(f32x4.splat(2), f32x4.sqrt(f32x4.add(f32x4.mul(cb, cb), f32x4.mul(cr, cr))));
    const atY = place(y),
      atC = place(chroma);
    const cellY = cellOf(atY),
      cellC = cellOf(atC);
    const fY = f32x4.sub(atY, f32x4.convert_i32x4_s(cellY)),
      fC = f32x4.sub(atC, f32x4.convert_i32x4_s(cellC));
    const byteY = i32x4.shl(cellY, 2),
      byteC = i32x4.shl(cellC, 2);
    const more = f32x4.sub(
      f32x4.mul(f32x4.add(one, between4(k, byteY, fY)), f32x4.add(one, between4(k + 2 * SIZE, byteC, fC))),
      one,
    );
    const level = f32x4.mul(
      f32x4.add(one, between4(k + SIZE, byteY, fY)),
      f32x4.add(one, between4(k + 3 * SIZE, byteC, fC)),
    );
    const db = f32x4.mul(more, cb),
      dr = f32x4.mul(more, cr);
    const dg = f32x4.add(
      f32x4.mul(f32x4.splat(<f32>((-0.0722 * 1.8556) / 0.7152)), db),
      f32x4.mul(f32x4.splat(<f32>((-0.2126 * 1.5748) / 0.7152)), dr),
    );
    v128.store(r + i, f32x4.mul(level, f32x4.add(R, f32x4.mul(f32x4.splat(1.5748), dr))));
    v128.store(g + i, f32x4.mul(level, f32x4.add(G, dg)));
    v128.store(b + i, f32x4.mul(level, f32x4.add(B, f32x4.mul(f32x4.splat(1.8556), db))));
  }
}
