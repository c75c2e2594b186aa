/** The part of a clip that a shot shows: in, out, and shots cut from it. */
import { put } from '../document/history';
import { newId, ownCorrectionsOf, patchesOf, shotsOf } from '../document/records';
import type { AnyRecord, ShotId, ShotRecord } from '../document/records';
import { editShot } from './actions';
import { freeName, useId } from './edit';
import { freshTerms } from './region';
import { sayError } from './notices';
import { useDoc, useSession } from './store';

/** The first or last frame that the shot shows. */
export function setRange(shot: ShotRecord, end: 'in' | 'out', frame: number): void {
  const [a, b] = shot.range;
  const next: [number, number] = end === 'in' ? [frame, b] : [a, frame];
  if (next[0] > next[1]) {
    sayError(
      `The ${end} point would stand ${end === 'in' ? 'after the out' : 'before the in'} point: move that first.`,
    );
    return;
  }
  if (next[0] === a && next[1] === b) return;
  editShot(shot.id, end === 'in' ? 'Set the in point' : 'Set the out point', (s) => ({ ...s, range: next }));
}
export function wholeRange(shot: ShotRecord, frames: number): void {
  editShot(shot.id, 'Show the whole clip', (s) => ({ ...s, range: [0, frames - 1] }));
}

/** Markers go with the frames that a shot shows. */
function markedWithin({ markers = [], ...s }: ShotRecord): ShotRecord {
  const own = markers.filter((m) => m.frame >= s.range[0] && m.frame <= s.range[1]);
  return own.length > 0 ? { ...s, markers: own } : s;
}
/** Shots from here on: the first keeps its name, each has copies of the corrections and patches. One undo. */
export function splitShot(shot: ShotRecord, at: readonly number[]): ShotId | null {
  const [first, last] = shot.range;
  const cuts = [...new Set(at)].filter((f) => f > first && f <= last).sort((a, b) => a - b);
  if (cuts.length === 0) {
    sayError('Move the playhead into the shot first: it is cut before the frame that is shown.');
    return null;
  }
  const { records, change } = useDoc.getState();
  const list = shotsOf(records);
  const names = list.map((s) => s.name);
  const after = list[list.indexOf(shot) + 1]?.order ?? shot.order + 1;
  const out: AnyRecord[] = [markedWithin({ ...shot, range: [first, cuts[0]! - 1] })];
  let second: ShotId | null = null;
  cuts.forEach((from, i) => {
    const name = freeName(shot.name, names);
    names.push(name);
    const s: ShotRecord = {
      ...shot,
      id: newId('shot'),
      name,
      range: [from, (cuts[i + 1] ?? last + 1) - 1],
      order: shot.order + ((after - shot.order) * (i + 1)) / (cuts.length + 1),
    };
    second ??= s.id;
    out.push(markedWithin(s), ...copiesFor(shot.id, s.id));
  });
  change('Cut a shot', put(...out));
  // A tab that only follows changes nothing.
  return second !== null && useDoc.getState().records[second] ? second : null;
}
/** Corrections and patches of one shot for another: links between them lead to the copies. */
function copiesFor(from: ShotId, to: ShotId): AnyRecord[] {
  const { records } = useDoc.getState();
  const own = ownCorrectionsOf(records, from);
  const ids = new Map(own.map((c) => [c.id as string, newId('corr')]));
  const relink = <T extends object>(terms: T[]): T[] =>
    terms.map((t) => ({
      ...t,
      ...('of' in t ? { of: ids.get(t.of as string) ?? t.of } : {}),
      ...('group' in t ? { group: relink(t.group as object[]) } : {}),
    }));
  return [
    ...own.map((c) => ({
      ...c,
      id: ids.get(c.id)!,
      owner: to,
      terms: relink(freshTerms(c.terms)),
      tidy: c.tidy.map((u) => ({ ...u, id: useId() })),
      adjustments: c.adjustments.map((u) => ({ ...u, id: useId() })),
    })),
    ...patchesOf(records, from).map((p) => ({ ...p, id: newId('patch'), shot: to })),
  ];
}
/** Where the playhead stands within a shot. */
export const playhead = (shot: ShotRecord): number =>
  Math.max(shot.range[0], Math.min(shot.range[1], useSession.getState().frame));
