/** Twin of the first walk of src/core/skin/surround.ts: what changed where the matte is 0, and where it is not. */

// @ts-ignore: decorator
@inline function code16(v: f32): f64 {
  return v > 0 ? (v < 1 ? Math.floor(<f64>v * 65535 + 0.5) : 65535) : 0;
}

/**
 * Adds to out (eight float64): pixels where the matte is 0, where it is 1 or more; of the first those whose bits
 * changed, their largest change, the largest and the sum of it in 16-bit codes; the largest in codes elsewhere;
 * pixels in all. `m` 0: the whole picture is the region. Addresses are multiples of 4, no padding needed.
 */
export function surround(
  r0: usize,
  g0: usize,
  b0: usize,
  r1: usize,
  g1: usize,
  b1: usize,
  m: usize,
  n: i32,
  out: usize,
): void {
  let zero = load<f64>(out),
    full = load<f64>(out + 8),
    changed = load<f64>(out + 16),
    far = load<f64>(out + 24),
    sMax = load<f64>(out + 32),
    sSum = load<f64>(out + 40),
    rMax = load<f64>(out + 48);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const k: f32 = m ? load<f32>(m + i) : 1;
    let moved = false;
    let d: f64 = 0;
    let by: f64 = 0;
    for (let c = 0; c < 3; c++) {
      const p = (c == 0 ? r0 : c == 1 ? g0 : b0) + i;
      const q = (c == 0 ? r1 : c == 1 ? g1 : b1) + i;
      if (load<u32>(p) == load<u32>(q)) continue;
      moved = true;
      const x = load<f32>(p),
        y = load<f32>(q);
      d = Math.max(d, Math.abs(code16(x) - code16(y)));
      const a = Math.abs(<f64>x - <f64>y);
      by = Math.max(by, a == a ? a : Infinity);
    }
    if (k == 0) {
      zero++;
      if (!moved) continue;
      changed++;
      far = Math.max(far, by);
      sSum += d;
      sMax = Math.max(sMax, d);
    } else {
      if (k >= 1) full++;
      rMax = Math.max(rMax, d);
    }
  }
  store<f64>(out, zero);
  store<f64>(out + 8, full);
  store<f64>(out + 16, changed);
  store<f64>(out + 24, far);
  store<f64>(out + 32, sMax);
  store<f64>(out + 40, sSum);
  store<f64>(out + 48, rMax);
  store<f64>(out + 56, load<f64>(out + 56) + <f64>n);
}
