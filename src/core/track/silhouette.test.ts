import { describe, expect, it } from 'vitest';
import { STILL } from '../graph/track';
import { polygonMask } from '../math/polygon';
import { rng } from '../math/rng';
import { OutlineFollower } from './outlineFollower';
import type { Colours } from './inside';
import { averaged, stepFor } from './inside';
import type { Point } from './points';
import { cheapestRound, FINE, Round, Silhouette } from './silhouette';

const [W, H] = [320, 240];
const N = 14;
/** Dense pieces of a closed Catmull-Rom curve, the plain way (cubic Hermite form). */
const curve = (p: readonly Point[]): Point[] =>
  p.flatMap((a, i) => {
    const at = (k: number): Point => p[(i + k + p.length) % p.length]!;
    const [b, u, v] = [at(1), at(-1), at(2)];
    return Array.from({ length: 8 }, (_, j): Point => {
      const t = j / 8;
      const [t2, t3] = [t * t, t * t * t];
      return [0, 1].map(
        (c) =>
          (2 * t3 - 3 * t2 + 1) * a[c]! +
          ((t3 - 2 * t2 + t) * (b[c]! - u[c]!)) / 2 +
          (3 * t2 - 2 * t3) * b[c]! +
          ((t3 - t2) * (v[c]! - a[c]!)) / 2,
      ) as unknown as Point;
    });
  });
/** How far from its middle the thing reaches; it changes over frames, by up to a fifth. */
const radius = (angle: number, f: number): number => 60 + 11 * Math.sin(f / 20) * Math.cos(2 * angle) - 0.14 * f;
const inThing = (x: number, y: number, f: number): boolean =>
  Math.hypot(x - 160, y - 120) < radius(Math.atan2(y - 120, x - 160), f);
const drawnAt = (f: number, wider = 1): Point[] =>
  Array.from({ length: N }, (_, k) => {
    const a = (2 * Math.PI * k) / N;
    return [160 + wider * radius(a, f) * Math.cos(a), 120 + wider * radius(a, f) * Math.sin(a)];
  });
const r5 = rng(5);
const grain = Float32Array.from({ length: W * H }, () => 0.08 * (r5() - 0.5));
/**
 * A warm thing with spots before a cold wall with spots, in a light that falls by a tenth; `over` lies in front,
 * `alike` is of the thing's colour.
 */
function frame(
  f: number,
  dx = 0,
  over: (x: number, y: number) => boolean = () => false,
  alike: (x: number, y: number) => boolean = () => false,
): Colours & { grey: Float32Array } {
  const planes = [0, 1, 2].map(() => new Float32Array(W * H)) as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [(i % W) + 0.5 - dx, Math.floor(i / W) + 0.5];
    const spot = Math.sin(0.45 * x) * Math.cos(0.4 * y) > 0.3 ? 0.08 : 0;
    const [luma, blue, red] = inThing(x, y, f) || alike(x, y) ? [0.55 + spot, -0.1, 0.15] : [0.5 + spot, 0.08, -0.05];
    (over(x + dx, y) ? [0.2, 0, 0] : [luma, blue, red]).forEach((v, c) => {
      planes[c]![i] = (1 - 0.001 * f) * v! + grain[(i * 7 + c * 31) % grain.length]!;
    });
  }
  return { w: W, h: H, planes, step: 1, grey: planes[0] };
}
const squares = (c: Colours, step: number): Colours => {
  const small = c.planes.map((p) => averaged(p, c.w, c.h, step));
  return { w: small[0]!.w, h: small[0]!.h, planes: small.map((s) => s.data) as never, step };
};
const overlap = (line: readonly Point[], f: number, dx = 0): number => {
  const m = polygonMask(line, W, H);
  let [both, either] = [0, 0];
  m.forEach((v, i) => {
    const t = inThing((i % W) + 0.5 - dx, Math.floor(i / W) + 0.5, f) ? 1 : 0;
    both += v & t;
    either += v | t;
  });
  return both / either;
};
const moved = (p: readonly Point[], own: readonly Point[]): Point[] =>
  p.map(([x, y], i) => [x + own[i]![0], y + own[i]![1]]);
const step = stepFor(curve(drawnAt(0)), FINE);

