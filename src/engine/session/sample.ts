/** Colours of a picture: distributions, what a key is fitted to, what a region holds. */
import { rgbToYcbcr } from '../../core/color/ycbcr';
import { encodingAt, opById, quietStep } from '../../core/graph/plan';
import { strokesAt } from '../../core/graph/strokes';
import { opTerms } from '../../core/graph/region';
import { labOf, labsOf, lightBlock } from '../../core/matte/light';
import { AS_LIT, lightGains, lightOf } from '../../core/matte/keyLight';
import { separation } from '../../core/matte/separate';
import type { Encoding } from '../../core/color/encodings';
import { chromaNoisePct, guardFor, guardIn } from '../../core/matte/noise';
import type { Separation } from '../../core/matte/separate';
import { fitKey as fitSamples, fitStrokes, inSpace } from '../../core/skin/fitKey';
import type { FitOptions } from '../../core/skin/fitKey';
import { measure } from '../../core/matte/keySpace';
import type { KeySpace } from '../../core/matte/keySpace';
import { resolve } from '../../core/op/params';
import { nearOf } from '../../core/matte/near';
import type { CorrectionSpec, OpTerm } from '../../core/graph/plan';

import { TICK_PIXELS } from '../../core/skin/surround';
import { PLANE_CELLS } from '../../protocol/messages';
import type {
  Distributions,
  FrameRef,
  KeyDots,
  Requests,
  Sampled,
  SampleArea,
  ShotState,
} from '../../protocol/messages';
import { heldColours, matteOf, rgbOf, samplesOf } from '../samples';

import type { Planes } from '../pictures';
import type { Views } from '../memory';
import type { Held } from './held';

/** So many sampled pixels are shown as dots. */
const KEY_DOTS = 160;
const HELD_COLOURS = 800;
/** Of the whole picture, to see what a key holds of it. */
const KEYED_COLOURS = 40_000;
/** So many are told as colours of a nearness key: more move no cluster. */
const LAB_SAMPLES = 400;
const LEVEL_PIXELS = 150_000;

export async function distributions(
  h: Held,
  shot: ShotState,
  correction: string,
  { base = false, space = 'scope', ...as }: SeenAs & { space?: KeySpace } = {},
): Promise<Distributions> {
  h.ev.begin();
  const at = (ref: FrameRef) => h.level(ref, LEVEL_PIXELS);
  const { planes, scale } = await at(shot);
  const res = await h.over(shot, async (ref) => (await at(ref)).planes, scale, correction);
  const plain = base ? await h.baseFor(shot, correction, planes) : h.inputOf(res, correction);
  const input = await asKey(h, plain, as, scale);
  h.slow(input.w * input.h);
  const cells = new Uint32Array(PLANE_CELLS * PLANE_CELLS);
  const luma = new Uint32Array(100);
  const cell = (v: number): number => Math.min(PLANE_CELLS - 1, Math.max(0, Math.floor((v + 0.5) * PLANE_CELLS)));
  const measured = measure(space, encodingOf(shot, correction));
  h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, input);
    for (let i = 0; i < r.length; i++) {
      if (i % TICK_PIXELS === 0) h.ev.check();
      const [y, cb, cr] = measured(r[i]!, g[i]!, b[i]!);
      if (!Number.isFinite(y + cb + cr)) continue;
      luma[Math.min(99, Math.max(0, Math.floor(y * 100)))]!++;
      cells[cell(-cr) * PLANE_CELLS + cell(cb)]!++;
    }
  });
  // A root keeps small heaps, such as a face in a large room, visible.
  const [most, top] = [Math.max(1, ...luma), cells.reduce((a, n) => Math.max(a, n), 1)];
  return {
    plane: Uint8Array.from(cells, (n) => Math.round(255 * Math.sqrt(n / top))),
    luma: Array.from(luma, (n) => Math.sqrt(n / most)),
  };
}

const encodingOf = (shot: ShotState, correction: string | null): Encoding =>
  encodingAt(shot, shot.corrections.find((x) => x.id === correction)?.side);

/** Of the picture that was sampled last: a drag asks again and again. */
const noises = new WeakMap<Held, { key: string; pct: number }>();
function noiseOf(h: Held, v: Views, p: Planes): number {
  const last = noises.get(h);
  if (last?.key === p.key) return last.pct;
  const { r, g, b } = rgbOf(v, p);
  const pct = chromaNoisePct(r, g, b, p.w);
  noises.set(h, { key: p.key, pct });
  return pct;
}

