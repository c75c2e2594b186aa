/**
 * Bring to line: the smallest push of the chosen kind that puts a patch on the skin line, solved through the real
 * pipeline. `measure` runs the pipeline with a trial push and reads the patch; the solver knows nothing else of it,
 * so a soft
 * matte, a mix below 100 % and later corrections are all accounted for.
 *
 *  - turn: one angle. Luma and chroma stay by construction where the matte is full.
 *  - balance: a push (Cb, Cr). The nearest point of the line lies straight across from the patch; going there loses
 * chroma, cos(off-line) of it remains. So that strength is kept, the target is never below `keepChroma` of the
 * chroma.
 */
import { hueDeg, SKIN_LINE_DEG } from '../color/ycbcr';
import { DEG, wrap180 } from '../math/angle';
import { clamp } from '../math/stats';
import type { Reading } from './reading';

export type PushKind = 'balance' | 'turn';
/** within10: at least 90 % of the chroma stays; exact: all of it; free: the shortest way, whatever is lost. */
export type KeepChroma = 'within10' | 'exact' | 'free';
/** turn: [angleDeg]; balance: [cbPct, crPct]. */
export type Push = readonly number[];

export interface BringToLine {
  kind: PushKind;
  push: Push;
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
  /** Chroma after over chroma before. */
  chromaKept: number;
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
}

export class CannotBring extends Error {
  override name = 'CannotBring';
}

const KEEP: Record<KeepChroma, number> = { within10: 0.9, exact: 1, free: 0 };
/** Within10 aims a little inside, so that rounding to codes cannot carry it out. */
const INSIDE = 0.005;
/** Degrees off the goal that nobody can see or measure: no better push is looked for. */
const ENOUGH_DEG = 0.02;

const shortOf = (r: Reading): string =>
  `The patch is too neutral to read (${r.chromaPct.toFixed(1)} % chroma, at least 6 % are needed): ` +
  `choose a piece with more colour`;
const NO_REACH = 'The correction does not reach the patch: its matte is empty there, or its mix is 0';

/**
 * @param measure what a trial push gives ([0] or [0, 0] is none)
 * @param strength 0..1: how much of the way is gone; 1 is on the line
 */
export async function bringToLine(
  measure: (push: Push) => Trial | null | Promise<Trial | null>,
  kind: PushKind,
  strength: number,
  keep: KeepChroma = 'within10',
  lineDeg = SKIN_LINE_DEG,
): Promise<BringToLine> {
  const zero: Push = kind === 'turn' ? [0] : [0, 0];
  let trials = 0;
  const at: Try = async (p) => {
    trials++;
    const r = await measure(p);
    if (!r) throw new CannotBring('The patch lies outside the picture: draw it on the skin');
    return r;
  };
  const before = await at(zero);
  if (before.file.offLineDeg === null) throw new CannotBring(shortOf(before.file));
  const goal = before.file.offLineDeg * (1 - clamp(strength, 0, 1));
  const off = (r: Reading): number => wrap180(hueDeg(r.cb, r.cr) - lineDeg);
  const left = (r: Reading): number => wrap180(off(r) - goal);
  let best: { push: Push; trial: Trial } = { push: zero, trial: before };
  if (strength > 0 && Math.abs(before.file.offLineDeg) > 0.01) {
    const solved =
      kind === 'turn' ? await solveTurn(at, before, left) : await solveBalance(at, before, goal, keep, lineDeg, left);
    best = await polish(at, solved, kind, lineDeg, left);
  }
  // Rounded as it is stored, and measured so.
  const push = best.push.map((v) => Math.round(v * 1000) / 1000);
  const { file, smooth, clippedShare } = await at(push);
  const residualDeg = left(file);
  const same = off(smooth);
  return {
    kind,
    push,
    before: before.file,
    after: file,
    samePixelsOffLineDeg: Math.abs(wrap180(same - off(file))) > 0.3 ? same : null,
    clippedShare,
    clippedBefore: before.clippedShare,
    chromaKept: file.chromaPct / before.file.chromaPct,
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

/** Newton with the slope of the last step; the true slope is the mean matte of the patch, nearly constant. */
async function solveTurn(at: Try, before: Trial, left: (r: Reading) => number): Promise<Found> {
  let push: Push = [0];
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

async function solveBalance(
  at: Try,
  before: Trial,
  goal: number,
  keep: KeepChroma,
  lineDeg: number,
  left: (r: Reading) => number,
): Promise<Found> {
  const c0 = Math.hypot(before.smooth.cb, before.smooth.cr);
  const turn = Math.abs(before.file.offLineDeg! - goal);
  const kept = Math.max(Math.cos(Math.min(turn, 90) / DEG), keep === 'within10' ? KEEP[keep] + INSIDE : KEEP[keep]);
  const dir = (lineDeg + goal) / DEG;
  let push: Push = [0, 0];
  let now = before;
  // In the patch a push p moves (Cb, Cr) by about 2 Y m p / 200; the rest is found by trial.
  let gain = Math.max(0.01, before.smooth.luma) / 100;
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
  kind: PushKind,
  lineDeg: number,
  left: (r: Reading) => number,
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
  const { luma, cb, cr } = found.trial.smooth;
  const perDeg = kind === 'turn' ? 1 : (Math.hypot(cb, cr) / DEG / Math.max(0.01, luma)) * 100;
  const across: Push = kind === 'turn' ? [1] : [-Math.sin(lineDeg / DEG), Math.cos(lineDeg / DEG)];
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
      if (kind === 'balance')
        for (const along of [-0.6, 0.6])
          await consider([
            p[0]! + along * reach * perDeg * Math.cos(lineDeg / DEG),
            p[1]! + along * reach * perDeg * Math.sin(lineDeg / DEG),
          ]);
    }
  }
  return best;
}
