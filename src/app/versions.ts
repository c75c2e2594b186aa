/**
 * Versions: a state of a shot kept by name, looked at beside the present one, gone back to. They go with the project.
 */
import { checkRecords } from '../document/check';
import { put, remove } from '../document/history';
import { newId, ownCorrectionsOf } from '../document/records';
import type { AnyRecord, CorrectionRecord, Records, ShotRecord, VersionRecord } from '../document/records';
import { PROJECT_VERSION } from '../document/schema';
import { sayError, sayNews } from './notices';
import { useDoc } from './store';

export const versionsOf = (records: Records, shot: string): VersionRecord[] =>
  Object.values(records)
    .filter((r): r is VersionRecord => r.type === 'version' && r.shot === shot)
    .sort((a, b) => a.order - b.order);

/** Keeps what is set now, under a name. */
export function keepVersion(shot: ShotRecord, name: string): void {
  const { records, change } = useDoc.getState();
  const list = versionsOf(records, shot.id);
  const free = name.trim() || `Version ${list.length + 1}`;
  if (list.some((v) => v.name === free)) {
    sayError(`There is a version "${free}" already: give another name.`);
    return;
  }
  const v: VersionRecord = {
    type: 'version',
    id: newId('version'),
    shot: shot.id,
    name: free,
    at: new Date().toISOString(),
    form: PROJECT_VERSION,
    encoding: shot.encoding,
    conversion: { ...shot.conversion },
    corrections: [...ownCorrectionsOf(records, shot.id)],
    order: (list.at(-1)?.order ?? 0) + 1,
  };
  change('Keep a version', put(v));
}
export const removeVersion = (id: string): void => useDoc.getState().change('Remove a version', remove(id));

/** What a version came to, and what it leaned on then: under a drag it is asked for with every step. */
const brought = new WeakMap<VersionRecord, { on: readonly AnyRecord[]; mine: AnyRecord[]; said: string[] }>();

/** The records with the shot as the version had it, brought to today's form; and what had to be left out, in words. */
export function recordsWith(records: Records, v: VersionRecord): { records: Records; said: string[] } {
  const shot = records[v.shot];
  if (shot?.type !== 'shot') return { records, said: [] };
  const now = ownCorrectionsOf(records, v.shot).map((c) => c.id);
  const others = Object.values(records).filter((r) => !now.includes(r.id as never) && r.id !== shot.id);
  // What it leans on is as it is today; what it brings has the form of its time.
  const leansOn = others.filter(
    (r) => r.type === 'media' || r.type === 'table' || r.type === 'project' || r.type === 'scene',
  );
  const on = [shot, ...leansOn];
  let known = brought.get(v);
  if (!known || known.on.length !== on.length || known.on.some((r, i) => r !== on[i])) {
    const then: AnyRecord[] = [
      { ...shot, encoding: v.encoding, conversion: v.conversion },
      ...(v.corrections as CorrectionRecord[]),
    ];
    const checked = checkRecords(v.form, [...leansOn, ...then], 'store');
    known = { on, mine: then.flatMap((r) => checked.records[r.id] ?? []), said: checked.said };
    brought.set(v, known);
  }
  return { records: Object.fromEntries([...others, ...known.mine].map((r) => [r.id, r])), said: known.said };
}

/** Back to a version, in one undo. */
export function goBack(v: VersionRecord): void {
  const { records, change } = useDoc.getState();
  const { records: then, said } = recordsWith(records, v);
  const shot = then[v.shot];
  const list = ownCorrectionsOf(then, v.shot);
  change(`Back to ${v.name}`, (r) => {
    const gone = ownCorrectionsOf(r, v.shot).filter((c) => !list.some((x) => x.id === c.id));
    return put(...(shot ? [shot] : []), ...list)(remove(...gone.map((c) => c.id))(r));
  });
  sayNews(`The shot is as "${v.name}" had it. Ctrl Z brings back what was there.`);
  for (const s of said) sayError(s);
}
