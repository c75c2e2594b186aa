/** The proof over a whole clip: the figures of every frame, and the worst of them. */
import { create } from 'zustand';
import type { ShotRecord } from '../document/records';
import type { SurroundFigures } from '../core/skin/surround';
import { shotState } from './actions';
import { engine } from './engine';
import { runJob } from './jobs';
import { mediaKey } from './mediaKey';
import { dependsOn } from './overTime';
import { asideFailed } from './notices';
import { readingsDb } from './readingsDb';
import { useDoc } from './store';

export interface EveryFrame {
  /** What it depended on, to know an old answer as one. */
  of: string;
  frames: number;
  /** Frames on which a bit of the surround moved, and those whose matte leaves no surround to prove. */
  moved: number;
  without: number;
  /** Where most moved, in 16-bit codes; where nothing did, where the fringe is widest. */
  worst: number;
  maxCodes: number;
  changed: number;
}
export const useEveryFrame = create<{ of: Record<string, EveryFrame> }>()(() => ({ of: {} }));
const worse = (a: SurroundFigures, b: SurroundFigures): boolean =>
  a.surroundMaxCodes !== b.surroundMaxCodes
    ? a.surroundMaxCodes > b.surroundMaxCodes
    : a.surroundChanged !== b.surroundChanged
      ? a.surroundChanged > b.surroundChanged
      : a.fringeShare > b.fringeShare;

export async function checkEveryFrame(shot: ShotRecord, correction: string): Promise<void> {
  const { records } = useDoc.getState();
  const [first, last] = shot.range;
  const of = dependsOn(records, shot, correction);
  const media = mediaKey(records, shot.media);
  await runJob(`Checking ${shot.name}`, last - first + 1, async (run) => {
    let [moved, without, worst] = [0, 0, first];
    let most: SurroundFigures | null = null;
    for (let f = first; f <= last; f++) {
      run.check();
      if (f < last) engine().prefetch({ media, frame: f + 1 });
      const shown = shotState(records, shot, false, f);
      const got = await engine().request('frameFigures', { shot: shown, correction }, run.signal);
      if (got.surroundShare === 0) without++;
      if (got.surroundChanged > 0) moved++;
      if (!most || worse(got, most)) [most, worst] = [got, f];
      run.at(f - first + 1);
    }
    const found: EveryFrame = {
      of,
      frames: last - first + 1,
      ...{ moved, without, worst },
      maxCodes: most?.surroundMaxCodes ?? 0,
      changed: most?.surroundChanged ?? 0,
    };
    useEveryFrame.setState((s) => ({ of: { ...s.of, [correction]: found } }));
    await readingsDb().proofs.put({ ...found, correction });
  });
}
/** What an earlier visit found. */
export function loadEveryFrame(correction: string): void {
  if (useEveryFrame.getState().of[correction]) return;
  void readingsDb()
    .proofs.get(correction)
    .then((r) => {
      if (!r || useEveryFrame.getState().of[correction]) return;
      const { correction: _, ...found } = r;
      useEveryFrame.setState((s) => ({ of: { ...s.of, [correction]: found } }));
    }, asideFailed('The proof over the frames could not be read'));
}
/** In words. */
export function everyFrameSaid(e: EveryFrame): string {
  const some = e.without > 0 ? ` On ${e.without} the matte leaves no surround.` : '';
  if (e.moved === 0)
    return `${e.frames} frames: the surround did not move by a bit on any.${some} The fringe is widest on ${e.worst}.`;
  return (
    `On ${e.moved} of ${e.frames} frames the surround moved; worst on ${e.worst}: ${e.changed} pixels, by up to ` +
    `${e.maxCodes} codes of 65535.${some}`
  );
}
