/**
 * Bring to line: the smallest push of the chosen kind that puts a patch on the skin line, solved through the real
 * pipeline. `measure` runs the pipeline with a trial push and reads the patch; the solver knows nothing else of it, so a soft
 * matte, a mix below 100 % and later corrections are all accounted for.
 *
 *  - turn: one angle. Luma and chroma stay by construction where the matte is full.
 *  - balance: a push (Cb, Cr). The nearest point of the line lies straight across from the patch; going there loses
 *    chroma, cos(off-line) of it remains. So that strength is kept, the target is never below `keepChroma` of the chroma.
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
  before: Reading;
  after: Reading;
  /** Off-line angle left, in degrees; larger than 0.5 means that the push hit its limit or the matte does not reach the patch. */
  residualDeg: number;
  trials: number;
}

export class CannotBring extends Error {
  override name = 'CannotBring';
}

const KEEP: Record<KeepChroma, number> = { within10: 0.9, exact: 1, free: 0 };
/** Within10 aims a little inside, so that rounding to 16-bit codes cannot carry it out. */
const INSIDE = 0.005;

/**
 * @param measure reading of the patch with the trial push in place ([0] or [0, 0] is none)
 * @param strength 0..1: how much of the way is gone; 1 is on the line
 */
export function bringToLine(measure: (push: Push) => Reading | null, kind: PushKind, strength: number, keep: KeepChroma = 'within10', lineDeg = SKIN_LINE_DEG): BringToLine {
  const zero: Push = kind === 'turn' ? [0] : [0, 0];
  const before = measure(zero);
  let trials = 1;
  if (!before) throw new CannotBring('The patch lies outside the picture: draw it on the skin');
  if (before.offLineDeg === null) throw new CannotBring(`The patch is too neutral to read (${before.chromaPct.toFixed(1)} % chroma, at least 6 % are needed): choose a piece with more colour`);
  const at = (p: Push): Reading => {
    trials++;
    const r = measure(p);
    if (!r) throw new CannotBring('The patch lies outside the picture: draw it on the skin');
    return r;
  };
  const goal = strength <= 0 ? before.offLineDeg : before.offLineDeg * (1 - strength);
  const off = (r: Reading): number => wrap180(hueDeg(r.cb, r.cr) - lineDeg);
  let push = [...zero];
  let now = before;
  if (strength > 0 && Math.abs(before.offLineDeg) > 0.01) {
    if (kind === 'turn') {
      // Newton with the slope of the last step; the true slope is the mean matte of the patch, nearly constant.
      let slope = 1;
      for (let i = 0; i < 12 && Math.abs(off(now) - goal) > 0.005; i++) {
        const next = [clamp(push[0]! - (off(now) - goal) / slope, -180, 180)];
        const r = at(next);
        const moved = wrap180(off(r) - off(now));
        const step = next[0]! - push[0]!;
        if (i === 0 && Math.abs(moved) < 0.02 * Math.abs(step)) throw new CannotBring('The correction does not reach the patch: its matte is empty there, or its mix is 0');
        if (step !== 0 && moved / step > 0.02) slope = moved / step;
        push = next;
        now = r;
        if (step === 0) break;
      }
    } else {
      const c0 = Math.hypot(before.cb, before.cr);
      const turn = Math.abs(before.offLineDeg - goal);
      const kept = Math.max(Math.cos(Math.min(turn, 90) / DEG), keep === 'within10' ? KEEP[keep] + INSIDE : KEEP[keep]);
      const dir = (lineDeg + goal) / DEG;
      const tx = c0 * kept * Math.cos(dir);
      const ty = c0 * kept * Math.sin(dir);
      // In the patch a push p moves (Cb, Cr) by about 2 Y m p / 200; the rest is found by trial.
      let gain = Math.max(0.01, before.luma) / 100;
      for (let i = 0; i < 12; i++) {
        const ex = tx - now.cb;
        const ey = ty - now.cr;
        const err = Math.hypot(ex, ey);
        if (err < 2e-5) break;
        const next = [clamp(push[0]! + ex / gain, -100, 100), clamp(push[1]! + ey / gain, -100, 100)];
        const step = Math.hypot(next[0]! - push[0]!, next[1]! - push[1]!);
        if (step < 1e-6) break;
        const r = at(next);
        const moved = Math.hypot(r.cb - now.cb, r.cr - now.cr);
        if (i === 0 && moved < 0.02 * err) throw new CannotBring('The correction does not reach the patch: its matte is empty there, or its mix is 0');
        if (moved / step > 1e-5) gain = moved / step;
        push = next;
        now = r;
      }
    }
  }
  return { kind, push: push.map((v) => Math.round(v * 1000) / 1000), before, after: now, residualDeg: off(now) - goal, trials };
}
