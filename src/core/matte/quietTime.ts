/**
 * A quieter picture by what the frames beside it show of the same places: each block is found again in the other frame,
 * and a pixel takes the mean with what it finds there as far as that is the same but for noise. For keys alone.
 *
 * Blocks are matched on luma from an eighth of the detail to all of it (hierarchical block matching: M. Bierling,
 * SPIE 1001, 1988); what differs by more than noise does not count (as in temporal non-local means: A. Buades,
 * B. Coll, J.-M. Morel, CVPR 2005), so that nothing trails.
 */
export interface Rgb {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}
interface Level {
  p: Float32Array;
  w: number;
  h: number;
}
/** Pixels of a block at full size, and halvings on the way to the coarsest level. */
const BLOCK = 16;
const LEVELS = 2;
/** Pixels that are looked about in at the coarsest level, either way, and at each finer one. */
const SEARCH = 5;
const REFINE = 1;
/** Staying is believed unless moving is better by a tenth: where all is alike nothing wanders. */
const STAYS = 0.9;
/** Times the noise of two frames: up to the first a difference is noise, from the second on another thing. */
const SAME = { from: 1.3, to: 2.2 };

const lumaOf = ({ r, g, b }: Rgb, n: number): Float32Array => {
  const y = new Float32Array(n);
  // What is no number matches nothing and stays.
  for (let i = 0; i < n; i++) {
    const v = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
    y[i] = v > -10 && v < 10 ? v : 0;
  }
  return y;
};
function halved({ p, w, h }: Level): Level {
  const [W, H] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
  const out = new Float32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [x0, y0] = [2 * x, 2 * y];
      const [x1, y1] = [Math.min(w - 1, x0 + 1), Math.min(h - 1, y0 + 1)];
      out[y * W + x] = 0.25 * (p[y0 * w + x0]! + p[y0 * w + x1]! + p[y1 * w + x0]! + p[y1 * w + x1]!);
    }
  return { p: out, w: W, h: H };
}
const pyramid = (p: Float32Array, w: number, h: number): Level[] => {
  const out: Level[] = [{ p, w, h }];
  for (let k = 0; k < LEVELS; k++) out.push(halved(out.at(-1)!));
  return out;
};
/** Sum of absolute differences of a block; ends when it is over `most`. */
function differs(a: Level, b: Level, x: number, y: number, size: number, dx: number, dy: number, most: number): number {
  let sum = 0;
  const [x1, y1] = [Math.min(a.w, x + size), Math.min(a.h, y + size)];
  for (let v = y; v < y1; v++) {
    const row = Math.min(a.h - 1, Math.max(0, v + dy)) * a.w;
    for (let u = x; u < x1; u++) {
      const d = a.p[v * a.w + u]! - b.p[row + Math.min(a.w - 1, Math.max(0, u + dx))]!;
      sum += d < 0 ? -d : d;
    }
    if (sum > most) return sum;
  }
  return sum;
}
/** Where each block of a lies in b: dx, dy of block after block, in whole pixels. */
function motion(a: readonly Level[], b: readonly Level[], tick: () => void): Int16Array {
  const [cols, rows] = [Math.ceil(a[0]!.w / BLOCK), Math.ceil(a[0]!.h / BLOCK)];
  const to = new Int16Array(2 * cols * rows);
  for (let level = LEVELS; level >= 0; level--) {
    const size = BLOCK >> level;
    const [p, q] = [a[level]!, b[level]!];
    const about = level === LEVELS ? SEARCH : REFINE;
    for (let j = 0; j < rows; j++) {
      tick();
      for (let i = 0; i < cols; i++) {
        const k = 2 * (j * cols + i);
        const [x, y] = [i * size, j * size];
        if (x >= p.w || y >= p.h) continue;
        const [sx, sy] = level === LEVELS ? [0, 0] : [2 * to[k]!, 2 * to[k + 1]!];
        let best = STAYS * differs(p, q, x, y, size, 0, 0, Infinity);
        let [bx, by] = [0, 0];
        for (let dy = sy - about; dy <= sy + about; dy++)
          for (let dx = sx - about; dx <= sx + about; dx++) {
            const d = differs(p, q, x, y, size, dx, dy, best);
            if (d < best) [best, bx, by] = [d, dx, dy];
          }
        to[k] = bx;
        to[k + 1] = by;
      }
    }
  }
  return to;
}
/** Standard deviation of the noise of a plane: the median of second differences along rows (Immerkaer 1996). */
function noiseOf(p: Float32Array, w: number, h: number): number {
  const inner = w - 2;
  const n = inner * h;
  if (inner <= 0) return 0;
  const step = Math.max(1, Math.floor(n / 8000) | 1);
  const d: number[] = [];
  for (let k = 0; k < n; k += step) {
    const i = Math.floor(k / inner) * w + 1 + (k % inner);
    d.push(Math.abs(p[i - 1]! - 2 * p[i]! + p[i + 1]!));
  }
  d.sort((x, y) => x - y);
  return d[d.length >> 1]! / 0.6745 / Math.sqrt(6);
}

