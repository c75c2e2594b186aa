/**
 * What code points of ITU-T H.273 (PNG cICP, AVIF nclx), gamma and chromaticities say of a picture: an encoding known
 * here, or the conversion that leads to one. Nothing is passed over: what is not known is refused with its number.
 */
import {
  adapt,
  apply3,
  decode,
  encode,
  encodings,
  invert3,
  primaries as known,
  resolveEncoding,
  rgbToXyz,
} from '../core/color/encodings';
import type { EncodingId, Primaries } from '../core/color/encodings';
import type { Curve } from '../core/color/curves';
import { multiply } from '../core/color/matrix3';
import { MediaError } from './picture';
import type { Samples } from './picture';

export type Chromaticities = Pick<Primaries, 'red' | 'green' | 'blue' | 'white'>;
/** The numbers are this encoding, or become it by `toLinear` and from these primaries. */
export interface Meaning {
  encoding: EncodingId;
  convert: { toLinear: (v: number) => number; from: Chromaticities; what: string } | null;
}

const D65 = [0.3127, 0.329] as const;
const C = [0.31, 0.316] as const;
/** H.273 table 2. */
const PRIMARIES: Readonly<Record<number, Chromaticities & { title: string }>> = {
  1: known.bt709,
  4: { title: 'BT.470 M', red: [0.67, 0.33], green: [0.21, 0.71], blue: [0.14, 0.08], white: C },
  5: { title: 'BT.470 B, G', red: [0.64, 0.33], green: [0.29, 0.6], blue: [0.15, 0.06], white: D65 },
  6: { title: 'SMPTE 170M', red: [0.63, 0.34], green: [0.31, 0.595], blue: [0.155, 0.07], white: D65 },
  7: { title: 'SMPTE 240M', red: [0.63, 0.34], green: [0.31, 0.595], blue: [0.155, 0.07], white: D65 },
  9: known.bt2020,
  11: { title: 'P3, DCI white', red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06], white: [0.314, 0.351] },
  12: known.p3d65,
  22: { title: 'EBU 3213', red: [0.63, 0.34], green: [0.295, 0.605], blue: [0.155, 0.077], white: D65 },
};
const power =
  (g: number) =>
  (v: number): number =>
    Math.sign(v) * Math.abs(v) ** g;
const curve = (c: Curve) => {
  const e = { curve: c };
  return (v: number): number => decode(e, v);
};
/** H.273 table 3: to linear light, and the encoding whose curve it is. */
const TRANSFERS: Readonly<Record<number, { title: string; own: EncodingId[]; toLinear: (v: number) => number }>> = {
  // A camera's curve, meant for a screen of BT.1886.
  ...Object.fromEntries(
    [1, 6, 14, 15].map((n) => [
      n,
      { title: 'BT.709', own: ['bt1886', 'bt2020'], toLinear: curve(encodings.bt1886.curve) },
    ]),
  ),
  4: { title: 'gamma 2.2', own: [], toLinear: power(2.2) },
  5: { title: 'gamma 2.8', own: [], toLinear: power(2.8) },
  8: { title: 'linear', own: ['linear709', 'linear2020', 'linearP3'], toLinear: (v) => v },
  13: { title: 'sRGB', own: ['srgb', 'p3'], toLinear: curve(encodings.srgb.curve) },
  16: { title: 'PQ', own: ['pq'], toLinear: curve(encodings.pq.curve) },
  17: { title: 'SMPTE 428', own: [], toLinear: (v) => (52.37 / 48) * power(2.6)(v) },
  18: { title: 'HLG', own: ['hlg'], toLinear: curve(encodings.hlg.curve) },
};

const near = (a: Chromaticities, b: Chromaticities, within: number): boolean =>
  (['red', 'green', 'blue', 'white'] as const).every((k) => a[k].every((x, i) => Math.abs(x - b[k][i]!) <= within));
/** The encoding of one of `own` whose primaries these are. */
const among = (own: readonly EncodingId[], p: Chromaticities): EncodingId | undefined =>
  own.find((id) => near(known[encodings[id].primaries], p, 0.0015));

