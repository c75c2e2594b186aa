/**
 * How an outline bends about what it was drawn about: a head that turns shows another silhouette, which no shift, turn
 * or tilt of the first one is. Across the outline, place by place, how well colours belong (core/track/inside.ts) makes
 * a profile; where the same profile lies on another frame says how far the outline has to go there (T. Cootes et al.,
 * "Active shape models: their training and application", CVIU 61(1), 1995), by the cheapest way all round it (A. Amini,
 * T. Weymouth, R. Jain, "Using dynamic programming for solving variational problems in vision", PAMI 12(9), 1990).
 */
import { STILL } from '../graph/track';
import type { Homography } from '../graph/track';
import { solveLinear } from '../math/linear';
import { Inside } from './inside';
import type { Colours } from './inside';
import type { Point } from './points';

/** Draws the outline through its points: closed, as straight pieces. */
export type Curve = (points: readonly Point[]) => Point[];

/** The root of the outline's area in cells. */
export const FINE = 88;
/** Of that root, what lies so near to where it was drawn says less: an outline holds hair with a face. */
const RIM = 0.2;
/** Places along the outline. */
const PLACES = 96;
/** A profile reaches so far to either side, in cells. */
const DEEP = 12;
/** On one frame the outline goes no further at a place, in cells: what passes in front goes faster. */
const REACH = 1;
/** Places are looked at in steps of half a cell. */
const STEP = 0.5;
/** By cells squared: what it costs to go otherwise than the neighbour, to go at all, to lie elsewhere than at first. */
const OTHERWISE = 0.3;
const GOES = 0.02;
const AWAY = 0.001;
/** More unlike than of late by so much, in the mean of squares, it is half believed. */
const UNLIKE = 0.1;
/** How fast what is usual follows, where it is more and where it is less unlike. */
const SLOW = 0.1;
const FAST = 0.3;
/** Unknown along the outline: a point stays where it was unless places about it say otherwise. */
const STAYS = 0.15;
const ROUNDS = 2;

interface Place {
  at: Point;
  /** Outwards or inwards, the same for all. */
  normal: Point;
}
/** A closed curve by how far along it one is, 0..1. */
export class Round {
  /** Up to each corner, and all the way. */
  private readonly length = [0];
  private readonly all: number;
  constructor(private readonly line: readonly Point[]) {
    line.forEach(([x, y], i) => {
      const [u, v] = line[(i + 1) % line.length]!;
      this.length.push(this.length[i]! + Math.hypot(u - x, v - y));
    });
    this.all = Math.max(1e-9, this.length[line.length]!);
  }
  point(along: number): Point {
    const s = (along - Math.floor(along)) * this.all;
    let [lo, hi] = [0, this.line.length - 1];
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (this.length[mid]! <= s) lo = mid;
      else hi = mid - 1;
    }
    const [a, b] = [this.line[lo]!, this.line[(lo + 1) % this.line.length]!];
    const f = (s - this.length[lo]!) / Math.max(1e-9, this.length[lo + 1]! - this.length[lo]!);
    return [a[0] + f * (b[0] - a[0]), a[1] + f * (b[1] - a[1])];
  }
  place(along: number): Place {
    const [a, b] = [this.point(along - 1 / PLACES), this.point(along + 1 / PLACES)];
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const l = Math.max(1e-9, Math.hypot(dx, dy));
    return { at: this.point(along), normal: [-dy / l, dx / l] };
  }
  /** Where its corner nearest to a place lies. */
  nearest([x, y]: Point): number {
    const away = this.line.map(([u, v]) => Math.hypot(u - x, v - y));
    return this.length[away.indexOf(Math.min(...away))]! / this.all;
  }
}
/**
 * Of each place one of so many choices, at the least cost all round: neighbours that choose otherwise pay for it by the
 * square of the difference.
 */
export function cheapestRound(cost: readonly Float64Array[], otherwise: number): number[] {
  const n = cost.length;
  const m = cost[0]!.length;
  // Three times round, and the second time counts: neither end knows where it began.
  const back: Int16Array[] = [];
  let sum = new Float64Array(m);
  for (let lap = 0; lap < 3 * n; lap++) {
    const next = new Float64Array(m);
    const from = new Int16Array(m);
    for (let k = 0; k < m; k++) {
      let best = Infinity;
      for (let j = 0; j < m; j++) {
        const c = sum[j]! + otherwise * (k - j) * (k - j);
        if (c < best) {
          best = c;
          from[k] = j;
        }
      }
      next[k] = best + cost[lap % n]![k]!;
    }
    sum = next;
    back.push(from);
  }
  let k = sum.indexOf(Math.min(...sum));
  const out = new Array<number>(n).fill(0);
  for (let lap = 3 * n - 1; lap >= n; lap--) {
    if (lap < 2 * n) out[lap % n] = k;
    k = back[lap]![k]!;
  }
  return out;
}

/** From one place along a round to another, the way it goes, 0..1. */
const onwards = (from: number, to: number): number => to - from - Math.floor(to - from);

/** An outline through points, and how they go each on its own. */
export class Silhouette {
  private readonly inside: Inside;
  /** Across the outline where it was drawn, place by place. */
  private readonly profiles: Float64Array[];
  /** How unlike each place was of late, where it was most alike. */
  private readonly usual: number[] = [];
  private own: Point[];
  /** Which two points a place lies between, and how much of the way. */
  private readonly shares: { i: number; j: number; t: number }[];

