/**
 * Follows what lies inside a quad or outline from the frame where it was drawn. Every frame is compared with that one:
 * the guess warps the frame back, what is left of the motion is found between the two and multiplied on, so that
 * nothing drifts. Guesses: where it was, where its last motion leads, and what the frame before says; the one with more
 * points in agreement counts. Where less than a third agree it is lost: said, carried on by the last motion, looked for
 * again. Where the look changes for good the reference is renewed at a frame that agreed well, and that is said: from
 * then on the outline is held by the colours that it held as well, where they tell it from what lies about it.
 */
import { mapPoint, STILL } from '../graph/track';
import type { Homography } from '../graph/track';
import { polygonMask } from '../math/polygon';
import { agree, fitFirm, invertMap, LEAST, multiplyMaps, shifted } from './fit';
import type { MotionKind, Pair } from './fit';
import { cropped, pyramid, warped } from './image';
import type { Grey, Window } from './image';
import { Inside, stepFor } from './inside';
import type { Colours } from './inside';
import { findPoints } from './lucasKanade';
import { corners } from './points';
import type { Point } from './points';

export interface Followed {
  /** A place at the first frame -> at this one, in pixels from the left top corner. */
  h: Homography;
  /** Share of the points that agree, 0..1. */
  quality: number;
  lost: boolean;
  /** In words, where it is lost. */
  why: string;
  /** The reference was renewed at the frame before this one. */
  renewed: boolean;
  /** Held by colours, since its look has changed. */
  held: boolean;
}
/** A frame's colours, averaged over squares of so many pixels. */
export type ColoursAt = (step: number) => Colours;
const LEVELS = 3;
const MOST = 110;
/** Room about the quad, so that windows at its edge are whole. */
const ROOM = 16;
/** Both ways, in pixels. */
const BACK = 0.8;
const WITHIN = 1;
/** Of the points in a window, how alike it must look. */
const ALIKE = 0.6;
const LOST = 1 / 3;
/** So many agree that no other guess is made. */
const SURE = 0.75;
const ENOUGH = 0.55;
const MANY = 2;
/** What is renewed more than once in some twenty frames turns; one renewal may be a change of light. */
const TURNS = 1.2;
const FADES = 0.93;
/** Of what one frame says. */
const SLIP = 0.2;
/** Frames after which a loss is more than a moment. */
const MOMENT = 3;

interface Made {
  h: Homography;
  /** Share of the points that agree. */
  agreed: number;
  /** Found finely. */
  fine: boolean;
}
interface Reference {
  win: Window;
  levels: Grey[];
  /** In the window. */
  points: Point[];
  /** From the first frame to this reference's. */
  base: Homography;
}

export class Follower {
  private ref: Reference;
  private prev: { grey: Grey; h: Homography; agreed: number } | null = null;
  private motion: Homography = STILL;
  private lostFor = 0;
  /** How often its reference was renewed of late, and whether it was so often at all. */
  private turning = 0;
  private turned = false;
  /** So many frames it was found by colours alone. */
  private alone = 0;
  /** By how much colours bring it back on a frame, of late. */
  private slip: Point = [0, 0];
  private readonly inside: Inside | null;
  readonly points: number;

