/**
 * From the planes of a clip to R'G'B'. Matrices and ranges: ITU-T H.273 (07/2024), table 4 and 8.3; places of chroma
 * samples: table 1 of chroma sample locations (ITU-T H.264 annex E). The definition of the kernels in kernels/yuv.ts.
 */
import { ditherAt } from '../math/dither';

/** Y', Cb, Cr as the decoder gave them: whole numbers, rows without padding. */
export interface YuvPlanes {
  y: Uint8Array | Uint16Array;
  u: Uint8Array | Uint16Array;
  v: Uint8Array | Uint16Array;
  bits: 8 | 10 | 12;
  /** Luma samples to one chroma sample, along each side. */
  subX: 1 | 2;
  subY: 1 | 2;
}
/** `rgb`: the three planes are G, B, R. */
export type MatrixId = 'bt709' | 'bt601' | 'bt2020' | 'smpte240' | 'rgb';
/** Where chroma lies between luma: beside the left one of two and between two lines; in the middle; at the left top. */
export type Siting = 'left' | 'centre' | 'topLeft';
export interface YuvMeaning {
  matrix: MatrixId;
  /** Whole range of the codes; otherwise black at 16 and white at 235 of 8 bits. */
  full: boolean;
  siting: Siting;
}
/** Weights of red and blue in luma. */
const WEIGHTS: Readonly<Record<Exclude<MatrixId, 'rgb'>, readonly [kr: number, kb: number]>> = {
  bt709: [0.2126, 0.0722],
  bt601: [0.299, 0.114],
  bt2020: [0.2627, 0.0593],
  smpte240: [0.212, 0.087],
};
export const matrixTitles: Readonly<Record<MatrixId, string>> = {
  bt709: 'BT.709',
  bt601: 'BT.601',
  bt2020: 'BT.2020',
  smpte240: 'SMPTE 240M',
  rgb: 'G, B, R',
};

/**
 * Seven numbers for a row: black's code, scale of luma, the middle of chroma, then what Cr gives to R, Cb and Cr to G,
 * Cb to B, each for one code. Neutral codes give R = G = B to the bit.
 */
export function yuvBlock({ matrix, full }: YuvMeaning, bits: number): Float32Array {
  const one = 2 ** (bits - 8);
  const scaleY = full ? 1 / (2 ** bits - 1) : 1 / (219 * one);
  const black = full ? 0 : 16 * one;
  const middle = 2 ** (bits - 1);
  if (matrix === 'rgb') return Float32Array.of(black, scaleY, black, scaleY, 0, 0, scaleY);
  const scaleC = full ? 1 / (2 ** bits - 1) : 1 / (224 * one);
  const [kr, kb] = WEIGHTS[matrix];
  const kg = 1 - kr - kb;
  const [r, b] = [2 * (1 - kr) * scaleC, 2 * (1 - kb) * scaleC];
  return Float32Array.of(black, scaleY, middle, r, (-b * kb) / kg, (-r * kr) / kg, b);
}

/** The two chroma rows that a row of luma lies between, and how far from the first to the second. */
export function chromaRows(y: number, rows: number, subY: 1 | 2, siting: Siting): [number, number, number] {
  if (subY === 1) return [y, y, 0];
  const last = rows - 1;
  const k = y >> 1;
  if (siting === 'topLeft') return y & 1 ? [k, Math.min(last, k + 1), 0.5] : [k, k, 0];
  return y & 1 ? [k, Math.min(last, k + 1), 0.25] : [Math.max(0, k - 1), k, 0.75];
}

const { fround } = Math;
/** Two rows of chroma codes, less their middle, mixed. */
export function mixChroma(
  a: ArrayLike<number>,
  b: ArrayLike<number>,
  f: number,
  middle: number,
  to: Float32Array,
): void {
  for (let i = 0; i < to.length; i++) {
    const p = a[i]! - middle;
    to[i] = p + fround(f * (b[i]! - middle - p));
  }
}
/** A row of half the width brought to the luma's places by linear interpolation; `to` has the luma's width. */
export function widenChroma(from: Float32Array, centre: boolean, to: Float32Array): void {
  const last = from.length - 1;
  for (let x = 0; x < to.length; x++) {
    const k = x >> 1;
    const c = from[k]!;
    if (!centre) to[x] = x & 1 ? 0.5 * fround(c + from[Math.min(last, k + 1)]!) : c;
    else {
      const d = from[x & 1 ? Math.min(last, k + 1) : Math.max(0, k - 1)]!;
      to[x] = fround(0.75 * c) + fround(0.25 * d);
    }
  }
}
/** A row of luma codes with chroma at its places (codes from their middle) -> R'G'B', 0..1 and beyond. */
export function yuvToRgb(
  block: Float32Array,
  y: ArrayLike<number>,
  u: Float32Array,
  v: Float32Array,
  to: { r: Float32Array; g: Float32Array; b: Float32Array },
  gbr = false,
): void {
  const [black, scale, , rv, gu, gv, bu] = block as unknown as [number, number, number, number, number, number, number];
  for (let i = 0; i < to.r.length; i++) {
    const l = fround((y[i]! - black) * scale);
    if (gbr) {
      to.g[i] = l;
      to.b[i] = fround(u[i]! * bu);
      to.r[i] = fround(v[i]! * rv);
      continue;
    }
    to.r[i] = l + fround(v[i]! * rv);
    to.g[i] = fround(l + fround(u[i]! * gu)) + fround(v[i]! * gv);
    to.b[i] = l + fround(u[i]! * bu);
  }
}

