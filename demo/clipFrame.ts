/**
 * Frames of a clip in a process of its own. The camera stands: what does not move is traced once; of each frame only
 * blocks are traced again in which something moves, or a shadow of it.
 */
import { GRID, Tracer } from './render';
import type { Scene, Thing, V3 } from './render';
import { clipScenes } from './clipScenes';

export interface FrameResult {
  frame: number;
  /** Linear R, G, B interleaved. */
  light: Float32Array;
  truth: Record<string, Float32Array>;
  /** Share of the frame that was traced again. */
  traced: number;
}
const BLOCK = 8;

interface Picture {
  /** At the middle of each pixel, and what was hit there. */
  centre: Float32Array;
  hit: (Thing | null)[];
  /** Smoothed at edges. */
  light: Float32Array;
  tags: Map<string, Float32Array>;
}

class Painter {
  constructor(
    private readonly w: number,
    private readonly h: number,
  ) {}
  private readonly at = (t: Tracer, x: number, y: number): { rgb: V3; thing: Thing | null } => {
    const { rgb, thing } = t.trace((x * 2 - this.w) / this.h, 1 - (2 * y) / this.h);
    return { rgb: rgb.map((v) => Math.min(v, 6)) as V3, thing };
  };

  /** The blocks of a mask traced into a picture; left out: all of it. */
  paint(s: Scene, p: Picture, mask: Uint8Array | null, tags: readonly string[]): void {
    const { w, h } = this;
    const t = new Tracer(s);
    const bw = Math.ceil(w / BLOCK);
    const inside = (x: number, y: number): boolean =>
      !mask || mask[Math.floor(y / BLOCK) * bw + Math.floor(x / BLOCK)] === 1;
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        if (!inside(x, y)) continue;
        const { rgb, thing } = this.at(t, x + 0.5, y + 0.5);
        p.centre.set(rgb, 3 * (y * w + x));
        p.hit[y * w + x] = thing;
      }
    const cover = (thing: Thing | null, i: number, share: number): void => {
      if (!thing) return;
      const name = thing.cls === 'skin' ? `skin ${thing.tag}` : thing.tag;
      if (!tags.includes(name)) return;
      let m = p.tags.get(name);
      if (!m) p.tags.set(name, (m = new Float32Array(w * h)));
      m[i]! += share;
    };
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        if (!inside(x, y)) continue;
        const i = y * w + x;
        for (const m of p.tags.values()) m[i] = 0;
        const here = p.hit[i]!;
        const g = p.centre[3 * i + 1]!;
        const edge = [
          [-1, 0],
          [1, 0],
          [0, -1],
          [0, 1],
        ].some(([dx, dy]) => {
          const [nx, ny] = [x + dx!, y + dy!];
          if (nx < 0 || ny < 0 || nx >= w || ny >= h) return false;
          const k = p.centre[3 * (ny * w + nx) + 1]!;
          return p.hit[ny * w + nx]?.tag !== here?.tag || Math.abs(g - k) > 0.1 * (g + k) + 0.01;
        });
        if (!edge) {
          p.light.set(p.centre.subarray(3 * i, 3 * i + 3), 3 * i);
          cover(here, i, 1);
          continue;
        }
        const sum: V3 = [0, 0, 0];
        for (const [ox, oy] of GRID) {
          const { rgb, thing } = this.at(t, x + ox, y + oy);
          rgb.forEach((v, c) => (sum[c as 0] += v / 4));
          cover(thing, i, 0.25);
        }
        p.light.set(sum, 3 * i);
      }
  }
  empty(): Picture {
    const n = this.w * this.h;
    return {
      centre: new Float32Array(3 * n),
      hit: new Array<Thing | null>(n).fill(null),
      light: new Float32Array(3 * n),
      tags: new Map(),
    };
  }
  /** Blocks whose middle differs from a picture's, and those about them. */
  changed(s: Scene, still: Picture): Uint8Array {
    const { w, h } = this;
    const t = new Tracer(s);
    const [bw, bh] = [Math.ceil(w / BLOCK), Math.ceil(h / BLOCK)];
    const out = new Uint8Array(bw * bh);
    for (let by = 0; by < bh; by++)
      for (let bx = 0; bx < bw; bx++) {
        const x = Math.min(w - 1, bx * BLOCK + BLOCK / 2);
        const y = Math.min(h - 1, by * BLOCK + BLOCK / 2);
        const { rgb, thing } = this.at(t, x + 0.5, y + 0.5);
        const i = y * w + x;
        const differs =
          thing?.tag !== still.hit[i]?.tag || rgb.some((v, c) => Math.abs(v - still.centre[3 * i + c]!) > 0.003);
        if (!differs) continue;
        for (let dy = -2; dy <= 2; dy++)
          for (let dx = -2; dx <= 2; dx++) {
            const [nx, ny] = [bx + dx, by + dy];
            if (nx >= 0 && ny >= 0 && nx < bw && ny < bh) out[ny * bw + nx] = 1;
          }
      }
    return out;
  }
}

if (process.send) {
  const { clip, frames } = JSON.parse(process.argv[2]!) as { clip: string; frames: number[] };
  const c = clipScenes().find((x) => x.name === clip)!;
  const painter = new Painter(...c.size);
  const still = painter.empty();
  painter.paint(c.still, still, null, c.truth);
  // While the shutter is open the picture is taken so often; without it once.
  const times = c.shutter > 0 ? 4 : 1;
  for (const frame of frames) {
    const light = new Float32Array(still.light.length);
    let truth: Record<string, Float32Array> = {};
    let traced = 0;
    for (let k = 0; k < times; k++) {
      const s = c.at(frame + c.shutter * ((k + 0.5) / times - 0.5));
      const mask = painter.changed(s, still);
      const p: Picture = {
        centre: still.centre.slice(),
        hit: still.hit.slice(),
        light: still.light.slice(),
        tags: new Map([...still.tags].map(([tag, m]) => [tag, m.slice()])),
      };
      painter.paint(s, p, mask, c.truth);
      p.light.forEach((v, i) => (light[i]! += v / times));
      truth = Object.fromEntries(p.tags);
      traced += mask.reduce((a, b) => a + b, 0) / mask.length / times;
    }
    const result: FrameResult = { frame, light, truth, traced };
    // A frame is sent before the next is traced: what waits would all wait for the end.
    await new Promise<void>((ok, fail) => process.send!(result, (e: Error | null) => (e ? fail(e) : ok())));
  }
}
