/**
 * Profiles of ICC.1:2022 (version 2 and 4). Those of a matrix and curves (colorants rXYZ, gXYZ, bXYZ under D50;
 * rTRC, gTRC, bTRC of 'curv' or 'para') are applied here, in float64 and unbounded, and so are grey ones (kTRC)
 * that lead to XYZ. All others, those with tables (A2B0, D2B0 ...) beside a matrix included, go through LittleCMS
 * in floating point.
 */
import { lcms } from './codecs';
import { adapt, apply3, encode, invert3, primaries, resolveEncoding, rgbToXyz } from '../core/color/encodings';
import type { EncodingId } from '../core/color/encodings';
import { multiply } from '../core/color/matrix3';
import type { Matrix3 } from '../core/color/matrix3';
import type { Samples } from './picture';

export type Profile =
  | { kind: 'matrix'; name: string; curves: [Tone, Tone, Tone]; toXyz: Matrix3 }
  | { kind: 'grey'; name: string; curve: Tone }
  /** Tables, or a connection space that is not XYZ: LittleCMS reads it. */
  | { kind: 'tables'; name: string; channels: 1 | 3 }
  | { kind: 'other'; name: string; why: string };
/** Signal 0..1 -> linear. */
export type Tone = (v: number) => number;

const s15 = (v: DataView, at: number): number => v.getInt32(at) / 65536;

/** Never throws: what cannot be read is `other`, with the reason. */
export function readProfile(bytes: Uint8Array): Profile {
  let name = 'without a name';
  try {
    const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const four = (at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));
    const tags = new Map<string, [at: number, size: number]>();
    const n = v.getUint32(128);
    if (n > 200) throw new Error('its list of tags is damaged');
    for (let i = 0; i < n; i++) tags.set(four(132 + 12 * i), [v.getUint32(136 + 12 * i), v.getUint32(140 + 12 * i)]);
    const desc = tags.get('desc');
    if (desc) {
      const [at] = desc;
      if (four(at) === 'desc')
        name = String.fromCharCode(...bytes.subarray(at + 12, at + 12 + Math.min(100, v.getUint32(at + 8) - 1)));
      else if (four(at) === 'mluc') {
        const [len, off] = [v.getUint32(at + 20), v.getUint32(at + 24)];
        name = Array.from({ length: Math.min(100, len / 2) }, (_, i) =>
          String.fromCharCode(v.getUint16(at + off + 2 * i)),
        ).join('');
      }
    }
    const space = four(16);
    const tone = (tag: string): Tone => {
      const [at] = tags.get(tag)!;
      if (four(at) === 'curv') {
        const count = v.getUint32(at + 8);
        if (count === 0) return (x) => x;
        if (count === 1) {
          const g = v.getUint16(at + 12) / 256;
          return (x) => Math.max(0, x) ** g;
        }
        const t = Float64Array.from({ length: count }, (_, i) => v.getUint16(at + 12 + 2 * i) / 65535);
        return (x) => {
          const p = Math.min(1, Math.max(0, x)) * (count - 1);
          const i = Math.min(count - 2, Math.floor(p));
          return t[i]! + (t[i + 1]! - t[i]!) * (p - i);
        };
      }
      if (four(at) !== 'para') throw new Error(`its curve is of the type ${four(at)}`);
      const f = v.getUint16(at + 8);
      const q = Array.from({ length: [1, 3, 4, 5, 7][f] ?? 0 }, (_, i) => s15(v, at + 12 + 4 * i));
      const [g = 1, a = 1, b = 0, c = 0, d = 0, e = 0, h = 0] = q;
      if (f === 0) return (x) => Math.max(0, x) ** g;
      if (f === 1) return (x) => (x >= -b / a ? (a * x + b) ** g : 0);
      if (f === 2) return (x) => (x >= -b / a ? (a * x + b) ** g + c : c);
      if (f === 3) return (x) => (x >= d ? (a * x + b) ** g : c * x);
      if (f === 4) return (x) => (x >= d ? (a * x + b) ** g + e : c * x + h);
      throw new Error(`its curve has the function ${f}`);
    };
    const pcs = four(20);
    const tables = ['A2B0', 'A2B1', 'A2B2', 'D2B0', 'D2B1', 'D2B2', 'D2B3'].some((t) => tags.has(t));
    if (space === 'GRAY') {
      if (tables || pcs !== 'XYZ ') return { kind: 'tables', name, channels: 1 };
      if (tags.has('kTRC')) return { kind: 'grey', name, curve: tone('kTRC') };
      return { kind: 'other', name, why: 'it has neither a curve nor tables' };
    }
    if (space !== 'RGB ') return { kind: 'other', name, why: `it is for ${space.trim()}, not for RGB` };
    if (tables) return { kind: 'tables', name, channels: 3 };
    const need = ['rXYZ', 'gXYZ', 'bXYZ', 'rTRC', 'gTRC', 'bTRC'];
    if (!need.every((t) => tags.has(t))) return { kind: 'other', name, why: 'it has neither a matrix nor tables' };
    const [r, g, b] = ['rXYZ', 'gXYZ', 'bXYZ'].map((t) => {
      const [at] = tags.get(t)!;
      return [s15(v, at + 8), s15(v, at + 12), s15(v, at + 16)] as const;
    }) as unknown as [readonly number[], readonly number[], readonly number[]];
    return {
      kind: 'matrix',
      name,
      curves: [tone('rTRC'), tone('gTRC'), tone('bTRC')],
      toXyz: [r[0]!, g[0]!, b[0]!, r[1]!, g[1]!, b[1]!, r[2]!, g[2]!, b[2]!],
    };
  } catch (e) {
    return { kind: 'other', name, why: `it cannot be read (${(e as Error).message})` };
  }
}

