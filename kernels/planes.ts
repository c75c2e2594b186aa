/** From a file's interleaved numbers to planes; twins of `planar` in src/engine/kernels.ts, to the bit. */

/** n pixels of R, G, B, a byte each. The product is formed in float64 and rounded once, as the definition does. */
export function planar1(from: usize, r: usize, g: usize, b: usize, n: i32, scale: f64): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const s = from + 3 * i,
      o = i << 2;
    store<f32>(r + o, <f32>(<f64>load<u8>(s) * scale));
    store<f32>(g + o, <f32>(<f64>load<u8>(s + 1) * scale));
    store<f32>(b + o, <f32>(<f64>load<u8>(s + 2) * scale));
  }
}
export function planar2(from: usize, r: usize, g: usize, b: usize, n: i32, scale: f64): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const s = from + 6 * i,
      o = i << 2;
    store<f32>(r + o, <f32>(<f64>load<u16>(s) * scale));
    store<f32>(g + o, <f32>(<f64>load<u16>(s + 2) * scale));
    store<f32>(b + o, <f32>(<f64>load<u16>(s + 4) * scale));
  }
}
/** Floats keep their bits where the scale is 1. */
export function planar4(from: usize, r: usize, g: usize, b: usize, n: i32, scale: f64): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const s = from + 12 * i,
      o = i << 2;
    if (scale == 1) {
      store<u32>(r + o, load<u32>(s));
      store<u32>(g + o, load<u32>(s + 4));
      store<u32>(b + o, load<u32>(s + 8));
    } else {
      store<f32>(r + o, <f32>(<f64>load<f32>(s) * scale));
      store<f32>(g + o, <f32>(<f64>load<f32>(s + 4) * scale));
      store<f32>(b + o, <f32>(<f64>load<f32>(s + 8) * scale));
    }
  }
}

/**
 * n pixels of up to four planes to interleaved codes of 8 or 16 bits: clamped to 0..1, rounded to the nearest, NaN as
 * 0.
 */
export function codes(p0: usize, p1: usize, p2: usize, p3: usize, channels: i32, bits: i32, n: i32, to: usize): void {
  const most: f64 = bits == 16 ? 65535 : 255;
  for (let c = 0; c < channels; c++) {
    const p = c == 0 ? p0 : c == 1 ? p1 : c == 2 ? p2 : p3;
    for (let i = 0; i < n; i++) {
      const v = <f64>load<f32>(p + ((<usize>i) << 2));
      const code = <u32>(v > 0 ? (v < 1 ? Math.floor(v * most + 0.5) : most) : 0);
      if (bits == 16) store<u16>(to + ((<usize>(i * channels + c)) << 1), <u16>code);
      else store<u8>(to + <usize>(i * channels + c), <u8>code);
    }
  }
}