describe('a silhouette', () => {
  it('goes the cheapest way round: as trying every way says', () => {
    const r = rng(3);
    for (let run = 0; run < 30; run++) {
      const cost = Array.from({ length: 5 }, () => Float64Array.from({ length: 3 }, () => r()));
      const otherwise = 0.4 * r();
      const priceOf = (way: readonly number[]): number =>
        way.reduce((sum, k, i) => sum + cost[i]![k]! + otherwise * (k - way[(i + 1) % 5]!) ** 2, 0);
      const all = Array.from({ length: 3 ** 5 }, (_, n) => [0, 1, 2, 3, 4].map((i) => Math.floor(n / 3 ** i) % 3));
      const least = Math.min(...all.map(priceOf));
      const found = cheapestRound(cost, otherwise);
      // Where the round closes by another way than it began it may be a little dearer; never cheaper.
      expect(priceOf(found)).toBeGreaterThanOrEqual(least - 1e-12);
      expect(priceOf(found)).toBeLessThan(least + 0.05);
    }
  });
  it('places lie evenly along a circle, and look across it', () => {
    const circle = Array.from({ length: 400 }, (_, i): Point => {
      const a = (2 * Math.PI * i) / 400;
      return [50 + 30 * Math.cos(a), 40 + 30 * Math.sin(a)];
    });
    const round = new Round(circle);
    for (let i = 0; i < 12; i++) {
      const { at, normal } = round.place(i / 12);
      const a = (2 * Math.PI * i) / 12;
      expect(Math.hypot(at[0] - 50 - 30 * Math.cos(a), at[1] - 40 - 30 * Math.sin(a))).toBeLessThan(0.01);
      expect(Math.abs(normal[0] * Math.cos(a) + normal[1] * Math.sin(a))).toBeGreaterThan(0.9999);
      expect(round.nearest(at)).toBeCloseTo(i / 12, 2);
    }
  });
  it.each([
    ['about the thing itself', 1],
    ['loosely, a tenth away', 1.1],
  ])('bends as the thing does, drawn %s', (_, wider) => {
    const points = drawnAt(0, wider);
    const s = new Silhouette(squares(frame(0), step), points, curve);
    expect(s.tells).toBe(true);
    // Nothing has moved where it was drawn.
    for (const [x, y] of s.step(squares(frame(0), step), STILL).own) expect(Math.hypot(x, y)).toBeLessThan(0.3);
    let last = points;
    for (let f = 1; f <= 40; f++) last = moved(points, s.step(squares(frame(f), step), STILL).own);
    // As far from it as it was drawn.
    const meant = drawnAt(40, 1).map(([x, y], i) => {
      const [u, v] = drawnAt(0, 1)[i]!;
      const [a, b] = points[i]!;
      return [x + a - u, y + b - v] as const;
    });
    const away = last.map(([x, y], i) => {
      // Across the outline: along it a point may lie anywhere.
      const a = (2 * Math.PI * i) / N;
      return Math.abs((x - meant[i]![0]) * Math.cos(a) + (y - meant[i]![1]) * Math.sin(a));
    });
    expect(Math.max(...away)).toBeLessThan(3);
    if (wider === 1) {
      expect(overlap(curve(last), 40)).toBeGreaterThan(0.955);
      expect(overlap(curve(points), 40)).toBeLessThan(0.82);
    }
  });
  it('what was drawn in with it at its rim is not what is meant: it does not draw the outline out elsewhere', () => {
    // Hair about a quarter of it, which goes round while the thing turns.
    const hair = (f: number) => (x: number, y: number) => {
      const a = Math.atan2(y - 120, x - 160);
      const beyond = Math.hypot(x - 160, y - 120) - radius(a, f);
      return beyond > 0 && beyond < 14 && Math.cos(a - Math.PI + 0.06 * f) > 0.7;
    };
    const points = drawnAt(0, 1.12);
    const s = new Silhouette(squares(frame(0, 0, hair(0)), step), points, curve);
    let own: readonly Point[] = [];
    for (let f = 1; f <= 40; f++) ({ own } = s.step(squares(frame(f, 0, hair(f)), step), STILL));
    const last = moved(points, own);
    const off = last.map(([x, y], i) => {
      const a = (2 * Math.PI * i) / N;
      return Math.hypot(x - 160, y - 120) - radius(a, 40) - 0.12 * radius(a, 0);
    });
    expect(Math.max(...off.map(Math.abs))).toBeLessThan(5);
  });
  it('where the wall has its colour for a bit, a place goes as its neighbours do', () => {
    const [from, to] = [-0.35, 0.35];
    const alike = (f: number) => (x: number, y: number) => {
      const a = Math.atan2(y - 120, x - 160);
      return a > from && a < to && Math.hypot(x - 160, y - 120) > radius(a, f) - 1;
    };
    const points = drawnAt(0);
    const s = new Silhouette(squares(frame(0, 0, undefined, alike(0)), step), points, curve);
    let last = points;
    for (let f = 1; f <= 40; f++)
      last = moved(points, s.step(squares(frame(f, 0, undefined, alike(f)), step), STILL).own);
    const off = curve(last).flatMap(([x, y]) => {
      const a = Math.atan2(y - 120, x - 160);
      return a > from && a < to ? [Math.abs(Math.hypot(x - 160, y - 120) - radius(a, 40))] : [];
    });
    // Where it stayed it would be off by more.
    expect(radius(0, 40) - radius(0, 0)).toBeGreaterThan(4);
    expect(Math.max(...off)).toBeLessThan(3);
    expect(off.length).toBeGreaterThan(8);
  });
  it('what passes in front takes no side of it along: it goes faster than a silhouette turns', () => {
    const points = drawnAt(0);
    const s = new Silhouette(squares(frame(0), step), points, curve);
    const held: number[] = [];
    // A post that goes seven pixels a frame.
    for (let f = 0; f < 46; f++) {
      const { own } = s.step(
        squares(
          frame(0, 0, (x) => Math.abs(x - 7 * f) < 16),
          step,
        ),
        STILL,
      );
      held.push(overlap(curve(moved(points, own)), 0));
    }
    expect(Math.min(...held)).toBeGreaterThan(0.98);
    expect(held.at(-1)).toBeGreaterThan(0.99);
  });
});
describe('an outline that is followed point by point', () => {
  const known = new Map<string, ReturnType<typeof frame>>();
  const seen = (f: number, dx: number) => {
    const c = known.get(`${f}`) ?? frame(f, dx);
    known.set(`${f}`, c);
    return { grey: { w: W, h: H, data: c.grey }, colours: (n: number) => squares(c, n) };
  };
  it('goes with what it was drawn about, and bends as that does; forwards and back it is where it was', () => {
    const first = seen(0, 0);
    const points = drawnAt(0);
    const f = new OutlineFollower(first.grey, points, curve, first.colours);
    const at = (own: readonly number[], h: readonly number[]): Point[] =>
      points.map(([x, y], i) => [x + own[2 * i]! + h[2]!, y + own[2 * i + 1]! + h[5]!]);
    for (let n = 1; n <= 16; n++) {
      const now = seen(n, 1.5 * n);
      const r = f.step(now.grey, now.colours);
      expect(r.lost, `frame ${n}`).toBe(false);
      expect(overlap(curve(at(r.own, r.h)), n, 1.5 * n), `frame ${n}`).toBeGreaterThan(0.95);
      expect(r.quality).toBeGreaterThan(0.6);
    }
    let back = { own: [] as readonly number[], h: STILL };
    for (let n = 15; n >= 0; n--) back = f.step(seen(n, 1.5 * n).grey, seen(n, 1.5 * n).colours);
    const away = at(back.own, back.h).map(([x, y], i) => Math.hypot(x - points[i]![0], y - points[i]![1]));
    expect(Math.max(...away)).toBeLessThan(2.5);
  });
  it('where colours say nothing it is refused, and what to do is said', () => {
    const { grey } = seen(0, 0);
    const same = (n: number): Colours => {
      const flat = frame(0).planes[0];
      return squares({ w: W, h: H, planes: [flat, flat.map(() => 0), flat.map(() => 0)], step: 1 }, n);
    };
    const wall: Point[] = drawnAt(0).map(([x, y]) => [0.3 * (x - 160) + 50, 0.3 * (y - 120) + 50]);
    expect(() => new OutlineFollower(grey, wall, curve, same)).toThrow(/follow its position instead/);
  });
});
