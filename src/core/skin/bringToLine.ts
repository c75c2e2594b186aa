/**
 * Bring to line: the smallest push of the chosen kind that puts a patch on the skin line, solved through the real
 * pipeline. `measure` runs the pipeline with a trial push and reads the patch (or several, as one colour); the solver
 * knows nothing else of it, so a soft matte, a mix below 100 % and later corrections are all accounted for.
 *
 *  - by an angle (a turn, a bend by hue). Luma and chroma stay by construction where the matte is full; chroma that is
 *    wanted otherwise comes by saturation.
 *  - by a colour difference (Cb, Cr). The nearest point of the line lies straight across from the patch; going there
 *    loses chroma, cos(off-line) of it remains. So that strength is kept, the target is never below `KEEP` of it.
 *
 * Level, where it is wanted, is brought first, by exposure: a gain of light, so that contrast stays.
 */
import { hueDeg, SKIN_LINE_DEG } from '../color/ycbcr';
import { DEG, wrap180 } from '../math/angle';
import { clamp } from '../math/stats';
import { wayOf } from './pushes';
import type { Push, PushKind } from './pushes';
import type { Reading } from './reading';

/**
 * within10: at least 90 % of the chroma stays; exact: all of it; free: the shortest way, whatever is lost; `pct`: so
 * much chroma, in %.
 */
export type KeepChroma = 'within10' | 'exact' | 'free' | { readonly pct: number };
/** Luma in % that is wanted, from..to: what lies outside comes to the nearer end. */
export type WantedLevel = readonly [number, number];
export interface Wanted {
  /** 0..1: how much of the way is gone; 1 is on the line. */
  strength: number;
  keep?: KeepChroma;
  /** Left out: level stays as it is. */
  level?: WantedLevel | null;
  lineDeg?: number;
}
/** What goes with a push. */
export interface Beside {
  /** Stops of exposure. */
  stops: number;
  /** Share of chroma, of kinds by an angle; 1 keeps it. */
  chroma: number;
  /** What the patch reads with `stops` and no push; null as long as that is what is asked. */
  from: Reading | null;
}

export interface BringToLine {
  kind: PushKind;
  push: Push;
  stops: number;
  /** Share of chroma that a saturation gives. */
  chroma: number;
  /** What the patch reads with the stops and no push: what lists are solved about. */
  from: Reading;
  /** Both as the written file reads: on its codes, with the pixels that a fresh reading of it keeps. */
  before: Reading;
  after: Reading;
  /**
   * Off-line angle of `after`, when only the pixels count that counted before: given where it differs from that of
   * `after` by more than 0.3 degrees, since then the push changes which pixels are outliers; else null.
   */
  samePixelsOffLineDeg: number | null;
  /** Share of the patch's pixels that clip on the display with the push, and without it. */
  clippedShare: number;
  clippedBefore: number;
  /** Chroma after over chroma before; what exposure alone does to it is not counted. */
  chromaKept: number;
  /** % of luma left to the level that was wanted; 0 where none was. */
  levelLeft: number;
  /** Of each patch, where there are several. */
  each: { before: Reading; after: Reading }[];
  /**
   * Off-line angle left, in degrees, as the file reads; larger than 0.5 means that the push hit its limit, the matte
   * does not reach the patch, the display's range ends, or the codes are too coarse (`why`).
   */
  residualDeg: number;
  why: 'none' | 'rounding' | 'clipping' | 'reach';
  trials: number;
}
/** What a trial push gives. */
export interface Trial {
  /** As the written file reads. */
  file: Reading;
  /** Held in the display's range but not rounded, of the pixels that counted before the push: what is solved on. */
  smooth: Reading;
  clippedShare: number;
  /** As the file reads each patch, where there are several. */
  each?: Reading[];
}

export class CannotBring extends Error {
  override name = 'CannotBring';
}

const KEEP = { within10: 0.9, exact: 1, free: 0 };
/** Within10 aims a little inside, so that rounding to codes cannot carry it out. */
const INSIDE = 0.005;
/** Degrees off the goal that nobody can see or measure: no better push is looked for. */
const ENOUGH_DEG = 0.02;
/** The same of chroma, as a share, and of luma as signal. */
const ENOUGH_CHROMA = 0.002;
const ENOUGH_LUMA = 0.0005;
/** Into a range of level a patch comes by so much, so that rounding cannot carry it out again. */
const INTO_PCT = 0.2;
const MOST_STOPS = 6;
/** A push is good for the level that it was solved at: both are gone through anew when it moved. */
const ROUNDS = 3;

