/** A point of a tone curve from a tone of the picture, as the curve itself is given it. */
import { monotone } from '../core/math/monotone';
import { luma } from '../core/color/ycbcr';
import { inputOfAdjustment } from '../core/graph/plan';
import type { ShotRecord } from '../document/records';
import { correction, setParams, shotState } from './actions';
import { engine } from './engine';
import { guard } from './notices';
import { useDoc, useSession } from './store';
import { listOf } from './values';

export async function pointFromPicture(shot: ShotRecord, at: { x: number; y: number }): Promise<void> {
  const { curveFor, correction: id, frame } = useSession.getState();
  const c = correction(id);
  const k = c?.adjustments.findIndex((u) => u.id === curveFor?.use) ?? -1;
  if (!c || k < 0 || !curveFor) return;
  const state = shotState(useDoc.getState().records, shot);
  // What stands before the curve, everywhere and in full.
  const before = { ...state, corrections: inputOfAdjustment(state.corrections, c.id, k) };
  await guard('No point was set', async () => {
    const p = await engine().request('colourAt', { shot: before, x: at.x, y: at.y });
    if (!p) throw new Error('that lies outside the picture. Click on the picture itself');
    const v =
      curveFor.curve === 'red'
        ? p.after[0]
        : curveFor.curve === 'green'
          ? p.after[1]
          : curveFor.curve === 'blue'
            ? p.after[2]
            : luma(...p.after);
    const points = listOf(c.adjustments[k]!, curveFor.curve, frame);
    const list = Array.from({ length: points.length >> 1 }, (_, i) => [points[2 * i]!, points[2 * i + 1]!] as const);
    if (v < -0.4 || v > 1.4) throw new Error(`the tone there, ${(100 * v).toFixed(0)} %, lies beyond the curve`);
    if (list.some(([x]) => Math.abs(x - v) < 0.004)) throw new Error('the curve has a point at that tone already');
    if (list.length >= 64) throw new Error('the curve has 64 points, which is the most. Take one away first');
    const y = monotone(
      list.map((q) => q[0]),
      list.map((q) => q[1]),
    ).at(v);
    setParams(
      c.id,
      curveFor.use,
      {
        [curveFor.curve]: [...list, [v, y] as const]
          .sort((a, b) => a[0] - b[0])
          .flatMap(([x, z]) => [Math.round(x * 1e4) / 1e4, Math.round(z * 1e4) / 1e4]),
      },
      'Add a point from the picture',
    );
  });
}