  /**
   * @param quad corners of the outline at `first`, in pixels from the left top corner of the picture
   * @param colours of the first frame; without them it goes by features alone
   * @throws RangeError where nothing inside could be told apart from its neighbours
   */
  constructor(
    first: Grey,
    private readonly quad: readonly Point[],
    private readonly kind: MotionKind,
    colours?: ColoursAt,
  ) {
    this.inside = colours ? new Inside(colours(stepFor(quad)), quad, kind !== 'position') : null;
    // Pixel indices: the middle of pixel 0 lies half a pixel from the edge.
    this.ref = this.reference(first, STILL);
    this.points = this.ref.points.length;
    if (this.points < Math.max(6, 2 * LEAST[kind]))
      throw new RangeError(
        'There is too little inside to follow: draw it round something with corners or texture, or set keys by hand',
      );
    this.prev = { grey: first, h: STILL, agreed: 1 };
  }
  private reference(g: Grey, base: Homography): Reference {
    const outline = this.quad.map(([x, y]) => mapPoint(base, x - 0.5, y - 0.5));
    const xs = outline.map((p) => p[0]);
    const ys = outline.map((p) => p[1]);
    const x = Math.max(0, Math.floor(Math.min(...xs)) - ROOM);
    const y = Math.max(0, Math.floor(Math.min(...ys)) - ROOM);
    const win = {
      x,
      y,
      w: Math.max(1, Math.min(g.w, Math.ceil(Math.max(...xs)) + ROOM) - x),
      h: Math.max(1, Math.min(g.h, Math.ceil(Math.max(...ys)) + ROOM) - y),
    };
    const levels = pyramid(cropped(g, win), LEVELS);
    // The middle of a pixel is its index here, and half a pixel further in a mask.
    const inside = polygonMask(
      outline.map(([u, v]) => [u - win.x + 0.5, v - win.y + 0.5] as const),
      win.w,
      win.h,
    );
    return { win, levels, points: corners(levels[0]!, (u, v) => inside[v * win.w + u] === 1, MOST), base };
  }

