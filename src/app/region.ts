/** What a person can do to a region: parts, brackets, links to other corrections. */
import { newUse } from '../core/graph/plan.defaults';
import type { GroupTerm, MatteTerm, OpTerm, Term } from '../core/graph/plan';
import { opById } from '../core/graph/plan';
import { allTerms, circleOf, hasRegion, isGroup, isLink, isOp, mapTerms, mattesOf } from '../core/graph/region';
import type { Track } from '../core/graph/track';
import type { StoredValue } from '../core/op/params';
import { remove } from '../document/history';
import { ownCorrectionsOf } from '../document/records';
import type { CorrectionRecord, Records } from '../document/records';
import { correction, editCorrection, freeName, useId } from './edit';
import { useDoc, useSession } from './store';

/** The same parts with ids of their own. */
export const freshTerms = (terms: readonly Term[]): Term[] =>
  mapTerms(terms, (t) => ({ ...t, id: useId(), ...(isOp(t) ? { use: { ...t.use, id: useId() } } : {}) }));

/** Links for which `which` holds give way to brackets with a copy of what they led to. */
export function withoutLinks(terms: readonly Term[], r: Records, which: (id: string) => boolean): Term[] {
  return mapTerms(terms, (t): Term | null => {
    if (!isLink(t) || !which(t.of)) return t;
    const to = r[t.of];
    if (to?.type !== 'correction') return null;
    const copy = hasRegion(to)
      ? freshTerms(withoutLinks(to.terms, r, () => true))
      : // The whole picture, as a part.
        [keyOfAll(t.id)];
    return { id: t.id, join: t.join, not: t.not !== t.outside, name: to.name, on: t.on, group: copy };
  });
}
const keyOfAll = (id: string): Term => ({
  id: `${id}-all`,
  join: 'and',
  not: false,
  name: 'Any colour',
  use: newUse(`${id}-all`, 'key', { hueOn: false, satOn: false, lumaOn: false }),
});

const named = (c: CorrectionRecord, stem: string): string =>
  freeName(
    stem,
    allTerms(c.terms).map((t) => t.name),
  );
const choose = (id: string): void => useSession.getState().set({ term: id });

export function addTerm(corr: string, op: string, params: Record<string, StoredValue>, reads?: 'base'): string {
  const id = useId();
  editCorrection(corr, `Add ${opById(op).title.toLowerCase()}`, (c) => {
    const use = newUse(id, op, params);
    const term: OpTerm = { id, join: 'and', not: false, name: named(c, opById(op).title), use };
    return { ...c, terms: [...c.terms, reads ? { ...term, reads } : term] };
  });
  choose(id);
  return id;
}
/** Corrections that a region may rest on: of the same owner, and without a circle. */
export function linkable(records: Records, c: CorrectionRecord): CorrectionRecord[] {
  const all = ownCorrectionsOf(records, c.owner);
  return all.filter((to) => {
    if (to.id === c.id) return false;
    const link: Term = { id: 'x', join: 'and', not: false, name: '', of: to.id, outside: false, on: true };
    return !circleOf(all.map((x) => (x.id === c.id ? { ...c, terms: [...c.terms, link] } : x)));
  });
}
export function addLink(corr: string, to: string, outside: boolean): void {
  const id = useId();
  const name = correction(to)?.name ?? '';
  editCorrection(corr, 'Add a link', (c) => ({
    ...c,
    terms: [...c.terms, { id, join: 'and', not: false, name, of: to, outside, on: true }],
  }));
  choose(id);
}
type TermChange = {
  join?: 'and' | 'or';
  not?: boolean;
  of?: string;
  outside?: boolean;
  channel?: MatteTerm['channel'];
  from?: number;
  reads?: 'base' | null;
  quietPct?: number;
  quietFrames?: number;
  light?: readonly number[];
  track?: Track | null;
  strokes?: OpTerm['strokes'];
};
export function editTerm(corr: string, term: string, change: TermChange, label = 'Change the region'): void {
  editCorrection(corr, label, (c) => ({
    ...c,
    terms: mapTerms(c.terms, (t) => {
      if (t.id !== term) return t;
      const { reads, track, ...rest } = change;
      const next = { ...t, ...rest, ...(track ? { track } : {}) } as Term;
      if (track === null && isOp(next)) delete next.track;
      if (change.quietPct === 0 && isOp(next)) delete next.quietPct;
      if (change.quietFrames === 0 && isOp(next)) delete next.quietFrames;
      if (reads === undefined || !isOp(next)) return next;
      const { reads: _, ...plain } = next;
      return reads === 'base' ? { ...plain, reads } : plain;
    }),
  }));
}
/** *And* for *or*, or the other way. */
export const turnJoin = (corr: string, t: Term): void =>
  editTerm(corr, t.id, { join: t.join === 'and' ? 'or' : 'and' });
