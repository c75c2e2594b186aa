/** The frame that is shown: what plays or is scrubbed, else what is looked at. */
import { timecodeOf } from '../../core/math/timecode';
import type { ShotRecord } from '../../document/records';
import { usePlay } from '../player';
import { useSession } from '../store';
import { useFrame } from '../values';

/** While it plays or is scrubbed the player's frame, else the one that is looked at, held to the shot. */
export const frameOf = ({ range: [first, last] }: ShotRecord, shown: number | null, still: number): number =>
  shown ?? Math.max(first, Math.min(last, still));
export const frameNow = (shot: ShotRecord): number =>
  frameOf(shot, usePlay.getState().frame, useSession.getState().frame);
/** For what changes with every frame that plays, and for nothing larger: it is drawn anew each time. */
export function useShown(shot: ShotRecord): number {
  const still = useFrame();
  return frameOf(
    shot,
    usePlay((s) => s.frame),
    still,
  );
}
export const codeOf = (shot: ShotRecord, frame: number): string =>
  timecodeOf(shot.timecode.start + frame, shot.rate, shot.timecode.drop);
