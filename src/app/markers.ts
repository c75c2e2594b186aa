/** Places in a shot's time that a person wants to find again, with a note. */
import type { ShotRecord } from '../document/records';
import { editShot } from './actions';
import { player } from './player';
import { sayNews } from './notices';

export const markersOf = (shot: ShotRecord): readonly { frame: number; note: string }[] => shot.markers ?? [];
const put = (shot: ShotRecord, label: string, list: { frame: number; note: string }[]): void =>
  editShot(shot.id, label, ({ markers: _old, ...s }) => ({
    ...s,
    ...(list.length > 0 ? { markers: [...list].sort((a, b) => a.frame - b.frame) } : {}),
  }));

/** A marker at the frame, or none any more. */
export function toggleMarker(shot: ShotRecord, frame: number): void {
  const rest = markersOf(shot).filter((m) => m.frame !== frame);
  if (rest.length < markersOf(shot).length) put(shot, 'Remove a marker', rest);
  else put(shot, 'Set a marker', [...rest, { frame, note: '' }]);
}
export function noteMarker(shot: ShotRecord, frame: number, note: string): void {
  const list = markersOf(shot);
  if (list.some((m) => m.frame === frame && m.note !== note))
    put(
      shot,
      'Note a marker',
      list.map((m) => (m.frame === frame ? { frame, note } : m)),
    );
}
/** To the marker before or after a frame. */
export function nearMarker(shot: ShotRecord, frame: number, by: 1 | -1): void {
  const list = markersOf(shot).filter((m) => (m.frame - frame) * by > 0);
  const next = by > 0 ? list[0] : list.at(-1);
  if (next) player.go(next.frame);
  else sayNews(`There is no marker ${by > 0 ? 'after' : 'before'} frame ${frame}: the semicolon sets one here.`);
}
