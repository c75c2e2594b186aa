/**
 * A key fitted to sampled pixels: each range holds the middle 96 % of the samples, a little wider, with a softness that
 * grows with their spread. What a colourist would set by eye from the distributions, as a starting point. Samples that
 * lie far from the rest (an eye or a glint under the stroke) are left out first, as in a patch's reading.
 */
import type { Encoding } from '../color/encodings';
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT } from '../color/ycbcr';
import { measure } from '../matte/keySpace';
import type { KeySpace } from '../matte/keySpace';
import { plainContext } from '../op/contract';
import type { KeyPointOp } from '../op/contract';
import { resolve } from '../op/params';
import keyOp, { hueWidth, MID_LUMA } from '../ops/key/index';
import { wrap180, wrap360 } from '../math/angle';
import { median, quantileSorted } from '../math/stats';

export interface KeyFit {
  space: KeySpace;
  hueOn: boolean;
  hueFromDeg: number;
  hueToDeg: number;
  hueFadeFromDeg: number;
  hueFadeToDeg: number;
  satOn: boolean;
  satFromPct: number;
  satToPct: number;
  satFadeFromPct: number;
  satFadeToPct: number;
  lumaOn: boolean;
  lumaFromPct: number;
  lumaToPct: number;
  lumaFadeFromPct: number;
  lumaFadeToPct: number;
  leanPct: number;
}

/** In % of luma: glints are a little above white. */
const LIGHTEST = 110;
const round = (x: number): number => Math.round(x * 10) / 10;

function range(
  sorted: Float32Array,
  least: number,
  softLeast: number,
  widen: number,
): { lo: number; hi: number; soft: number } {
  const lo = quantileSorted(sorted, 0.02);
  const hi = quantileSorted(sorted, 0.98);
  const mid = (lo + hi) / 2;
  const half = Math.max(((hi - lo) / 2) * widen, least / 2);
  return { lo: mid - half, hi: mid + half, soft: Math.max(softLeast, 0.8 * half) };
}

export interface FitOptions {
  space?: KeySpace;
  /** Of the colours, for OKLCh. */
  encoding?: Encoding;
  /** Saturation gained from black to white; left out: what the samples say. */
  leanPct?: number;
  /** Exactly what was touched: not its darker and lighter sides as well. */
  narrow?: boolean;
}
/**
 * How much further than the samples a key reaches, so that the light and the dark side of the thing belong to it: light
 * down to a half and up to 1.8 times, saturation (measured where the key leans) twice as far, hue by a third.
 * Of thirteen things on the demo's pictures and three on photographs it holds 0.89 in the median where the sample's own
 * range holds 0.67; inside a rough ellipse the intersection over union rises from 0.54 to 0.79.
 */
const WIDE = { dark: 0.5, light: 1.8, sat: 2, hue: 1.3, fade: 0.3 } as const;
/** Lightness of OKLab goes with the cube root of light, a signal about with its 2.4th: this power apart. */
const LIGHT_POWER = 0.8;
/** A key leans at most so much; a thing whose colour gets weaker with light is not leant on. */
const MOST_LEAN = 2;
/** Standard deviation of luma, in %, at which the samples' own slope weighs as much as the line through black. */
const LEAN_PULL = 6;
/** Saturation gained per luma: by regression, drawn towards the line through black where light hardly varies. */
function leanOf(luma: readonly number[], sat: readonly number[]): number {
  const mean = (v: readonly number[]): number => v.reduce((a, x) => a + x, 0) / v.length;
  const [l, s] = [mean(luma), mean(sat)];
  const varies = mean(luma.map((v) => (v - l) ** 2));
  const together = mean(luma.map((v, i) => (v - l) * (sat[i]! - s)));
  const pull = LEAN_PULL ** 2;
  return Math.min(MOST_LEAN, Math.max(0, (together + (l > 5 ? (pull * s) / l : 0)) / (varies + pull)));
}
/**
 * Fits to interleaved R'G'B' samples (3 numbers each). Throws a RangeError when there are fewer than 8 finite samples.
 * Where the samples are too neutral to have a hue, the hue limit is off.
 */
