/**
 * One diff serves undo, autosave and the project file. A gesture (a drag of 200 events) is one step: `begin` marks,
 * `end` makes the step from the mark, `bail` goes back to it.
 */
import { derived } from './records';
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

/** Key by key: of thousands of records that takes half as long as a spread. */
function copied(r: Records): Record<string, AnyRecord> {
  const out: Record<string, AnyRecord> = {};
  for (const id in r) out[id] = r[id]!;
  return out;
}
export function applyDiff(r: Records, d: Diff): Records {
  const out = copied(r);
  for (const x of d.added) out[x.id] = x;
  for (const [, to] of d.updated) out[to.id] = to;
  for (const x of d.removed) delete out[x.id];
  derived(
    r,
    out,
    [...d.added, ...d.removed, ...d.updated.map(([, to]) => to)].map((x) => x.id),
  );
  return out;
}
export const invert = (d: Diff): Diff => ({
  label: d.label,
  added: d.removed,
  removed: d.added,
  updated: d.updated.map(([a, b]) => [b, a]),
});

export interface HistoryState {
  records: Records;
  past: readonly Diff[];
  ahead: readonly Diff[];
  /** Records when the running gesture began. */
  mark: { records: Records; label: string } | null;
}
export const emptyHistory: HistoryState = { records: {}, past: [], ahead: [], mark: null };
/** Steps that can be undone: so many, and so many bytes of them (a lookup table alone may take tens of megabytes). */
export const DEPTH = 300;
export const HISTORY_BYTES = 96 * 2 ** 20;
const sizes = new WeakMap<Diff, number>();
/** About what a step takes when it is written. */
export function bytesOfDiff(d: Diff): number {
  let n = sizes.get(d);
  if (n === undefined) {
    const one = (r: AnyRecord): number => (r.type === 'table' ? r.data.length + 300 : JSON.stringify(r).length);
    const sum = (list: readonly AnyRecord[]): number => list.reduce((a, r) => a + one(r), 0);
    n = 60 + sum(d.added) + sum(d.removed) + d.updated.reduce((a, [x, y]) => a + one(x) + one(y), 0);
    sizes.set(d, n);
  }
  return n;
}
/** The latest steps that fit; the newest always stays. */
export function bounded(past: readonly Diff[]): readonly Diff[] {
  let bytes = 0;
  let from = past.length;
  while (from > 0 && past.length - from < DEPTH) {
    bytes += bytesOfDiff(past[from - 1]!);
    if (bytes > HISTORY_BYTES && from < past.length) break;
    from--;
  }
  return from === 0 ? past : past.slice(from);
}

const push = (h: HistoryState, d: Diff, records: Records): HistoryState =>
  isEmpty(d) ? { ...h, records } : { records, past: bounded([...h.past, d]), ahead: [], mark: h.mark };

/** Changes records; within a gesture the step is made at its end. */
export function change(h: HistoryState, label: string, edit: (r: Records) => Records): HistoryState {
  const next = edit(h.records);
  return h.mark ? { ...h, records: next } : push(h, diffOf(label, h.records, next), next);
}
export const begin = (h: HistoryState, label: string): HistoryState =>
  h.mark ? h : { ...h, mark: { records: h.records, label } };
export function end(h: HistoryState): HistoryState {
  if (!h.mark) return h;
  const d = diffOf(h.mark.label, h.mark.records, h.records);
  return push({ ...h, mark: null }, d, h.records);
}
export const bail = (h: HistoryState): HistoryState => (h.mark ? { ...h, records: h.mark.records, mark: null } : h);
export function undo(h0: HistoryState): HistoryState {
  const h = end(h0);
  const d = h.past.at(-1);
  return d
    ? { records: applyDiff(h.records, invert(d)), past: h.past.slice(0, -1), ahead: [...h.ahead, d], mark: null }
    : h;
}
export function redo(h0: HistoryState): HistoryState {
  const h = end(h0);
  const d = h.ahead.at(-1);
  return d ? { records: applyDiff(h.records, d), past: [...h.past, d], ahead: h.ahead.slice(0, -1), mark: null } : h;
}

export const put =
  (...list: AnyRecord[]) =>
  (r: Records): Records => {
    const out = copied(r);
    for (const x of list) out[x.id] = x;
    derived(
      r,
      out,
      list.map((x) => x.id),
    );
    return out;
  };
export const remove =
  (...ids: string[]) =>
  (r: Records): Records => {
    const out = copied(r);
    for (const id of ids) delete out[id];
    derived(r, out, ids);
    return out;
  };
