import type { ShapeOp } from '../../../core/op/contract';
import { fitFor } from '../../../document/records';
import { addCorrection } from '../../actions';
import { addTerm } from '../../region';
import { inverse, refit } from '../../scenes';
import { useDoc, useSession } from '../../store';
import type { StoredValues } from '../../../core/op/params';
import { newUse } from '../../../core/graph/plan.defaults';
import type { Tool } from './tool';

/** The tool of a shape: whatever the operation makes of a drawn box. A press alone makes one of a usual size. */
export const shapeTool = (op: ShapeOp): Tool => ({
  hint: 'Drag a box round it. Keys: Enter places the cross, arrows move it, Enter sets two corners, Escape leaves.',
  draws: op.drawnAs ?? 'box',
  finish: ({ shot, media, corr, points, box, isClick }) => {
    const [w, h] = isClick ? [media.height / 3, media.height / 2.5] : [box.w, box.h];
    const at = isClick ? { x: points[0]!.x - w / 2, y: points[0]!.y - h / 2 } : box;
    const drawn = (op.fromBox?.({ x: at.x, y: at.y, w, h }) ?? {}) as StoredValues;
    const doc = useDoc.getState;
    doc().begin(`Add ${/^[aeiou]/i.test(op.title) ? 'an' : 'a'} ${op.title.toLowerCase()}`);
    const c = corr ?? addCorrection(shot.id);
    // Drawn in this picture, kept in the frame of the correction's owner, to a tenth of a pixel.
    const params = refit(newUse('drawn', op.id, drawn), inverse(fitFor(doc().records, c, shot))).params;
    addTerm(
      c.id,
      op.id,
      Object.fromEntries(
        Object.entries(params).map(([k, v]) => [k, typeof v === 'number' ? Math.round(v * 10) / 10 : v]),
      ),
    );
    useSession.getState().set({ tool: 'none', step: 'isolate' });
    doc().end();
  },
});