const shortOf = (r: Reading): string =>
  `The patch is too neutral to read (${r.chromaPct.toFixed(1)} % chroma, at least 6 % are needed): ` +
  `choose a piece with more colour`;
const NO_REACH = 'The correction does not reach the patch: its matte is empty there, or its mix is 0';
/** Luma (signal) that is wanted of a patch. */
function levelOf(luma: number, wanted: WantedLevel | null | undefined, strength: number): number {
  if (!wanted) return luma;
  const [from, to] = wanted;
  const into = Math.min(INTO_PCT, (to - from) / 2);
  const pct = 100 * luma;
  const goal = pct < from ? from + into : pct > to ? to - into : pct;
  return luma + (strength * (goal - pct)) / 100;
}

/**
 * @param measure what a trial push gives ([0] or [0, 0] is none); null where nothing of the patch lies in the picture
 * @throws CannotBring in words, where there is nothing to bring or no way to it
 */
export async function bringToLine(
  measure: (push: Push, beside: Beside) => Trial | null | Promise<Trial | null>,
  kind: PushKind,
  wanted: Wanted,
): Promise<BringToLine> {
  const { strength, keep = 'within10', level, lineDeg = SKIN_LINE_DEG } = wanted;
  const way = wayOf(kind);
  const zero: Push = way.dims === 1 ? [0] : [0, 0];
  let trials = 0;
  let beside: Beside = { stops: 0, chroma: 1, from: null };
  const at: Try = async (p) => {
    trials++;
    const r = await measure(p, beside);
    if (!r) throw new CannotBring('The patch lies outside the picture: draw it on the skin');
    return r;
  };
  const before = await at(zero);
  if (before.file.offLineDeg === null) throw new CannotBring(shortOf(before.file));
  const share = clamp(strength, 0, 1);
  const goal = before.file.offLineDeg * (1 - share);
  const luma = levelOf(before.smooth.luma, level, share);
  const off = (r: Reading): number => wrap180(hueDeg(r.cb, r.cr) - lineDeg);
  const left = (r: Reading): number => wrap180(off(r) - goal);
  let start = before;
  let best: Found = { push: zero, trial: before };
  for (let round = 0; round < ROUNDS; round++) {
    if (Math.abs(best.trial.smooth.luma - luma) > ENOUGH_LUMA) {
      const stops = await stopsTo(luma, best, beside.stops, async (v) => {
        beside = { ...beside, stops: v, from: beside.from ?? before.smooth };
        return await at(best.push);
      });
      // With other light everything is read anew, from where there is no push.
      beside = { stops, chroma: 1, from: null };
      start = await at(zero);
      best = { push: zero, trial: start };
    } else if (round > 0) break;
    beside = { ...beside, from: start.smooth };
    const target = chromaOf(start, goal, keep, share);
    // On the line already it may still want another chroma.
    const c0 = Math.hypot(start.smooth.cb, start.smooth.cr);
    const other = typeof keep === 'object' && way.dims === 2 && Math.abs(target / c0 - 1) > ENOUGH_CHROMA;
    if (share > 0 && (other || Math.abs(off(start.smooth) - goal) > 0.01))
      best =
        way.dims === 1
          ? await solveTurn(at, start, left)
          : await solveBalance(at, start, { dir: (lineDeg + goal) / DEG, chroma: target, left, gain: way.gain });
    if (way.dims === 1 && typeof keep === 'object' && share > 0) {
      for (let i = 0; i < 4; i++) {
        const has = Math.hypot(best.trial.smooth.cb, best.trial.smooth.cr);
        if (Math.abs(target / has - 1) < ENOUGH_CHROMA) break;
        beside = { ...beside, chroma: clamp((beside.chroma * target) / has, 0, 4) };
        best = { push: best.push, trial: await at(best.push) };
      }
      if (Math.abs(left(best.trial.smooth)) > ENOUGH_DEG) best = await solveTurn(at, best.trial, left, best.push);
    }
    if (share > 0 && Math.abs(left(best.trial.file)) > 0.01)
      best = await polish(at, best, { dims: way.dims, gain: way.gain, lineDeg, left });
  }
  // Rounded as it is stored, and measured so.
  const push = best.push.map((v) => Math.round(v * 1000) / 1000);
  beside = { ...beside, stops: Math.round(beside.stops * 1000) / 1000, chroma: Math.round(beside.chroma * 1e4) / 1e4 };
  const { file, smooth, clippedShare, each } = await at(push);
  const residualDeg = left(file);
  const same = off(smooth);
  return {
    kind,
    push,
    stops: beside.stops,
    chroma: beside.chroma,
    from: start.smooth,
    before: before.file,
    after: file,
    samePixelsOffLineDeg: Math.abs(wrap180(same - off(file))) > 0.3 ? same : null,
    clippedShare,
    clippedBefore: before.clippedShare,
    chromaKept: file.chromaPct / start.file.chromaPct,
    levelLeft: level ? 100 * (luma - file.luma) : 0,
    each: (each ?? []).map((r, i) => ({ before: before.each![i]!, after: r })),
    residualDeg,
    why:
      Math.abs(residualDeg) < 0.1
        ? 'none'
        : Math.abs(left(smooth)) < Math.abs(residualDeg) / 2
          ? 'rounding'
          : clippedShare > 0.01
            ? 'clipping'
            : 'reach',
    trials,
  };
}

