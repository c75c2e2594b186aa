/**
 * Twin of src/core/scopes/reduce.ts (see there for the layout). Angles by polynomial: within 1e-6 degrees times 60, so a
 * count may fall into the neighbouring cell only on its very border.
 */
const VC: i32 = 256;
const VR: f32 = 0.56;
const WC: i32 = 280;
const WL: i32 = 220;
const SC: i32 = 240;
const SL: i32 = 128;

// @ts-ignore: decorator
@inline function bump(at: usize): void { store<u32>(at, load<u32>(at) + 1); }

/** atan(t) in degrees for -sqrt(3)..sqrt(3). */
// @ts-ignore: decorator
@inline function atanDeg(v: f32, u: f32): f32 {
  const av = Mathf.abs(v);
  const swap = av > u;
  const t = swap ? u / v : v / u;
  const z = t * t;
  let p: f32 = 0.002766283501;
  p = p * z - 0.01573124912;
  p = p * z + 0.04213762359;
  p = p * z - 0.07456854826;
  p = p * z + 0.1061837064;
  p = p * z - 0.1419779779;
  p = p * z + 0.1999187203;
  p = p * z - 0.3333303671;
  p = p * z + 0.9999999818;
  const a: f32 = p * t * <f32>57.29577951;
  return swap ? (v > 0 ? <f32>90 - a : <f32>-90 - a) : a;
}

export function scope(r: usize, g: usize, b: usize, m: usize, w: i32, y0: i32, y1: i32, stride: i32, ca: f32, sa: f32, tanMax: f32, counts: usize): void {
  const wave = counts + <usize>(VC * VC * 4);
  const strip = wave + <usize>(WC * WL * 4);
  const vk: f32 = <f32>VC / (2 * VR);
  const wk: f32 = <f32>WL / <f32>1.1;
  const wc: f32 = <f32>WC / <f32>w;
  const minChroma2: f32 = 0.03 * 0.03;
  for (let y = (y0 + stride - 1) / stride * stride; y < y1; y += stride) {
    for (let x = 0; x < w; x += stride) {
      const o = <usize>(y * w + x) << 2;
      if (m && load<f32>(m + o) <= 0.5) continue;
      const R = load<f32>(r + o), B = load<f32>(b + o);
      const Y: f32 = <f32>0.2126 * R + <f32>0.7152 * load<f32>(g + o) + <f32>0.0722 * B;
      if (!(Y - Y == 0)) continue;
      const cb: f32 = (B - Y) * <f32>(1 / 1.8556);
      const cr: f32 = (R - Y) * <f32>(1 / 1.5748);
      const vx = min<i32>(max<i32>(<i32>((cb + VR) * vk), 0), VC - 1);
      const vy = min<i32>(max<i32>(<i32>((VR - cr) * vk), 0), VC - 1);
      bump(counts + (<usize>(vy * VC + vx) << 2));
      const wy = min<i32>(max<i32>(<i32>((<f32>1.05 - Y) * wk), 0), WL - 1);
      bump(wave + (<usize>(wy * WC + <i32>(<f32>x * wc)) << 2));
      const u: f32 = cb * ca + cr * sa;
      const v: f32 = cr * ca - cb * sa;
      if (u > 0 && Mathf.abs(v) < u * tanMax && u * u + v * v >= minChroma2) {
        const sx = min<i32>(<i32>((atanDeg(v, u) + 60) * 2), SC - 1);
        const sy = <i32>((<f32>1 - Y) * <f32>SL);
        if (sx >= 0 && sy >= 0 && sy < SL) bump(strip + (<usize>(sy * SC + sx) << 2));
      }
    }
  }
}