  /** The next frame, in either direction of time; colours are asked for where features alone would lead away. */
  step(frame: Grey, colours?: ColoursAt): Followed {
    const found = this.byFeatures(frame);
    this.turning = FADES * this.turning + (found.renewed ? 1 : 0);
    if (this.turning > TURNS) this.turned = true;
    if (!(found.lost || this.turning > TURNS) || !this.inside?.tells || !colours) return found;
    // For a moment its last motion says more than colours do, which are alike along an edge.
    const moment = found.lost && !this.turned && this.lostFor <= MOMENT;
    const back = this.inside.back(colours(stepFor(this.quad)), found.h, found.lost && !moment);
    if (!back) return found;
    const h = multiplyMaps(this.prev!.h, shifted(back, -0.5, -0.5));
    // What is found from here on begins from there; where its features are out of sight, from what it shows now.
    const { base } = this.ref;
    this.alone = found.lost ? this.alone + 1 : 0;
    if (this.alone > MOMENT) this.turned = true;
    const anew = found.lost && this.turned;
    if (anew) this.ref = this.reference(frame, h);
    else if (!found.lost)
      this.ref = { ...this.ref, base: multiplyMaps(multiplyMaps(base, invertMap(this.prev!.h)), h) };
    const [from, to] = [this.centre(this.prev!.h), this.centre(h)];
    this.slip = found.lost
      ? [0, 0]
      : ([0, 1].map((k) => this.slip[k]! + SLIP * (to[k]! - from[k]! - this.slip[k]!)) as [number, number]);
    this.prev = { grey: frame, h, agreed: anew ? 1 : this.prev!.agreed };
    this.lostFor = 0;
    return { ...found, h: out(h), lost: false, why: '', renewed: found.renewed || anew, held: true };
  }
  private byFeatures(frame: Grey): Followed {
    const prev = this.prev!;
    const carried = multiplyMaps(this.motion, prev.h);
    // What goes on as it went needs no second guess.
    let best = this.refine(frame, carried, 'first');
    if (!this.sure(best) && !same(carried, prev.h)) best = this.best([this.refine(frame, prev.h, 'rough'), best]);
    let chain: ReturnType<Follower['chain']> = null;
    // By what the frame before looked like: a large motion that no guess foresaw.
    if (!this.sure(best)) {
      chain = this.chain(prev, frame);
      if (chain) {
        const r = this.refine(frame, chain.h, 'rough');
        if (!best || (r && r.agreed > best.agreed)) best = r;
      }
      if (this.renew(prev, chain, carried, best?.agreed ?? 0, false)) {
        const r = this.refine(frame, chain!.h, 'fine');
        if (r) return this.found(frame, r, true);
      }
    }
    const fine = best && this.refine(frame, best.h, best.fine ? 'last' : 'fine');
    if (fine && fine.agreed >= LOST) return this.found(frame, fine, false);
    // Before it is given up: what turns or folds looks otherwise than it did, and goes on as it went.
    if (this.renew(prev, chain, carried, best?.agreed ?? 0, true)) {
      const r = this.refine(frame, chain!.h, 'fine');
      if (r && r.agreed >= LOST) return this.found(frame, r, true);
    }
    const agreed = fine?.agreed ?? 0;
    // Features that slip lead on without what brings them back.
    if (this.lostFor++ === 0)
      this.motion = multiplyMaps([1, 0, this.slip[0], 0, 1, this.slip[1], 0, 0, 1], this.motion);
    // After a while the last motion is worth nothing: it waits where it is.
    if (this.lostFor > 48) this.motion = STILL;
    const h = multiplyMaps(this.motion, prev.h);
    this.prev = { grey: frame, h, agreed: 0 };
    const why =
      this.coverage(frame, h) < 0.4
        ? 'most of it has left the frame'
        : 'what was drawn is hidden, or looks otherwise than where it was drawn';
    return { h: out(h), quality: agreed, lost: true, why, renewed: false, held: false };
  }
  private found(frame: Grey, r: { h: Homography; agreed: number }, renewed: boolean): Followed {
    const prev = this.prev!;
    // What it did while it was lost is no motion to go on with; after a moment it goes on as it went before.
    if (this.lostFor === 0) this.motion = this.damped(multiplyMaps(r.h, invertMap(prev.h)));
    else if (this.lostFor > MOMENT) this.motion = STILL;
    this.lostFor = 0;
    this.prev = { grey: frame, h: r.h, agreed: r.agreed };
    return { h: out(r.h), quality: Math.min(1, r.agreed), lost: false, why: '', renewed, held: false };
  }
  /** Of the last motion only what carries: a shift, of where it is now. */
  private damped(m: Homography): Homography {
    const [cx, cy] = this.centre(this.prev!.h);
    const [u, v] = mapPoint(m, cx, cy);
    return [1, 0, u - cx, 0, 1, v - cy, 0, 0, 1];
  }
  private centre(h: Homography): Point {
    const p = this.quad.map(([x, y]) => mapPoint(h, x - 0.5, y - 0.5));
    return [p.reduce((a, q) => a + q[0], 0) / p.length, p.reduce((a, q) => a + q[1], 0) / p.length];
  }
  private coverage(frame: Grey, h: Homography): number {
    const { points, win, base } = this.ref;
    const back = invertMap(base);
    const there = points.filter(([x, y]) => {
      const [u, v] = mapPoint(h, ...mapPoint(back, x + win.x, y + win.y));
      return u >= 0 && v >= 0 && u < frame.w && v < frame.h;
    });
    return there.length / Math.max(1, points.length);
  }
  /** No other guess is made: most agree, or as many as before where that is enough. */
  private sure(r: Made | null): boolean {
    return r !== null && (r.agreed >= SURE || (r.agreed >= ENOUGH && r.agreed >= this.prev!.agreed - 0.08));
  }
  private best(list: (Made | null)[]): Made | null {
    return list.reduce((a, b) => (b && (!a || b.agreed > a.agreed + 0.02) ? b : a), null);
  }

