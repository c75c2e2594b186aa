/** Bring to line: a push solved on windows of the picture, measured on the codes of the file. */
import { patchAt } from '../../core/graph/patch';
import type { CorrectionSpec, OpUse } from '../../core/graph/plan';
import { newUse } from '../../core/graph/plan.defaults';
import { params as exposureParams } from '../../core/ops/exposure/params';
import { folds } from '../../core/ops/pulls/field';
import type { PullValues } from '../../core/ops/pulls/field';
import { params as saturationParams } from '../../core/ops/saturation/params';
import { valueAt } from '../../core/op/params';
import type { Keyframed } from '../../core/op/params';
import { bringToLine, CannotBring } from '../../core/skin/bringToLine';
import type { Beside, Trial } from '../../core/skin/bringToLine';
import { added, lineId, wayOf } from '../../core/skin/pushes';
import type { Push } from '../../core/skin/pushes';
import { asOne, clipBox, keptPixels, patchPixels, readingOf } from '../../core/skin/reading';
import type { Box } from '../../core/skin/reading';
import type { SolveReply, SolveRequest } from '../../protocol/messages';
import { matteOf, rgbOf } from '../samples';
import { meanIn } from './reaches';

import { withHalo } from './held';
import type { Held } from './held';

type Adjustments = CorrectionSpec['adjustments'];

/** How the adjustments of a correction become those with a push. */
function pusher(c: CorrectionSpec, q: SolveRequest): (push: Push, beside: Beside) => Adjustments {
  const way = wayOf(q.kind);
  // An adjustment of the same kind at the end is pushed further, so that taking the solution twice does not pile up
  // steps; one of lists that was solved before is solved anew.
  const own = lineId(c.id, way.op);
  const last = c.adjustments.findLast((a) => a.op === way.op && a.on && (way.further || a.id === own));
  const use =
    last && way.further ? last : newUse(way.further ? `${c.id}-${way.op}-${c.adjustments.length + 1}` : own, way.op);
  const lastOf = (op: string): OpUse | undefined => c.adjustments.findLast((a) => a.op === op && a.on);
  const [light, colour] = [lastOf('exposure'), lastOf('saturation')];
  const { frame } = q.shot;
  return (push, { stops, chroma, from }) => {
    const exposed =
      stops === 0
        ? null
        : {
            ...(light ?? newUse(lineId(c.id, 'exposure'), 'exposure')),
            params: added(exposureParams, light?.params ?? {}, { stops }, frame),
          };
    const apart = way.dims === 1 && !way.ownChroma && chroma !== 1;
    const amount = valueAt((colour?.params['amountPct'] ?? 100) as number | Keyframed, frame);
    const saturated = apart
      ? {
          ...(colour ?? newUse(lineId(c.id, 'saturation'), 'saturation')),
          params: added(saturationParams, colour?.params ?? {}, { amountPct: amount * (chroma - 1) }, frame),
        }
      : null;
    // Lists are about a colour: without a push there is nothing to say of one.
    const none = !way.further && ((chroma === 1 && push.every((v) => v === 0)) || !from);
    const pushed = none
      ? null
      : {
          ...use,
          params: way.pushed(use.params, push, from!, chroma, frame),
          solved: 'line' as const,
        };
    const list: OpUse[] = [];
    for (const a of c.adjustments) {
      // Light comes before the push that it carries.
      if (a === last && exposed && !light) list.push(exposed);
      if (a === last) list.push(...(pushed ? [pushed] : []));
      else list.push(a === light ? (exposed ?? a) : a === colour ? (saturated ?? a) : a);
    }
    if (!last && exposed && !light) list.push(exposed);
    if (!last && pushed) list.push(pushed);
    if (saturated && !colour) list.push(saturated);
    return list;
  };
}

