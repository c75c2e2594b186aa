import { useEffect, useState } from 'react';
import type { ShotRecord } from '../../document/records';
import type { Distributions } from '../../protocol/messages';
import { shotState } from '../actions';
import { engine } from '../engine';
import { useLive } from '../live';
import { useDoc } from '../store';

const NONE: Distributions = { hue: new Array<number>(180).fill(0), sat: new Array<number>(100).fill(0), luma: new Array<number>(100).fill(0) };

/** The distribution of what a correction is given; renewed when a final stands. */
export function useDistributions(shot: ShotRecord, id: string): Distributions {
  const finals = useLive((s) => s.finals);
  const [d, setD] = useState(NONE);
  useEffect(() => {
    let gone = false;
    engine().request('distributions', { shot: shotState(useDoc.getState().records, shot), correction: id }).then((r) => !gone && setD((old) => (JSON.stringify(old) === JSON.stringify(r) ? old : r)), () => {});
    return () => {
      gone = true;
    };
  }, [finals, shot, id]);
  return d;
}
