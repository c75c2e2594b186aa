/** Parts of a region copied to another correction, also of a shot of another size. */
import { create } from 'zustand';
import type { Term } from '../core/graph/plan';
import { allTerms, isOp, mapTerms } from '../core/graph/region';
import { fitOf, mediaOf, recordOf } from '../document/records';
import type { CorrectionRecord, Records } from '../document/records';
import { correction, editCorrection, tooDeep } from './edit';
import { freshTerms, withoutLinks } from './region';
import { refitTerm } from './scenes';
import { useDoc, useSession } from './store';

interface Size {
  width: number;
  height: number;
}
/** What was copied last, in the frame of its owner; kept while the page is open. */
export const usePart = create<{ term: Term | null; size: Size | null }>()(() => ({ term: null, size: null }));

/** The frame that a correction's lengths are in: its scene's, or its shot's picture. */
function sizeOf(r: Records, c: CorrectionRecord): Size | null {
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
  usePart.setState({ term: alone ?? null, size: sizeOf(records, c) });
}
export function pastePart(corr: string): void {
  const { term, size } = usePart.getState();
  const c = correction(corr);
  if (!term || !size || !c) return;
  const to = sizeOf(useDoc.getState().records, c);
  const fit = to ? fitOf(size, to) : { s: 1, dx: 0, dy: 0 };
  const [copy] = freshTerms(mapTerms([term], (t) => (isOp(t) ? refitTerm(t, fit) : t)));
  if (!copy) return;
  // The first part of a region is joined with nothing.
  const next = [...c.terms, c.terms.length === 0 ? { ...copy, join: 'and' as const } : copy];
  if (tooDeep(c, next)) return;
  editCorrection(corr, `Paste ${copy.name}`, (x) => ({ ...x, terms: next }));
  useSession.getState().set({ term: copy.id });
}
