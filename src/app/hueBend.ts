/** A bend of a curve over hue, from a colour of the picture and how far a hand moved from there. */
import { closed } from '../core/math/closed';
import { wrap180 } from '../core/math/angle';
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr } from '../core/color/ycbcr';
import { inputOfAdjustment } from '../core/graph/plan';
import { pointsOf } from '../core/ops/byHue/index';
import type { ShotRecord } from '../document/records';
import { correction, setParams, shotState } from './actions';
import { engine } from './engine';
import { guard } from './notices';
import { useDoc, useSession } from './store';
import { listOf } from './values';

/** Values at the end of a drag over so many screen pixels; degrees or percent. */
const PER_PIXEL = 0.25;
/** A point that lies this near is moved, instead of another one set beside it. */
const SAME_DEG = 12;
const MOST_POINTS = 24;

/** The points of a curve with the bend in it. Throws a RangeError where there can be no more points. */
export function bent(points: readonly number[], hue: number, by: number): number[] {
  const list = pointsOf(points);
  const tenth = (v: number): number => Math.round(10 * v) / 10;
  const near = list.findIndex(([x]) => Math.abs(wrap180(x - hue)) <= SAME_DEG);
  if (near < 0 && list.length >= MOST_POINTS)
    throw new RangeError(`the curve has ${MOST_POINTS} points, which is the most: take one away first`);
  const y = closed(list, 360)(hue);
  const next: [number, number][] =
    near >= 0
      ? list.map(([x, v], i) => (i === near ? [x, v + by] : [x, v]))
      : [...list, [hue, y + by] as [number, number]];
  return next.flatMap(([x, v]) => [tenth(x), tenth(Math.min(180, Math.max(-100, v)))]);
}

/** @param up how far the hand moved upwards, in screen pixels */
export async function bendFromPicture(shot: ShotRecord, at: { x: number; y: number }, up: number): Promise<void> {
  const { curveFor, correction: id, frame } = useSession.getState();
  const c = correction(id);
  const k = c?.adjustments.findIndex((u) => u.id === curveFor?.use) ?? -1;
  const use = c?.adjustments[k];
  if (!c || !use || !curveFor || use.op !== 'byHue') return;
  const state = shotState(useDoc.getState().records, shot);
  const before = { ...state, corrections: inputOfAdjustment(state.corrections, c.id, k) };
  await guard('The curve was not bent', async () => {
    const p = await engine().request('pick', { shot: before, x: at.x, y: at.y });
    if (!p) throw new Error('that lies outside the picture. Press on the picture itself');
    const [, cb, cr] = rgbToYcbcr(...p.after);
    if (chromaPct(cb, cr) < NEUTRAL_CHROMA_PCT)
      throw new Error('what you pressed is too neutral to have a hue. Press on something with more colour');
    const points = listOf(use, curveFor.curve, frame);
    setParams(
      c.id,
      use.id,
      { [curveFor.curve]: bent(points, hueDeg(cb, cr), PER_PIXEL * up) },
      'Bend a curve on the picture',
    );
  });
}