/** Throws a MediaError that names the code point. */
export function fromCicp(primaries: number, transfer: number): Meaning {
  // Unspecified: what screens take it for.
  const p = PRIMARIES[primaries === 2 ? 1 : primaries];
  const t = TRANSFERS[transfer === 2 ? 13 : transfer];
  if (!p || !t)
    throw new MediaError(
      'unsupported',
      p
        ? `its transfer curve is of the kind ${transfer} (ITU-T H.273), which is not read`
        : `its primaries are of the kind ${primaries} (ITU-T H.273), which are not read`,
      'Convert it to sRGB, Display P3, BT.2020, PQ or HLG and import it again.',
    );
  const same = among(t.own, p);
  if (same) return { encoding: same, convert: null };
  // The nearest that is known: the same curve where there is one, else the display encoding of these primaries.
  const encoding = t.own[0] ?? among(['srgb', 'p3', 'bt2020'], p) ?? 'srgb';
  return { encoding, convert: { toLinear: t.toLinear, from: p, what: `${p.title} with ${t.title}` } };
}

/** PNG gAMA and cHRM (ISO/IEC 15948): `gamma` is the exponent from light to signal, 1 / 2.2 for most screens. */
export function fromGamma(gamma: number | null, chroma: Chromaticities | null): Meaning {
  const p = chroma ?? known.bt709;
  const srgb = gamma === null || Math.abs(gamma - 0.45455) < 0.0006;
  if (srgb && near(p, known.bt709, 0.0015)) return { encoding: 'srgb', convert: null };
  if (srgb && near(p, known.p3d65, 0.0015)) return { encoding: 'p3', convert: null };
  if (gamma === 1) return fromLinear(p);
  const toLinear = gamma === null ? curve(encodings.srgb.curve) : power(1 / gamma);
  return {
    encoding: among(['srgb', 'p3', 'bt2020'], p) ?? 'srgb',
    convert: {
      toLinear,
      from: p,
      what: [gamma !== null && `gamma ${(1 / gamma).toFixed(2)}`, chroma && 'its own primaries']
        .filter(Boolean)
        .join(' and '),
    },
  };
}

/** Linear light of these primaries (OpenEXR chromaticities). */
export function fromLinear(p: Chromaticities): Meaning {
  const same = among(['linear709', 'linearP3', 'linear2020', 'linearAp0', 'linearAp1'], p);
  return same
    ? { encoding: same, convert: null }
    : { encoding: 'linear709', convert: { toLinear: (v) => v, from: p, what: 'its own primaries' } };
}

/** Red, green, blue and white as x, y pairs. Throws a MediaError where they span no colours. */
export function chromaticities(v: readonly number[]): Chromaticities {
  const [red, green, blue, white] = [0, 2, 4, 6].map((i) => [v[i]!, v[i + 1]!] as const);
  const p: Chromaticities = { red: red!, green: green!, blue: blue!, white: white! };
  const [a, b, c] = [p.red, p.green, p.blue];
  const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  if (!v.every((x) => Math.abs(x) < 10) || !(Math.abs(area) > 1e-4) || !(p.white[1] > 0.01))
    throw new MediaError(
      'unsupported',
      'its primaries span no colours',
      'Write the picture again with the primaries of a known colour space.',
    );
  return p;
}

/** Interleaved colours -> the encoding, as floating point; what lies outside stays beyond 0..1. */
export function toMeaning({ encoding, convert }: Meaning, rgb: Samples, max: number): Float32Array {
  if (!convert) throw new Error('There is nothing to convert');
  const to = resolveEncoding(encoding);
  const target = known[to.primaries];
  const { toLinear, from } = convert;
  const m = multiply(invert3(rgbToXyz(target)), multiply(adapt(from.white, target.white), rgbToXyz(from)));
  const table =
    rgb instanceof Float32Array ? null : Float64Array.from({ length: max + 1 }, (_, i) => toLinear(i / max));
  const linear = (v: number): number => (table ? table[v]! : toLinear(v));
  const out = new Float32Array(rgb.length);
  for (let i = 0; i < rgb.length; i += 3) {
    const q = apply3(m, [linear(rgb[i]!), linear(rgb[i + 1]!), linear(rgb[i + 2]!)]);
    for (let c = 0; c < 3; c++) out[i + c] = encode(to, q[c]!);
  }
  return out;
}
