/** Slow float64 judges of the fast code: written from the definitions, sharing nothing with the kernels. */

const at = (i: number, n: number): number => Math.min(n - 1, Math.max(0, i));

/** Separable Gaussian of a plane in float64, cut at 6 sigma, edges held. */
export function naiveGaussian(src: ArrayLike<number>, w: number, h: number, sigma: number): Float64Array {
  const R = Math.ceil(6 * sigma);
  const k = Array.from({ length: 2 * R + 1 }, (_, i) => Math.exp(-((i - R) ** 2) / (2 * sigma * sigma)));
  const total = k.reduce((a, b) => a + b, 0);
  const tmp = new Float64Array(w * h);
  const out = new Float64Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let s = 0;
      for (let j = -R; j <= R; j++) s += k[j + R]! * src[y * w + at(x + j, w)]!;
      tmp[y * w + x] = s / total;
    }
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let s = 0;
      for (let j = -R; j <= R; j++) s += k[j + R]! * tmp[at(y + j, h) * w + x]!;
      out[y * w + x] = s / total;
    }
  return out;
}

/** BT.709-6 in float64: [Y', Cb, Cr, hue in degrees 0..360, chroma in %]. */
export function naiveYcc(r: number, g: number, b: number): [number, number, number, number, number] {
  const y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  const cb = (b - y) / 1.8556;
  const cr = (r - y) / 1.5748;
  return [y, cb, cr, ((Math.atan2(cr, cb) * 180) / Math.PI + 360) % 360, 200 * Math.hypot(cb, cr)];
}

/** A hue turn in float64, through Y'CbCr. */
export function naiveTurn(rgb: readonly number[], deg: number): [number, number, number] {
  const [y, cb, cr] = naiveYcc(rgb[0]!, rgb[1]!, rgb[2]!);
  const a = (deg * Math.PI) / 180;
  const b2 = cb * Math.cos(a) - cr * Math.sin(a);
  const r2 = cb * Math.sin(a) + cr * Math.cos(a);
  return [y + 1.5748 * r2, y - ((0.0722 * 1.8556) / 0.7152) * b2 - ((0.2126 * 1.5748) / 0.7152) * r2, y + 1.8556 * b2];
}

/** Hermite edge used by keys: 1 inside half, 0 beyond half + soft. */
export function naiveFall(d: number, half: number, soft: number): number {
  if (d <= half) return 1;
  if (d >= half + soft) return 0;
  const t = 1 - (d - half) / soft;
  return t * t * (3 - 2 * t);
}

export interface NaiveKey {
  hue: { centre: number; width: number; soft: number } | null;
  sat: { centre: number; width: number; soft: number } | null;
  luma: { centre: number; width: number; soft: number } | null;
  neutralPct: number;
}
export function naiveKey(rgb: readonly number[], k: NaiveKey): number {
  const [y, , , hue, chroma] = naiveYcc(rgb[0]!, rgb[1]!, rgb[2]!);
  let m = 1;
  if (k.luma) m = Math.min(m, naiveFall(Math.abs(100 * y - k.luma.centre), k.luma.width / 2, k.luma.soft));
  if (k.sat) m = Math.min(m, naiveFall(Math.abs(chroma - k.sat.centre), k.sat.width / 2, k.sat.soft));
  if (k.hue) {
    const d = Math.abs(((hue - k.hue.centre + 540) % 360) - 180);
    m = Math.min(m, naiveFall(d, k.hue.width / 2, k.hue.soft), 1 - naiveFall(chroma, k.neutralPct / 2, k.neutralPct));
  }
  return m;
}

/** The whole chain of one correction, a pixel at a time, in float64: the reference of the benchmark. */
export function naiveChain(
  rgb: readonly number[],
  turnDeg: number,
  satPct: number,
  gain: number,
  gamma: number,
  m: number,
): [number, number, number] {
  let v = naiveTurn(rgb, turnDeg);
  const y = 0.2126 * v[0] + 0.7152 * v[1] + 0.0722 * v[2];
  v = v.map((c) => y + (satPct / 100) * (c - y)) as [number, number, number];
  v = v.map((c) => (c * gain > 0 ? (c * gain) ** (1 / gamma) : c * gain)) as [number, number, number];
  return v.map((c, i) => rgb[i]! + m * (c - rgb[i]!)) as [number, number, number];
}
