import { placeChart } from '../../actions';
import { useSession } from '../../store';
import type { Tool } from './tool';

export const chart: Tool = {
  hint: 'Drag a box over the whole chart, then pull its corners onto the corner patches.',
  draws: 'box',
  finish: ({ shot, box: { x, y, w, h }, isClick }) => {
    if (isClick) return;
    placeChart(shot.id, [
      [x, y],
      [x + w, y],
      [x + w, y + h],
      [x, y + h],
    ]);
    useSession.getState().set({ tool: 'none', shelf: true, shelfTab: 'chart' });
  },
};