export function fitKey(rgb: ArrayLike<number>, options: FitOptions = {}): KeyFit {
  const { leanPct, narrow = false, space = 'scope' } = options;
  const all: [number, number, number][] = [];
  const measured = measure(space, options.encoding);
  for (let i = 0; i + 2 < rgb.length; i += 3) {
    const s = measured(rgb[i]!, rgb[i + 1]!, rgb[i + 2]!);
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
  const more = narrow ? { dark: 1, light: 1, sat: 1, hue: 1, fade: 0 } : WIDE;
  const lean = round(leanPct ?? 100 * leanOf(lum, sat));
  const level = Float32Array.from(sat, (c, i) => c - (lean / 100) * (lum[i]! - MID_LUMA));
  const h = range(Float32Array.from(hueOn ? hue.map((v) => wrap180(v - mean)) : [0]).sort(), 8, 6, 1.25 * more.hue);
  const s = range(level.sort(), 6 * more.sat, 4, 1.3 * more.sat);
  const l = range(Float32Array.from(lum).sort(), 12, 8, 1.3);
  const power = space === 'oklch' ? LIGHT_POWER : 1;
  l.lo *= more.dark ** power;
  l.hi = Math.min(Math.max(l.hi, LIGHTEST), l.hi * more.light ** power);
  l.soft = Math.max(l.soft, more.fade * l.lo);
  const hueWidth = Math.min(360, h.hi - h.lo);
  const hueFrom = round(wrap360(mean + (h.lo + h.hi - hueWidth) / 2)) % 360;
  const hueTo = round(hueFrom + hueWidth);
  const [hueFade, satFade, lumaFade] = [
    round(Math.min(60, h.soft)),
    round(Math.min(40, s.soft)),
    round(Math.min(40, l.soft)),
  ];
  return {
    space,
    hueOn,
    hueFromDeg: hueFrom,
    // Told as an angle, but for the whole circle.
    hueToDeg: hueWidth < 360 && hueTo >= 360 ? round(hueTo - 360) : hueTo,
    hueFadeFromDeg: hueFade,
    hueFadeToDeg: hueFade,
    satOn: true,
    satFromPct: round(s.lo),
    satToPct: round(s.hi),
    satFadeFromPct: satFade,
    satFadeToPct: satFade,
    lumaOn: true,
    lumaFromPct: round(l.lo),
    lumaToPct: round(l.hi),
    lumaFadeFromPct: lumaFade,
    lumaFadeToPct: lumaFade,
    leanPct: lean,
  };
}

const hueSpan = (k: KeyFit): number => hueWidth(k.hueFromDeg, k.hueToDeg);
const asHue = (from: number, width: number): Pick<KeyFit, 'hueFromDeg' | 'hueToDeg'> => {
  const start = round(wrap360(from)) % 360;
  const end = round(start + width);
  return { hueFromDeg: start, hueToDeg: width < 360 && end >= 360 ? round(end - 360) : end };
};

/** A key that holds what it held and what another one was fitted to (with its own lean); its fades stay. */
export function addToKey(key: KeyFit, more: KeyFit): KeyFit {
  const out = { ...key };
  if (key.hueOn && more.hueOn) {
    // The smaller of the two arcs that hold both.
    const [a, b] = [hueSpan(key), hueSpan(more)];
    const ahead = wrap360(more.hueFromDeg - key.hueFromDeg);
    const behind = wrap360(key.hueFromDeg - more.hueFromDeg);
    const [w1, w2] = [Math.max(a, ahead + b), Math.max(b, behind + a)];
    if (Math.min(w1, w2) >= 360) Object.assign(out, asHue(key.hueFromDeg, 360));
    else Object.assign(out, w1 <= w2 ? asHue(key.hueFromDeg, w1) : asHue(more.hueFromDeg, w2));
  }
  out.satFromPct = Math.min(key.satFromPct, more.satFromPct);
  out.satToPct = Math.max(key.satToPct, more.satToPct);
  out.lumaFromPct = Math.min(key.lumaFromPct, more.lumaFromPct);
  out.lumaToPct = Math.max(key.lumaToPct, more.lumaToPct);
  return out;
}

/** So much of what the key holds must be left for a cut to make sense. */
const LEAST_LEFT = 0.08;
/** Values of a key over interleaved R'G'B' colours. */
function keyOver(fit: KeyFit, rgb: ArrayLike<number>, encoding = plainContext.encoding): Float32Array {
  const n = Math.floor(rgb.length / 3);
  const block = keyOp.prepare(resolve(keyOp.params, { ...fit }), { ...plainContext, encoding });
  const [r, g, b] = [0, 1, 2].map((c) => Float32Array.from({ length: n }, (_, i) => rgb[3 * i + c]!));
  const m = new Float32Array(n);
  (keyOp as KeyPointOp).kernel(block, { r: r!, g: g!, b: b!, m, n });
  return m;
}
/** Mean value of a key over interleaved R'G'B' colours. */
export function meanKey(fit: KeyFit, rgb: ArrayLike<number>, encoding?: Encoding): number {
  const m = keyOver(fit, rgb, encoding);
  return m.reduce((s, v) => s + v, 0) / Math.max(1, m.length);
}
/**
 * A key that leaves out what another one was fitted to (with its own lean, narrowly): the one cut, on one side of one
 * range, that takes least of what it holds. Throws a RangeError where the two share all that the key is limited by.
 *
 * @param held colours that the key holds now, interleaved R'G'B'
 * @param touched some of those that are to go
 */
export function takeFromKey(
  key: KeyFit,
  less: KeyFit,
  held: ArrayLike<number>,
  touched: ArrayLike<number>,
  encoding?: Encoding,
): KeyFit {
  if (meanKey(key, touched, encoding) < 0.02) throw new RangeError('the key holds nothing of what you touched');
  const cuts: Partial<KeyFit>[] = [];
  const line = (axis: 'sat' | 'luma'): void => {
    const of = (k: KeyFit, p: string): number => k[`${axis}${p}Pct` as 'satFromPct'];
    const [from, to] = [of(key, 'From'), of(key, 'To')];
    const [lo, hi] = [of(less, 'From'), of(less, 'To')];
    // Fades reach over the end: the cut stands their width away, or brings them nearer.
    const fade = (p: string, room: number): number => round(Math.min(of(key, p), Math.max(1, room)));
    if (lo > from && lo < to + of(key, 'FadeTo')) {
      const f = fade('FadeTo', (lo - from) / 3);
      const end = Math.min(to, lo - f);
      cuts.push({ [`${axis}ToPct`]: round(end), [`${axis}FadeToPct`]: f } as Partial<KeyFit>);
    }
    if (hi < to && hi > from - of(key, 'FadeFrom')) {
      const f = fade('FadeFrom', (to - hi) / 3);
      const end = Math.max(from, hi + f);
      cuts.push({ [`${axis}FromPct`]: round(end), [`${axis}FadeFromPct`]: f } as Partial<KeyFit>);
    }
  };
  if (key.satOn) line('sat');
  if (key.lumaOn) line('luma');
  if (key.hueOn && less.hueOn) {
    const w = hueSpan(key);
    const lo = wrap180(less.hueFromDeg - key.hueFromDeg - w / 2) + w / 2;
    const hi = lo + hueSpan(less);
    if (lo > 0) {
      const f = round(Math.min(key.hueFadeToDeg, Math.max(1, lo / 3)));
      const end = Math.min(w, lo - f);
      cuts.push({ ...asHue(key.hueFromDeg, Math.max(0, end)), hueFadeToDeg: f });
    }
    if (hi < w) {
      const f = round(Math.min(key.hueFadeFromDeg, Math.max(1, (w - hi) / 3)));
      const start = Math.max(0, hi + f);
      const next = asHue(key.hueFromDeg + start, Math.max(0, w - start));
      cuts.push({ ...next, hueFadeFromDeg: f });
    }
  }
  const best = cuts
    .map((c) => ({ next: { ...key, ...c }, left: meanKey({ ...key, ...c }, held, encoding) }))
    .sort((a, b) => b.left - a.left)[0];
  if (!best || best.left < LEAST_LEFT)
    throw new RangeError(
      'what you touched shares its hue, saturation and luma with what the key holds: no limit tells them apart. ' +
        'Draw a shape round one of them',
    );
  return best.next;
}

/** A key that holds so much of what is not meant is narrowed; one that loses so much of what is meant is not taken. */
const HELD_AT_MOST = 0.05;
const KEPT_AT_LEAST = 0.6;
export type ReadAs = Pick<FitOptions, 'space' | 'encoding'>;
/**
 * A key for what was painted: reaching as far as a sample's does, and narrowed to leave out what was painted as not
 * meant, as far as that does not cost the rest.
 *
 * @param keep colours that are meant, interleaved R'G'B'; fewer than 8 throw a RangeError
 * @param leave colours that are not meant; may be none
 */
export function fitStrokes(keep: ArrayLike<number>, leave: ArrayLike<number>, read: ReadAs = {}): KeyFit {
  let key = fitKey(keep, read);
  const held = (k: KeyFit): number => meanKey(k, leave, read.encoding);
  if (leave.length < 24 || held(key) <= HELD_AT_MOST) return key;
  const better = (next: KeyFit): void => {
    if (held(next) < held(key) && meanKey(next, keep, read.encoding) >= KEPT_AT_LEAST) key = next;
  };
  better(fitKey(keep, { ...read, leanPct: key.leanPct, narrow: true }));
  const less = fitKey(leave, { ...read, leanPct: key.leanPct, narrow: true });
  // Each round takes the cheapest cut; a second one may be needed on the other side.
  for (let round = 0; round < 2 && held(key) > HELD_AT_MOST; round++)
    try {
      better(takeFromKey(key, less, keep, leave, read.encoding));
    } catch (e) {
      // They share all three: the key stays as wide as it has to be, and what separates is said beside it.
      if (!(e instanceof RangeError)) throw e;
      break;
    }
  return key;
}

/** Every colour in steps of a fifteenth of each channel. */
const lattice = (): number[] =>
  Array.from({ length: 16 ** 3 }, (_, i) => [i % 16, Math.floor(i / 16) % 16, Math.floor(i / 256)])
    .flat()
    .map((v) => v / 15);
/**
 * The same key told in another space: limits go around what it holds of `held`, or of all colours where that is too
 * little; which of the three are used stays, fades keep their share of the range. Throws a RangeError where it holds
 * no colour.
 *
 * @param held colours of the picture, interleaved R'G'B'
 */
export function inSpace(key: KeyFit, space: KeySpace, held: ArrayLike<number>, encoding?: Encoding): KeyFit {
  if (key.space === space) return key;
  const inside = (rgb: ArrayLike<number>): number[] => {
    const m = keyOver(key, rgb, encoding);
    return Array.from(rgb).filter((_, i) => m[Math.floor(i / 3)]! > 0.5);
  };
  let rgb = inside(held);
  if (rgb.length < 24) rgb = inside(lattice());
  if (rgb.length < 24)
    throw new RangeError('the key holds no colour that could be told in another way: sample it anew');
  const fit = fitKey(rgb, {
    ...(encoding ? { encoding } : {}),
    ...(key.leanPct === 0 ? { leanPct: 0 } : {}),
    space,
    narrow: true,
  });
  const share = (fade: number, was: number, is: number): number => round(was > 0 ? (fade * is) / was : fade);
  const [h0, h1] = [hueSpan(key), hueSpan(fit)];
  const line = (a: 'sat' | 'luma') => {
    const width = (k: KeyFit): number => k[`${a}ToPct`] - k[`${a}FromPct`];
    return {
      [`${a}FadeFromPct`]: Math.min(100, share(key[`${a}FadeFromPct`], width(key), width(fit))),
      [`${a}FadeToPct`]: Math.min(100, share(key[`${a}FadeToPct`], width(key), width(fit))),
    };
  };
  return {
    ...fit,
    hueOn: key.hueOn,
    satOn: key.satOn,
    lumaOn: key.lumaOn,
    hueFadeFromDeg: Math.min(180, share(key.hueFadeFromDeg, h0, h1)),
    hueFadeToDeg: Math.min(180, share(key.hueFadeToDeg, h0, h1)),
    ...line('sat'),
    ...line('luma'),
  };
}
