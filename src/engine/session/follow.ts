/** Runs that follow a shape, each held while it goes on; frame by frame, so that whoever asks can stop between two. */
import { allTerms, isOp, mapTerms } from '../../core/graph/region';
import { strokesAt } from '../../core/graph/strokes';
import { mapAt, STILL } from '../../core/graph/track';
import type { Homography, Track } from '../../core/graph/track';
import { sizeOf } from '../../core/matte/small';
import { multiplyMaps } from '../../core/track/fit';
import { curveOf, pointsOf } from '../../core/ops/freeform/line';
import { Follower } from '../../core/track/follow';
import type { ColoursAt } from '../../core/track/follow';
import { coloursOf } from '../../core/track/inside';
import { OutlineFollower } from '../../core/track/outlineFollower';
import { Holder } from '../../core/track/hold';
import type { Mask } from '../../core/track/hold';
import type { Grey } from '../../core/track/image';
import type { FrameRef, Requests, ShotState } from '../../protocol/messages';
import { matteOf, rgbOf } from '../samples';
import type { Held } from './held';

/** Of runs that were left in their middle only so many stay. */
const RUNS = 4;

/** The engine was started again in its middle, or others took its place: whoever asks begins it anew. */
export class RunEnded extends Error {
  override name = 'RunEnded';
}

export class Follows {
  private readonly runs = new Map<string, Follower | OutlineFollower>();
  private readonly holds = new Map<string, Hold>();
  constructor(private readonly h: Held) {}

  /** Luma and colours of the picture as it came: what corrections do to it must not move a shape. */
  private async seen(ref: FrameRef): Promise<{ grey: Grey; colours: ColoursAt }> {
    const p = await this.h.full(ref);
    const grey = this.h.ev.arena.look((v) => {
      const { r, g, b } = rgbOf(v, p);
      const data = new Float32Array(r.length);
      for (let i = 0; i < data.length; i++) data[i] = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
      return { w: p.w, h: p.h, data };
    });
    return { grey, colours: (step) => this.h.ev.arena.look((v) => coloursOf(rgbOf(v, p), p.w, p.h, step)) };
  }
  async step({ run, at, begin }: Requests['follow']['in']): Promise<Requests['follow']['out']> {
    this.h.ev.begin();
    const { grey, colours } = await this.seen(at);
    this.h.slow(grey.w * grey.h);
    if (begin) {
      const { outline, kind, line } = begin;
      this.runs.set(
        run,
        line
          ? new OutlineFollower(grey, pointsOf(line), curveOf(line), colours)
          : new Follower(grey, outline, kind, colours),
      );
      for (const k of this.runs.keys()) if (this.runs.size > RUNS) this.runs.delete(k);
      return null;
    }
    const f = this.runs.get(run);
    if (!f) throw new RunEnded('The run that followed was ended');
    return f.step(grey, colours);
  }
  /** A region on one frame, by the strokes of a part of it that are moved so far: what is found there. */
  private async found(shot: ShotState, correction: string, term: string, track?: Track): Promise<Mask | null> {
    const corrections = shot.corrections.map((c) =>
      c.id !== correction
        ? c
        : { ...c, terms: mapTerms(c.terms, (t) => (track && t.id === term && isOp(t) ? { ...t, track } : t)) },
    );
    const step = (await this.h.run({ ...shot, corrections }, correction)).steps.get(correction);
    if (!step?.matte) return null;
    const { input: p, matte } = step;
    this.h.slow(p.w * p.h);
    return this.h.ev.arena.look((v) => {
      const m = matteOf(v, p, matte)!;
      const to = sizeOf(p.w, p.h);
      const data = new Uint8Array(to.w * to.h);
      for (let y = 0, i = 0; y < to.h; y++)
        for (let x = 0; x < to.w; x++, i++)
          data[i] = m[Math.floor((y + 0.5) / to.s) * p.w + Math.floor((x + 0.5) / to.s)]! > 0.5 ? 1 : 0;
      return { w: to.w, h: to.h, data };
    });
  }
  async hold(q: Requests['holdRegion']['in']): Promise<Requests['holdRegion']['out']> {
    const { run, shot, correction, term, begin, goes = [] } = q;
    this.h.ev.begin();
    const ref = { media: shot.media, frame: shot.frame };
    const { grey } = await this.seen(ref);
    this.h.slow(2 * grey.w * grey.h);
    const share = (m: Mask): number => m.data.reduce((a, b) => a + b, 0) / m.data.length;
    const movedBy = (x: number, y: number): Homography => [1, 0, x, 0, 1, y, 0, 0, 1];
    if (begin) {
      const c = shot.corrections.find((x) => x.id === correction);
      const t = c && allTerms(c.terms).find((x) => x.id === term);
      const mask = c && t && isOp(t) ? await this.found(shot, correction, term) : null;
      if (!c || !t || !isOp(t) || !mask || !mask.data.includes(1))
        throw new RangeError('Nothing is in the region at this frame: press or paint on what you mean first');
      const { s } = sizeOf(grey.w, grey.h);
      const strokes = strokesAt(t.strokes ?? [], shot.frame, s, c.fit, t.track).filter((x) => x.keep);
      const room = (Number(t.use.params['brushPx'] ?? 8) * s) / 2;
      const holder = new Holder(
        mask,
        strokes.flatMap((x) => x.points),
        room,
        goes.map(([x, y]) => [x * s, y * s]),
      );
      const track = { at: t.track?.at ?? shot.frame, path: t.track?.path ?? [] };
      const base = t.track ? mapAt(t.track, shot.frame) : STILL;
      this.holds.set(run, { holder, s, track, base, grey });
      for (const k of this.holds.keys()) if (this.holds.size > RUNS) this.holds.delete(k);
      const here = { h: STILL, along: STILL, quality: 1, lost: false, why: '', renewed: false, held: false };
      return { ...here, share: share(mask) };
    }
    const r = this.holds.get(run);
    if (!r) throw new RunEnded('The run that held a region was ended');
    const withThis = (h: Homography): Track => ({
      ...r.track,
      path: [
        ...r.track.path.filter((p) => p.frame !== shot.frame),
        { frame: shot.frame, h: multiplyMaps(h, r.base) },
      ].sort((a, b) => a.frame - b.frame),
    });
    const held = await r.holder.step(
      async ([dx, dy]) => {
        const found = await this.found(shot, correction, term, withThis(movedBy(dx / r.s, dy / r.s)));
        // What the run itself works out between two finds.
        this.h.slow(2 * grey.w * grey.h);
        return found ?? { w: 1, h: 1, data: new Uint8Array(1) };
      },
      (before) => motionOf(before, r.s, r.grey, grey),
    );
    r.grey = grey;
    const [h, along] = [held.by, held.along].map(([x, y]) => movedBy(x / r.s, y / r.s)) as [Homography, Homography];
    r.track = withThis(h);
    const why = held.lost
      ? 'much less, much more or another thing than just before is found here: something may pass in front'
      : '';
    return { h, along, quality: held.quality, lost: held.lost, why, renewed: false, held: false, share: held.share };
  }
}
/** How what a mask holds moved from one frame to the next, in pixels of the mask; null: it cannot be told. */
function motionOf(m: Mask, s: number, from: Grey, to: Grey): [number, number] | null {
  const outline = outlineOf(Float32Array.from(m.data), m.w, m.h);
  if (!outline) return null;
  try {
    const r = new Follower(
      from,
      outline.map(([x, y]) => [x / s, y / s] as const),
      'position',
    ).step(to);
    return r.lost ? null : [s * r.h[2]!, s * r.h[5]!];
  } catch (e) {
    // Too little in it to follow.
    if (e instanceof RangeError) return null;
    throw e;
  }
}

