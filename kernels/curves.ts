/** Twin of src/core/ops/curves: tables of 4097 values and two end slopes. Lookups are scalar: there is no gather. */
const CELLS: i32 = 4096;
const SIZE: usize = (4096 + 3) << 2;

// @ts-ignore: decorator
@inline function look(o: usize, v: f32): f32 {
  const t: f32 = (v + <f32>0.5) * <f32>2048;
  if (t <= 0) return load<f32>(o) + load<f32>(o + ((CELLS + 1) << 2)) * (v + <f32>0.5);
  if (t >= <f32>CELLS) return load<f32>(o + (CELLS << 2)) + load<f32>(o + ((CELLS + 2) << 2)) * (v - <f32>1.5);
  if (!(t > 0)) return v;
  const i = <i32>t;
  const at = o + (<usize>i << 2);
  const a = load<f32>(at);
  return a + (load<f32>(at + 4) - a) * (t - <f32>i);
}

export function px_curves(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const head = k + 16;
  const end = <usize>n << 2;
  if (load<f32>(k) != 0)
    for (let i: usize = 0; i < end; i += 4) {
      const R = load<f32>(r + i), G = load<f32>(g + i), B = load<f32>(b + i);
      const y: f32 = <f32>0.2126 * R + <f32>0.7152 * G + <f32>0.0722 * B;
      const d: f32 = look(head, y) - y;
      store<f32>(r + i, R + d);
      store<f32>(g + i, G + d);
      store<f32>(b + i, B + d);
    }
  if (load<f32>(k + 4) != 0)
    for (let c = 0; c < 3; c++) {
      const p = c == 0 ? r : c == 1 ? g : b;
      const table = head + <usize>(c + 1) * SIZE;
      for (let i: usize = 0; i < end; i += 4) store<f32>(p + i, look(table, load<f32>(p + i)));
    }
}
