/** A point of a tone curve from a tone of the picture, as the curve itself is given it. */
import { monotone } from '../core/math/monotone';
import type { ShotRecord } from '../document/records';
import { setParams } from './actions';
import { pressed } from './pressed';
import { listOf } from './values';

export const pointFromPicture = (shot: ShotRecord, at: { x: number; y: number }): Promise<void> =>
  pressed(shot, at, ['curves'], 'No point was set', ({ corr, use, what, rgb, y: light, frame }) => {
    const channel = ['red', 'green', 'blue'].indexOf(what);
    const v = channel < 0 ? light : rgb[channel as 0 | 1 | 2];
    const points = listOf(use, what, frame);
    const list = Array.from({ length: points.length >> 1 }, (_, i) => [points[2 * i]!, points[2 * i + 1]!] as const);
    if (v < -0.4 || v > 1.4) throw new Error(`the tone there, ${(100 * v).toFixed(0)} %, lies beyond the curve`);
    if (list.some(([x]) => Math.abs(x - v) < 0.004)) throw new Error('the curve has a point at that tone already');
    if (list.length >= 64) throw new Error('the curve has 64 points, which is the most. Take one away first');
    const y = monotone(
      list.map((q) => q[0]),
      list.map((q) => q[1]),
    ).at(v);
    const next = [...list, [v, y] as const]
      .sort((a, b) => a[0] - b[0])
      .flatMap(([x, z]) => [Math.round(x * 1e4) / 1e4, Math.round(z * 1e4) / 1e4]);
    setParams(corr, use.id, { [what]: next }, 'Add a point from the picture');
  });
