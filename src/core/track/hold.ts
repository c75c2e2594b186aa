/**
 * What was pressed, held over frames by what is found there: a thing that turns carries its features out of sight, and
 * a press that goes with them leaves the thing. Here the press stays inside of what was found on the frame before, and
 * a find that is suddenly another thing is not believed.
 */
import type { Point } from './points';

/** 1 inside; coordinates of points are in its pixels. */
export interface Mask {
  w: number;
  h: number;
  data: Uint8Array;
}
/** Above this share of what two finds hold together (over what either holds) they are the same thing a frame later. */
const SAME = 0.88;
/** Nearly all that two finds hold of a thing that is as it was is the same; a press beside it may find that. */
const AS_IT_WAS = 0.96;
/** Below this nothing of it is left: it was lost. */
const GONE = 0.5;
/** After it was lost it must look more like it. */
const FOUND_AGAIN = 0.65;
/**
 * Below this share of what was found on the frames just before, or above its inverse, it is another thing: what
 * passes in front of it takes it away piece by piece, each of them little.
 */
const SHRUNK = 0.6;
const JUST_BEFORE = 8;
/** Of so many frames its way is taken on while it is lost, for so many frames. */
const WAY = 6;
const MOMENT = 24;
/** Places in what was found that are tried where less is the same than could be. */
const BESIDE = 3;
/** So many other places are tried, where a press finds another thing than before. */
const ELSEWHERE = 3;
/** How far a thing, and the press on it, goes on one frame, of the longer side. */
const FAR = 0.12;

/** Of the places of what goes along so many may lie less deep, on what was left out of the thing. */
const BUT_FOR = 0.1;
/** What goes along lies as deep in the thing as it did, of how deep that is, but for the rest: it need not wander. */
const ALMOST = 0.75;

export interface Held {
  /** From the frame where it was pressed to this one: right and down. */
  by: Point;
  /** The same of what goes along with the thing: it lies in what was found, wherever the press had to go for that. */
  along: Point;
  /** Intersection over union with the frame before, 0..1. */
  quality: number;
  lost: boolean;
  /** Of the frame, what is found there; where it is lost, what was found last. */
  share: number;
}
const shareOf = ({ data }: Mask): number => data.reduce((a, b) => a + b, 0) / data.length;

function common(a: Mask, b: Mask, [dx, dy]: Point): number {
  let [both, any] = [0, 0];
  const [sx, sy] = [Math.round(dx), Math.round(dy)];
  for (let y = 0; y < b.h; y++)
    for (let x = 0; x < b.w; x++) {
      const [u, v] = [x - sx, y - sy];
      const was = u >= 0 && v >= 0 && u < a.w && v < a.h ? a.data[v * a.w + u]! : 0;
      const is = b.data[y * b.w + x]!;
      both += was & is;
      any += was | is;
    }
  return any > 0 ? both / any : 0;
}
/** City-block distance of each pixel inside to the nearest one outside; beyond the frame counts as outside. */
function depths({ w, h, data }: Mask): Uint16Array {
  const d = new Uint16Array(w * h);
  const at = (x: number, y: number): number => (x < 0 || y < 0 || x >= w || y >= h ? 0 : d[y * w + x]!);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) if (data[y * w + x]) d[y * w + x] = 1 + Math.min(at(x - 1, y), at(x, y - 1));
  for (let y = h - 1; y >= 0; y--)
    for (let x = w - 1; x >= 0; x--)
      if (data[y * w + x]) d[y * w + x] = Math.min(d[y * w + x]!, 1 + at(x + 1, y), 1 + at(x, y + 1));
  return d;
}
function keepLast<T>(list: T[], v: T, most: number): void {
  list.push(v);
  if (list.length > most) list.shift();
}
function middleOf({ w, data }: Mask): Point | null {
  let [n, sx, sy] = [0, 0, 0];
  for (let i = 0; i < data.length; i++)
    if (data[i]) {
      n++;
      sx += i % w;
      sy += Math.floor(i / w);
    }
  return n > 0 ? [sx / n, sy / n] : null;
}

/** A mask that lies elsewhere, whole pixels further on. */
function shifted({ w, h, data }: Mask, [dx, dy]: Point): Mask {
  const out = new Uint8Array(w * h);
  const [sx, sy] = [Math.round(dx), Math.round(dy)];
  for (let y = Math.max(0, sy); y < Math.min(h, h + sy); y++)
    for (let x = Math.max(0, sx); x < Math.min(w, w + sx); x++) out[y * w + x] = data[(y - sy) * w + x - sx]!;
  return { w, h, data: out };
}

