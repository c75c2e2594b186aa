/** What a picture is compared with beside its own past: a frame that is held, or another shot. */
import { mediaOf, recordOf } from '../document/records';
import type { MediaRecord, Records, ShotRecord } from '../document/records';
import type { ShotState } from '../protocol/messages';
import { shotState } from './actions';
import { mediaIdOf } from './mediaKey';
import { sayNews } from './notices';
import { aspectOf } from './pixelAspect';
import { useDoc, useSession } from './store';
import type { Reference } from './store';

/** The other side of a wipe that is no state of the shot itself. */
export interface Other {
  name: string;
  state: ShotState;
  /** How wide its pixels are, over how wide those of the shot are. */
  aspect: number;
}
export const HELD = 'held';

const beside = (name: string, state: ShotState, its: MediaRecord, own: MediaRecord): Other => ({
  name,
  state,
  aspect: aspectOf(its) / aspectOf(own),
});
/**
 * What `against` names, for a shot; null where it names no such thing, or one whose picture is not there any more.
 *
 * @param against HELD, or the id of another shot, which is shown as it stands
 */
export function otherOf(records: Records, shot: ShotRecord, against: string, held: Reference | null): Other | null {
  const own = mediaOf(records, shot);
  if (!own) return null;
  if (against === HELD) {
    const its = held && recordOf(records, mediaIdOf(held.state.media), 'media');
    return held && its ? beside(held.name, held.state, its, own) : null;
  }
  const other = recordOf(records, against, 'shot');
  const its = other && other.id !== shot.id ? mediaOf(records, other) : undefined;
  return other && its ? beside(other.name, shotState(records, other), its, own) : null;
}

/** Holds the frame of a shot as it looks now. */
export function holdReference(shot: ShotRecord): Reference {
  const state = shotState(useDoc.getState().records, shot);
  const moves = shot.range[1] > shot.range[0];
  const name = moves ? `${shot.name}, frame ${state.frame}` : shot.name;
  return { name, state };
}
/** The same, to compare with from now on. */
export function compareWithThis(shot: ShotRecord): void {
  const reference = holdReference(shot);
  useSession.getState().set({ reference, against: HELD });
  sayNews(
    `${reference.name} is held as it looks now: wipe (W), side by side (S) and blink (Shift W) compare with it, in ` +
      'other shots too.',
  );
}