/** Turned clockwise by quarters, as the container says. */
export function turnYuv(
  p: YuvPlanes,
  w: number,
  h: number,
  quarters: number,
): { planes: YuvPlanes; w: number; h: number } {
  const q = ((quarters % 4) + 4) % 4;
  if (q === 0) return { planes: p, w, h };
  const one = (s: YuvPlanes['y'], sw: number, sh: number): YuvPlanes['y'] => {
    const out = new (s.constructor as new (n: number) => YuvPlanes['y'])(s.length);
    const [W, H] = q === 2 ? [sw, sh] : [sh, sw];
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const from =
          q === 1 ? (sh - 1 - x) * sw + y : q === 2 ? (sh - 1 - y) * sw + (sw - 1 - x) : x * sw + (sw - 1 - y);
        out[y * W + x] = s[from]!;
      }
    return out;
  };
  const [cw, ch] = [Math.ceil(w / p.subX), Math.ceil(h / p.subY)];
  const swap = q !== 2;
  return {
    planes: {
      ...p,
      y: one(p.y, w, h),
      u: one(p.u, cw, ch),
      v: one(p.v, cw, ch),
      ...(swap ? { subX: p.subY, subY: p.subX } : {}),
    },
    w: swap ? h : w,
    h: swap ? w : h,
  };
}

/**
 * R'G'B' codes of 16 bits (interleaved, three a pixel) to Y', Cb, Cr of 8 or 10 bits, 4:2:0, narrow range. Chroma is
 * taken beside the left of two columns (1 2 1) and between two rows, as `left` says; the nearest codes.
 */
export function toYuv420(
  rgb: Uint16Array,
  w: number,
  h: number,
  matrix: Exclude<MatrixId, 'rgb'> = 'bt709',
  /** Where codes get dither: a pixel each, 1 for yes; and which frame it is. */
  dither: { where: Uint8Array; frame: number } | null = null,
  bits: 8 | 10 = 8,
): { y: Uint8Array | Uint16Array; u: Uint8Array | Uint16Array; v: Uint8Array | Uint16Array } {
  const plane = (m: number): Uint8Array | Uint16Array => (bits === 8 ? new Uint8Array(m) : new Uint16Array(m));
  // ITU-R BT.709-6, 4.6: codes of more bits are those of 8 times a power of two.
  const step = 2 ** (bits - 8);
  const [kr, kb] = WEIGHTS[matrix];
  const kg = 1 - kr - kb;
  const [cw, ch] = [(w + 1) >> 1, (h + 1) >> 1];
  const y = plane(w * h);
  const n = w * h;
  const cb = new Float32Array(n);
  const cr = new Float32Array(n);
  const k = 1 / 65535;
  for (let i = 0; i < n; i++) {
    const [r, g, b] = [rgb[3 * i]! * k, rgb[3 * i + 1]! * k, rgb[3 * i + 2]! * k];
    const l = kr * r + kg * g + kb * b;
    const d = dither?.where[i] ? ditherAt(i, dither.frame) : 0;
    // Black and white of the picture get no noise.
    y[i] = step * (16 + 219 * l) + 0.5 + (l > 0 && l < 1 ? d : 0);
    cb[i] = (b - l) / (2 * (1 - kb));
    cr[i] = (r - l) / (2 * (1 - kr));
  }
  const u = plane(cw * ch);
  const v = plane(cw * ch);
  const pick = (p: Float32Array, x: number, row: number): number => {
    const at = row * w;
    const c = p[at + x]!;
    return (p[at + Math.max(0, x - 1)]! + 2 * c + p[at + Math.min(w - 1, x + 1)]!) / 4;
  };
  for (let j = 0; j < ch; j++)
    for (let i = 0; i < cw; i++) {
      const [a, b] = [2 * j, Math.min(h - 1, 2 * j + 1)];
      const mean = (p: Float32Array): number => (pick(p, 2 * i, a) + pick(p, 2 * i, b)) / 2;
      const at = j * cw + i;
      const left = dither?.where[a * w + 2 * i] || dither?.where[b * w + 2 * i];
      const right =
        dither?.where[a * w + Math.min(w - 1, 2 * i + 1)] || dither?.where[b * w + Math.min(w - 1, 2 * i + 1)];
      const noise = (k: number): number => (left || right ? ditherAt(n + 2 * at + k, dither!.frame) : 0);
      u[at] = step * (128 + 224 * mean(cb)) + 0.5 + noise(0);
      v[at] = step * (128 + 224 * mean(cr)) + 0.5 + noise(1);
    }
  return { y, u, v };
}
