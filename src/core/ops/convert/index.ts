import { CURVE_FLOATS, curveBlock, decodeBlock, encodeBlock } from '../../color/curves';
import { decode, encodings, resolveEncoding, rgbToRgb } from '../../color/encodings';
import type { EncodingId } from '../../color/encodings';
import type { Matrix3 } from '../../color/matrix3';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { params } from './params';

const FROM = 0;
const MATRIX = CURVE_FLOATS;
const TONE = MATRIX + 9;
const GAMUT = TONE + 4;
const TO = GAMUT + 3;

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = k.subarray(MATRIX, MATRIX + 9) as unknown as Matrix3;
  const [gain, knee, range, top] = k.subarray(TONE, TONE + 4) as unknown as [number, number, number, number];
  const [t, s, gamut] = k.subarray(GAMUT, GAMUT + 3) as unknown as [number, number, number];
  const tone = (x: number): number => {
    const y = x * gain;
    if (!(y > knee)) return y;
    // Extended Reinhard above the knee: slope 1 at the knee, `top` comes to the end of the range.
    const u = (y - knee) / range;
    return knee + (range * u * (1 + u / (top * top))) / (1 + u);
  };
  const out = [r, g, b];
  for (let i = 0; i < n; i++) {
    const x = decodeBlock(k, FROM, r[i]!);
    const y = decodeBlock(k, FROM, g[i]!);
    const z = decodeBlock(k, FROM, b[i]!);
    const v = [m0 * x + m1 * y + m2 * z, m3 * x + m4 * y + m5 * z, m6 * x + m7 * y + m8 * z];
    if (gamut) {
      const ach = Math.max(v[0]!, v[1]!, v[2]!);
      if (ach > 0)
        for (let c = 0; c < 3; c++) {
          const d = (ach - v[c]!) / ach - t;
          if (d > 0) v[c] = ach * (1 - (t + d / (1 + d / s)));
        }
    }
    for (let c = 0; c < 3; c++) out[c]![i] = encodeBlock(k, TO, range > 0 ? tone(v[c]!) : v[c]! * gain);
  }
}

/** The encoding that the conversion gives. */
export const displayOf = (id: string): EncodingId => (id === 'srgb' ? 'srgb' : 'bt1886');

export default definePixelOp<typeof params>({
  id: 'convert',
  role: 'conversion',
  title: 'Conversion',
  doc:
    'From the encoding of the shot to the display: decode to linear light, matrix to BT.709 (Bradford ' +
    'where whites differ), colours beyond the gamut drawn in along the distance from grey, for scene ' +
    'light a tone rendering (straight up to a knee, extended Reinhard above), encode for the display.',
  version: 1,
  params,
  refs: [
    'SMPTE RP 177-1993: matrices from primaries',
    'ICC.1:2022 Annex E.3: linearised Bradford',
    'E. Reinhard et al., "Photographic Tone Reproduction for Digital Images", SIGGRAPH 2002, equation 4: the shoulder',
    'ACES "Reference Gamut Compression Specification" (2021): distance from the achromatic axis; here with power 1',
  ],
  edge:
    'Nothing clamps beyond what the encodings themselves clamp: values above white and below black ' +
    'live on. NaN spreads to all three channels.',
  migrations: [],
  /** Block: curve from, matrix, tone (gain, knee, range or 0, top), gamut (threshold, scale, on), curve to. */
  prepare(p, { source }) {
    const to = { ...encodings[displayOf(p.display)], id: p.display };
    const out = new Float32Array(TO + CURVE_FLOATS);
    out.set(curveBlock(source.curve), FROM);
    out.set(rgbToRgb(source.primaries, to.primaries), MATRIX);
    let tone = [1, 0, 0, 0];
    if (source.referred === 'scene') {
      const gain = decode(resolveEncoding(displayOf(p.display)), p.greyPct / 100) / 0.18;
      // White in display light without a shoulder; the knee lies between mid grey (all soft) and 1.
      const white = 0.18 * gain * 2 ** p.whiteStops;
      const knee = 1 - (p.softPct / 100) * (1 - 0.18 * gain);
      const range = 1 - knee;
      const top = range > 0 ? (white - knee) / range : 0;
      // A white at or below 1 needs no shoulder: it is brought to 1 by nothing, and clips where it must.
      tone = range > 1e-6 && top > 1 ? [gain, knee, range, top] : [gain, 0, 0, 0];
    }
    out.set(tone, TONE);
    // A distance of 1 lies on the border of the gamut; threshold 1 - 0.3 amount, and a scale that brings 1.4 to 1.
    const t = 1 - 0.3 * (p.gamutPct / 100);
    const limit = 1.4;
    out.set(
      [t, ((limit - t) * (1 - t)) / (limit - 1), p.gamutPct > 0 && source.primaries !== to.primaries ? 1 : 0],
      GAMUT,
    );
    out.set(curveBlock(to.curve), TO);
    return out;
  },
  kernel,
  /** Never: whether it is needed is the shot's switch. */
  isNoOp: () => false,
});
