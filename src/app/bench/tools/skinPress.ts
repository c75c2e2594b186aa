/** A press on a person's skin: the region, a clean patch in it and the push to the line, shown before it is taken. */
import { lookAhead, pressSkin, pressTerm } from '../../press';
import { useSession } from '../../store';
import type { Tool } from './tool';

export const skinPress: Tool = {
  hint:
    'Press on clean skin of one person: the region, a patch in it and the push to the line are found. Keys: Enter ' +
    'places the cross, arrows move it, Enter twice presses, Escape leaves.',
  draws: 'place',
  during: ({ media, points }) => Promise.resolve(pressTerm(media, points[0]!, 'preview', useSession.getState().frame)),
  rests: ({ shot, media, points }) => lookAhead(shot, media, points[0]!),
  finish: ({ shot, media, points }) => pressSkin(shot, media, points[0]!),
};
