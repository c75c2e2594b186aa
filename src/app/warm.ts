/** What will be wanted in a moment is begun now. */
import type { ShotRecord } from '../document/records';
import { engine } from './engine';
import { mediaKey } from './mediaKey';
import { useDoc } from './store';

/** The picture of a shot that is about to be opened is decoded. */
export function warmShot(shot: ShotRecord): void {
  engine().prefetch({ media: mediaKey(useDoc.getState().records, shot.media), frame: shot.range[0] });
}
/** A pointer that only passes opens nothing. */
const RESTS_MS = 90;
let timer: ReturnType<typeof setTimeout> | undefined;
/** The same for a card that a pointer comes to (null: leaves). */
export function pointerOn(shot: ShotRecord | null): void {
  clearTimeout(timer);
  if (shot) timer = setTimeout(() => warmShot(shot), RESTS_MS);
}
