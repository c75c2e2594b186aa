/** Where a patch lies on a frame: it may follow what lies under it, as shapes do. */
import { boundsOf } from '../math/polygon';
import type { Corner } from '../math/polygon';
import type { Box } from '../skin/reading';
import { mapAt, mapPoint, STILL } from './track';
import type { Homography, Track } from './track';

/** As it was drawn, at the track's own frame. */
export interface PatchPlace {
  box: Box;
  /** Corners of a freeform; `box` is their bounds. */
  points?: readonly Corner[] | undefined;
  track?: Track | undefined;
}
export const cornersOf = ({ x, y, w, h }: Box): [number, number][] => [
  [x, y],
  [x + w, y],
  [x + w, y + h],
  [x, y + h],
];
export const pathOf = (p: PatchPlace, frame: number): Homography => (p.track ? mapAt(p.track, frame) : STILL);
/** Hardly turned, sized or tilted: a box stays a box. */
export const slides = (h: Homography): boolean =>
  [h[0]! - 1, h[1]!, h[3]!, h[4]! - 1].every((v) => Math.abs(v) < 1e-3) && Math.abs(h[6]!) + Math.abs(h[7]!) < 1e-7;

/** Whether it is known where a patch lies on a frame: one that follows was followed there, and was not lost. */
export function isKnownAt({ track }: PatchPlace, frame: number): boolean {
  if (!track || track.path.length === 0 || frame === track.at) return true;
  const here = track.path.find((p) => p.frame === frame);
  return here !== undefined && here.lost !== true;
}
/** The same patch where it lies on a frame; where it moved, without its path. */
export function patchAt<P extends PatchPlace>(p: P, frame: number): P {
  const h = pathOf(p, frame);
  if (h.every((v, i) => v === STILL[i])) return p;
  const { track: _track, ...still } = p;
  const rest = still as unknown as P;
  if (!p.points && slides(h)) {
    const [x, y] = mapPoint(h, p.box.x, p.box.y);
    return { ...rest, box: { ...p.box, x: Math.round(x), y: Math.round(y) } };
  }
  const points = (p.points ?? cornersOf(p.box)).map(([x, y]) => mapPoint(h, x, y));
  return { ...rest, points, box: boundsOf(points) };
}
