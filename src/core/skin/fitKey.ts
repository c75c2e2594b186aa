/**
 * A key fitted to sampled pixels: each range holds the middle 96 % of the samples, a little wider, with a softness that
 * grows with their spread. What a colourist would set by eye from the distributions, as a starting point. Samples that
 * lie far from the rest (an eye or a glint under the stroke) are left out first, as in a patch's reading.
 */
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr } from '../color/ycbcr';
import { wrap180, wrap360 } from '../math/angle';
import { clamp, median, quantileSorted } from '../math/stats';

export interface KeyFit {
  hueOn: boolean;
  hueCentreDeg: number;
  hueWidthDeg: number;
  hueSoftDeg: number;
  satOn: boolean;
  satCentrePct: number;
  satWidthPct: number;
  satSoftPct: number;
  lumaOn: boolean;
  lumaCentrePct: number;
  lumaWidthPct: number;
  lumaSoftPct: number;
}

const round = (x: number): number => Math.round(x * 10) / 10;

function range(sorted: Float32Array, least: number, softLeast: number, widen: number): { lo: number; hi: number; soft: number } {
  const lo = quantileSorted(sorted, 0.02);
  const hi = quantileSorted(sorted, 0.98);
  const mid = (lo + hi) / 2;
  const half = Math.max(((hi - lo) / 2) * widen, least / 2);
  return { lo: mid - half, hi: mid + half, soft: Math.max(softLeast, 0.8 * half) };
}

/**
 * Fits to interleaved R'G'B' samples (3 numbers each). Throws a RangeError when there are fewer than 8 finite samples.
 * Where the samples are too neutral to have a hue, the hue limit is off.
 */
export function fitKey(rgb: ArrayLike<number>): KeyFit {
  const all: [number, number, number][] = [];
  for (let i = 0; i + 2 < rgb.length; i += 3) {
    const s = rgbToYcbcr(rgb[i]!, rgb[i + 1]!, rgb[i + 2]!);
    if (Number.isFinite(s[0] + s[1] + s[2])) all.push(s);
  }
  const sat: number[] = [];
  const lum: number[] = [];
  const hue: number[] = [];
  let sb = 0;
  let sr = 0;
  // A face holds lit and dark sides of one hue: only another hue, or far too little colour, is foreign to it.
  const chroma = Float32Array.from(all, (s) => chromaPct(s[1], s[2]));
  const typical = median(chroma);
  const axis = hueDeg(median(Float32Array.from(all, (s) => s[1])), median(Float32Array.from(all, (s) => s[2])));
  const turn = Float32Array.from(all, (s) => Math.abs(wrap180(hueDeg(s[1], s[2]) - axis)));
  const limit = Math.max(8, 3 * 1.4826 * median(turn));
  const hasHue = typical >= NEUTRAL_CHROMA_PCT;
  for (const [k, [y, cb, cr]] of all.entries()) {
    const c = chroma[k]!;
    if (hasHue && (turn[k]! > limit || c < 0.35 * typical)) continue;
    sat.push(c);
    lum.push(100 * y);
    sb += cb;
    sr += cr;
    if (c >= NEUTRAL_CHROMA_PCT / 2) hue.push(hueDeg(cb, cr));
  }
  if (sat.length < 8) throw new RangeError('Too few pixels were sampled: drag across a larger piece');
  const hueOn = hue.length >= sat.length / 2 && chromaPct(sb / sat.length, sr / sat.length) >= NEUTRAL_CHROMA_PCT / 2;
  const mean = hueOn ? hueDeg(sb, sr) : 123;
  const h = range(Float32Array.from(hueOn ? hue.map((v) => wrap180(v - mean)) : [0]).sort(), 8, 6, 1.25);
  const s = range(Float32Array.from(sat).sort(), 6, 4, 1.3);
  const l = range(Float32Array.from(lum).sort(), 12, 8, 1.3);
  return {
    hueOn,
    hueCentreDeg: round(wrap360(mean + (h.lo + h.hi) / 2)) % 360,
    hueWidthDeg: round(Math.min(360, h.hi - h.lo)),
    hueSoftDeg: round(Math.min(60, h.soft)),
    satOn: true,
    satCentrePct: round(clamp((s.lo + s.hi) / 2, 0, 150)),
    satWidthPct: round(s.hi - s.lo),
    satSoftPct: round(Math.min(40, s.soft)),
    lumaOn: true,
    lumaCentrePct: round(clamp((l.lo + l.hi) / 2, -50, 150)),
    lumaWidthPct: round(l.hi - l.lo),
    lumaSoftPct: round(Math.min(40, l.soft)),
  };
}
