import { fitFor } from '../../../document/records';
import { addCorrection, addTidy } from '../../actions';
import { addTerm } from '../../region';
import { addStroke, chosenPainted } from '../../strokes';
import { inverse } from '../../scenes';
import { useDoc, useSession } from '../../store';
import type { Point, Tool } from './tool';

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
const painting = (keep: boolean): Tool => ({
  hint:
    (keep ? 'Paint on what you mean.' : 'Paint on what is not meant.') +
    ' Some short strokes are enough. Keys: Enter places the cross, arrows move it, Enter ' +
    'begins and ends the stroke, Escape leaves.',
  draws: 'stroke',
  finish: async ({ shot, media, corr, points }) => {
    const doc = useDoc.getState;
    const painted = chosenPainted(corr);
    const gesture = painted ? null : doc();
    // A first stroke makes its part and is one step with it; one more is a step by itself, and may take a moment.
    gesture?.begin(keep ? 'Paint what is meant' : 'Paint what is not meant');
    const c = corr ?? addCorrection(shot.id);
    const fit = inverse(fitFor(doc().records, c, shot));
    const brush = Math.max(3, Math.max(media.width, media.height) / 200);
    const px = (x: number): number => Math.round(10 * x * fit.s) / 10;
    const term = painted?.id ?? addTerm(c.id, 'spread', { brushPx: px(brush) }, 'base');
    // A spread ends between pixels of a small copy of the picture: the edge is laid onto the picture's own.
    if (!painted && !c.tidy.some((u) => u.op === 'edgeFit')) addTidy(c.id, 'edgeFit', { radiusPx: px(brush) });
    const own = (x: number, d: number): number => Math.round(10 * (x * fit.s + d)) / 10;
    const done = addStroke(c.id, term, {
      keep,
      frame: useSession.getState().frame,
      points: thinned(points, brush / 3).map((p) => [own(p.x, fit.dx), own(p.y, fit.dy)]),
    });
    gesture?.end();
    useSession.getState().set({ step: 'isolate', term });
    await done;
  },
});
export const keepStroke = painting(true);
export const leaveStroke = painting(false);
