/** Values that lean on the mean of a region: what evenness draws to, where a contrast turns. */
import type { ShotRecord } from '../document/records';
import type { Requests } from '../protocol/messages';
import { addAdjustment, setParams, shotState } from './actions';
import { engine } from './engine';
import { guard } from './notices';
import { useDoc, useSession } from './store';

export const evennessOf = (
  shot: ShotRecord,
  corr: string,
  use: string | null,
  signal?: AbortSignal,
): Promise<Requests['evenness']['out']> =>
  engine().request(
    'evenness',
    { shot: shotState(useDoc.getState().records, shot), correction: corr, use, bits: useSession.getState().bits },
    signal,
  );
/** What of a region lies beyond the range where an adjustment begins and where it ends. */
export const beyondOf = (
  shot: ShotRecord,
  corr: string,
  use: string,
  signal?: AbortSignal,
): Promise<Requests['beyond']['out']> =>
  engine().request('beyond', { shot: shotState(useDoc.getState().records, shot), correction: corr, use }, signal);
const tenth = (v: number): number => Math.round(v * 10) / 10;
const meanOf = (given: Requests['evenness']['out']['given']): { hueDeg: number; perLumaPct: number } => ({
  hueDeg: tenth(given.hueDeg),
  perLumaPct: tenth(given.perLumaPct),
});

/** Adds it with the region's own mean, so that its strength alone is left to set. */
export async function addEvenness(shot: ShotRecord, corr: string): Promise<void> {
  await guard('Evenness was not added', async () => {
    const { given } = await evennessOf(shot, corr, null);
    addAdjustment(corr, 'evenness', { strengthPct: 60, ...meanOf(given) });
  });
}
/** Takes the mean anew. */
export async function readEvenness(shot: ShotRecord, corr: string, use: string): Promise<void> {
  await guard('The region was not read', async () => {
    const { given } = await evennessOf(shot, corr, use);
    setParams(corr, use, meanOf(given), 'Read the mean of the region');
  });
}
const levelsOf = (shot: ShotRecord, corr: string, use: string): Promise<Requests['levelsGiven']['out']> =>
  engine().request('levelsGiven', { shot: shotState(useDoc.getState().records, shot), correction: corr, use });
/** The pivot of a contrast where the region's own mean lies: it grows steeper or softer about its own level. */
export async function pivotAtMean(shot: ShotRecord, corr: string, use: string): Promise<void> {
  const { mean } = await levelsOf(shot, corr, use);
  const pivotPct = Math.min(99, Math.max(1, tenth(100 * mean)));
  setParams(corr, use, { greyPivot: false, pivotPct }, 'Pivot at the mean of the region');
}
/** Wheels act from the dark end of the region to its bright one. */
export async function rangeOfRegion(shot: ShotRecord, corr: string, use: string): Promise<void> {
  const { low, high } = await levelsOf(shot, corr, use);
  const [fromPct, toPct] = [tenth(100 * low), tenth(100 * high)];
  if (toPct - fromPct < LEAST_RANGE)
    throw new RangeError(`The region has hardly a range: it goes from ${fromPct} to ${toPct} %`);
  setParams(corr, use, { fromPct, toPct }, 'Wheels over the range of the region');
}
/** In %: what the wheels take as a range at least. */
const LEAST_RANGE = 5;
