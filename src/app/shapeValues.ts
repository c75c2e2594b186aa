/** A shape's values as it stands on the picture: moved by the path that it follows; and back, when a hand moves it. */
import { opById } from '../core/graph/plan';
import type { OpTerm } from '../core/graph/plan';
import { drawnFrom, shapeAt } from '../core/graph/shapeAt';
import { resolve } from '../core/op/params';
import type { AnyValues, StoredValue } from '../core/op/params';
import { allTerms, isOp } from '../core/graph/region';
import { setParams } from './actions';
import { correction } from './edit';
import { useSession } from './store';
import { useFrame } from './values';

/** At a frame. */
export function shapeValues(term: OpTerm, frame: number): AnyValues {
  const { params } = opById(term.use.op);
  const own = resolve(params, term.use.params, frame);
  return term.track ? shapeAt(params, own, term.track, frame) : own;
}
export const useShapeValues = (term: OpTerm): AnyValues => shapeValues(term, useFrame());

/** New values where it stands on the picture, at the frame that is looked at. */
export function setShape(corr: string, shown: OpTerm, change: Record<string, StoredValue>, label: string): void {
  const { frame } = useSession.getState();
  // A point may have come in since it was drawn on the screen.
  const there = allTerms(correction(corr)?.terms ?? []).find((t) => t.id === shown.id);
  const term = there && isOp(there) ? there : shown;
  const { track, use } = term;
  if (!track) {
    setParams(corr, use.id, change, label);
    return;
  }
  const { params } = opById(use.op);
  const before = shapeValues(term, frame);
  const next = { ...before, ...change } as AnyValues;
  const own = drawnFrom(params, next as never, track, frame) as AnyValues;
  const rounded = (v: number): number => Math.round(v * 1000) / 1000;
  // A turn or a size of its own comes with every place: what did not change stays as it is.
  const was = resolve(params, use.params, frame) as AnyValues;
  const changed = Object.entries(own).flatMap(([k, v]) => {
    const old = was[k];
    const same =
      typeof v === 'number'
        ? Math.abs(v - (old as number)) < 1e-6
        : Array.isArray(v) && JSON.stringify(v) === JSON.stringify(old);
    if (same || v === old) return [];
    return [[k, typeof v === 'number' ? rounded(v) : Array.isArray(v) ? v.map(rounded) : v] as const];
  });
  setParams(corr, use.id, Object.fromEntries(changed) as Record<string, StoredValue>, label);
}
