/** Runs that follow a shape, each held while it goes on; frame by frame, so that whoever asks can stop between two. */
import { Follower } from '../../core/track/follow';
import type { Grey } from '../../core/track/image';
import type { FrameRef, Requests } from '../../protocol/messages';
import { matteOf, rgbOf } from '../samples';
import type { Held } from './held';

/** Of runs that were left in their middle only so many stay. */
const RUNS = 4;

export class Follows {
  private readonly runs = new Map<string, Follower>();
  constructor(private readonly h: Held) {}

  /** Luma of the picture as it came: what corrections do to it must not move a shape. */
  private async grey(ref: FrameRef): Promise<Grey> {
    const p = await this.h.full(ref);
    return this.h.ev.arena.look((v) => {
      const { r, g, b } = rgbOf(v, p);
      const data = new Float32Array(r.length);
      for (let i = 0; i < data.length; i++) data[i] = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
      return { w: p.w, h: p.h, data };
    });
  }
  async step({ run, at, begin }: Requests['follow']['in']): Promise<Requests['follow']['out']> {
    this.h.ev.begin();
    const grey = await this.grey(at);
    this.h.slow(grey.w * grey.h);
    if (begin) {
      this.runs.set(run, new Follower(grey, begin.outline, begin.kind));
      for (const k of this.runs.keys()) if (this.runs.size > RUNS) this.runs.delete(k);
      return null;
    }
    const f = this.runs.get(run);
    if (!f) throw new RangeError('The run that followed was ended: start it again');
    return f.step(grey);
  }
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
