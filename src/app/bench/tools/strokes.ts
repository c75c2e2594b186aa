import { newUse } from '../../../core/graph/plan.defaults';
import { fitFor } from '../../../document/records';
import type { CorrectionRecord } from '../../../document/records';
import { addCorrection, addTidy } from '../../actions';
import { addTerm } from '../../region';
import { addStroke, chosenPainted, withStroke } from '../../strokes';
import { inverse } from '../../scenes';
import { useDoc, useSession } from '../../store';
import type { Hand, Point, Tool } from './tool';

const MOST_POINTS = 2000;
/** No closer together than a third of the brush: a slow hand must not make a long record. */
function thinned(points: readonly Point[], step: number): Point[] {
  const out: Point[] = [];
  for (const p of points) {
    const last = out.at(-1);
    if (!last || Math.hypot(p.x - last.x, p.y - last.y) >= step) out.push(p);
  }
  const end = points.at(-1)!;
  if (out.at(-1) !== end) out.push(end);
  // A record holds no end of points: a very long stroke is kept whole, only coarser.
  return out.length > MOST_POINTS ? thinned(points, 2 * step) : out;
}
/** What the hand painted, in the frame of its correction, and how wide a brush is there. */
function strokeOf({ shot, media, points }: Hand, corr: CorrectionRecord | null, keep: boolean) {
  const fit = corr ? inverse(fitFor(useDoc.getState().records, corr, shot)) : { s: 1, dx: 0, dy: 0 };
  const brush = Math.max(3, Math.max(media.width, media.height) / 200);
  const own = (x: number, d: number): number => Math.round(10 * (x * fit.s + d)) / 10;
  const { frame } = useSession.getState();
  const line = thinned(points, brush / 3).map((p): [number, number] => [own(p.x, fit.dx), own(p.y, fit.dy)]);
  return { stroke: { keep, frame, points: line }, brushPx: own(brush, 0) };
}
const painting = (keep: boolean): Tool => ({
  hint:
    (keep ? 'Paint on what you mean.' : 'Paint on what is not meant.') +
    ' Some short strokes are enough. Keys: Enter places the cross, arrows move it, Enter ' +
    'begins and ends the stroke, Escape leaves.',
  draws: 'stroke',
  during: async (hand) => {
    const painted = chosenPainted(hand.corr);
    const { stroke, brushPx } = strokeOf(hand, hand.corr, keep);
    if (painted && hand.corr) return withStroke(hand.corr.id, painted, stroke);
    if (!keep) return null;
    const use = newUse('preview', 'spread', { brushPx });
    return { id: 'preview', join: 'and', not: false, name: '', use, strokes: [stroke], reads: 'base' };
  },
  finish: async (hand) => {
    const doc = useDoc.getState;
    const painted = chosenPainted(hand.corr);
    const gesture = painted ? null : doc();
    // A first stroke makes its part and is one step with it; one more is a step by itself, and may take a moment.
    gesture?.begin(keep ? 'Paint what is meant' : 'Paint what is not meant');
    const c = hand.corr ?? addCorrection(hand.shot.id);
    const { stroke, brushPx } = strokeOf(hand, c, keep);
    const term = painted?.id ?? addTerm(c.id, 'spread', { brushPx }, 'base');
    // A spread ends between pixels of a small copy of the picture: the edge is laid onto the picture's own.
    if (!painted && !c.tidy.some((u) => u.op === 'edgeFit')) addTidy(c.id, 'edgeFit', { radiusPx: brushPx });
    const done = addStroke(c.id, term, stroke);
    gesture?.end();
    useSession.getState().set({ step: 'isolate', term });
    await done;
  },
});
export const keepStroke = painting(true);
export const leaveStroke = painting(false);
