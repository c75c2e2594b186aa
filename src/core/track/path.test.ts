import { describe, expect, it } from 'vitest';
import { mapAt, mapPoint } from '../graph/track';
import type { Homography, Track } from '../graph/track';
import { rng } from '../math/rng';
import { invertMap, multiplyMaps } from './fit';
import { asOne, blendPath, bridgePath, cornersAbout, fromDrawing, rebased, smoothPath, trimPath } from './path';
import type { Point } from './points';

const about: Point[] = [
  [80, 60],
  [140, 100],
];
const slide = (dx: number, dy: number): number[] => [1, 0, dx, 0, 1, dy, 0, 0, 1];
/** A turn (degrees) and a size about 110, 80, then a slide. */
const similar = (deg: number, s: number, dx: number, dy: number): number[] => {
  const [c, n] = [s * Math.cos((deg * Math.PI) / 180), s * Math.sin((deg * Math.PI) / 180)];
  return [c, -n, 110 - c * 110 + n * 80 + dx, n, c, 80 - n * 110 - c * 80 + dy, 0, 0, 1];
};
const track = (h: (f: number) => Homography, at = 12, n = 40): Track => ({
  at,
  path: Array.from({ length: n }, (_, frame) => ({ frame, h: h(frame), quality: 0.9 })).filter((p) => p.frame !== at),
});
/** The furthest apart that two maps take the corners. */
const apart = (a: Homography, b: Homography): number =>
  Math.max(
    ...cornersAbout(about).map(([x, y]) => {
      const [p, q] = [mapPoint(a, x, y), mapPoint(b, x, y)];
      return Math.hypot(p[0] - q[0], p[1] - q[1]);
    }),
  );