/** How a key reads the picture. */
export interface SeenAs {
  /** The picture before any correction. */
  base?: boolean;
  /** Strength of noise reduction in %. */
  quietPct?: number;
  /** In that light; left out or empty: as it is lit. */
  light?: readonly number[] | undefined;
}
export interface SampleOptions extends SeenAs {
  /** Exactly what was touched. */
  narrow?: boolean;
  space?: KeySpace;
}
export async function fitKey(
  h: Held,
  shot: ShotState,
  correction: string | null,
  area: SampleArea,
  { base = false, narrow = false, space = 'scope', ...as }: SampleOptions = {},
): Promise<Sampled> {
  const res = await h.run(shot, correction ?? undefined);
  const seen = correction === null || base ? await h.baseFor(shot, correction, res.source) : h.inputOf(res, correction);
  const p = await asKey(h, seen, as);
  h.slow(p.w * p.h);
  const light = lightOfPlanes(h, seen);
  return h.ev.arena.look((v) => {
    const samples = samplesOf(rgbOf(v, p), p, area);
    const n = samples.length / 3;
    const step = Math.max(1, Math.floor(n / KEY_DOTS));
    const dots: KeyDots = [];
    const lab: number[] = [];
    const encoding = encodingOf(shot, correction);
    const way = Float32Array.from(lightBlock(encoding));
    for (let i = 0; i < n; i += Math.max(1, Math.floor(n / LAB_SAMPLES))) {
      const [R, G, B] = [samples[3 * i]!, samples[3 * i + 1]!, samples[3 * i + 2]!];
      if (Number.isFinite(R + G + B)) lab.push(...labOf(way, 0, R, G, B));
    }
    for (let i = 0; i < n; i += step) {
      const [y, cb, cr] = rgbToYcbcr(samples[3 * i]!, samples[3 * i + 1]!, samples[3 * i + 2]!);
      if (Number.isFinite(y + cb + cr)) dots.push(cb, cr, y);
    }
    const region = correction === null ? null : (res.steps.get(correction)?.region ?? null);
    const held = region ? heldColours(rgbOf(v, p), matteOf(v, p, region), HELD_COLOURS) : [];
    const options: FitOptions = { space, encoding, ...(narrow ? { leanPct: 0, narrow } : {}) };
    return {
      fit: fitSamples(samples, options),
      encoding,
      neutralPct: guardFor(noiseOf(h, v, p), dots, space, encoding),
      lab,
      dots,
      held,
      light,
    };
  });
}

/** Colours inside a correction's region, as it is given them. */
export async function heldInside(h: Held, shot: ShotState, correction: string): Promise<number[]> {
  const s = (await h.run(shot, correction)).steps.get(correction);
  if (!s) throw new RangeError('There is no such correction in this shot');
  return h.ev.arena.look((v) => heldColours(rgbOf(v, s.input), matteOf(v, s.input, s.matte), HELD_COLOURS));
}

/** Colours of the picture as decoded and converted, where somebody painted. */
export async function samplesUnder(h: Held, shot: ShotState, area: SampleArea, quietPct = 0): Promise<number[]> {
  h.ev.begin();
  const p = await asKey(h, await h.base(shot, await h.full(shot)), { quietPct });
  return h.ev.arena.look((v) => samplesOf(rgbOf(v, p), p, area));
}

async function asKey(h: Held, p: Planes, { light, quietPct = 0 }: Omit<SeenAs, 'base'>, scale = 1): Promise<Planes> {
  const lit = light?.length ? await h.ev.inLight(p, light) : p;
  return quietPct > 0 ? h.ev.quieter(lit, quietStep(quietPct, scale)) : lit;
}
const lightOfPlanes = (h: Held, p: Planes): number[] => h.ev.arena.look((v) => lightOf(rgbOf(v, p), p.w, p.h));
/** The picture that a key of a correction is given, as it is lit. */
async function givenTo(h: Held, shot: ShotState, c: CorrectionSpec, t: OpTerm): Promise<Planes> {
  const res = await h.run(shot, c.id);
  return t.reads === 'base' ? h.baseFor(shot, c.id, res.source) : h.inputOf(res, c.id);
}
/** The picture as a key of a correction reads it. */
const seenBy = async (h: Held, shot: ShotState, c: CorrectionSpec, t: OpTerm): Promise<Planes> =>
  asKey(h, await givenTo(h, shot, c, t), t);