  /**
   * @param colours of the first frame, by `stepFor(curve(points), FINE)`
   * @param points where they were drawn, in pixels from the left top corner
   */
  constructor(
    colours: Colours,
    private readonly points: readonly Point[],
    private readonly curve: Curve,
  ) {
    const line = curve(points);
    this.inside = new Inside(colours, line, true, FINE, RIM);
    this.own = points.map(() => [0, 0]);
    const round = new Round(line);
    const at = points.map((p) => round.nearest(p));
    this.shares = Array.from({ length: PLACES }, (_, k) => {
      // The last point before this place, and the one behind it.
      const i = at.reduce((best, a, n) => (onwards(a, k / PLACES) < onwards(at[best]!, k / PLACES) ? n : best), 0);
      const j = (i + 1) % at.length;
      return { i, j, t: onwards(at[i]!, k / PLACES) / (onwards(at[i]!, at[j]!) || 1) };
    });
    const belongs = this.inside.belonging(colours, STILL);
    this.profiles = this.places(points).map((p) => this.profile(belongs, p, DEEP));
  }
  /** Whether colours tell what it holds from what lies about it at all. */
  get tells(): boolean {
    return this.inside.tells;
  }
  /** The same between the same points, wherever those are by now. */
  private places(points: readonly Point[]): Place[] {
    const round = new Round(this.curve(points));
    const at = points.map((p) => round.nearest(p));
    return this.shares.map(({ i, j, t }) => round.place(at[i]! + t * (onwards(at[i]!, at[j]!) || 1)));
  }
  private profile(belongs: (x: number, y: number) => number, { at, normal }: Place, reach: number): Float64Array {
    return Float64Array.from({ length: Math.round((2 * reach) / STEP) + 1 }, (_, i) => {
      const d = (i * STEP - reach) * this.inside.k;
      return belongs(at[0] + d * normal[0], at[1] + d * normal[1]);
    });
  }
  /**
   * The next frame, in either direction of time.
   *
   * @param h what the outline as a whole has done since the first frame
   * @returns how far each point goes by itself before that, in pixels of the first frame, and how much of the outline
   *   looks as it did, 0..1
   */
  step(colours: Colours, h: Homography): { own: readonly Point[]; quality: number } {
    const belongs = this.inside.belonging(colours, h);
    const cell = this.inside.k;
    const far = Math.round(REACH / STEP);
    let trust: number[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      const now = this.places(this.standing());
      trust = [];
      const cost = now.map((p, n) => {
        const unlike = this.unlike(this.profile(belongs, p, DEEP + REACH), n, 2 * far + 1);
        const least = Math.min(...unlike);
        const usual = (this.usual[n] ??= least);
        if (round === ROUNDS - 1) this.usual[n]! += (least < usual ? FAST : SLOW) * (least - usual);
        const t = 1 / (1 + (Math.max(0, least - usual) / UNLIKE) ** 2);
        trust.push(t);
        const { i, j, t: f } = this.shares[n]!;
        const [a, b] = [this.own[i]!, this.own[j]!];
        const gone =
          ([0, 1] as const).reduce<number>((sum, c) => sum + p.normal[c] * (a[c] + f * (b[c] - a[c])), 0) / cell;
        return unlike.map((u, c) => {
          const goes = (c - far) * STEP;
          return t * u * DEEP + GOES * goes * goes + AWAY * (gone + goes) ** 2;
        });
      });
      const goes = cheapestRound(cost, OTHERWISE * STEP * STEP).map((c) => (c - far) * STEP * cell);
      this.move(now, goes, trust);
    }
    return { own: this.own, quality: trust.reduce((a, b) => a + b, 0) / PLACES };
  }
  private standing(): Point[] {
    return this.points.map(([x, y], i) => [x + this.own[i]![0], y + this.own[i]![1]]);
  }
  /** How unlike the first profile of a place lies in another one, at each shift of so many: mean of squares. */
  private unlike(here: Float64Array, place: number, shifts: number): Float64Array {
    const first = this.profiles[place]!;
    return Float64Array.from({ length: shifts }, (_, c) => {
      let sum = 0;
      for (let j = 0; j < first.length; j++) sum += (first[j]! - here[j + c]!) ** 2;
      return sum / first.length;
    });
  }
  /** Points go so that places between them go as far across the outline as was found, in least squares. */
  private move(now: readonly Place[], goes: readonly number[], trust: readonly number[]): void {
    const n = 2 * this.points.length;
    const a = new Float64Array(n * n);
    const b = new Float64Array(n);
    now.forEach(({ normal }, k) => {
      const { i, j, t } = this.shares[k]!;
      const row = [i, j].flatMap((p, side) =>
        ([0, 1] as const).map((c) => [2 * p + c, (side === 0 ? 1 - t : t) * normal[c]] as const),
      );
      for (const [p, u] of row) {
        b[p]! += trust[k]! * u * goes[k]!;
        for (const [q, v] of row) a[n * p + q]! += trust[k]! * u * v;
      }
    });
    for (let p = 0; p < n; p++) a[(n + 1) * p]! += (STAYS * 2 * PLACES) / n;
    const d = solveLinear(a, b);
    if (d) this.own = this.own.map(([x, y], i) => [x + d[2 * i]!, y + d[2 * i + 1]!]);
  }
}