/**
 * @param now the frame, `others` those beside it, planes of w by h
 * @param to where the quieter planes go
 * @param tick told often; may throw to end the work
 */
export function overFrames(
  now: Rgb,
  others: readonly Rgb[],
  w: number,
  h: number,
  to: Rgb,
  tick: () => void = () => {},
): void {
  const n = w * h;
  const [dst, src] = [
    [to.r, to.g, to.b],
    [now.r, now.g, now.b],
  ];
  const y = lumaOf(now, n);
  // Noise of either frame; a whole pixel of motion leaves some difference beside it.
  const least = (2 * 0.5) / 255;
  const noise = Math.max(least, noiseOf(y, w, h)) * Math.SQRT2;
  const [from2, to2] = [(SAME.from * noise) ** 2, (SAME.to * noise) ** 2];
  const [sums, weight] = [src.map((p) => Float32Array.from(p)), new Float32Array(n).fill(1)];
  const levels = pyramid(y, w, h);
  const cols = Math.ceil(w / BLOCK);
  const [e, column] = [new Float32Array(n), new Float32Array(w)];
  const from = new Int32Array(n);
  for (const other of others) {
    const q = [other.r, other.g, other.b];
    const moved = motion(levels, pyramid(lumaOf(other, n), w, h), tick);
    for (let v = 0; v < h; v++) {
      if (v % 32 === 0) tick();
      for (let u = 0; u < w; u++) {
        const i = v * w + u;
        const k = 2 * ((v >> 4) * cols + (u >> 4));
        const [a, b] = [u + moved[k]!, v + moved[k + 1]!];
        const j = a < 0 || b < 0 || a >= w || b >= h ? -1 : b * w + a;
        from[i] = j;
        let s = 1e3;
        if (j >= 0) {
          s = 0;
          for (let c = 0; c < 3; c++) s += (src[c]![i]! - q[c]![j]!) ** 2;
        }
        e[i] = s >= 0 && s < 1e3 ? s / 3 : 1e3;
      }
    }
    // A difference is judged over 3 by 3 pixels: one alone is noise itself.
    for (let v = 0; v < h; v++) {
      const [up, low] = [Math.max(0, v - 1) * w, Math.min(h - 1, v + 1) * w];
      for (let u = 0; u < w; u++) column[u] = e[up + u]! + e[v * w + u]! + e[low + u]!;
      for (let u = 0; u < w; u++) {
        const i = v * w + u;
        const d = (column[Math.max(0, u - 1)]! + column[u]! + column[Math.min(w - 1, u + 1)]!) / 9;
        if (!(d < to2) || from[i]! < 0) continue;
        const t = d <= from2 ? 1 : (to2 - d) / (to2 - from2);
        const by = t * t * (3 - 2 * t);
        for (let c = 0; c < 3; c++) sums[c]![i]! += by * q[c]![from[i]!]!;
        weight[i]! += by;
      }
    }
  }
  for (let c = 0; c < 3; c++)
    for (let i = 0; i < n; i++) dst[c]![i] = weight[i] === 1 ? src[c]![i]! : sums[c]![i]! / weight[i]!;
}
