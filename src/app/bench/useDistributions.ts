import { useEffect, useState } from 'react';
import type { OpTerm } from '../../core/graph/plan';
import type { ShotRecord } from '../../document/records';
import { PLANE_CELLS } from '../../protocol/messages';
import type { Distributions } from '../../protocol/messages';
import { readAs, shotState } from '../actions';
import { asking } from '../asking';
import { engine } from '../engine';
import { asideFailed } from '../notices';
import { useLive } from '../live';
import { useDoc } from '../store';

const NONE: Distributions = {
  plane: new Uint8Array(PLANE_CELLS * PLANE_CELLS),
  luma: new Array<number>(100).fill(0),
};

const same = (a: Distributions, b: Distributions): boolean =>
  a.luma.every((v, i) => v === b.luma[i]) && a.plane.every((v, i) => v === b.plane[i]);

/** The distribution of what a correction is given, or of the base; renewed when a final stands. */
export function useDistributions(shot: ShotRecord, id: string, key: OpTerm | null = null): Distributions {
  const finals = useLive((s) => s.finals);
  const [d, setD] = useState(NONE);
  const { base, quietPct, space, light } = readAs(key);
  useEffect(
    () =>
      asking(
        (signal) =>
          engine().request(
            'distributions',
            { shot: shotState(useDoc.getState().records, shot), correction: id, base, quietPct, space, light },
            signal,
          ),
        (r) => setD((old) => (same(old, r) ? old : r)),
        asideFailed('The distribution behind the controls was not renewed'),
      ),
    [finals, shot, id, base, quietPct, space, light],
  );
  return d;
}