/** Whole pixels, the nearest first. */
function movesWithin(far: number): Point[] {
  const out: Point[] = [];
  for (let dy = -Math.floor(far); dy <= far; dy++)
    for (let dx = -Math.floor(far); dx <= far; dx++) if (Math.hypot(dx, dy) <= far) out.push([dx, dy]);
  return out.sort((a, b) => Math.hypot(...a) - Math.hypot(...b));
}

export class Holder {
  private by: Point = [0, 0];
  /** Of the frames just before on which it was found, the last one last. */
  private readonly shares: number[];
  private readonly places: Point[] = [[0, 0]];
  private lostFor = 0;
  /** What was found last, where it was found. */
  private last: Mask;
  private lastBy: Point = [0, 0];
  private depth: Uint16Array;
  private readonly deep: number;
  private readonly far: number;
  private along: Point = [0, 0];
  private lastAlong: Point = [0, 0];
  /** How deep that lay where it was made, of how deep one could lie there. */
  private readonly alongDeep: number;
  private readonly moves: readonly Point[];

  /**
   * @param before what the press found where it was made
   * @param keep places of the press there, in pixels of the mask
   * @param room half the width of the press, in pixels of the mask
   * @param goes places of what goes along with the thing, such as a patch on it, in pixels of the mask
   */
  constructor(
    private before: Mask,
    private readonly keep: readonly Point[],
    room: number,
    private readonly goes: readonly Point[] = [],
  ) {
    this.last = before;
    this.shares = [shareOf(before)];
    this.depth = depths(before);
    this.far = FAR * Math.max(before.w, before.h);
    // A press at an edge, or on what was taken out again, need lie no deeper than it was made.
    this.deep = Math.min(room + 2, ...keep.map((p) => this.depthAt(p, [0, 0])));
    this.alongDeep = this.mostLie(goes, [0, 0]) / this.deepest();
    this.moves = movesWithin(this.far);
  }
  private depthAt([x, y]: Point, [dx, dy]: Point): number {
    const [u, v] = [Math.floor(x + dx), Math.floor(y + dy)];
    return u < 0 || v < 0 || u >= this.before.w || v >= this.before.h ? 0 : this.depth[v * this.before.w + u]!;
  }
  private deepest(): number {
    return this.depth.reduce((a, b) => Math.max(a, b), 1);
  }
  /** How deep places lie after a move, but for the few that lie least deep: an eye may be left out there. */
  private mostLie(places: readonly Point[], to: Point): number {
    const all = places.map((p) => this.depthAt(p, to)).sort((a, b) => a - b);
    return all[Math.floor(BUT_FOR * all.length)] ?? 0;
  }
  /** The smallest move from `by` after which something lies as deep as asked; the deepest where none does. */
  private inside(depthOf: (to: Point) => number, by: Point, deep: number): Point {
    let [best, most] = [by, -1];
    for (const [dx, dy] of this.moves) {
      const to: Point = [by[0] + dx, by[1] + dy];
      const fits = depthOf(to);
      if (fits > most) [best, most] = [to, fits];
      if (fits >= deep) break;
    }
    return best;
  }
  private pressInside(deep: number): Point {
    const depthOf = (to: Point): number => {
      let least = Infinity;
      for (const p of this.keep) least = Math.min(least, this.depthAt(p, to));
      return least;
    };
    return this.inside(depthOf, this.by, deep);
  }

  /**
   * The place furthest from where it was tried, as deep as the press was made, of what was found on the frame before;
   * null where there is none.
   */
  private elsewhere(tried: readonly Point[]): Point | null {
    const { w } = this.before;
    const [x0, y0] = this.keep[0] ?? [0, 0];
    let [best, most]: [Point | null, number] = [null, this.far / 2];
    for (let i = 0; i < this.depth.length; i++) {
      if (this.depth[i]! < this.deep) continue;
      const by: Point = [(i % w) + 0.5 - x0, Math.floor(i / w) + 0.5 - y0];
      const d = Math.min(...tried.map((t) => Math.hypot(t[0] - by[0], t[1] - by[1])));
      if (d > most && this.keep.every((p) => this.depthAt(p, by) >= this.deep)) [best, most] = [by, d];
    }
    return best;
  }

