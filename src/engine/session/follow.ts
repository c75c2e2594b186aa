/** Runs that follow a shape, each held while it goes on; frame by frame, so that whoever asks can stop between two. */
import { Follower } from '../../core/track/follow';
import type { Grey } from '../../core/track/image';
import type { FrameRef, Requests } from '../../protocol/messages';
import { rgbOf } from '../samples';
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