/** What a run that holds a region needs of one frame to the next. */
interface Hold {
  holder: Holder;
  /** Pixels of the mask over those of the picture. */
  s: number;
  /** Path of the part, with what was found so far, and what it is at the frame where the run began. */
  track: Track;
  base: Homography;
  /** The frame before. */
  grey: Grey;
}

/** Of the matte so much, at its top and bottom and at either side, is left out: what lies apart is no part of it. */
const APART = 0.08;
/** Strips from top to bottom whose sides make the outline. */
const STRIPS = 24;
/** An outline about what is in a correction's region, strip by strip; null where nothing is. */
export async function about(h: Held, { shot, correction }: Requests['about']['in']): Promise<Requests['about']['out']> {
  const step = (await h.run(shot, correction)).steps.get(correction);
  if (!step?.matte) return null;
  const { input: p, matte } = step;
  h.slow(p.w * p.h);
  return h.ev.arena.look((v) => outlineOf(matteOf(v, p, matte)!, p.w, p.h));
}
/** Of a matte: down its right side and up its left one. */
function outlineOf(m: Float32Array, w: number, h: number): [number, number][] | null {
  const rows = new Float64Array(h);
  for (let y = 0, i = 0; y < h; y++) for (let x = 0; x < w; x++, i++) if (m[i]! > 0.5) rows[y]!++;
  const down = middle(rows);
  if (!down) return null;
  const n = Math.max(1, Math.min(STRIPS, down[1] - down[0]));
  const right: [number, number][] = [];
  const left: [number, number][] = [];
  for (let k = 0; k < n; k++) {
    const [y0, y1] = [k, k + 1].map((j) => Math.round(down[0] + ((down[1] - down[0]) * j) / n)) as [number, number];
    const columns = new Float64Array(w);
    for (let y = y0; y < y1; y++) for (let x = 0; x < w; x++) if (m[y * w + x]! > 0.5) columns[x]!++;
    const across = middle(columns);
    if (!across) continue;
    right.push([across[1], y0], [across[1], y1]);
    left.push([across[0], y0], [across[0], y1]);
  }
  return [...right, ...left.reverse()];
}
/** From where to where most of what was counted lies. */
function middle(counts: Float64Array): [from: number, to: number] | null {
  const all = counts.reduce((a, n) => a + n, 0);
  if (all === 0) return null;
  let [sum, from] = [0, -1];
  for (let i = 0; i < counts.length; i++) {
    sum += counts[i]!;
    if (from < 0 && sum > APART * all) from = i;
    if (sum >= (1 - APART) * all) return [from, i + 1];
  }
  return [from, counts.length];
}
