/** Recolouring: the mean of a region brought to a colour. */
import { apply3, decode, rgbToRgb } from '../core/color/encodings';
import type { Encoding } from '../core/color/encodings';
import { linearToOklab } from '../core/color/oklab';
import { displayEncoding } from '../core/graph/plan';
import type { ShotRecord } from '../document/records';
import type { RecolourReply } from '../protocol/messages';
import { setParams, shotState } from './actions';
import { engine } from './engine';
import { guard } from './notices';
import { useDoc, useSession } from './store';

export type Lab = [number, number, number];
/** R'G'B' of the display, 0..1, as OKLab. */
export const labOfRgb = (rgb: readonly number[], e: Encoding): Lab =>
  linearToOklab(...apply3(rgbToRgb(e.primaries, 'bt709'), rgb.map((v) => decode(e, v)) as Lab));
export const displayOf = (shot: ShotRecord): Encoding => displayEncoding(shotState(useDoc.getState().records, shot));

const asked = (shot: ShotRecord, corr: string, use: string) => ({
  shot: shotState(useDoc.getState().records, shot),
  correction: corr,
  use,
  bits: useSession.getState().bits,
});
export const measured = (shot: ShotRecord, corr: string, use: string, signal?: AbortSignal): Promise<RecolourReply> =>
  engine().request('recoloured', asked(shot, corr, use), signal);
let newest = 0;
/** Solves it and takes it, in one undo; true where no later colour was asked for meanwhile, which takes its place. */
export async function recolourTo(shot: ShotRecord, corr: string, use: string, to: Lab): Promise<boolean> {
  const me = ++newest;
  await guard('It was not recoloured', async () => {
    const r = await engine().request('recolour', { ...asked(shot, corr, use), to });
    const round = (v: Lab): number[] => v.map((x) => Math.round(x * 1e5) / 1e5);
    if (r.params && me === newest)
      setParams(
        corr,
        use,
        { from: round(r.params.from), to: round(r.params.to), trim: round(r.params.trim) },
        'Recolour',
      );
  });
  return me === newest;
}
/** To the colour of a place of the picture, as it is shown. */
export async function recolourFromPicture(shot: ShotRecord, at: { x: number; y: number }): Promise<void> {
  const { curveFor, correction: corr } = useSession.getState();
  if (!corr || !curveFor) return;
  await guard('It was not recoloured', async () => {
    const p = await engine().request('colourAt', { shot: shotState(useDoc.getState().records, shot), ...at });
    if (!p) throw new Error('that lies outside the picture. Press on the picture itself');
    await recolourTo(shot, corr, curveFor.use, labOfRgb(p.after, displayOf(shot)));
  });
}
