/** Colours of a correction's region as it is given them, and what becomes of them: the traces behind its controls. */
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { rgbToYcbcr } from '../../core/color/ycbcr';
import { evaluateColours } from '../../core/graph/evaluate';
import type { Triple } from '../../core/graph/evaluate';
import { compile } from '../../core/graph/plan';
import type { OpUse } from '../../core/graph/plan';
import { toSpec } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { shotState } from '../actions';
import { asking } from '../asking';
import { engine } from '../engine';
import { useLive } from '../live';
import { asideFailed } from '../notices';
import { useDoc } from '../store';
import { useFrame } from '../values';

const NONE: number[] = [];
/** Colours of what a correction is given inside its region, R'G'B' in turn; renewed when a final stands. */
export function useHeld(shot: ShotRecord, id: string): readonly number[] {
  const finals = useLive((s) => s.finals);
  const [list, setList] = useState<readonly number[]>(NONE);
  useEffect(
    () =>
      asking(
        (signal) =>
          engine().request('held', { shot: shotState(useDoc.getState().records, shot), correction: id }, signal),
        (r) => setList((old) => (old.length === r.length && old.every((v, i) => v === r[i]) ? old : r)),
        asideFailed('The trace on the disc was not renewed'),
      ),
    [finals, shot, id],
  );
  return list;
}
/** What the whole correction makes of colours; `change` are other values of one of its adjustments. */
export type Through = (
  colours: readonly Triple[],
  change?: { use: string; params: Readonly<Record<string, number>> },
) => Triple[];
const plane = (list: readonly Triple[]): number[] =>
  list.flatMap((c) => {
    const [, cb, cr] = rgbToYcbcr(...c);
    return [cb, cr];
  });
const triples = (held: readonly number[]): Triple[] =>
  Array.from({ length: held.length / 3 }, (_, i) => [held[3 * i]!, held[3 * i + 1]!, held[3 * i + 2]!] as const);
/** Colours through these adjustments of a correction, everywhere and in full. */
function run(
  corr: CorrectionRecord,
  shot: ShotRecord,
  frame: number,
  adjustments: OpUse[],
  colours: readonly Triple[],
): Triple[] {
  const spec = { ...toSpec(corr), on: true, mixPct: 100, terms: [], tidy: [], adjustments };
  const steps = compile([spec], frame, 1, shot, () => null).filter((s) => s.id === corr.id);
  return evaluateColours(steps, colours);
}
/** Colours as the correction is given them and as they leave it, as triples and as Cb, Cr in turn. */
export function useThrough(corr: CorrectionRecord, shot: ShotRecord, held: readonly number[]) {
  const frame = useFrame();
  const given = useMemo(() => triples(held), [held]);
  const through = useCallback<Through>(
    (colours, change) =>
      run(
        corr,
        shot,
        frame,
        corr.adjustments.map((u) =>
          u.id === change?.use ? { ...u, on: true, params: { ...u.params, ...change.params } } : u,
        ),
        colours,
      ),
    [corr, shot, frame],
  );
  // A thousand colours through the correction: after the picture, where a hand drags something else.
  const later = useDeferredValue(through);
  const after = useMemo(() => later(given), [later, given]);
  const before = useMemo(() => plane(given), [given]);
  const now = useMemo(() => plane(after), [after]);
  return { given, through, after, before, now };
}
/** Colours as one adjustment is given them and as they leave it, as Cb, Cr in turn. */
export function useAround(corr: CorrectionRecord, use: string, shot: ShotRecord, held: readonly number[]) {
  const frame = useFrame();
  const later = useDeferredValue(corr);
  const k = later.adjustments.findIndex((u) => u.id === use);
  const given = useMemo(
    () => run(later, shot, frame, later.adjustments.slice(0, Math.max(0, k)), triples(held)),
    [later, shot, frame, k, held],
  );
  const before = useMemo(() => plane(given), [given]);
  const now = useMemo(
    () => plane(run(later, shot, frame, later.adjustments.slice(Math.max(0, k), k + 1), given)),
    [later, shot, frame, k, given],
  );
  return { before, now };
}
