/** The same correction again on other shots. */
import { isOp, mapTerms } from '../core/graph/region';
import { put } from '../document/history';
import { correctionsOf, fitOf, ownCorrectionsOf, recordOf, SAME } from '../document/records';
import type { CorrectionRecord, Records, ShotId, ShotRecord } from '../document/records';
import { copyOf, settle } from './actions';
import { sizeOf } from './copyPart';
import { correction, freeName, tooDeep, useId } from './edit';
import { sayNews } from './notices';
import { withoutLinks } from './region';
import { refit, refitTerm } from './scenes';
import { useDoc } from './store';

/** `whole`: as a further correction there; `values`: its adjustments and mix into the one of its name there. */
export type CarryHow = 'whole' | 'values';

const namesake = (r: Records, c: CorrectionRecord, shot: ShotId): CorrectionRecord | undefined =>
  ownCorrectionsOf(r, shot).find((x) => x.name === c.name && x.id !== c.id);
/** Why it cannot be carried to a shot, in words; null where it can. */
export function cannotCarry(r: Records, c: CorrectionRecord, shot: ShotId, how: CarryHow): string | null {
  // Its own shot, and those of its scene.
  if (correctionsOf(r, shot).some((x) => x.id === c.id)) return 'has it already';
  return how === 'values' && !namesake(r, c, shot) ? `has no correction named "${c.name}"` : null;
}

/**
 * The records with a correction carried to a shot. Places and lengths are told anew for a picture of another size;
 * what links led to is taken along; a path that it follows stays where it was found.
 */
export function carried(r: Records, c: CorrectionRecord, shot: ShotId, how: CarryHow): Records {
  const to = recordOf(r, shot, 'shot');
  if (!to || cannotCarry(r, c, shot, how)) return r;
  const from = sizeOf(r, c);
  const there = sizeOf(r, { owner: shot });
  const fit = from && there ? fitOf(from, there) : SAME;
  const adjustments = c.adjustments.map((u) => ({ ...refit(u, fit), id: useId() }));
  if (how === 'values') return put({ ...namesake(r, c, shot)!, adjustments, mixPct: c.mixPct })(r);
  const list = ownCorrectionsOf(r, shot);
  const names = list.map((x) => x.name);
  const terms = mapTerms(
    withoutLinks(c.terms, r, () => true),
    (t) => {
      if (!isOp(t)) return t;
      const { track: _, ...still } = refitTerm(t, fit);
      return still;
    },
  );
  const copy = copyOf(
    { ...c, tidy: c.tidy.map((u) => refit(u, fit)), adjustments },
    {
      owner: shot,
      terms,
      name: names.includes(c.name) ? freeName(c.name, names) : c.name,
      order: (list.at(-1)?.order ?? 0) + 1,
    },
  );
  return settle(put(copy)(r), shot);
}

/** To several shots in one step to undo. */
export function carryCorrection(id: string, shots: readonly ShotRecord[], how: CarryHow): void {
  const c = correction(id);
  const { records, change } = useDoc.getState();
  if (!c || shots.length === 0) return;
  if (
    how === 'whole' &&
    tooDeep(
      c,
      withoutLinks(c.terms, records, () => true),
    )
  )
    return;
  const where = shots.length === 1 ? shots[0]!.name : `${shots.length} shots`;
  change(`Carry ${c.name} to ${where}`, (r) => shots.reduce((now, s) => carried(now, c, s.id, how), r));
  // Another tab writes: it was said, and nothing has changed.
  if (useDoc.getState().records === records) return;
  sayNews(`${c.name} is carried to ${where}. One undo takes it back.`);
}