/** A patch in the window of the picture that its correction needs. */
interface Place {
  outer: Box;
  local: Box;
  corners: (readonly [number, number])[] | undefined;
  /** Which pixels count is decided once, on what the file reads before the push: a push must not choose its own. */
  keep: Uint8Array | null;
}

export async function solve(h: Held, q: SolveRequest): Promise<SolveReply> {
  const c = q.shot.corrections.find((x) => x.id === q.correction);
  if (!c) throw new RangeError('There is no such correction in this shot');
  if (!c.on) throw new CannotBring('The correction is off: switch it on first');
  if (q.patches.length === 0) throw new CannotBring('There is no patch: draw one on the skin');
  const withPush = pusher(c, q);
  const p = h.picture(q.shot);
  const halo = h.steps(q.shot, 1);
  const places = q.patches.map((patch): Place => {
    const at = patchAt(patch, q.shot.frame);
    const inner = clipBox(at.box, p.width, p.height);
    if (!inner) throw new CannotBring('The patch lies outside the picture: draw it on the skin');
    const outer = withHalo(inner, halo, p);
    return {
      outer,
      local: { x: inner.x - outer.x, y: inner.y - outer.y, w: inner.w, h: inner.h },
      corners: at.points?.map(([x, y]) => [x - outer.x, y - outer.y] as const),
      keep: null,
    };
  });
  h.ev.begin();
  /** One patch with these adjustments. */
  let held = 1;
  const one = async (place: Place, adjustments: Adjustments): Promise<Trial | null> => {
    const shot = { ...q.shot, corrections: q.shot.corrections.map((x) => (x === c ? { ...c, adjustments } : x)) };
    const { outer, local, corners } = place;
    // How much of the patch the region holds is looked at once.
    const focus = place.keep ? undefined : c.id;
    const { out, steps } = await h.over(shot, (ref) => h.window(ref, outer), 1, focus, [outer.x, outer.y]);
    return h.ev.arena.look((v) => {
      const step = focus && steps.get(focus);
      if (step) held = Math.min(held, meanIn(matteOf(v, step.input, step.matte), step.input, local, corners));
      const { r, g, b } = rgbOf(v, out);
      const [coded, shown] = ([q.bits, 'shown'] as const).map((as) => patchPixels(r, g, b, out.w, local, corners, as));
      if (!coded || !shown) return null;
      if (place.keep && place.keep.length !== coded.y.length)
        throw new CannotBring('With a push some pixels of the patch are no numbers any more: measure another piece');
      const fresh = keptPixels(coded);
      const keep = (place.keep ??= fresh);
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
  const all = async (adjustments: Adjustments): Promise<Trial | null> => {
    const got: Trial[] = [];
    for (const place of places) {
      const t = await one(place, adjustments);
      if (!t) return null;
      got.push(t);
    }
    if (got.length === 1) return got[0]!;
    return {
      file: asOne(
        got.map((t) => t.file),
        q.skinLineDeg,
      ),
      smooth: asOne(
        got.map((t) => t.smooth),
        q.skinLineDeg,
      ),
      clippedShare: Math.max(...got.map((t) => t.clippedShare)),
      each: got.map((t) => t.file),
    };
  };
  // As it is now: of a kind that is solved anew that is not where the solving begins.
  const now = await all(c.adjustments);
  const solved = await bringToLine((push, beside) => all(withPush(push, beside)), q.kind, {
    strength: q.strength,
    keep: q.keep,
    level: q.level ?? null,
    lineDeg: q.skinLineDeg,
  });
  const adjustments = withPush(solved.push, solved);
  const own = adjustments.find((a) => a.id === lineId(c.id, 'pulls'));
  return {
    ...solved,
    before: now?.file ?? solved.before,
    each: solved.each.map((e, i) => ({ ...e, before: now?.each?.[i] ?? e.before })),
    bits: q.bits,
    held,
    adjustments,
    folds: q.kind === 'pulls' && own !== undefined && folds({ holds: [], ...own.params } as unknown as PullValues),
  };
}
