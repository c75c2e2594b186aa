/**
 * Hard cuts, from small copies of the frames. Two frames are one shot where most of the picture's blocks are found
 * again in the other, moved by a little, at any common level of light (block matching: J. Jain, A. Jain, IEEE Trans.
 * Communications 29, 1981). A cut stands out from its surroundings in time: a fast pan is unlike its neighbours for
 * many frames, a flash for one or two, after which the picture of before is back. Dissolves and fades are not looked
 * for.
 */

/** A small copy of a frame, its three channels as codes 0..1, row by row. */
export interface Glimpse {
  w: number;
  h: number;
  rgb: readonly [Float32Array, Float32Array, Float32Array];
}
/** Longest side of a glimpse. */
export const GLIMPSE_SIDE = 64;

const BLOCK = 8;
/** A block may have moved by so many pixels of the copy, a tenth of its width, either way. */
const MOVED = 6;
/** Differences of codes that noise, grain and coding leave in a copy. */
const NOISE = 0.012;

interface Normal {
  rgb: Float32Array[];
  /** Mean deviation of the whole frame, all channels. */
  spread: number;
  means: number[];
}
/** Without the common level of each channel: light that changes is no cut. */
function normal({ rgb }: Glimpse): Normal {
  let spread = 0;
  const means: number[] = [];
  const out = rgb.map((p) => {
    let mean = 0;
    for (const v of p) mean += Number.isFinite(v) ? v : 0;
    mean /= p.length;
    means.push(mean);
    const q = p.map((v) => (Number.isFinite(v) ? v - mean : 0));
    for (const v of q) spread += Math.abs(v) / (3 * p.length);
    return q;
  });
  return { rgb: out, spread, means };
}

/**
 * How unlike two frames are, wherever their parts may have moved to: 0 the same, about 1 for pictures that have nothing
 * to do with each other. Of unlike sizes: 1.
 */
export function unlike(a: Glimpse, b: Glimpse): number {
  if (a.w !== b.w || a.h !== b.h) return 1;
  const [p, q] = [normal(a), normal(b)];
  const { w, h } = a;
  // What the flatter of the two has to tell; of flat frames their mean colour tells.
  const scale = Math.min(p.spread, q.spread) + NOISE;
  const level = Math.max(...p.means.map((m, c) => Math.abs(m - q.means[c]!)));
  let [sum, blocks] = [0, 0];
  for (let y = 0; y < h; y += BLOCK)
    for (let x = 0; x < w; x += BLOCK) {
      const [bw, bh] = [Math.min(BLOCK, w - x), Math.min(BLOCK, h - y)];
      if (bw < BLOCK / 2 || bh < BLOCK / 2) continue;
      let best = Infinity;
      for (let dy = -MOVED; dy <= MOVED; dy++) {
        if (y + dy < 0 || y + dy + bh > h) continue;
        for (let dx = -MOVED; dx <= MOVED; dx++) {
          if (x + dx < 0 || x + dx + bw > w) continue;
          best = Math.min(best, blockDifference(p.rgb, q.rgb, x, y, dx, dy, bw, bh, w, best));
        }
      }
      sum += Math.min(1, Math.max(0, best - NOISE) / scale);
      blocks++;
    }
  const shape = blocks > 0 ? sum / blocks : 0;
  // Two flat frames (leader, black, a wall) have no blocks to find: a jump of level alone is half a cut, not less.
  return p.spread + q.spread < 2 * NOISE ? Math.max(shape, Math.min(1, 4 * level)) : shape;
}
/** Mean difference of a block and the moved one; given up where it is beyond `most` already. */
function blockDifference(
  p: readonly Float32Array[],
  q: readonly Float32Array[],
  x: number,
  y: number,
  dx: number,
  dy: number,
  bw: number,
  bh: number,
  w: number,
  most: number,
): number {
  const n = 3 * bw * bh;
  let d = 0;
  for (let v = 0; v < bh; v++) {
    const i = (y + v) * w + x;
    const j = (y + v + dy) * w + x + dx;
    for (let c = 0; c < 3; c++) {
      const [s, t] = [p[c]!, q[c]!];
      for (let u = 0; u < bw; u++) d += Math.abs(s[j + u]! - t[i + u]!);
    }
    if (d > most * n) return most;
  }
  return d / n;
}

export interface Cut {
  /** The first frame of what follows. */
  frame: number;
  /** How unlike it is to the one before, 0..1. */
  unlike: number;
}
/** A cut is at least so unlike ... */
const LEAST = 0.3;
/** ... and so many times what the frames beside it are. */
const ABOVE = 1.8;
/** A flash lasts for no more frames. */
const FLASH = 3;
/** What passes close by is gone after no more frames. */
const PASSES = 8;
/** Back: so much less unlike than the jump was. */
const BACK = 0.6;

/** Takes frames one after another, in order, and keeps only as many as a judgement needs. */
export class CutFinder {
  private frames: Glimpse[] = [];
  /** From the frame before to each of `frames`. */
  private change: number[] = [];
  /** Index of the first frame that is not judged yet; what lies before it is context. */
  private next = 1;

  /** @param at the number of the next frame that comes */
  constructor(private at = 0) {}

  /** Cuts that are certain with this frame: told some frames late. */
  push(g: Glimpse): Cut[] {
    const last = this.frames.at(-1);
    this.change.push(last ? unlike(last, g) : 0);
    this.frames.push(g);
    this.at++;
    return this.judge(this.frames.length - PASSES);
  }
  /** Cuts among the last frames. */
  end(): Cut[] {
    return this.judge(this.frames.length);
  }
  private judge(to: number): Cut[] {
    const out: Cut[] = [];
    for (; this.next < to; this.next++)
      if (isCut(this.frames, this.change, this.next))
        out.push({ frame: this.at - this.frames.length + this.next, unlike: this.change[this.next]! });
    const spare = this.next - PASSES - 2;
    if (spare > 0) {
      this.frames = this.frames.slice(spare);
      this.change = this.change.slice(spare);
      this.next -= spare;
    }
    return out;
  }
}
/** Cuts in a run of frames; `first` is the number of the first of them. */
export function findCuts(frames: readonly Glimpse[], first = 0): Cut[] {
  const finder = new CutFinder(first);
  return [...frames.flatMap((f) => finder.push(f)), ...finder.end()];
}
function isCut(frames: readonly Glimpse[], change: readonly number[], i: number): boolean {
  const c = change[i]!;
  if (c < LEAST) return false;
  const [before, after] = [change[i - 1]!, change[i + 1] ?? 0];
  if (c < ABOVE * Math.max(before, after)) return false;
  // What is unlike for several frames before or after is a whip, or something that passes close by.
  const passes = Math.min(before, change[i - 2] ?? 0) > LEAST || Math.min(after, change[i + 2] ?? 0) > LEAST;
  return !isBack(frames, i, c, passes ? PASSES : FLASH);
}
/** Whether what was there before is back within so many frames, or what comes was there so many frames before. */
function isBack(frames: readonly Glimpse[], i: number, c: number, within: number): boolean {
  for (let k = 1; k <= within; k++) {
    if (i + k < frames.length && unlike(frames[i - 1]!, frames[i + k]!) < BACK * c) return true;
    if (i - 1 - k >= 0 && unlike(frames[i - 1 - k]!, frames[i]!) < BACK * c) return true;
  }
  return false;
}
