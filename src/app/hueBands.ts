/** Bands of hue: found in what the correction is given, and changed by a drag on the picture. */
import { findBands } from '../core/color/hueBands';
import { MOST } from '../core/ops/bands/params';
import { sortedBorders, weightsAt } from '../core/ops/bands/weights';
import type { ShotRecord } from '../document/records';
import { PLANE_CELLS } from '../protocol/messages';
import { addAdjustment, setParams, shotState } from './actions';
import { binsOf } from './bench/bendAxes';
import { engine } from './engine';
import { guard } from './notices';
import { hueOf, pressed } from './pressed';
import { useDoc } from './store';
import { listOf, valuesOf } from './values';

/** How much there is of each hue where a correction acts; the plane of `Distributions`, its roots undone. */
export const huesOf = (plane: Uint8Array): number[] => binsOf(plane, PLANE_CELLS, 'hue').map((v) => v * v);

async function hues(shot: ShotRecord, corr: string): Promise<number[]> {
  const state = shotState(useDoc.getState().records, shot);
  const d = await engine().request('distributions', {
    shot: state,
    correction: corr,
    base: false,
    quietPct: 0,
    space: 'scope',
  });
  return huesOf(d.plane);
}
/** Adds the adjustment with the bands that are there: one step. */
export async function addBands(shot: ShotRecord, corr: string): Promise<void> {
  const bins = await guard('The bands were not found', () => hues(shot, corr));
  addAdjustment(corr, 'bands', bins ? { borders: findBands(bins, null) } : {});
}
/** Finds them again: so many, or as many as there are; what they were set to starts anew. */
export async function findBandsAgain(shot: ShotRecord, corr: string, use: string, count: number | null): Promise<void> {
  const bins = await guard('The bands were not found', () => hues(shot, corr));
  if (bins) setParams(corr, use, { borders: findBands(bins, count), values: [] }, 'Find the bands');
}

export const WHAT = { turn: 0, sat: 1, level: 2 } as const;
export type BandWhat = keyof typeof WHAT;
const LIMITS = { turn: [-180, 180], sat: [-100, 200], level: [-100, 200] } as const;
/** Of the values, one of a band; the list is as long as there are bands. */
export function withBand(values: readonly number[], bands: number, i: number, what: BandWhat, v: number): number[] {
  const [lo, hi] = LIMITS[what];
  const all = Array.from({ length: 3 * bands }, (_, k) => values[k] ?? 0);
  all[3 * i + WHAT[what]] = Math.round(10 * Math.min(hi, Math.max(lo, v))) / 10;
  return all;
}
/** The values after a drag: each band moves by how much of the colour's hue it has. */
export function dragged(
  values: readonly number[],
  borders: readonly number[],
  softDeg: number,
  hue: number,
  what: BandWhat,
  by: number,
): number[] {
  const at = sortedBorders(borders);
  const w = weightsAt(at, softDeg, hue);
  let next = [...values];
  at.forEach((b, i) => {
    const k = borders.indexOf(b);
    if (k >= 0 && w[i]! > 0.005)
      next = withBand(next, borders.length, k, what, (next[3 * k + WHAT[what]] ?? 0) + by * w[i]!);
  });
  return next.slice(0, 3 * MOST);
}
/** Values at the end of a drag over so many screen pixels; degrees or percent. */
const PER_PIXEL = 0.25;
/** @param up how far the hand moved upwards, in screen pixels */
export const bandFromPicture = (shot: ShotRecord, at: { x: number; y: number }, up: number): Promise<void> =>
  pressed(shot, at, ['bands'], 'The bands were not changed', (p) => {
    const values = dragged(
      listOf(p.use, 'values', p.frame),
      listOf(p.use, 'borders', p.frame),
      valuesOf(p.use, p.frame)['softDeg']!,
      hueOf(p),
      p.what as BandWhat,
      PER_PIXEL * up,
    );
    setParams(p.corr, p.use.id, { values }, 'Change bands on the picture');
  });
