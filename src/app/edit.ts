/** The one way to change a correction, and what all that change it need. */
import type { Term } from '../core/graph/plan';
import { allTerms, depthOf } from '../core/graph/region';
import { put } from '../document/history';
import { newId } from '../document/records';
import type { CorrectionRecord } from '../document/records';
import { LIMITS } from '../document/schema';
import { sayError } from './notices';
import { useDoc } from './store';

const doc = () => useDoc.getState();

export function correction(id: string | null): CorrectionRecord | null {
  const c = id ? doc().records[id] : undefined;
  return c?.type === 'correction' ? c : null;
}

export const freeName = (stem: string, taken: readonly string[]): string => {
  for (let i = 1; ; i++) if (!taken.includes(`${stem} ${i}`)) return `${stem} ${i}`;
};
export const useId = (): string => newId('patch').slice(6);

export function editCorrection(id: string, label: string, edit: (c: CorrectionRecord) => CorrectionRecord): void {
  doc().change(label, (r) => {
    const c = r[id];
    if (c?.type !== 'correction') return r;
    const next = edit(c);
    const full = (['terms', 'tidy', 'adjustments'] as const).find(
      (k) => countOf(next, k) > LIMITS[k] && countOf(next, k) > countOf(c, k),
    );
    // What the application accepts its files must hold too.
    if (next.terms !== c.terms && tooDeep(c, next.terms)) return r;
    if (!full) return put(next)(r);
    sayError(
      `"${c.name}" has ${LIMITS[full]} ${PARTS[full]} already, the most there can be: go on in another correction.`,
    );
    return r;
  });
}
const PARTS = { terms: 'parts of its region', tidy: 'tidy steps', adjustments: 'adjustments' } as const;
const countOf = (c: CorrectionRecord, k: keyof typeof PARTS): number =>
  k === 'terms' ? allTerms(c.terms).length : c[k].length;
/** Whether brackets stand deeper than files hold; said. */
export function tooDeep(c: Pick<CorrectionRecord, 'name'>, terms: readonly Term[]): boolean {
  if (depthOf(terms) <= LIMITS.depth) return false;
  sayError(`Brackets in "${c.name}" would stand more than ${LIMITS.depth} deep: take something out of them first.`);
  return true;
}
