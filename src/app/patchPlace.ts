/** Patches under a hand: drawn on the frame that is looked at, kept as they were drawn first. */
import { cornersOf, pathOf, slides } from '../core/graph/patch';
import { mapPoint } from '../core/graph/track';
import { boundsOf } from '../core/math/polygon';
import { invertMap } from '../core/track/fit';
import type { PatchRecord } from '../document/records';
import { editPatch } from './actions';

/** Puts a patch where a hand drew it on a frame; its path stays. */
export function placePatch(
  patch: PatchRecord,
  frame: number,
  to: { box: PatchRecord['box']; points?: readonly (readonly [number, number])[] | undefined },
): void {
  const back = invertMap(pathOf(patch, frame));
  const tenth = (v: number): number => Math.round(v * 10) / 10;
  if (!to.points && slides(back)) {
    const [x, y] = mapPoint(back, to.box.x, to.box.y);
    editPatch(patch.id, 'Change a patch', { box: { ...to.box, x: Math.round(x), y: Math.round(y) } });
    return;
  }
  const points = (to.points ?? cornersOf(to.box)).map(([x, y]): [number, number] => {
    const [u, v] = mapPoint(back, x, y);
    return [tenth(u), tenth(v)];
  });
  editPatch(patch.id, 'Change a patch', { points, box: boundsOf(points) });
}
