import { recolourFromPicture } from '../../recolour';
import { useSession } from '../../store';
import type { Tool } from './tool';

export const recolourPick: Tool = {
  hint:
    'Click on the colour that the region should have. Keys: Enter places the cross, arrows move it, ' +
    'Enter twice takes it, Escape leaves.',
  draws: 'place',
  finish: async ({ shot, points }) => {
    useSession.getState().set({ tool: 'none' });
    await recolourFromPicture(shot, points.at(-1)!);
  },
};
