/** Looks for cuts in a shot: a job over its frames as they came. */
import { CutFinder } from '../core/track/cuts';
import type { Cut } from '../core/track/cuts';
import type { ShotRecord } from '../document/records';
import { engine } from './engine';
import { runJob } from './jobs';
import type { JobRun } from './jobs';
import { mediaKey } from './mediaKey';
import { useDoc } from './store';

/** Cuts within the shot's range; null where it was cancelled or failed (the list of jobs says why). */
export function lookForCuts(shot: ShotRecord, begun: (run: JobRun) => void): Promise<Cut[] | null> {
  const media = mediaKey(useDoc.getState().records, shot.media);
  const [first, last] = shot.range;
  return runJob(`Looking for cuts in ${shot.name}`, last - first + 1, async (run) => {
    begun(run);
    const finder = new CutFinder(first);
    const out: Cut[] = [];
    for (let f = first; f <= last; f++) {
      run.check();
      if (f < last) engine().prefetch({ media, frame: f + 1 });
      out.push(...finder.push(await engine().request('glimpse', { media, frame: f }, run.signal)));
      run.at(f - first + 1);
    }
    return [...out, ...finder.end()];
  });
}
