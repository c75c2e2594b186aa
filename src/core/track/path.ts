/**
 * What can be done to a path once it is there: smoothed, trimmed, carried over a gap, given to another thing. A map
 * is judged by where it takes four places about the thing, so that turns, sizes and tilts weigh as pixels do.
 */
import type { Homography, Track } from '../graph/track';
import { mapPoint, stepAt, STILL } from '../graph/track';
import { fitAll, invertMap, multiplyMaps } from './fit';
import type { Point } from './points';

type Step = Track['path'][number];
/** Numbers as a path is stored with. */
const kept = (h: Homography): number[] => h.map((v) => +v.toPrecision(9));
/** To a hundredth of a pixel. */
const keptOwn = (own: readonly number[]): number[] => own.map((v) => +v.toFixed(2));
/** What points of an outline go by themselves, part of the way from one step to another; nothing where neither says. */
function ownBetween(a: Step, b: Step, u: number): Pick<Step, 'own'> {
  const n = (a.own ?? b.own)?.length ?? 0;
  if (n === 0) return {};
  const at = (s: Step, i: number): number => (s.own?.length === n ? s.own[i]! : 0);
  return { own: keptOwn(Array.from({ length: n }, (_, i) => at(a, i) + u * (at(b, i) - at(a, i)))) };
}
/**
 * A step that was found from another frame than that of drawing, from there.
 *
 * @param base what is known of the frame it was found from; null: it stood there as it was drawn
 * @param points of the outline where it was drawn, x and y in turn; of what has none, none
 */
export function fromDrawing(base: Step | null, step: Step, points: readonly number[]): Step {
  const { own, ...plain } = step;
  const ways = own?.length === points.length ? own : undefined;
  const h = kept(base ? multiplyMaps(step.h, base.h) : step.h);
  const before = base?.own?.length === points.length ? base.own : undefined;
  if (!ways && !before) return { ...plain, h };
  if (!base) return { ...plain, h, own: keptOwn(ways!) };
  const home = invertMap(base.h);
  const out: number[] = [];
  for (let i = 0; i + 1 < points.length; i += 2) {
    const drawn: Point = [points[i]!, points[i + 1]!];
    const [x, y] = mapPoint(base.h, drawn[0] + (before?.[i] ?? 0), drawn[1] + (before?.[i + 1] ?? 0));
    const at = mapPoint(home, x + (ways?.[i] ?? 0), y + (ways?.[i + 1] ?? 0));
    out.push(at[0] - drawn[0], at[1] - drawn[1]);
  }
  return { ...plain, h, own: keptOwn(out) };
}
/** The path of all of it, without what points go by themselves. */
export const asOne = (t: Track): Track =>
  t.path.some((p) => p.own) ? { ...t, path: t.path.map(({ own: _, ...p }) => p) } : t;
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
  const steps: (Step & { added?: true })[] = t.path.some((p) => p.frame === t.at)
    ? [...t.path]
    : [...t.path, { frame: t.at, h: [1, 0, 0, 0, 1, 0, 0, 0, 1], added: true as const }].sort(
        (a, b) => a.frame - b.frame,
      );
  const places = steps.map((s) => corners.map((c) => mapPoint(s.h, c[0], c[1])));
  /** Of a number of each step, where the line through those about step i stands there. */
  const line = (i: number, of: (j: number) => number): number => {
    let [w0, w1, w2, y0, y1] = [0, 0, 0, 0, 0];
    for (const [j, s] of steps.entries()) {
      const d = s.frame - steps[i]!.frame;
      if (Math.abs(d) > 4 * sigma) continue;
      const w = Math.exp((-d * d) / (2 * sigma * sigma)) * (s.lost ? 0.01 : 1);
      const y = of(j);
      w0 += w;
      w1 += w * d;
      w2 += w * d * d;
      y0 += w * y;
      y1 += w * d * y;
    }
    const det = w0 * w2 - w1 * w1;
    return det > 1e-9 * w0 * w2 ? (w2 * y0 - w1 * y1) / det : y0 / w0;
  };
  const at = (i: number): Homography | null =>
    through(
      corners,
      corners.map((_, k) => [line(i, (j) => places[j]![k]![0]), line(i, (j) => places[j]![k]![1])] as const),
    );
  const many = Math.max(0, ...t.path.map((p) => p.own?.length ?? 0));
  const ways = steps.map((_, i) => Array.from({ length: many }, (__, n) => line(i, (j) => steps[j]!.own?.[n] ?? 0)));
  const smooth = steps.map((s, i) => at(i) ?? s.h);
  const drawn = steps.findIndex((s) => s.frame === t.at);
  const home = invertMap(smooth[drawn]!);
  return {
    at: t.at,
    path: steps.flatMap(({ added, own: _, ...s }, i) => {
      if (added) return [];
      const own = many > 0 ? { own: keptOwn(ways[i]!.map((v, n) => v - ways[drawn]![n]!)) } : {};
      return [{ ...s, h: kept(multiplyMaps(smooth[i]!, home)), ...own }];
    }),
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
        if (h)
          path[j] = {
            frame: path[j]!.frame,
            h: kept(h),
            quality: 0,
            ...ownBetween(before, behind, u * u * (3 - 2 * u)),
          };
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
 * @param points of an outline, x and y in turn, there; of what has none, none
 */
export function blendPath(
  t: Track,
  at: number,
  found: readonly Step[],
  about: readonly Point[],
  points: readonly number[] = [],
): Track {
  if (at === t.at) return t;
  const base = stepAt(t, at);
  const corners = cornersAbout(about);
  const [first, last] = [Math.min(at, t.at), Math.max(at, t.at)];
  const own = new Map(t.path.map((p) => [p.frame, p]));
  const other = new Map(found.map((p) => [p.frame, fromDrawing(base, p, points)]));
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
    return [{ frame, h: kept(h), quality, ...(lost ? { lost } : {}), ...ownBetween(a, b, w) }];
  });
  const beyond = t.path.filter((p) => p.frame < first || p.frame > last);
  // Where the second run begins it stands as it was set.
  const set: Step = { frame: at, h: kept(base?.h ?? STILL), quality: 1, ...(base?.own ? { own: base.own } : {}) };
  return { at: t.at, path: [...beyond, ...steps, set].sort((x, y) => x.frame - y.frame) };
}

/** The same motion, of all as one, for a thing that stands right at another frame: nothing of it moves there. */
export function rebased(whole: Track, at: number): Track {
  const t = asOne(whole);
  if (at === t.at) return t;
  const home = invertMap(stepAt(t, at)?.h ?? STILL);
  const path = t.path.filter((p) => p.frame !== at).map((p) => ({ ...p, h: kept(multiplyMaps(p.h, home)) }));
  // What was drawn at the frame of before has a map there now.
  const drawn = t.path.some((p) => p.frame === t.at) ? [] : [{ frame: t.at, h: kept(home), quality: 1 }];
  return { at, path: [...path, ...drawn].sort((a, b) => a.frame - b.frame) };
}
