import { pullFromPicture } from '../../pullColour';
import { useSession } from '../../store';
import type { Tool } from './tool';

export const pullColour: Tool = {
  hint:
    'Press on a colour of the picture and drag: to the right for more Cb, upwards for more Cr, as on the ' +
    'vectorscope. A press alone holds the colour. Keys: Enter places the cross, arrows move it, Enter begins ' +
    'and ends the drag.',
  draws: 'line',
  finish: async ({ shot, points, scale, isClick }) => {
    useSession.getState().set({ tool: 'none' });
    const [from, to] = [points[0]!, points.at(-1)!];
    await pullFromPicture(shot, from, isClick ? null : [(to.x - from.x) * scale, (from.y - to.y) * scale]);
  },
};