/** It counts outside instead of inside, or the other way. */
export const turnNot = (corr: string, t: Term): void =>
  editTerm(corr, t.id, isLink(t) ? { outside: t.outside === t.not, not: false } : { not: !t.not });
export function renameTerm(corr: string, term: string, name: string): void {
  editCorrection(corr, 'Rename', (c) => ({
    ...c,
    terms: mapTerms(c.terms, (t) => (t.id === term ? { ...t, name } : t)),
  }));
}
export function setTermOn(corr: string, term: string, on: boolean): void {
  editCorrection(corr, on ? 'Switch on' : 'Switch off', (c) => ({
    ...c,
    terms: mapTerms(c.terms, (t) => (t.id !== term ? t : isOp(t) ? { ...t, use: { ...t.use, on } } : { ...t, on })),
  }));
}
export function removeTerm(corr: string, term: string): void {
  const before = correction(corr);
  const { begin, end } = useDoc.getState();
  begin('Remove');
  editCorrection(corr, 'Remove', (c) => ({ ...c, terms: mapTerms(c.terms, (t) => (t.id === term ? null : t)) }));
  // A matte's picture goes with the last part that rests on it.
  const { records } = useDoc.getState();
  const gone = (before ? mattesOf(before) : []).filter(
    (m) =>
      !Object.values(records).some((r) =>
        r.type === 'shot' ? r.media === m : r.type === 'correction' && mattesOf(r).includes(m),
      ),
  );
  if (gone.length > 0) useDoc.getState().change('Remove', remove(...gone));
  end();
}

/** Changes the list that a part stands in; empty brackets go. */
function inList(terms: readonly Term[], id: string, f: (list: Term[], i: number) => Term[]): Term[] {
  const i = terms.findIndex((t) => t.id === id);
  if (i >= 0) return f([...terms], i);
  return terms
    .map((t) => (isGroup(t) ? { ...t, group: inList(t.group, id, f) } : t))
    .filter((t) => !isGroup(t) || t.group.length > 0);
}
const edit = (corr: string, label: string, term: string, f: (list: Term[], i: number) => Term[]): void =>
  editCorrection(corr, label, (c) => ({ ...c, terms: inList(c.terms, term, f) }));

export function moveTerm(corr: string, term: string, by: number): void {
  edit(corr, 'Reorder the region', term, (list, i) => {
    const [t] = list.splice(i, 1);
    list.splice(Math.max(0, Math.min(list.length, i + by)), 0, t!);
    return list;
  });
}
/** To a place in the list that it stands in, the brackets' or the whole. */
export function moveTermTo(corr: string, term: string, to: number): void {
  edit(corr, 'Reorder the region', term, (list, i) => {
    const [t] = list.splice(i, 1);
    list.splice(to, 0, t!);
    return list;
  });
}
/** Puts a part into brackets together with the one before it; brackets that stand there take it in. */
export function bracketTerm(corr: string, term: string): void {
  const name = named(correction(corr)!, 'Brackets');
  edit(corr, 'Put into brackets', term, (list, i) => {
    const [before, t] = [list[i - 1], list[i]!];
    if (!before) return list;
    const group: GroupTerm = isGroup(before)
      ? { ...before, group: [...before.group, t] }
      : { id: useId(), join: before.join, not: false, name, on: true, group: [before, t] };
    return [...list.slice(0, i - 1), group, ...list.slice(i + 1)];
  });
}
/** Takes the brackets away, or one part out of them to stand behind. */
export function unbracketTerm(corr: string, term: string): void {
  const t = allTerms(correction(corr)!.terms).find((x) => x.id === term);
  if (!t) return;
  if (isGroup(t)) {
    // What the brackets were joined by, their first part is joined by now.
    edit(corr, 'Take the brackets away', term, (list, i) => [
      ...list.slice(0, i),
      ...t.group.map((x, k) => (k === 0 ? { ...x, join: t.join } : x)),
      ...list.slice(i + 1),
    ]);
    return;
  }
  const home = allTerms(correction(corr)!.terms).find((x) => isGroup(x) && x.group.some((y) => y.id === term));
  if (!home) return;
  edit(corr, 'Take out of the brackets', home.id, (list, i) => {
    const g = list[i] as GroupTerm;
    const rest = g.group.filter((x) => x.id !== term);
    return [...list.slice(0, i), ...(rest.length ? [{ ...g, group: rest }] : []), t, ...list.slice(i + 1)];
  });
}
/** The parts of the chosen correction that stand in brackets themselves, for menus. */
export const inBrackets = (c: CorrectionRecord, term: string): boolean => !c.terms.some((t) => t.id === term);
