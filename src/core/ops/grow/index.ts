/**
 * Grow and choke: every pixel takes the largest (or least) of the matte within a round reach, parts of a pixel
 * included: the matte is taken to run straight between the middles of pixels. Looked at are all whole places within the
 * reach, where its circle crosses rows and columns, and its four diagonals: on straight edges of any slope that is
 * within 0.08 px. A soft edge keeps its slope.
 */
import { defineTidyFrameOp } from '../../op/contract';
import type { FrameRun } from '../../op/contract';
import { short } from '../../op/words';
import { params } from './params';

/** Columns of a row that are looked at together: where all that they reach is one value they keep it. */
export const GROUP = 16;
const DIAGONAL = Math.SQRT1_2;

/** Places between pixels on the circle: whole part and rest. */
function between(r: number): number[] {
  const out: number[] = [];
  const add = (x: number, y: number): void => {
    const [ix, iy] = [Math.floor(x), Math.floor(y)];
    const [fx, fy] = [Math.fround(x - ix), Math.fround(y - iy)];
    if (fx > 0 || fy > 0) out.push(ix, iy, fx, fy);
  };
  for (let i = -Math.floor(r); i <= r; i++) {
    const half = Math.sqrt(r * r - i * i);
    for (const s of [-1, 1]) {
      add(s * half, i);
      add(i, s * half);
    }
  }
  for (const sx of [-1, 1]) for (const sy of [-1, 1]) add(sx * r * DIAGONAL, sy * r * DIAGONAL);
  return out;
}
const held = (i: number, n: number): number => (i < 0 ? 0 : i >= n ? n - 1 : i);
const f = Math.fround;

/** Least and largest value of every group of a row. */
function scan(_: Float32Array, { src, work, w, y0, y1 }: FrameRun): void {
  for (let y = y0; y < y1; y++)
    for (let g = 0; g * GROUP < w; g++) {
      let [lo, hi] = [1, 0];
      for (let x = g * GROUP; x < Math.min(w, (g + 1) * GROUP); x++) {
        const v = src[0]![y * w + x]!;
        const u = v > 0 ? (v < 1 ? v : 1) : 0;
        lo = Math.min(lo, u);
        hi = Math.max(hi, u);
      }
      work[0]![y * w + g] = lo;
      work[1]![y * w + g] = hi;
    }
}
function grow(block: Float32Array, { src, dst, work, w, h, y0, y1 }: FrameRun): void {
  const [choke, R, reach, count] = block as unknown as number[] & { length: 4 };
  const [rows, dots] = [4, 5 + 2 * R!];
  const m = src[0]!;
  const groups = Math.ceil(w / GROUP);
  /** The least is the largest of the negatives. */
  const at = (x: number, y: number): number => {
    const v = m[held(y, h) * w + held(x, w)]!;
    const u = v > 0 ? (v < 1 ? v : 1) : 0;
    return choke ? -u : u;
  };
  for (let y = y0; y < y1; y++)
    for (let g = 0; g < groups; g++) {
      const [from, to] = [g * GROUP, Math.min(w, (g + 1) * GROUP)];
      let [lo, hi] = [1, 0];
      const first = Math.floor(Math.max(0, from - reach!) / GROUP);
      const last = Math.floor(Math.min(w - 1, to - 1 + reach!) / GROUP);
      for (let yy = y - reach!; yy <= y + reach!; yy++)
        for (let k = first; k <= last; k++) {
          lo = Math.min(lo, work[0]![held(yy, h) * w + k]!);
          hi = Math.max(hi, work[1]![held(yy, h) * w + k]!);
        }
      for (let x = from; x < to; x++) {
        if (lo === hi) {
          dst[0]![y * w + x] = lo;
          continue;
        }
        let best = -1;
        for (let dy = -R!; dy <= R!; dy++)
          for (let dx = -block[rows + dy + R!]!; dx <= block[rows + dy + R!]!; dx++)
            best = Math.max(best, at(x + dx, y + dy));
        for (let i = 0; i < count!; i++) {
          const [ix, iy, fx, fy] = [0, 1, 2, 3].map((c) => block[dots + 4 * i + c]!) as [
            number,
            number,
            number,
            number,
          ];
          const [a, b] = [at(x + ix, y + iy), at(x + ix + 1, y + iy)];
          const [c, d] = [at(x + ix, y + iy + 1), at(x + ix + 1, y + iy + 1)];
          const top = f(a + f(fx * f(b - a)));
          const low = f(c + f(fx * f(d - c)));
          best = Math.max(best, f(top + f(fy * f(low - top))));
        }
        // Between two values the rounded way may end a little above both.
        best = Math.min(best, choke ? -lo : hi);
        // Adding 0 takes the sign from a zero.
        dst[0]![y * w + x] = choke ? -best + 0 : best;
      }
    }
}

export default defineTidyFrameOp<typeof params>({
  id: 'grow',
  title: 'Grow',
  doc:
    'Moves the edge of the matte outwards, or inwards below 0 (a choke), by parts of a pixel, alike in every ' +
    'direction; a soft edge keeps its slope.',
  version: 1,
  params,
  refs: [
    'dilation and erosion of a grey picture by a flat disc: J. Serra, "Image analysis and mathematical morphology", ' +
      '1982; erosion as the dual of dilation',
  ],
  edge: 'Beyond the border the nearest pixel counts. 0 changes nothing. NaN counts as 0.',
  migrations: [],
  /** Block: choke or not, whole reach, halo, places between pixels; half widths of the rows; these places. */
  prepare({ byPx }) {
    const r = Math.abs(byPx);
    const R = Math.floor(r);
    const rows = Array.from({ length: 2 * R + 1 }, (_, i) => Math.floor(Math.sqrt(r * r - (i - R) ** 2) + 1e-9));
    const dots = between(r);
    return Float32Array.of(byPx < 0 ? 1 : 0, R, Math.ceil(r) + 1, dots.length / 4, ...rows, ...dots);
  },
  haloPx: ({ byPx }) => Math.ceil(Math.abs(byPx)) + 1,
  // The third holds the matte within 0 and 1, for kernels that look at it many times.
  workPlanes: 3,
  passes: () => [{ name: 'scan' }, { name: 'grow' }],
  kernels: { scan, grow },
  isNoOp: (p) => p.byPx === 0,
  place: 50,
  added: { byPx: 1 },
  say: (p) => [p.byPx < 0 ? `choked ${short(-p.byPx)} px` : `grown ${short(p.byPx)} px`],
});
