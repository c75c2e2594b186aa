import { pointFromPicture } from '../../curvePoint';
import { useSession } from '../../store';
import type { Tool } from './tool';

export const curvePoint: Tool = {
  hint:
    'Click on a tone of the picture: the curve gets a point there. Keys: Enter places the cross, arrows move it, ' +
    'Enter twice sets it, Escape leaves.',
  draws: 'place',
  finish: async ({ shot, points }) => {
    useSession.getState().set({ tool: 'none' });
    await pointFromPicture(shot, points.at(-1)!);
  },
};
