/** Twin of src/core/ops/edgeColour, to the bit: the same float64 arithmetic. Few pixels are an edge: one at a time. */
import { plane } from './lib/frame';

const PLACES: i32 = 48;
const TELLS: f64 = 0.01;
const STANDS: f64 = 0.6;
const FROM: f64 = 0.01;
const TO: f64 = 0.06;

// @ts-ignore: decorator
@inline function finite(r: f64, g: f64, b: f64): bool {
  const s = r + g + b;
  return s - s == 0;
}
function known(share: f64): f64 {
  const t = (share - FROM) / (TO - FROM);
  const c: f64 = t > 0 ? (t < 1 ? t : 1) : 0;
  return c * c * (3 - 2 * c);
}
// @ts-ignore: decorator
@inline function num(k: usize, i: i32): f64 {
  return <f64>load<f32>(k + ((<usize>i) << 2));
}
// @ts-ignore: decorator
@inline function at(p: usize, i: i32): f64 {
  return <f64>load<f32>(p + ((<usize>i) << 2));
}

export function frame_edgeColour_unmix(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const R = plane(t, 0),
    G = plane(t, 1),
    B = plane(t, 2),
    toR = plane(t, 3),
    toG = plane(t, 4),
    toB = plane(t, 5),
    toM = plane(t, 6),
    m = plane(t, 7);
  const amount = num(k, 0),
    all = num(k, 1);
  for (let y = y0; y < y1; y++)
    for (let x: i32 = 0; x < w; x++) {
      const i = y * w + x;
      const o = (<usize>i) << 2;
      const a = at(m, i);
      const r = at(R, i),
        g = at(G, i),
        b = at(B, i);
      store<u32>(toR + o, load<u32>(R + o));
      store<u32>(toG + o, load<u32>(G + o));
      store<u32>(toB + o, load<u32>(B + o));
      store<u32>(toM + o, load<u32>(m + o));
      if (!(a > 0 && a < 1) || !finite(r, g, b)) continue;
      let fr: f64 = 0,
        fg: f64 = 0,
        fb: f64 = 0,
        fw: f64 = 0;
      let br: f64 = 0,
        bg: f64 = 0,
        bb: f64 = 0,
        bw: f64 = 0;
      for (let p = 0; p < PLACES; p++) {
        const u = x + <i32>num(k, 2 + 3 * p);
        const v = y + <i32>num(k, 3 + 3 * p);
        if (u < 0 || v < 0 || u >= w || v >= h) continue;
        const j = v * w + u;
        const qr = at(R, j),
          qg = at(G, j),
          qb = at(B, j),
          q = at(m, j);
        if (!finite(qr, qg, qb) || !(q >= 0 && q <= 1)) continue;
        const near = num(k, 4 + 3 * p);
        const in2 = q * q,
          out2 = (1 - q) * (1 - q);
        const f = near * in2 * in2,
          e = near * out2 * out2;
        fr += f * qr;
        fg += f * qg;
        fb += f * qb;
        fw += f;
        br += e * qr;
        bg += e * qg;
        bb += e * qb;
        bw += e;
      }
      const sure = known(fw / all) * known(bw / all);
      if (!(sure > 0)) continue;
      const dr = fr / fw - br / bw,
        dg = fg / fw - bg / bw,
        db = fb / fw - bb / bw;
      const apart = dr * dr + dg * dg + db * db;
      if (!(apart > 0)) continue;
      const on = ((r - br / bw) * dr + (g - bg / bw) * dg + (b - bb / bw) * db) / apart;
      const tt: f64 = on > 0 ? (on < 1 ? on : 1) : 0;
      const tells = apart / (apart + TELLS);
      const share = a + (tt - a) * tells;
      const held = tt < STANDS * a ? tt / STANDS : a;
      store<f32>(toM + o, <f32>(a + amount * sure * tells * (held - a)));
      const by = amount * sure * (1 - share);
      store<f32>(toR + o, <f32>(r + by * dr));
      store<f32>(toG + o, <f32>(g + by * dg));
      store<f32>(toB + o, <f32>(b + by * db));
    }
}
