/** Twin of src/core/ops/freeform: see there for the method. */
export function shape_freeform(k: usize, m: usize, x0: i32, y: i32, n: i32): void {
  const count = <i32>load<f32>(k);
  const cy: f64 = <f64>y + 0.5;
  const end = (<usize>n) << 2;
  for (let i: usize = 0; i < end; i += 4) store<f32>(m + i, 1);
  for (let j = 0; j < count; j++) {
    const p = k + 4 + ((<usize>j) << 4);
    const ax = <f64>load<f32>(p),
      ay = <f64>load<f32>(p + 4),
      bx = <f64>load<f32>(p + 16),
      by = <f64>load<f32>(p + 20);
    if (ay > cy == by > cy) continue;
    const cross = ((bx - ax) * (cy - ay)) / (by - ay) + ax;
    const first = Math.ceil(cross - <f64>x0 - 0.5);
    if (first >= <f64>n) continue;
    for (let i: usize = first > 0 ? (<usize>first) << 2 : 0; i < end; i += 4) store<f32>(m + i, -load<f32>(m + i));
  }
  for (let j = 0; j < count; j++) {
    const p = k + 4 + ((<usize>j) << 4);
    const ax = <f64>load<f32>(p),
      ay = <f64>load<f32>(p + 4),
      sin = <f64>load<f32>(p + 8),
      sout = <f64>load<f32>(p + 12),
      bx = <f64>load<f32>(p + 16),
      by = <f64>load<f32>(p + 20),
      tin = <f64>load<f32>(p + 24),
      tout = <f64>load<f32>(p + 28);
    const reach = Math.max(Math.max(sin, sout), Math.max(tin, tout));
    if (Math.min(ay, by) > cy + reach || Math.max(ay, by) < cy - reach) continue;
    const dx = bx - ax,
      dy = by - ay,
      len = dx * dx + dy * dy,
      py = cy - ay;
    const from = <i32>Math.max(0, Math.floor(Math.min(ax, bx) - reach - <f64>x0 - 0.5));
    const to = <i32>Math.min(<f64>(n - 1), Math.ceil(Math.max(ax, bx) + reach - <f64>x0 - 0.5));
    for (let i = from; i <= to; i++) {
      const px = <f64>(x0 + i) + 0.5 - ax;
      const t = len > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / len)) : 0;
      const u = px - t * dx,
        v = py - t * dy;
      const at = m + ((<usize>i) << 2);
      const now = load<f32>(at);
      const soft = now < 0 ? sin + t * (tin - sin) : sout + t * (tout - sout);
      const d = Math.max(1e-12, (u * u + v * v) / (soft * soft));
      if (d < Math.abs(<f64>now)) store<f32>(at, <f32>(now < 0 ? -d : d));
    }
  }
  for (let i: usize = 0; i < end; i += 4) {
    const v = <f64>load<f32>(m + i);
    const d = Math.sqrt(Math.abs(v)) / 2;
    const t = Math.min(1, Math.max(0, v < 0 ? 0.5 + d : 0.5 - d));
    store<f32>(m + i, <f32>(t * t * (3 - 2 * t)));
  }
}
