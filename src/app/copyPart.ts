/** Parts of a region copied to another correction, also of a shot of another size. */
import { create } from 'zustand';
import type { Term } from '../core/graph/plan';
import { allTerms, isOp, mapTerms, mattesOf } from '../core/graph/region';
import { put } from '../document/history';
import { fitOf, mediaOf, recordOf } from '../document/records';
import type { CorrectionRecord, MediaId, MediaRecord, Records } from '../document/records';
import { correction, editCorrection, tooDeep } from './edit';
import { freshTerms, withoutLinks } from './region';
import { refitTerm } from './scenes';
import { useDoc, useSession } from './store';

interface Size {
  width: number;
  height: number;
}
/** What was copied last, in the frame of its owner; kept while the page is open. */
export const usePart = create<{
  term: Term | null;
  size: Size | null;
  /** Pictures that mattes in it rest on: they may go from the project before it is pasted. */
  mattes: readonly MediaRecord[];
}>()(() => ({ term: null, size: null, mattes: [] }));

/** The frame that a correction's lengths are in: its scene's, or its shot's picture. */
export function sizeOf(r: Records, c: Pick<CorrectionRecord, 'owner'>): Size | null {
  const scene = recordOf(r, c.owner, 'scene');
  if (scene) return scene;
  const shot = recordOf(r, c.owner, 'shot');
  return (shot && mediaOf(r, shot)) ?? null;
}
export function copyPart(corr: string, term: string): void {
  const c = correction(corr);
  const t = c && allTerms(c.terms).find((x) => x.id === term);
  if (!c || !t) return;
  const { records } = useDoc.getState();
  // What a link leads to is of its own owner: the copy takes it along.
  const [alone] = withoutLinks([t], records, () => true);
  const mattes = alone ? mattesOf({ terms: [alone] }) : [];
  usePart.setState({
    term: alone ?? null,
    size: sizeOf(records, c),
    mattes: mattes.flatMap((id) => recordOf(records, id as MediaId, 'media') ?? []),
  });
}
export function pastePart(corr: string): void {
  const { term, size, mattes } = usePart.getState();
  const c = correction(corr);
  if (!term || !size || !c) return;
  const to = sizeOf(useDoc.getState().records, c);
  const fit = to ? fitOf(size, to) : { s: 1, dx: 0, dy: 0 };
  const [copy] = freshTerms(mapTerms([term], (t) => (isOp(t) ? refitTerm(t, fit) : t)));
  if (!copy) return;
  // The first part of a region is joined with nothing.
  const next = [...c.terms, c.terms.length === 0 ? { ...copy, join: 'and' as const } : copy];
  if (tooDeep(c, next)) return;
  const label = `Paste ${copy.name}`;
  const { begin, end, bail } = useDoc.getState();
  begin(label);
  const gone = mattes.filter((m) => !useDoc.getState().records[m.id]);
  if (gone.length > 0) useDoc.getState().change(label, put(...gone));
  editCorrection(corr, label, (x) => ({ ...x, terms: next }));
  // A region that is full takes nothing: no picture comes back for it either.
  if (correction(corr)?.terms !== next) return bail();
  end();
  useSession.getState().set({ term: copy.id });
}
