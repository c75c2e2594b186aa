/** The colour of a thing made another one, in OKLab, with its folds, highlights and texture. */
import { decodeBlock, encodeBlock } from '../../color/curves';
import { rgbToRgb } from '../../color/encodings';
import { diamond, gamutPairs, HUES, LIGHTS, PAIR_FLOATS } from '../../color/gamut';
import { hexOfLab } from '../../color/hex';
import { LIGHT_FLOATS, LIGHT_CURVE, lightBlock } from '../../color/light';
import { linearToOklab, oklabToLinear } from '../../color/oklab';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { params } from './params';

/** Where in a block, after the light block whose matrix leads to BT.709 light; shared with kernels/recolour.ts. */
const TO_LIGHT = 0;
const FROM_LIGHT = LIGHT_FLOATS;
const MAP = FROM_LIGHT + 9;
const MAP_FLOATS = 13;
const TABLE = MAP + MAP_FLOATS;
/** Chroma of what hardly has any is raised no further than so many times: the rest is added. */
const MOST_GAIN = 2.5;
/** From this share of what fits on, chroma that grew is drawn in. */
const KNEE = 0.75;
/** Chroma of a mean below which its hue is noise, and from which it counts in full. */
const NEUTRAL = { from: 0.005, to: 0.02 };
const LEAST_L = 0.02;
/** Of lightness, to either side of the mean: about what folds take. */
const STRAIGHT = 0.12;
/** From here on a thing is nearly white itself: its lightest places are it, not highlights on it. */
const WHITISH = { from: 0.65, to: 0.85 };
const heldL = (v: number): number => Math.min(1 - LEAST_L, Math.max(LEAST_L, v));

/** Largest chroma that fits, by straight lines between the table's places. */
function roomAt(k: Float32Array, L: number, a: number, b: number): number {
  const y = L > 0 ? Math.min(LIGHTS, L * LIGHTS) : 0;
  const i = Math.min(LIGHTS - 1, Math.floor(y));
  const x = diamond(a, b) * (HUES / 4);
  const j = Math.min(HUES - 1, Math.floor(x));
  const at = TABLE + 2 * (i * (HUES + 1) + j);
  const along = (o: number): number => k[o]! + (x - j) * (k[o + 2]! - k[o]!);
  const low = along(at);
  return low + (y - i) * (along(at + 1) - low);
}

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const row = (o: number, x: number, y: number, z: number): number => k[o]! * x + k[o + 1]! * y + k[o + 2]! * z;
  const at = (i: number): number => k[MAP + i]!;
  const [from, to, slope, reach, bendUp, bendDown] = [at(0), at(1), at(2), at(3), at(4), at(5)];
  const [white, beyond, below] = [at(6), at(7), at(8)];
  const [turnC, turnS, addA, addB] = [at(9), at(10), at(11), at(12)];
  const adds = addA !== 0 || addB !== 0;
  for (let i = 0; i < n; i++) {
    const [x, y, z] = [
      decodeBlock(k, LIGHT_CURVE, r[i]!),
      decodeBlock(k, LIGHT_CURVE, g[i]!),
      decodeBlock(k, LIGHT_CURVE, b[i]!),
    ];
    const [L, A, B] = linearToOklab(row(TO_LIGHT, x, y, z), row(TO_LIGHT + 3, x, y, z), row(TO_LIGHT + 6, x, y, z));
    // Straight about the mean, so that folds keep their shape; then it bends to where black and white go.
    const d = L - from;
    const up = d - reach;
    const down = -d - reach;
    const light =
      L >= 1
        ? white + (L - 1) * beyond
        : L <= 0
          ? L * below
          : up > 0
            ? to + slope * (reach + up / (1 + bendUp * up))
            : down > 0
              ? to - slope * (reach + down / (1 + bendDown * down))
              : to + slope * d;
    let [a, c] = [turnC * A - turnS * B, turnS * A + turnC * B];
    if (adds) {
      // What has no colour of its own to scale is given one, least where it is nearly black or white.
      const [u, v] = [light / to, (1 - light) / (1 - to)];
      const share = u > 0 && v > 0 ? (2 * u * v) / (u + v) : 0;
      a += share * addA;
      c += share * addB;
    }
    const chroma = Math.sqrt(a * a + c * c);
    const room = roomAt(k, light, a, c);
    if (chroma > KNEE * room) {
      // What was near the border of the range already may stay as near; nothing that was in it leaves it.
      const had = Math.sqrt(A * A + B * B) - Math.max(0, roomAt(k, L, A, B) - room);
      const knee = Math.max(KNEE * room, had);
      const over = chroma - knee;
      if (over > 0) {
        const rest = Math.max(0, room - knee);
        const drawn = (knee + (rest * over) / (over + rest)) / chroma;
        a *= drawn;
        c *= drawn;
      }
    }
    const [p, q, s] = oklabToLinear(light, a, c);
    // 0, or no number where one of the three was none.
    const odd = 0 * (r[i]! + g[i]! + b[i]!);
    r[i] = encodeBlock(k, LIGHT_CURVE, row(FROM_LIGHT, p, q, s)) + odd;
    g[i] = encodeBlock(k, LIGHT_CURVE, row(FROM_LIGHT + 3, p, q, s)) + odd;
    b[i] = encodeBlock(k, LIGHT_CURVE, row(FROM_LIGHT + 6, p, q, s)) + odd;
  }
}

