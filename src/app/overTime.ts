/**
 * Readings over time: a job that asks the engine frame by frame what it sees, and keeps what it was told in this
 * browser, with what it was told of, so that an old answer is known as one.
 */
import { useMemo } from 'react';
import { create } from 'zustand';
import { isKnownAt } from '../core/graph/patch';
import type { Moment } from '../core/matte/overTime';
import { patchesOf, projectOf } from '../document/records';
import type { Records, ShotRecord } from '../document/records';
import { shotState } from './actions';
import { patchSpec } from './bench/scopeSlots';
import { engine } from './engine';
import { runJob } from './jobs';
import { useLive } from './live';
import { mediaKey } from './mediaKey';
import { asideFailed } from './notices';
import { readingsDb } from './readingsDb';
import { useDoc, useSession } from './store';

export interface OverTime {
  shot: string;
  /** Everything that the readings depend on. */
  of: string;
  moments: readonly Moment[];
  /** The correction whose matte was read, by its name; left out: none. */
  about?: string;
}
const table = () => readingsDb().readings;

export const useOverTime = create<{ of: Record<string, OverTime> }>()(() => ({ of: {} }));
const put = (r: OverTime): void => useOverTime.setState((s) => ({ of: { ...s.of, [r.shot]: r } }));

const specOf = (records: Records, shot: ShotRecord, correction: string | null) => ({
  // The frame is put in for each.
  shot: shotState(records, shot, false, shot.range[0]),
  correction,
  patches: patchesOf(records, shot.id).map(patchSpec),
  skinLineDeg: projectOf(records)?.skinLineDeg ?? 123,
  bits: useSession.getState().bits,
});
/** Grows when something is measured in another way: what an earlier build kept is old then. */
const MEASURED = 2;
/** What readings of a shot depend on now. */
export const dependsOn = (records: Records, shot: ShotRecord, correction: string | null): string =>
  JSON.stringify([MEASURED, mediaKey(records, shot.media), shot.range, specOf(records, shot, correction)]);

/** Whether what was read of a shot is of what is set now; asked when a picture has come to rest, not under a drag. */
export function useIsOld(shot: ShotRecord, correction: string | null, of: string | undefined): boolean {
  const finals = useLive((s) => s.finals);
  return useMemo(
    () => of !== undefined && of !== dependsOn(useDoc.getState().records, shot, correction),
    // What was drawn last stands for everything that it depends on.
    [finals, shot, correction, of],
  );
}

/** What an earlier visit kept. */
export function loadOverTime(shot: string): void {
  if (useOverTime.getState().of[shot]) return;
  void table()
    .get(shot)
    .then((r) => r && !useOverTime.getState().of[shot] && put(r), asideFailed('Readings over time could not be read'));
}

export async function readOverTime(shot: ShotRecord, correction: string | null): Promise<void> {
  const { records } = useDoc.getState();
  const [first, last] = shot.range;
  const spec = specOf(records, shot, correction);
  const of = dependsOn(records, shot, correction);
  const media = mediaKey(records, shot.media);
  const c = correction === null ? undefined : records[correction];
  const about = c?.type === 'correction' ? { about: c.name } : {};
  await runJob(`Reading ${shot.name} over time`, last - first + 1, async (run) => {
    const moments: Moment[] = [];
    for (let f = first; f <= last; f++) {
      run.check();
      if (f < last) engine().prefetch({ media, frame: f + 1 });
      const r = await engine().request(
        'moment',
        { ...spec, shot: { ...spec.shot, frame: f }, before: f > first ? f - 1 : null },
        run.signal,
      );
      moments.push({
        frame: f,
        coverage: r.coverage,
        leaks: r.leaks,
        // With hardly anything still there is nothing to tell.
        change: r.flicker && r.flicker.still > 0.02 ? r.flicker.change : null,
        levelPct: r.levelPct,
        patches: r.patches.map(({ id, after: read }, i) => {
          // Where nobody knows where it is, nothing is read.
          const after = isKnownAt(spec.patches[i]!, f) ? read : null;
          return {
            id,
            offLineDeg: after?.offLineDeg ?? null,
            chromaPct: after?.chromaPct ?? null,
            lumaPct: after?.lumaPct ?? null,
          };
        }),
      });
      run.at(f - first + 1);
      // Drawn as it comes; kept when it is whole.
      if (f % 4 === 0 || f === last) put({ shot: shot.id, of, moments: [...moments], ...about });
    }
    await table().put({ shot: shot.id, of, moments, ...about });
  });
}
