/** Skin under two lights: what tells them apart, as a part of a region. */
import type { OpTerm } from '../graph/plan';
import { newUse } from '../graph/plan.defaults';
import { wrap180, wrap360 } from '../math/angle';
import type { TwoHues } from './twoHues';

/** The hue between two lights is read on a copy so much quieter: the border is one of light, not of noise. */
const QUIET_PCT = 60;
const tenth = (v: number): number => Math.round(10 * v) / 10;
/**
 * A key of the hues on the yellower side of the border: the two sides sum to one over a soft fall.
 *
 * @param hueDeg that `two` is told from
 */
export function lightKey(id: string, hueDeg: number, two: Pick<TwoHues, 'low' | 'high'>): OpTerm {
  const border = hueDeg + (two.low + two.high) / 2;
  const soft = Math.abs(wrap180(two.high - two.low)) / 2;
  const from = wrap360(border + soft / 2);
  return {
    id,
    join: 'and',
    not: false,
    name: 'Light',
    use: newUse(id, 'key', {
      hueFromDeg: tenth(from),
      hueToDeg: tenth(from + 150),
      hueFadeFromDeg: tenth(soft),
      hueFadeToDeg: 10,
      satOn: false,
      lumaOn: false,
      neutralPct: 0,
    }),
    reads: 'base',
    quietPct: QUIET_PCT,
  };
}