/** How lightness goes: through the mean, through black; through white where the thing itself is not nearly white. */
function lightOf(f: number, t: number): number[] {
  const reach = Math.min(STRAIGHT, f / 2, (1 - f) / 2);
  const slope = Math.min(Math.sqrt(t / f), f === t ? 1 : (0.6 * Math.min(t, 1 - t)) / reach);
  const k = Math.min(1, Math.max(0, (f - WHITISH.from) / (WHITISH.to - WHITISH.from)));
  const straight = Math.min(1, t + slope * (1 - f));
  const white = 1 + k * k * (3 - 2 * k) * (straight - 1);
  const bend = (room: number, rise: number): number => ((slope * room) / rise - 1) / room;
  const [up, down] = [1 - f - reach, f - reach];
  const [bendUp, bendDown] = [bend(up, white - t - slope * reach), bend(down, t - slope * reach)];
  return [
    f,
    t,
    slope,
    reach,
    bendUp,
    bendDown,
    white,
    slope / (1 + bendUp * up) ** 2,
    slope / (1 + bendDown * down) ** 2,
  ];
}
/** What the mean is moved to: how lightness goes, the turn with its gain, what is added to a and b. */
function mapOf(from: readonly number[], aim: readonly number[]): number[] {
  const [f, t] = [heldL(from[0]!), heldL(aim[0]!)];
  const [cf, ct] = [Math.hypot(from[1]!, from[2]!), Math.hypot(aim[1]!, aim[2]!)];
  // Where the mean has hardly a colour, its hue and the share of its chroma mean nothing.
  const t01 = Math.min(1, Math.max(0, (cf - NEUTRAL.from) / (NEUTRAL.to - NEUTRAL.from)));
  const sure = t01 * t01 * (3 - 2 * t01);
  const plain = (ct + NEUTRAL.to) / (cf + NEUTRAL.to);
  const gain = Math.min(MOST_GAIN, sure > 0 ? sure * (ct / cf) + (1 - sure) * plain : plain);
  const between = Math.atan2(aim[2]!, aim[1]!) - Math.atan2(from[2]!, from[1]!);
  const turn = sure * Math.atan2(Math.sin(between), Math.cos(between));
  const [c, s] = [gain * Math.cos(turn), gain * Math.sin(turn)];
  const add = (v: number): number => (Math.abs(v) < 1e-12 ? 0 : v);
  return [
    ...lightOf(f, t),
    c,
    s,
    add(aim[1]! - (c * from[1]! - s * from[2]!)),
    add(aim[2]! - (s * from[1]! + c * from[2]!)),
  ];
}
export default definePixelOp<typeof params>({
  id: 'recolour',
  title: 'Recolour',
  doc:
    'Makes the mean colour of a thing another one: hue, chroma and lightness are moved in OKLab, black stays and ' +
    'so do highlights, what was lighter stays lighter, folds and texture keep their shape. Chroma that grew beyond ' +
    'what the range holds is drawn in gently at its hue and lightness.',
  version: 1,
  params,
  refs: ['OKLab: B. Ottosson, "A perceptual color space for image processing", 2020'],
  edge:
    'What lay outside the range before may stay there. Over white and below black lightness goes on in straight ' +
    'lines. NaN and infinity become NaN in all three channels.',
  migrations: [],
  /** Block: light to BT.709's primaries, the matrix back; the map; the table of what fits (core/color/gamut.ts). */
  prepare({ from, to, trim }, { encoding: e }) {
    const out = new Float32Array(TABLE + PAIR_FLOATS);
    out.set(lightBlock(e.curve, rgbToRgb(e.primaries, 'bt709')), 0);
    out.set(rgbToRgb('bt709', e.primaries), FROM_LIGHT);
    const aim = to.map((v, i) => v + trim[i]!);
    out.set(mapOf(from, aim), MAP);
    out.set(gamutPairs(e), TABLE);
    return out;
  },
  kernel,
  isNoOp: ({ from, to, trim }) => to.every((v, i) => v + trim[i]! === from[i]),
  say: ({ to }) => [`recoloured to ${hexOfLab(to)}`],
  brief: ({ to }) => hexOfLab(to),
});
