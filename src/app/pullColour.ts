/** A pull, or a hold, from a colour of the picture and how far a hand moved from it. */
import { holdsOf, listOfPulls, pulledTo, pullsOf } from '../core/ops/pulls/field';
import type { PullValues } from '../core/ops/pulls/field';
import { MOST_HOLDS, MOST_PULLS } from '../core/ops/pulls/params';
import type { ShotRecord } from '../document/records';
import { setParams } from './actions';
import { sayNews } from './notices';
import { pressed } from './pressed';
import { listOf, valuesOf } from './values';

/** % of the largest colour difference a screen pixel. */
const PER_PIXEL = 0.12;

/** The values with a colour pulled by so much, or held (null). */
export function pulled(
  v: PullValues,
  from: readonly [number, number],
  by: readonly [number, number] | null,
): { values: PullValues; back: boolean } {
  if (by === null) {
    const holds = holdsOf(v.holds);
    if (holds.length >= MOST_HOLDS)
      throw new RangeError(`there are ${MOST_HOLDS} holds, which is the most: remove one`);
    return { values: { ...v, holds: [...holds, from].flat() }, back: false };
  }
  const pulls = pullsOf(v.pulls);
  if (pulls.length >= MOST_PULLS) throw new RangeError(`there are ${MOST_PULLS} pulls, which is the most: remove one`);
  const more = { ...v, pulls: listOfPulls([...pulls, { from, to: from, levelPct: 0 }]) };
  const [values, back] = pulledTo(more, pulls.length, [from[0] + by[0], from[1] + by[1]]);
  return { values, back };
}
/** @param by how far the hand moved, in screen pixels to the right and up; null: it did not */
export async function pullFromPicture(
  shot: ShotRecord,
  at: { x: number; y: number },
  by: readonly [number, number] | null,
): Promise<void> {
  await pressed(shot, at, ['pulls'], 'The colour was not pulled', ({ corr, use, cb, cr, frame }) => {
    const tenth = (v: number): number => Math.round(2000 * v) / 10;
    const v = { pulls: listOf(use, 'pulls', frame), holds: listOf(use, 'holds', frame) };
    const { values, back } = pulled(
      { ...v, reachPct: valuesOf(use, frame)['reachPct']! },
      [tenth(cb), tenth(cr)],
      by && [by[0] * PER_PIXEL, by[1] * PER_PIXEL],
    );
    const { pulls, holds } = values;
    setParams(corr, use.id, by ? { pulls } : { holds }, by ? 'Pull a colour of the picture' : 'Hold a colour');
    if (back) sayNews('Further would fold colours over one another: raise the reach to go on.');
  });
}
