/**
 * One diff serves undo, autosave and the project file. A gesture (a drag of 200 events) is one step: `begin` marks,
 * `end` makes the step from the mark, `bail` goes back to it.
 */
import type { AnyRecord, Records } from './records';

export interface Diff {
  label: string;
  added: AnyRecord[];
  updated: [from: AnyRecord, to: AnyRecord][];
  removed: AnyRecord[];
}

/** What leads from a to b; records are compared by identity, as immutable values. */
export function diffOf(label: string, a: Records, b: Records): Diff {
  const d: Diff = { label, added: [], updated: [], removed: [] };
  for (const [id, to] of Object.entries(b)) {
    const from = a[id];
    if (!from) d.added.push(to);
    else if (from !== to) d.updated.push([from, to]);
  }
  for (const [id, from] of Object.entries(a)) if (!(id in b)) d.removed.push(from);
  return d;
}
export const isEmpty = (d: Diff): boolean => d.added.length + d.updated.length + d.removed.length === 0;

export function applyDiff(r: Records, d: Diff): Records {
  const out: Record<string, AnyRecord> = { ...r };
  for (const x of d.added) out[x.id] = x;
  for (const [, to] of d.updated) out[to.id] = to;
  for (const x of d.removed) delete out[x.id];
  return out;
}
export const invert = (d: Diff): Diff => ({ label: d.label, added: d.removed, removed: d.added, updated: d.updated.map(([a, b]) => [b, a]) });

export interface HistoryState {
  records: Records;
  past: readonly Diff[];
  ahead: readonly Diff[];
  /** Records when the running gesture began. */
  mark: { records: Records; label: string } | null;
}
export const emptyHistory: HistoryState = { records: {}, past: [], ahead: [], mark: null };
const DEPTH = 300;

const push = (h: HistoryState, d: Diff, records: Records): HistoryState =>
  isEmpty(d) ? { ...h, records } : { records, past: [...h.past.slice(-DEPTH + 1), d], ahead: [], mark: h.mark };

/** Changes records; within a gesture the step is made at its end. */
export function change(h: HistoryState, label: string, edit: (r: Records) => Records): HistoryState {
  const next = edit(h.records);
  return h.mark ? { ...h, records: next } : push(h, diffOf(label, h.records, next), next);
}
export const begin = (h: HistoryState, label: string): HistoryState => (h.mark ? h : { ...h, mark: { records: h.records, label } });
export function end(h: HistoryState): HistoryState {
  if (!h.mark) return h;
  const d = diffOf(h.mark.label, h.mark.records, h.records);
  return push({ ...h, mark: null }, d, h.records);
}
export const bail = (h: HistoryState): HistoryState => (h.mark ? { ...h, records: h.mark.records, mark: null } : h);
export function undo(h0: HistoryState): HistoryState {
  const h = end(h0);
  const d = h.past.at(-1);
  return d ? { records: applyDiff(h.records, invert(d)), past: h.past.slice(0, -1), ahead: [...h.ahead, d], mark: null } : h;
}
export function redo(h0: HistoryState): HistoryState {
  const h = end(h0);
  const d = h.ahead.at(-1);
  return d ? { records: applyDiff(h.records, d), past: [...h.past, d], ahead: h.ahead.slice(0, -1), mark: null } : h;
}

export const put = (...list: AnyRecord[]) => (r: Records): Records => ({ ...r, ...Object.fromEntries(list.map((x) => [x.id, x])) });
export const remove = (...ids: string[]) => (r: Records): Records => Object.fromEntries(Object.entries(r).filter(([id]) => !ids.includes(id)));