type Try = (p: Push) => Promise<Trial>;
type Found = { push: Push; trial: Trial };

/** Chroma (signal) that is wanted of a patch. */
function chromaOf(start: Trial, goal: number, keep: KeepChroma, strength: number): number {
  const c0 = Math.hypot(start.smooth.cb, start.smooth.cr);
  if (typeof keep === 'object') return c0 + strength * (keep.pct / 200 - c0);
  const turn = Math.abs((start.file.offLineDeg ?? 0) - goal);
  return c0 * Math.max(Math.cos(Math.min(turn, 90) / DEG), keep === 'within10' ? KEEP[keep] + INSIDE : KEEP[keep]);
}

/** Stops at which the patch has that luma: by the slope of the last step. */
async function stopsTo(
  luma: number,
  found: Found,
  from: number,
  at: (stops: number) => Promise<Trial>,
): Promise<number> {
  let stops = from;
  let now = found.trial.smooth.luma;
  // A gain of light is about its root of 2.2 as signal (a guess; the slope is measured then).
  let slope = (now * Math.LN2) / 2.2;
  for (let i = 0; i < 14 && Math.abs(luma - now) > ENOUGH_LUMA / 4; i++) {
    const next = clamp(stops + clamp((luma - now) / Math.max(slope, 1e-3), -2, 2), -MOST_STOPS, MOST_STOPS);
    if (next === stops) break;
    const { smooth } = await at(next);
    const moved = smooth.luma - now;
    if (i === 0 && Math.abs(moved) < 1e-5) throw new CannotBring(NO_REACH);
    if (moved / (next - stops) > 1e-3) slope = moved / (next - stops);
    [stops, now] = [next, smooth.luma];
  }
  return stops;
}

/** Newton with the slope of the last step; the true slope is the mean matte of the patch, nearly constant. */
async function solveTurn(at: Try, before: Trial, left: (r: Reading) => number, from: Push = [0]): Promise<Found> {
  let push = from;
  let now = before;
  let slope = 1;
  for (let i = 0; i < 16 && Math.abs(left(now.smooth)) > 0.005; i++) {
    const next = [clamp(push[0]! - left(now.smooth) / slope, -180, 180)];
    const r = await at(next);
    const moved = wrap180(left(r.smooth) - left(now.smooth));
    const step = next[0]! - push[0]!;
    if (i === 0 && Math.abs(moved) < 0.02 * Math.abs(step)) throw new CannotBring(NO_REACH);
    if (step !== 0 && moved / step > 0.02) slope = moved / step;
    push = next;
    now = r;
    if (step === 0) break;
  }
  return { push, trial: now };
}

