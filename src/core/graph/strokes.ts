/**
 * Which of the strokes that were painted for a part count at a frame, and where they lie there. Those of one frame
 * count from there until the next frame that was painted on; where the part follows, they move with its path.
 */
import type { Stroke } from '../op/contract';
import { invertMap, multiplyMaps } from '../track/fit';
import type { Fit, OpTerm } from './plan';
import { mapAt, mapPoint, STILL } from './track';
import type { Homography, Track } from './track';

export type Painted = NonNullable<OpTerm['strokes']>;
const SAME: Fit = { s: 1, dx: 0, dy: 0 };

/** Places in the list of the strokes that count: of the last frame up to this one, before the first those of that. */
export function countingAt(painted: Painted, frame: number): number[] {
  const frames = painted.map((s) => s.frame);
  const before = frames.filter((f) => f <= frame);
  const at = before.length > 0 ? Math.max(...before) : Math.min(...frames);
  return painted.flatMap((s, i) => (s.frame === at ? [i] : []));
}
/** Where the picture has moved between two frames, by a path. */
function between(track: Track | undefined, from: number, to: number): Homography {
  if (!track || from === to) return STILL;
  return multiplyMaps(mapAt(track, to), invertMap(mapAt(track, from)));
}
/** One stroke's points at a frame, in the shot's picture; `fit` brings the correction's own frame there. */
function placed({ frame: from, points }: Painted[number], frame: number, track: Track | undefined, fit: Fit) {
  const h = between(track, from, frame);
  const still = h === STILL;
  return points.map(([x, y]): [number, number] => {
    const at: [number, number] = [x * fit.s + fit.dx, y * fit.s + fit.dy];
    return still ? at : mapPoint(h, ...at);
  });
}

/** What counts at a frame, in pixels of planes of that scale. */
export function strokesAt(painted: Painted, frame: number, scale: number, fit: Fit = SAME, track?: Track): Stroke[] {
  return countingAt(painted, frame).map((i) => ({
    keep: painted[i]!.keep,
    points: placed(painted[i]!, frame, track, fit).map(([x, y]) => [x * scale, y * scale] as const),
  }));
}
/**
 * The strokes with those that count at a frame repeated there, where they lie by then: what is painted on that frame
 * adds to them instead of taking their place. Unchanged where that frame was painted on.
 */
export function carriedTo(painted: Painted, frame: number, fit: Fit = SAME, track?: Track): Painted {
  if (painted.length === 0 || painted.some((s) => s.frame === frame)) return painted;
  const own = (v: number, d: number): number => Math.round((10 * (v - d)) / fit.s) / 10;
  return [
    ...painted,
    ...countingAt(painted, frame).map((i) => ({
      keep: painted[i]!.keep,
      frame,
      points: placed(painted[i]!, frame, track, fit).map(([x, y]): [number, number] => [
        own(x, fit.dx),
        own(y, fit.dy),
      ]),
    })),
  ];
}