  /** It goes on as it went, for a while: behind what passes in front it comes out again there. */
  private lose(): Held {
    this.lostFor++;
    // By the press: the middle of what is taken away piece by piece goes another way.
    const n = this.places.length - 1;
    const [a, b] = [this.places[0]!, this.places[n]!];
    // A jump is no way.
    const k = n >= WAY / 2 ? Math.min(this.lostFor, MOMENT) / n : 0;
    const way: Point = [k * (b[0] - a[0]), k * (b[1] - a[1])];
    this.before = shifted(this.last, way);
    this.depth = depths(this.before);
    this.by = [this.lastBy[0] + way[0], this.lastBy[1] + way[1]];
    this.along = [this.lastAlong[0] + way[0], this.lastAlong[1] + way[1]];
    return { by: this.by, along: this.along, quality: 0, lost: true, share: shareOf(this.last) };
  }
  /** What goes along lies on the thing, not where the press went for it; it goes no further than it must. */
  private goOn(from: Point): void {
    const deep = Math.max(1, ALMOST * this.alongDeep * this.deepest());
    const { goes } = this;
    this.along = goes.length > 0 ? this.inside((to) => this.mostLie(goes, to), from, deep) : from;
    this.lastAlong = this.along;
  }
  /**
   * The next frame, in either direction of time.
   *
   * @param look what is found there by the press, moved so far from where it was made
   * @param moved how the picture about it moved since the frame before, where that can be told; asked only where the
   *   press finds something else without
   */
  async step(look: (by: Point) => Promise<Mask>, moved: (before: Mask) => Point | null): Promise<Held> {
    let best: { by: Point; mask: Mask; quality: number } | null = null;
    let [mx, my]: Point = [0, 0];
    const still = this.pressInside(this.deep);
    const tried: Point[] = [];
    const ways = [
      () => still,
      () => {
        [mx, my] = moved(this.before) ?? [0, 0];
        return [still[0] + mx, still[1] + my] as const;
      },
      // As deep inside as it goes, and then elsewhere, where nothing else found the same.
      () => this.pressInside(Infinity),
      ...Array.from({ length: ELSEWHERE }, () => () => this.elsewhere(tried)),
    ];
    for (const [k, way] of ways.entries()) {
      if (best && best.quality >= (k < BESIDE && this.lostFor === 0 ? AS_IT_WAS : SAME)) break;
      const by = way();
      if (!by || tried.some((t) => Math.hypot(t[0] - by[0], t[1] - by[1]) < 1)) continue;
      tried.push(by);
      const mask = await look(by);
      const [a, b] = [middleOf(this.before), middleOf(mask)];
      const shifts: Point[] = [[0, 0]];
      // What lies further off than a thing goes in a frame is another one, however alike.
      if (a && b && [0, 1].some((k) => Math.hypot(b[0] - a[0] - k * mx, b[1] - a[1] - k * my) <= this.far))
        shifts.push([b[0] - a[0], b[1] - a[1]]);
      const quality = Math.max(...shifts.map((s) => common(this.before, mask, s)));
      if (!best || quality > best.quality) best = { by, mask, quality };
    }
    const { by, mask, quality } = best!;
    const share = shareOf(mask);
    const [most, least] = [Math.max(...this.shares), Math.min(...this.shares)];
    if (quality < (this.lostFor > 0 ? FOUND_AGAIN : GONE) || share < SHRUNK * most || share > least / SHRUNK)
      return this.lose();
    // While it was lost it went some way, and what goes along with it.
    const [from, to] = this.lostFor > 0 ? [middleOf(this.last), middleOf(mask)] : [null, null];
    const way: Point = from && to ? [Math.round(to[0] - from[0]), Math.round(to[1] - from[1])] : [0, 0];
    this.before = mask;
    this.last = mask;
    this.lastBy = by;
    this.depth = depths(mask);
    this.by = by;
    this.lostFor = 0;
    keepLast(this.shares, share, JUST_BEFORE);
    keepLast(this.places, by, WAY + 1);
    this.goOn([this.lastAlong[0] + way[0], this.lastAlong[1] + way[1]]);
    return { by, along: this.along, quality, lost: false, share };
  }
}
