import { bandFromPicture } from '../../hueBands';
import { useSession } from '../../store';
import type { Tool } from './tool';

export const bandDrag: Tool = {
  hint:
    'Press on a colour of the picture and drag: upwards for more, downwards for less, of the bands that it ' +
    'belongs to. Keys: Enter places the cross, arrows move it, Enter begins and ends the drag, Escape leaves.',
  draws: 'line',
  finish: async ({ shot, points, scale }) => {
    useSession.getState().set({ tool: 'none' });
    const [from, to] = [points[0]!, points.at(-1)!];
    await bandFromPicture(shot, from, (from.y - to.y) * scale);
  },
};