  /**
   * The guess made good: the frame warped back by it, and what is left of the motion. Fine: twice, points both ways;
   * the first of the two is a guess as well.
   */
  private refine(frame: Grey, guess: Homography, how: 'rough' | 'first' | 'last' | 'fine'): Made | null {
    const { win, levels, points, base } = this.ref;
    let h = guess;
    let agreed = 0;
    const fine = how !== 'rough';
    for (let round = how === 'last' ? 1 : 0; round < (how === 'fine' || how === 'last' ? 2 : 1); round++) {
      // From the reference's frame: h is from the first.
      const local = multiplyMaps(h, invertMap(base));
      const { grey, inside } = warped(frame, local, win);
      const to = pyramid(grey, LEVELS);
      // The second time it lies near already.
      const search = { fine, ...(fine ? { within: BACK } : {}), ...(round > 0 ? { levels: 1 } : {}) };
      const found = findPoints(levels, to, points, search);
      const pairs: Pair[] = [];
      points.forEach((p, i) => {
        const q = found[i];
        if (!q || inside[Math.round(p[1]) * win.w + Math.round(p[0])] !== 1) return;
        if (q.like >= ALIKE) pairs.push({ from: p, to: q.at, weight: q.weight });
      });
      const a = this.model(pairs);
      if (!a) return null;
      agreed = a.count / points.length;
      h = multiplyMaps(multiplyMaps(local, shifted(a.h, win.x, win.y)), base);
    }
    return { h, agreed, fine };
  }
  /** A model no richer than the points support. */
  private model(pairs: readonly Pair[]): { h: Homography; count: number } | null {
    const kinds: MotionKind[] =
      this.kind === 'perspective'
        ? ['perspective', 'similarity', 'position']
        : this.kind === 'similarity'
          ? ['similarity', 'position']
          : ['position'];
    const least = { perspective: 14, similarity: 6, position: 3 };
    for (const k of kinds) {
      if (pairs.length < least[k]) continue;
      const a = agree(pairs, k, WITHIN);
      if (!a || a.count < least[k]) continue;
      // What only the richer motion explains must not be alone in judging whether it is needed.
      const simple = k === 'position' ? a : agree(pairs, 'position', WITHIN);
      const either = weighed(pairs.filter((_, i) => a.agrees[i] || simple?.agrees[i]));
      const h = fitFirm(either, k, WITHIN) ?? a.h;
      return { h, count: a.count };
    }
    return null;
  }
  /** From the frame before, by its own look. */
  private chain(
    prev: { grey: Grey; h: Homography },
    frame: Grey,
  ): { h: Homography; agreed: number; shift: Point } | null {
    const { win, points, base } = this.ref;
    const local = multiplyMaps(prev.h, invertMap(base));
    const before = pyramid(warped(prev.grey, local, win).grey, LEVELS + 1);
    const now = pyramid(warped(frame, local, win).grey, LEVELS + 1);
    const found = findPoints(before, now, points, { fine: false, within: BACK });
    const pairs = points.flatMap((from, i) => (found[i] ? [{ from, to: found[i].at }] : []));
    const a = this.model(pairs);
    if (!a) return null;
    const h = multiplyMaps(multiplyMaps(local, shifted(a.h, win.x, win.y)), base);
    const [p, q] = [this.centre(prev.h), this.centre(h)];
    return { h, agreed: a.count / points.length, shift: [q[0] - p[0], q[1] - p[1]] };
  }
  /**
   * Takes the frame before as the reference: it agreed well, this one does not with the old reference but does with it,
   * and it goes on as it went. What passes in front goes its own way. `rescue`: else it would be lost; the frame before
   * was not.
   */
  private renew(
    prev: { grey: Grey; h: Homography; agreed: number },
    chain: { agreed: number; shift: Point } | null,
    carried: Homography,
    agreed: number,
    rescue: boolean,
  ): boolean {
    if (!chain || this.lostFor > 0) return false;
    if (!rescue && (agreed > 0.5 || prev.agreed < 0.42)) return false;
    if (chain.agreed < (rescue ? 0.55 : 0.7)) return false;
    const [p, c] = [this.centre(prev.h), this.centre(carried)];
    if (Math.hypot(chain.shift[0] - (c[0] - p[0]), chain.shift[1] - (c[1] - p[1])) > 2) return false;
    const next = this.reference(prev.grey, prev.h);
    if (next.points.length < Math.max(6, 2 * LEAST[this.kind])) return false;
    this.ref = next;
    return true;
  }
}
/** Weights about their median: a few sharp points that lie together must not tilt all the others. */
function weighed(pairs: readonly Pair[]): Pair[] {
  const sorted = pairs.map((p) => p.weight ?? 1).sort((a, b) => a - b);
  const middle = sorted[sorted.length >> 1]!;
  return pairs.map((p) => ({ ...p, weight: Math.max(1 / MANY, Math.min(MANY, (p.weight ?? 1) / middle)) }));
}
const same = (a: Homography, b: Homography): boolean => a.every((v, i) => Math.abs(v - b[i]!) < 1e-9);
/** From pixel indices to places counted from the picture's edge. */
const out = (h: Homography): Homography => shifted(h, 0.5, 0.5);