/** The D50 white of the profile connection space: ICC.1:2022, 7.2.16. */
const D50_XYZ = [0.9642, 1, 0.8249] as const;
const D50: readonly [number, number] = [D50_XYZ[0] / 2.7891, 1 / 2.7891];
/** A known encoding that the profile stands for, within a code of 10 bits; null for others. */
export function knownProfile(p: Profile): EncodingId | null {
  if (p.kind !== 'matrix') return null;
  for (const id of ['srgb', 'bt1886', 'p3', 'bt2020', 'linear709'] as const) {
    const e = resolveEncoding(id);
    const m = multiply(adapt(primaries[e.primaries].white, D50), rgbToXyz(primaries[e.primaries]));
    if (m.some((x, i) => Math.abs(x - p.toXyz[i]!) > 0.003)) continue;
    const same = p.curves.every((f) =>
      [0.02, 0.1, 0.25, 0.5, 0.75, 0.9].every((v) => Math.abs(encode(e, f(v)) - v) < 1 / 1023),
    );
    if (same) return id;
  }
  return null;
}

/** LittleCMS's codes: floating point of four bytes, colour space and channels (lcms2.h). */
const TYPE = { 1: (1 << 22) | (3 << 16) | (1 << 3) | 4, 3: (1 << 22) | (4 << 16) | (3 << 3) | 4 } as const;
const RELATIVE_COLORIMETRIC = 1;
const NO_CACHE_NO_OPTIMIZE = 0x40 | 0x100;
/** Pixels at a time: the library works on copies. */
const CHUNK = 65536;

/**
 * Interleaved RGB (grey: equal channels) under a profile by tables -> sRGB as floating point, relative
 * colorimetric. Null where LittleCMS cannot: the caller says so.
 */
export async function tablesToSrgb(
  icc: Uint8Array,
  channels: 1 | 3,
  rgb: Samples,
  max: number,
): Promise<Float32Array | null> {
  const l = await lcms();
  const from = l.cmsOpenProfileFromMem(icc, icc.byteLength);
  if (!from) return null;
  const to = l.cmsCreate_sRGBProfile();
  const t = l.cmsCreateTransform(from, TYPE[channels], to, TYPE[3], RELATIVE_COLORIMETRIC, NO_CACHE_NO_OPTIMIZE);
  try {
    if (!t) return null;
    const out = new Float32Array(rgb.length);
    const k = rgb instanceof Float32Array ? 1 : 1 / max;
    const n = rgb.length / 3;
    for (let at = 0; at < n; at += CHUNK) {
      const m = Math.min(CHUNK, n - at);
      const part = new Float32Array(m * channels);
      for (let i = 0; i < m; i++)
        for (let c = 0; c < channels; c++) part[i * channels + c] = rgb[3 * (at + i) + c]! * k;
      out.set(l.cmsDoTransform(t, part, m), 3 * at);
    }
    return out;
  } finally {
    if (t) l.cmsDeleteTransform(t);
    l.cmsCloseProfile(from);
    l.cmsCloseProfile(to);
  }
}

/** Interleaved colours under a profile -> sRGB as floating point; what lies outside stays beyond 0..1. */
export function toSrgb(p: Extract<Profile, { kind: 'matrix' | 'grey' }>, rgb: Samples, max: number): Float32Array {
  const out = new Float32Array(rgb.length);
  const srgb = resolveEncoding('srgb');
  const curves = p.kind === 'grey' ? [p.curve, p.curve, p.curve] : p.curves;
  // Whole numbers go through a table of their codes.
  const tables =
    rgb instanceof Float32Array
      ? null
      : curves.map((f) => Float64Array.from({ length: max + 1 }, (_, i) => f(i / max)));
  const m: Matrix3 =
    p.kind === 'grey'
      ? [1, 0, 0, 0, 1, 0, 0, 0, 1]
      : multiply(invert3(rgbToXyz(primaries.bt709)), multiply(adapt(D50, primaries.bt709.white), p.toXyz));
  for (let i = 0; i < rgb.length; i += 3) {
    const lin = [0, 1, 2].map((c) => (tables ? tables[c]![rgb[i + c]!]! : curves[c]!(rgb[i + c]!))) as [
      number,
      number,
      number,
    ];
    const q = apply3(m, lin);
    for (let c = 0; c < 3; c++) out[i + c] = encode(srgb, q[c]!);
  }
  return out;
}
