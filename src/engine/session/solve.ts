/** Bring to line: a push solved on a window of the picture, measured on the codes of the file. */
import { patchAt } from '../../core/graph/patch';
import type { CorrectionSpec } from '../../core/graph/plan';
import { newUse } from '../../core/graph/plan.defaults';
import { bringToLine, CannotBring } from '../../core/skin/bringToLine';
import type { Push, Trial } from '../../core/skin/bringToLine';

import { clipBox, keptPixels, patchPixels, readingOf } from '../../core/skin/reading';
import type { Box } from '../../core/skin/reading';
import type { SolveReply, SolveRequest } from '../../protocol/messages';
import { rgbOf } from '../samples';

import { withHalo } from './held';
import type { Held } from './held';

export async function solve(h: Held, q: SolveRequest): Promise<SolveReply> {
  const c = q.shot.corrections.find((x) => x.id === q.correction);
  if (!c) throw new RangeError('There is no such correction in this shot');
  if (!c.on) throw new CannotBring('The correction is off: switch it on first');
  const op = q.kind === 'turn' ? 'hueTurn' : 'balance';
  const names = q.kind === 'turn' ? ['angleDeg'] : ['cbPct', 'crPct'];
  // An adjustment of the same kind at the end is pushed further, so that taking the solution twice does not pile up
  // steps.
  const last = c.adjustments.findLast(
    (a) => a.op === op && a.on && names.every((n) => typeof (a.params[n] ?? 0) === 'number'),
  );
  const base = names.map((n) => (last ? ((last.params[n] as number | undefined) ?? 0) : 0));
  const use = last ?? newUse(`${c.id}-${op}-${c.adjustments.length + 1}`, op);
  const withPush = (push: Push): CorrectionSpec['adjustments'] => {
    const limit = q.kind === 'turn' ? 180 : 100;
    const params = {
      ...use.params,
      ...Object.fromEntries(names.map((n, i) => [n, Math.max(-limit, Math.min(limit, base[i]! + push[i]!))])),
    };
    return last
      ? c.adjustments.map((a) => (a === last ? { ...a, params } : a))
      : [...c.adjustments, { ...use, params }];
  };
  const shotWith = (push: Push): CorrectionSpec[] =>
    q.shot.corrections.map((x) => (x === c ? { ...c, adjustments: withPush(push) } : x));
  const p = h.picture(q.shot);
  const patch = patchAt(q.patch, q.shot.frame);
  const inner = clipBox(patch.box, p.width, p.height);
  if (!inner) throw new CannotBring('The patch lies outside the picture: draw it on the skin');
  const outer = withHalo(inner, h.steps(q.shot, 1), p);
  const [wx, wy] = [outer.x, outer.y];
  h.ev.begin();
  const local: Box = { x: inner.x - wx, y: inner.y - wy, w: inner.w, h: inner.h };
  const corners = patch.points?.map(([x, y]) => [x - wx, y - wy] as const);
  // Which pixels count is decided once, on what the file reads before the push: a push must not choose its own.
  let keep: Uint8Array | null = null;
  const measure = async (push: Push): Promise<Trial | null> => {
    const shot = { ...q.shot, corrections: shotWith(push) };
    const { out } = await h.over(shot, (ref) => h.window(ref, outer), 1, undefined, [wx, wy]);
    return h.ev.arena.look((v) => {
      const { r, g, b } = rgbOf(v, out);
      const [coded, shown] = ([q.bits, 'shown'] as const).map((as) => patchPixels(r, g, b, out.w, local, corners, as));
      if (!coded || !shown) return null;
      if (keep && keep.length !== coded.y.length)
        throw new CannotBring('With a push some pixels of the patch are no numbers any more: measure another piece');
      const fresh = keptPixels(coded);
      keep ??= fresh;
      let [n, over] = [0, 0];
      for (let i = 0; i < keep.length; i++)
        if (keep[i]) {
          n++;
          over += shown.clipped[i]!;
        }
      return {
        file: readingOf(coded, fresh, q.skinLineDeg),
        smooth: readingOf(shown, keep, q.skinLineDeg),
        clippedShare: over / n,
      };
    });
  };
  const solved = await bringToLine(measure, q.kind, q.strength, q.keep, q.skinLineDeg);
  return { ...solved, bits: q.bits, adjustments: withPush(solved.push) };
}