interface Aim {
  /** Direction of the goal, in radians; its chroma, signal. */
  dir: number;
  chroma: number;
  left: (r: Reading) => number;
  /** Signal for a push of 1, before it is measured. */
  gain: (r: Reading) => number;
}
async function solveBalance(at: Try, before: Trial, { dir, chroma, left, gain: guess }: Aim): Promise<Found> {
  const c0 = Math.hypot(before.smooth.cb, before.smooth.cr);
  const kept = chroma / c0;
  let push: Push = [0, 0];
  let now = before;
  let gain = guess(before.smooth);
  const aim = (share: number): readonly [number, number] => [c0 * share * Math.cos(dir), c0 * share * Math.sin(dir)];
  const [tx, ty] = aim(kept);
  for (let i = 0; i < 12; i++) {
    const ex = tx - now.smooth.cb;
    const ey = ty - now.smooth.cr;
    const err = Math.hypot(ex, ey);
    if (err < 2e-5) break;
    const next = [clamp(push[0]! + ex / gain, -100, 100), clamp(push[1]! + ey / gain, -100, 100)];
    const step = Math.hypot(next[0]! - push[0]!, next[1]! - push[1]!);
    if (step < 1e-6) break;
    const r = await at(next);
    const moved = Math.hypot(r.smooth.cb - now.smooth.cb, r.smooth.cr - now.smooth.cr);
    if (i === 0 && moved < 0.02 * err) throw new CannotBring(NO_REACH);
    if (moved / step > 1e-5) gain = moved / step;
    push = next;
    now = r;
  }
  // Where channels clip, a push along one axis moves the patch along both, or not at all: the slopes are measured.
  // What cannot be reached at full strength of colour is looked for at less of it.
  const fits = (t: Trial): boolean => Math.abs(left(t.smooth)) < 0.05;
  for (let share = kept; !fits(now) && share >= 0.4 * kept; share -= 0.1 * kept) {
    const [gx, gy] = aim(share);
    for (let i = 0; i < 5; i++) {
      const e = [gx - now.smooth.cb, gy - now.smooth.cr] as const;
      if (Math.hypot(...e) < 2e-5) break;
      const h = 0.05;
      const [a, b] = [await at([push[0]! + h, push[1]!]), await at([push[0]!, push[1]! + h])];
      const j = [
        (a.smooth.cb - now.smooth.cb) / h,
        (b.smooth.cb - now.smooth.cb) / h,
        (a.smooth.cr - now.smooth.cr) / h,
        (b.smooth.cr - now.smooth.cr) / h,
      ] as const;
      // Least squares with a grain of damping: a flat direction is not followed to the end of the world.
      const lambda = 1e-9 + 1e-3 * (j[0] ** 2 + j[1] ** 2 + j[2] ** 2 + j[3] ** 2);
      const [m00, m01, m11] = [
        j[0] ** 2 + j[2] ** 2 + lambda,
        j[0] * j[1] + j[2] * j[3],
        j[1] ** 2 + j[3] ** 2 + lambda,
      ];
      const [v0, v1] = [j[0] * e[0] + j[2] * e[1], j[1] * e[0] + j[3] * e[1]];
      const det = m00 * m11 - m01 * m01;
      const step = [(m11 * v0 - m01 * v1) / det, (m00 * v1 - m01 * v0) / det] as const;
      const next = [clamp(push[0]! + step[0], -100, 100), clamp(push[1]! + step[1], -100, 100)];
      const r = await at(next);
      const worse = Math.hypot(gx - r.smooth.cb, gy - r.smooth.cr) >= Math.hypot(...e);
      if (worse && !fits(r)) break;
      push = next;
      now = r;
      if (fits(now)) break;
    }
  }
  return { push, trial: now };
}

/**
 * From the push that is right without rounding to the one whose file reads best: first along the way that turns the
 * patch, then, where codes are coarse, over a small net of neighbours. Of equals the smaller push wins.
 */
async function polish(
  at: Try,
  found: Found,
  { dims, gain, lineDeg, left }: Pick<Aim, 'left' | 'gain'> & { dims: 1 | 2; lineDeg: number },
): Promise<Found> {
  let best = found;
  const err = (f: Found): number => Math.abs(left(f.trial.file));
  const size = (p: Push): number => Math.hypot(...p);
  const consider = async (push: Push): Promise<void> => {
    const f = { push, trial: await at(push) };
    if (f.trial.file.offLineDeg === null) return;
    const d = err(f) - err(best);
    if (d < -1e-3 || (d < 1e-3 && size(f.push) < size(best.push))) best = f;
  };
  // One degree across the line, in units of the push.
  const { cb, cr } = found.trial.smooth;
  const perDeg = dims === 1 ? 1 : Math.hypot(cb, cr) / DEG / gain(found.trial.smooth);
  const across: Push = dims === 1 ? [1] : [-Math.sin(lineDeg / DEG), Math.cos(lineDeg / DEG)];
  const moved = (p: Push, deg: number): Push => p.map((v, i) => v + deg * perDeg * across[i]!);
  for (let i = 0; i < 3 && err(best) > ENOUGH_DEG; i++) {
    const from = best;
    await consider(moved(best.push, -left(best.trial.file)));
    if (best === from) break;
  }
  if (err(best) <= ENOUGH_DEG) return best;
  for (const reach of [1.5, 0.3]) {
    const centre = best.push;
    for (let k = -8; k <= 8 && err(best) > ENOUGH_DEG; k++) {
      const p = moved(centre, (reach * k) / 8);
      await consider(p);
      // Along the line too: chroma a little up or down meets other codes.
      if (dims === 2)
        for (const along of [-0.6, 0.6])
          await consider([
            p[0]! + along * reach * perDeg * Math.cos(lineDeg / DEG),
            p[1]! + along * reach * perDeg * Math.sin(lineDeg / DEG),
          ]);
    }
  }
  return best;
}
