import { boundsOf } from '../../../core/math/polygon';
import { addPatch } from '../../actions';
import { useSession } from '../../store';
import type { Tool } from './tool';

export const patch: Tool = {
  hint:
    'Drag a box over clean skin: no lips, eyes or glints. Keys: Enter places the cross, arrows move it, ' +
    'Enter sets two corners, Escape leaves.',
  draws: 'box',
  finish: ({ shot, media, points, box, isClick }) => {
    const [w, h] = isClick ? [media.width / 32, media.width / 40] : [box.w, box.h];
    const [x, y] = isClick ? [points[0]!.x - w / 2, points[0]!.y - h / 2] : [box.x, box.y];
    addPatch(shot.id, {
      x: Math.round(x),
      y: Math.round(y),
      w: Math.max(4, Math.round(w)),
      h: Math.max(4, Math.round(h)),
    });
    useSession.getState().set({ tool: 'none' });
  },
};
export const patchFree: Tool = {
  hint: 'Click round clean skin or grey, corner by corner; a double click or Enter on the last closes it.',
  draws: 'corners',
  finish: ({ shot, points: list }) => {
    if (list.length < 3) return;
    const points = list.map((q): [number, number] => [Math.round(q.x * 10) / 10, Math.round(q.y * 10) / 10]);
    addPatch(shot.id, boundsOf(points), points);
    useSession.getState().set({ tool: 'none' });
  },
};
