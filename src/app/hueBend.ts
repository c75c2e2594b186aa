/** A bend of a curve over hue, level or saturation: from a colour of the picture, by how far a hand moved from it. */
import { closed, pointsOf } from '../core/math/closed';
import { wrap180 } from '../core/math/angle';
import { chromaPct } from '../core/color/ycbcr';
import { open } from '../core/math/open';
import { OVER } from '../core/ops/byTone/params';
import type { ToneCurve } from '../core/ops/byTone/params';
import type { ShotRecord } from '../document/records';
import { setParams } from './actions';
import { pressed, hueOf } from './pressed';
import { listOf } from './values';

/** Values at the end of a drag over so many screen pixels; degrees or percent. */
const PER_PIXEL = 0.25;
/** A point that lies this near is moved, instead of another one set beside it. */
const SAME_DEG = 12;
const SAME_PCT = 5;
const MOST_POINTS = 24;

/** What a curve stands over, and how near a point must lie to be the one that is meant. */
interface Over {
  near: number;
  far(a: number, b: number): number;
  through(points: readonly [number, number][]): (x: number) => number;
}
const OVER_HUE: Over = {
  near: SAME_DEG,
  far: (a, b) => Math.abs(wrap180(a - b)),
  through: (p) => closed(p, 360),
};
const OVER_SPAN: Over = { near: SAME_PCT, far: (a, b) => Math.abs(a - b), through: open };

/** The points of a curve with the bend in it. Throws a RangeError where there can be no more points. */
export function bent(points: readonly number[], place: number, by: number, over: 'hue' | 'span' = 'hue'): number[] {
  const { near, far, through } = over === 'hue' ? OVER_HUE : OVER_SPAN;
  const list = pointsOf(points);
  const tenth = (v: number): number => Math.round(10 * v) / 10;
  const at = list.findIndex(([x]) => far(x, place) <= near);
  if (at < 0 && list.length >= MOST_POINTS)
    throw new RangeError(`the curve has ${MOST_POINTS} points, which is the most: take one away first`);
  const y = through(list)(place);
  const next: [number, number][] =
    at >= 0
      ? list.map(([x, v], i) => (i === at ? [x, v + by] : [x, v]))
      : [...list, [place, y + by] as [number, number]];
  return next.flatMap(([x, v]) => [tenth(x), tenth(Math.min(180, Math.max(-100, v)))]);
}

const held = (pct: number): number => Math.min(100, Math.max(0, pct));
/** @param up how far the hand moved upwards, in screen pixels */
export const bendFromPicture = (shot: ShotRecord, at: { x: number; y: number }, up: number): Promise<void> =>
  pressed(shot, at, ['byHue', 'byTone'], 'The curve was not bent', (p) => {
    const points = listOf(p.use, p.what, p.frame);
    const by = PER_PIXEL * up;
    const saturation = OVER[p.what as ToneCurve] === 'sat';
    const bend =
      p.use.op === 'byHue'
        ? bent(points, hueOf(p), by)
        : bent(points, held(saturation ? chromaPct(p.cb, p.cr) : 100 * p.y), by, 'span');
    setParams(p.corr, p.use.id, { [p.what]: bend }, 'Bend a curve on the picture');
  });
