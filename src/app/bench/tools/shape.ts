import type { ShapeOp } from '../../../core/op/contract';
import { fitFor } from '../../../document/records';
import { addCorrection } from '../../actions';
import { addTerm } from '../../region';
import { inverse, refit } from '../../scenes';
import { useDoc, useSession } from '../../store';
import { mapNumber } from '../../../core/op/params';
import type { StoredValues } from '../../../core/op/params';
import { newUse } from '../../../core/graph/plan.defaults';
import type { Tool } from './tool';

const LINES: Readonly<Record<string, string>> = {
  ramp: 'Drag from where it is full to where it has fallen to nothing.',
  band: 'Drag across it, from one border to the other.',
};
const ROUND = 'Click round it, point by point; a double click or Enter on the last closes it. Escape leaves.';
/** The tool of a shape: whatever the operation makes of a drawn box. A press alone makes one of a usual size. */
export const shapeTool = (op: ShapeOp): Tool => ({
  hint:
    op.drawnAs === 'corners'
      ? ROUND
      : op.drawnAs === 'line'
        ? `${LINES[op.id] ?? 'Drag a line.'} Keys: Enter places the cross, arrows move it, Enter begins and ends.`
        : 'Drag a box round it. Keys: Enter places the cross, arrows move it, Enter sets two corners, Escape leaves.',
  draws: op.drawnAs ?? 'box',
  finish: ({ shot, media, corr, points, box, isClick }) => {
    if (op.drawnAs === 'corners' && points.length < 3) return;
    const [first, last] = [points[0]!, points.at(-1)!];
    const [w, h] = isClick ? [media.height / 3, media.height / 2.5] : [box.w, box.h];
    const at = isClick ? { x: first.x - w / 2, y: first.y - h / 2 } : box;
    const drawn = (op.fromCorners?.(points.map((p) => [p.x, p.y])) ??
      // A press alone makes a fall of a usual length, downwards.
      op.fromLine?.([first.x, first.y], isClick ? [first.x, first.y + media.height / 4] : [last.x, last.y]) ??
      op.fromBox?.({ x: at.x, y: at.y, w, h }) ??
      {}) as StoredValues;
    const doc = useDoc.getState;
    doc().begin(`Add ${/^[aeiou]/i.test(op.title) ? 'an' : 'a'} ${op.title.toLowerCase()}`);
    const c = corr ?? addCorrection(shot.id);
    // Drawn in this picture, kept in the frame of the correction's owner, to a tenth of a pixel.
    const params = refit(newUse('drawn', op.id, drawn), inverse(fitFor(doc().records, c, shot))).params;
    addTerm(
      c.id,
      op.id,
      Object.fromEntries(Object.entries(params).map(([k, v]) => [k, mapNumber(v, (x) => Math.round(x * 10) / 10)])),
    );
    useSession.getState().set({ tool: 'none', step: 'isolate' });
    doc().end();
  },
});
