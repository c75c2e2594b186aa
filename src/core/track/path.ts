/**
 * What can be done to a path once it is there: smoothed, trimmed, carried over a gap, given to another thing. A map
 * is judged by where it takes four places about the thing, so that turns, sizes and tilts weigh as pixels do.
 */
import type { Homography, Track } from '../graph/track';
import { mapAt, mapPoint } from '../graph/track';
import { fitAll, invertMap, multiplyMaps } from './fit';
import type { Point } from './points';

type Step = Track['path'][number];
/** Numbers as a path is stored with. */
const kept = (h: Homography): number[] => h.map((v) => +v.toPrecision(9));
/** Four corners about places; never so close together that a map between them says nothing. */
export function cornersAbout(places: readonly Point[]): Point[] {
  const xs = places.map((p) => p[0]);
  const ys = places.map((p) => p[1]);
  const [l, r, t, b] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const [cx, cy] = [(l + r) / 2, (t + b) / 2];
  const [rx, ry] = [Math.max(8, (r - l) / 2), Math.max(8, (b - t) / 2)];
  return [
    [cx - rx, cy - ry],
    [cx + rx, cy - ry],
    [cx + rx, cy + ry],
    [cx - rx, cy + ry],
  ];
}
/** The map that takes four places to four others; null where they lie in a line. */
const through = (from: readonly Point[], to: readonly Point[]): Homography | null =>
  fitAll(
    from.map((p, i) => ({ from: p, to: to[i]! })),
    'perspective',
  );

/**
 * The path without its shake: each place is a straight line fitted to the frames about it (weights of a Gaussian, lost
 * frames by a hundredth), so that a steady motion stays what it is, up to its ends. The frame of drawing counts as one
 * where nothing has moved, and nothing moves there afterwards.
 *
 * @param sigma of the Gaussian, in frames
 * @param about places at the frame of drawing
 */
export function smoothPath(t: Track, sigma: number, about: readonly Point[]): Track {
  if (!(sigma > 0) || t.path.length < 2) return t;
  const corners = cornersAbout(about);
  const steps: (Step & { own?: true })[] = t.path.some((p) => p.frame === t.at)
    ? [...t.path]
    : [...t.path, { frame: t.at, h: [1, 0, 0, 0, 1, 0, 0, 0, 1], own: true as const }].sort(
        (a, b) => a.frame - b.frame,
      );
  const places = steps.map((s) => corners.map((c) => mapPoint(s.h, c[0], c[1])));
  const at = (i: number): Homography | null => {
    const to = corners.map((_, k) => {
      const line = (axis: 0 | 1): number => {
        let [w0, w1, w2, y0, y1] = [0, 0, 0, 0, 0];
        for (const [j, s] of steps.entries()) {
          const d = s.frame - steps[i]!.frame;
          if (Math.abs(d) > 4 * sigma) continue;
          const w = Math.exp((-d * d) / (2 * sigma * sigma)) * (s.lost ? 0.01 : 1);
          const y = places[j]![k]![axis];
          w0 += w;
          w1 += w * d;
          w2 += w * d * d;
          y0 += w * y;
          y1 += w * d * y;
        }
        const det = w0 * w2 - w1 * w1;
        return det > 1e-9 * w0 * w2 ? (w2 * y0 - w1 * y1) / det : y0 / w0;
      };
      return [line(0), line(1)] as const;
    });
    return through(corners, to);
  };
  const smooth = steps.map((s, i) => at(i) ?? s.h);
  const home = invertMap(smooth[steps.findIndex((s) => s.frame === t.at)]!);
  return {
    at: t.at,
    path: steps.flatMap(({ own, ...s }, i) => (own ? [] : [{ ...s, h: kept(multiplyMaps(smooth[i]!, home)) }])),
  };
}

/** Only the frames of the path from `from` to `to`; beyond them the nearest holds. */
export const trimPath = (t: Track, from: number, to: number): Track => ({
  at: t.at,
  path: t.path.filter((p) => p.frame >= from && p.frame <= to),
});

/**
 * Stretches where it was lost, carried over: from what was known before, to what was known behind, by the smooth
 * motion that leaves the one and meets the other as fast as each was (cubic Hermite). Stretches at an end stay guesses.
 *
 * @param about places at the frame of drawing
 */