describe('a smoothed path', () => {
  it('leaves a steady slide alone, up to its ends', () => {
    const t = track((f) => slide(1.5 * (f - 12), -0.5 * (f - 12)));
    const s = smoothPath(t, 4, about);
    for (let f = 0; f < 40; f++) expect(apart(mapAt(s, f), mapAt(t, f)), `frame ${f}`).toBeLessThan(1e-4);
    expect(s.path.every((p) => p.quality === 0.9)).toBe(true);
    expect(s.path.map((p) => p.frame)).toEqual(t.path.map((p) => p.frame));
    expect(smoothPath(t, 0, about)).toBe(t);
  });
  it('takes four fifths of a shake away and keeps the motion; nothing moves at the frame of drawing', () => {
    const r = rng(7);
    const truth = (f: number): Homography => similar(0.5 * (f - 12), 1 + 0.004 * (f - 12), 2 * (f - 12), f - 12);
    const shaken = track((f) => {
      const h = [...truth(f)];
      h[2]! += 2 * (r() - 0.5);
      h[5]! += 2 * (r() - 0.5);
      return h;
    });
    const s = smoothPath(shaken, 5, about);
    const jerk = (t: Track): number => {
      let sum = 0;
      for (let f = 14; f < 38; f++) {
        const [a, b, c] = [f - 1, f, f + 1].map((k) => mapPoint(mapAt(t, k), 110, 80));
        sum += Math.hypot(a![0] - 2 * b![0] + c![0], a![1] - 2 * b![1] + c![1]);
      }
      return sum;
    };
    expect(jerk(s)).toBeLessThan(0.2 * jerk(shaken));
    expect(jerk(s)).toBeGreaterThan(0);
    // It was drawn on a frame that shook, too: what is left is that one offset.
    for (let f = 0; f < 40; f++) expect(apart(mapAt(s, f), truth(f))).toBeLessThan(1.6);
    expect(mapAt(s, 12)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    expect(apart(mapAt(s, 11), mapAt(s, 12))).toBeLessThan(4);
  });
  it('a frame where it was lost hardly counts', () => {
    const t = track((f) => slide(f === 25 ? 300 : f - 12, 0));
    t.path.find((p) => p.frame === 25)!.lost = true;
    const s = smoothPath(t, 3, about);
    expect(mapAt(s, 25)[2]!).toBeGreaterThan(12.5);
    expect(mapAt(s, 25)[2]!).toBeLessThan(16);
  });
});

describe('a bridge', () => {
  const hidden = (f: number): boolean => f >= 20 && f <= 27;
  const lost = (h: (f: number) => Homography, guess: Homography): Track => {
    const t = track((f) => (hidden(f) ? guess : h(f)));
    return { ...t, path: t.path.map((p) => (hidden(p.frame) ? { ...p, quality: 0.1, lost: true } : p)) };
  };
  it('meets a motion of the third degree exactly', () => {
    // x and y are cubic in time; the speeds at the sides are differences of a frame, so nearly.
    const h = (f: number): Homography => slide(0.002 * (f - 12) ** 3, 0.05 * (f - 12) ** 2);
    const b = bridgePath(lost(h, slide(0, 0)), about);
    for (let f = 0; f < 40; f++) expect(apart(mapAt(b, f), h(f)), `frame ${f}`).toBeLessThan(hidden(f) ? 0.4 : 1e-6);
    expect(b.path.some((p) => p.lost)).toBe(false);
    expect(b.path.filter((p) => p.quality === 0)).toHaveLength(8);
  });
  it('turns on its way as both sides do', () => {
    const h = (f: number): Homography => similar(f - 12, 1, 2 * (f - 12), 0);
    const b = bridgePath(lost(h, slide(0, 0)), about);
    for (let f = 18; f < 30; f++) expect(apart(mapAt(b, f), h(f))).toBeLessThan(0.2);
  });
  it('does not reach beyond what is known: an end that was lost stays a guess', () => {
    const t = track((f) => slide(f - 12, 0));
    const end = { ...t, path: t.path.map((p) => (p.frame > 33 ? { ...p, lost: true } : p)) };
    expect(bridgePath(end, about)).toEqual(end);
  });
});

describe('two runs blended', () => {
  // The second run begins at 34, where the shape was set anew, and goes back to the frame of drawing.
  const [at, home] = [34, 12];
  const truth = (f: number): Homography => similar(0.4 * (f - home), 1, 2 * (f - home), 0.1 * (f - home) ** 2);
  const back = (h: (f: number) => Homography, lost: (f: number) => boolean = () => false): Track['path'] =>
    Array.from({ length: at - home }, (_, i) => at - 1 - i).map((frame) => ({
      frame,
      h: multiplyMaps(h(frame), invertMap(truth(at))),
      quality: 0.8,
      ...(lost(frame) ? { lost: true } : {}),
    }));
  const drift = (k: number, from: number) => (f: number) => {
    const h = [...truth(f)];
    h[2]! += k * Math.abs(f - from);
    return h;
  };
  it('each counts the more the nearer it is to where it began, and both ends stay', () => {
    const a: Track = {
      at: home,
      path: track(drift(0.2, home)).path.map((p) => (p.frame === at ? { ...p, h: truth(at) } : p)),
    };
    const b = blendPath(a, at, back(truth), about);
    const off = (f: number): number => mapPoint(mapAt(b, f), 110, 80)[0] - mapPoint(truth(f), 110, 80)[0];
    // The first run drifts by 0.2 px a frame, the second is right: of 4.2 px of drift just before its beginning 0.2 are
    // left, and in the middle a half.
    for (let f = home + 1; f < at; f++) {
      const u = (f - home) / (at - home);
      expect(off(f), `frame ${f}`).toBeCloseTo((1 - u) * 0.2 * (f - home), 3);
    }
    expect(apart(mapAt(b, at), truth(at))).toBeLessThan(1e-5);
    // What lies beyond is as it was; nothing is lost.
    expect(mapAt(b, 38)).toEqual(mapAt(a, 38));
    expect(mapAt(b, 5)).toEqual(mapAt(a, 5));
    expect(b.path.map((p) => p.frame)).toEqual(a.path.map((p) => p.frame));
    expect(b.path.some((p) => p.lost)).toBe(false);
  });
  it('where one was lost the other counts, and both lost stays a guess that can be bridged', () => {
    const astray = slide(500, 500);
    const a: Track = {
      at: home,
      path: track(truth).path.map((p) => (p.frame >= 20 && p.frame < 40 ? { ...p, h: astray, lost: true } : p)),
    };
    const set: Track = { ...a, path: a.path.map((p) => (p.frame === at ? { ...p, h: truth(at) } : p)) };
    const b = blendPath(
      set,
      at,
      back(
        (f) => (f < 25 ? astray : truth(f)),
        (f) => f < 25,
      ),
      about,
    );
    for (const f of [13, 19, 25, 33, 34]) expect(apart(mapAt(b, f), truth(f)), `frame ${f}`).toBeLessThan(1e-4);
    expect(b.path.filter((p) => p.lost && p.frame < at).map((p) => p.frame)).toEqual([20, 21, 22, 23, 24]);
    const carried = bridgePath(b, about);
    for (let f = 20; f < 25; f++) expect(apart(mapAt(carried, f), truth(f))).toBeLessThan(0.5);
  });
  it('a run that stopped leaves the rest as it was; from the frame of drawing there is nothing to blend', () => {
    const a = track(truth);
    const b = blendPath(a, at, back(drift(3, at)).slice(0, 4), about);
    for (let f = 13; f < 26; f++) expect(apart(mapAt(b, f), truth(f)), `frame ${f}`).toBeLessThan(1e-4);
    expect(apart(mapAt(b, 33), truth(33))).toBeGreaterThan(0.1);
    expect(blendPath(a, home, [], about)).toBe(a);
  });
});

describe('a path, trimmed and given away', () => {
  const t = track((f) => similar(f - 12, 1 + 0.01 * (f - 12), 2 * (f - 12), 12 - f));
  it('trimmed: beyond its ends the nearest holds, and what was drawn stays where it is', () => {
    const s = trimPath(t, 20, 30);
    expect(s.path.map((p) => p.frame)).toEqual([20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30]);
    expect(mapAt(s, 39)).toEqual(mapAt(t, 30));
    expect(mapAt(s, 12)).toEqual(mapAt(t, 12));
    expect(mapAt(s, 15)).toEqual(mapAt(t, 12));
    const early = trimPath(t, 3, 8);
    expect(mapAt(early, 0)).toEqual(mapAt(t, 3));
    expect(mapAt(early, 10)).toEqual(mapAt(t, 8));
    expect(mapAt(early, 30)).toEqual(mapAt(t, 12));
  });
  it('for a thing that stands right at another frame the motion between any two frames is the same', () => {
    const s = rebased(t, 30);
    expect(s.at).toBe(30);
    expect(s.path.some((p) => p.frame === 30)).toBe(false);
    for (const [x, y] of about)
      for (let f = 0; f < 40; f++) {
        // From where it stands at 30 back to the frame of drawing's place, and on by the path of before.
        const [u, v] = mapPoint(mapAt(t, 30), x, y);
        const got = mapPoint(mapAt(s, f), u, v);
        const want = mapPoint(mapAt(t, f), x, y);
        expect(Math.hypot(got[0] - want[0], got[1] - want[1]), `frame ${f}`).toBeLessThan(1e-4);
      }
    expect(rebased(t, 12)).toBe(t);
  });
});

describe('a path on which points go by themselves', () => {
  const points = [80, 60, 140, 60, 110, 100];
  const ways = (f: number): number[] => [0.1 * f, 0, 0, -0.2 * f, 0.05 * f, 0.3 * f];
  const bent = (at: number, n: number, way = ways): Track => ({
    at,
    path: Array.from({ length: n }, (_, frame) => ({
      frame,
      h: slide(2 * (frame - at), 0),
      quality: 0.9,
      own: way(frame - at),
    })).filter((p) => p.frame !== at),
  });
  const own = (t: Track, frame: number): readonly number[] => t.path.find((p) => p.frame === frame)!.own!;
  const near = (a: readonly number[], b: readonly number[], by: number): void => {
    expect(a).toHaveLength(b.length);
    a.forEach((v, i) => expect(Math.abs(v - b[i]!), `${i}: ${a.join(' ')}`).toBeLessThan(by));
  };
  it('found from another frame they stand where they were found', () => {
    const base = { frame: 4, h: similar(20, 1.2, 5, -3), own: [3, 1, -2, 0, 4, 4] };
    const found = { frame: 9, h: similar(-8, 0.9, 2, 7), quality: 0.8, own: [1, 2, 3, 4, 5, 6] };
    const step = fromDrawing(base, found, points);
    for (let i = 0; i < 6; i += 2) {
      const there = mapPoint(base.h, points[i]! + base.own[i]!, points[i + 1]! + base.own[i + 1]!);
      const meant = mapPoint(found.h, there[0] + found.own[i]!, there[1] + found.own[i + 1]!);
      const got = mapPoint(step.h, points[i]! + step.own![i]!, points[i + 1]! + step.own![i + 1]!);
      expect(Math.hypot(got[0] - meant[0], got[1] - meant[1])).toBeLessThan(0.02);
    }
    // What moves as one from there keeps the form that it had there.
    const { own: _, ...asWhole } = found;
    near(fromDrawing(base, asWhole, points).own!, base.own, 0.011);
    // Ways of other points than there are say nothing.
    expect(fromDrawing(null, found, [1, 2]).own).toBeUndefined();
    expect(fromDrawing(null, asWhole, points)).toEqual({ ...asWhole, h: found.h.map((v) => +v.toPrecision(9)) });
  });
  it('smoothed, a steady way stays and a shake goes; nothing of it is left at the frame of drawing', () => {
    const t = bent(8, 24);
    const s = smoothPath(t, 3, about);
    for (const f of [0, 5, 12, 23]) near(own(s, f), ways(f - 8), 0.011);
    const r = rng(9);
    const shaken = bent(8, 24, (f) => ways(f).map((v) => v + (f === 0 ? 0 : 2 * (r() - 0.5))));
    const off = (x: Track): number =>
      x.path.reduce((sum, p) => sum + p.own!.reduce((a, v, i) => a + Math.abs(v - ways(p.frame - 8)[i]!), 0), 0);
    expect(off(smoothPath(shaken, 4, about))).toBeLessThan(0.5 * off(shaken));
  });
  it('bridged and blended they go from what is known on one side to the other', () => {
    const t = bent(0, 12);
    const lost = { ...t, path: t.path.map((p) => (p.frame > 3 && p.frame < 9 ? { ...p, lost: true, own: [] } : p)) };
    const b = bridgePath(lost, about);
    near(own(b, 6), ways(6), 0.02);
    expect(own(b, 4)[5]!).toBeGreaterThan(ways(3)[5]!);
    // From behind they went otherwise: half-way it is half of each.
    const found = Array.from({ length: 9 }, (_, k) => ({
      frame: k + 1,
      h: slide(2 * (k + 1 - 10), 0),
      quality: 1,
      own: ways(k + 1 - 10).map((v) => v + 2),
    }));
    const blended = blendPath(bent(0, 11), 10, found, about, points);
    near(
      own(blended, 5),
      ways(5).map((v) => v + 1),
      0.02,
    );
    expect(own(blended, 1)[0]!).toBeLessThan(ways(1)[0]! + 0.3);
    near(own(blended, 10), ways(10), 0.011);
  });
  it('given to another thing, it moves as one', () => {
    expect(rebased(bent(0, 6), 3).path.some((p) => 'own' in p)).toBe(false);
    expect(asOne(bent(0, 3)).path[0]).toEqual({ frame: 1, h: slide(2, 0), quality: 0.9 });
  });
});