export async function keyLight(
  h: Held,
  { shot, correction, term }: Requests['keyLight']['in'],
): Promise<Requests['keyLight']['out']> {
  const c = shot.corrections.find((x) => x.id === correction);
  const t = c && opTerms(c.terms).find((x) => x.id === term);
  if (!c || !t) throw new RangeError('There is no such part in this shot');
  const p = await givenTo(h, shot, c, t);
  const light = lightOfPlanes(h, p);
  return { light, ...(t.light?.length ? lightGains(t.light, light) : AS_LIT) };
}
/** So many colours of each kind tell enough. */
const TOLD_COLOURS = 1500;
/** Some of the colours under strokes that say "this", and under those that do not, R'G'B' one after the other. */
async function underStrokes(
  h: Held,
  shot: ShotState,
  c: CorrectionSpec,
  t: OpTerm,
  strokes: NonNullable<OpTerm['strokes']>,
  brushPx: number,
): Promise<{ keep: number[]; leave: number[] }> {
  const p = await seenBy(h, shot, c, t);
  const brush = brushPx * (c.fit?.s ?? 1);
  const all = strokesAt(strokes, shot.frame, 1, c.fit, t.track);
  return h.ev.arena.look((v) => {
    const of = (k: boolean): number[] => {
      const points = all.filter((s) => s.keep === k).flatMap((s) => s.points.map(([x, y]) => ({ x, y })));
      if (points.length === 0) return [];
      const rgb = samplesOf(rgbOf(v, p), p, { points, radiusPx: Math.max(1, brush / 2) });
      const step = Math.max(1, Math.floor(rgb.length / 3 / TOLD_COLOURS));
      return rgb.filter((_, i) => Math.floor(i / 3) % step === 0);
    };
    return { keep: of(true), leave: of(false) };
  });
}
/** What a key is set to for strokes. Throws a RangeError where too little is painted. */
export async function strokeFit(h: Held, q: Requests['strokeFit']['in']): Promise<Requests['strokeFit']['out']> {
  const c = q.shot.corrections.find((x) => x.id === q.correction);
  const t = c && opTerms(c.terms).find((x) => x.id === q.term);
  if (!c || !t) throw new RangeError('There is no such part in this shot');
  const { keep, leave } = await underStrokes(h, q.shot, c, t, q.strokes, q.brushPx);
  const e = encodingOf(q.shot, q.correction);
  return {
    fit: fitStrokes(keep, leave, { space: q.space, encoding: e }),
    near: nearOf(labsOf(e, keep), labsOf(e, leave)),
    light: lightOfPlanes(h, await givenTo(h, q.shot, c, t)),
  };
}
export async function keyIn(h: Held, q: Requests['keyIn']['in']): Promise<Requests['keyIn']['out']> {
  const c = q.shot.corrections.find((x) => x.id === q.correction);
  const t = c && opTerms(c.terms).find((x) => x.id === q.term);
  if (!c || t?.use.op !== 'key') throw new RangeError('There is no such key in this shot');
  const p = await seenBy(h, q.shot, c, t);
  const key = resolve(opById('key').params, t.use.params, q.shot.frame) as unknown as Requests['keyIn']['out'];
  const encoding = encodingOf(q.shot, c.id);
  const colours = h.ev.arena.look((v) => heldColours(rgbOf(v, p), null, KEYED_COLOURS));
  const luma = key.lumaOn && key.space === 'scope' ? (key.lumaFromPct + key.lumaToPct) / 200 : 0.5;
  return {
    ...inSpace(key, q.space, colours, encoding),
    neutralPct: guardIn(key.neutralPct, key.space, q.space, luma, encoding),
  };
}
/** What tells the strokes of a painted part apart, in the picture that it reads. */
export async function separates(
  h: Held,
  shot: ShotState,
  correction: string,
  term: string,
): Promise<Separation | null> {
  const c = shot.corrections.find((x) => x.id === correction);
  const t = c && opTerms(c.terms).find((x) => x.id === term);
  if (!c || !t?.strokes?.length) return null;
  const { keep, leave } = await underStrokes(h, shot, c, t, t.strokes, Number(t.use.params['brushPx'] ?? 8));
  return separation(keep, leave);
}