export function bridgePath(t: Track, about: readonly Point[]): Track {
  const corners = cornersAbout(about);
  const places = (s: Step): Point[] => corners.map((c) => mapPoint(s.h, c[0], c[1]));
  const path = [...t.path];
  for (let i = 0; i < path.length; i++) {
    if (!path[i]!.lost) continue;
    let end = i;
    while (path[end + 1]?.lost) end++;
    const [before, behind] = [path[i - 1], path[end + 1]];
    if (before && behind) {
      const span = behind.frame - before.frame;
      const [a, b] = [places(before), places(behind)];
      /** Pixels a frame at one side, by the frame beyond it where that is known. */
      const speed = (s: Step, beyond: Step | undefined): Point[] => {
        const [here, there] = [places(s), beyond && !beyond.lost ? places(beyond) : null];
        return here.map((p, k) =>
          there
            ? [(p[0] - there[k]![0]) / (s.frame - beyond!.frame), (p[1] - there[k]![1]) / (s.frame - beyond!.frame)]
            : [(b[k]![0] - a[k]![0]) / span, (b[k]![1] - a[k]![1]) / span],
        );
      };
      const [va, vb] = [speed(before, path[i - 2]), speed(behind, path[end + 2])];
      for (let j = i; j <= end; j++) {
        const u = (path[j]!.frame - before.frame) / span;
        const [h00, h10, h01, h11] = [
          (1 + 2 * u) * (1 - u) ** 2,
          u * (1 - u) ** 2 * span,
          u * u * (3 - 2 * u),
          u * u * (u - 1) * span,
        ];
        const to = corners.map((_, k): Point => {
          const axis = (x: 0 | 1): number => h00 * a[k]![x] + h10 * va[k]![x] + h01 * b[k]![x] + h11 * vb[k]![x];
          return [axis(0), axis(1)];
        });
        const h = through(corners, to);
        // Not lost any more, and not seen either.
        if (h) path[j] = { frame: path[j]!.frame, h: kept(h), quality: 0 };
      }
    }
    i = end;
  }
  return { at: t.at, path };
}

/** So many frames before it is lost, and behind, a run counts less and less: it does not go wrong all at once. */
const FADE = 5;
/**
 * Two runs over the frames between as one path, one from the frame of drawing, one from `at` towards it: where one was
 * lost, or has nothing, the other counts; where both know, each the more the nearer it is to where it began. Where both
 * were lost it stays a guess. What lies beyond the two frames is left as it was.
 *
 * @param found maps from frame `at` on, by any order
 * @param about places at the frame of drawing
 */
export function blendPath(t: Track, at: number, found: readonly Step[], about: readonly Point[]): Track {
  if (at === t.at) return t;
  const base = mapAt(t, at);
  const corners = cornersAbout(about);
  const [first, last] = [Math.min(at, t.at), Math.max(at, t.at)];
  const own = new Map(t.path.map((p) => [p.frame, p]));
  const other = new Map(found.map((p) => [p.frame, { ...p, h: multiplyMaps(p.h, base) }]));
  const frames = Array.from({ length: last - first - 1 }, (_, i) => first + 1 + i);
  /** How far a run is to be trusted at a frame: nothing where it is lost, all of it from FADE frames on. */
  const trust = (run: ReadonlyMap<number, Step>): ((f: number) => number) => {
    const gone = frames.filter((f) => run.get(f)?.lost === true || !run.has(f));
    return (f) => Math.min(1, gone.reduce((d, g) => Math.min(d, Math.abs(f - g)), FADE) / FADE);
  };
  const [trustOwn, trustOther] = [trust(own), trust(other)];
  const steps = frames.flatMap((frame): Step[] => {
    const [a, b] = [own.get(frame), other.get(frame)];
    const one = a && b ? null : (a ?? b);
    if (!a || !b) return one ? [{ ...one, h: kept(one.h) }] : [];
    const u = (frame - t.at) / (at - t.at);
    const [wa, wb] = [(1 - u) * trustOwn(frame), u * trustOther(frame)];
    const lost = wa + wb === 0;
    const w = lost ? u : wb / (wa + wb);
    const to = corners.map((c): Point => {
      const [p, q] = [mapPoint(a.h, c[0], c[1]), mapPoint(b.h, c[0], c[1])];
      return [p[0] + w * (q[0] - p[0]), p[1] + w * (q[1] - p[1])];
    });
    const h = w === 0 ? a.h : w === 1 ? b.h : (through(corners, to) ?? (w < 0.5 ? a.h : b.h));
    const quality = (1 - w) * (a.quality ?? 0) + w * (b.quality ?? 0);
    return [{ frame, h: kept(h), quality, ...(lost ? { lost } : {}) }];
  });
  const beyond = t.path.filter((p) => p.frame < first || p.frame > last);
  // Where the second run begins it stands as it was set.
  const set: Step = { frame: at, h: kept(base), quality: 1 };
  return { at: t.at, path: [...beyond, ...steps, set].sort((x, y) => x.frame - y.frame) };
}

/** The same motion for a thing that stands right at another frame: nothing of it moves there. */
export function rebased(t: Track, at: number): Track {
  if (at === t.at) return t;
  const home = invertMap(mapAt(t, at));
  const path = t.path.filter((p) => p.frame !== at).map((p) => ({ ...p, h: kept(multiplyMaps(p.h, home)) }));
  // What was drawn at the frame of before has a map there now.
  const drawn = t.path.some((p) => p.frame === t.at) ? [] : [{ frame: t.at, h: kept(home), quality: 1 }];
  return { at, path: [...path, ...drawn].sort((a, b) => a.frame - b.frame) };
}
