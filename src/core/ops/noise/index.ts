/** Median of the matte over a disc: single pixels and thin threads go, edges stay where they are. */
import { defineTidyAreaOp } from '../../op/contract';
import { short } from '../../op/words';
import { params } from './params';

/** Columns and rows of a disc of whole pixels: x^2 + y^2 <= r^2 + r, so that 1 is the square of nine. */
export const discRow = (r: number, dy: number): number => Math.floor(Math.sqrt(r * r + r - dy * dy));

/** The k-th smallest of the first n numbers, which are moved about (C. A. R. Hoare, "Algorithm 65: FIND", 1961). */
export function select(a: Float32Array, n: number, k: number): number {
  let [lo, hi] = [0, n - 1];
  while (lo < hi) {
    const x = a[k]!;
    let [i, j] = [lo, hi];
    do {
      while (a[i]! < x) i++;
      while (x < a[j]!) j--;
      if (i <= j) {
        const t = a[i]!;
        a[i++] = a[j]!;
        a[j--] = t;
      }
    } while (i <= j);
    if (j < k) lo = i;
    if (k < i) hi = j;
  }
  return a[k]!;
}
/** As many as the largest disc holds. */
const seen = new Float32Array(97);
const held = (i: number, n: number): number => (i < 0 ? 0 : i >= n ? n - 1 : i);

export default defineTidyAreaOp<typeof params>({
  id: 'noise',
  title: 'Noise',
  doc: 'Takes single pixels, threads and grain out of the matte by a median over a disc; straight edges stay in place.',
  version: 1,
  params,
  refs: [
    'median filter: J. W. Tukey, "Exploratory data analysis", 1977, chapter 7',
    'selection: C. A. R. Hoare, "Algorithm 65: FIND", CACM 4, 1961',
  ],
  edge: 'Beyond the border the nearest pixel counts. Radius under half a pixel changes nothing. NaN counts as 0.',
  migrations: [],
  /** Block: radius in whole pixels. */
  prepare: ({ radiusPx }) => Float32Array.of(Math.round(radiusPx)),
  haloPx: ({ radiusPx }) => Math.round(radiusPx),
  passes: () => ['median'],
  kernels: {
    median(k, { src, dst, w, h, y0, y1 }) {
      const r = k[0]!;
      for (let y = y0; y < y1; y++)
        for (let x = 0; x < w; x++) {
          let n = 0;
          for (let dy = -r; dy <= r; dy++) {
            const row = held(y + dy, h) * w;
            const half = discRow(r, dy);
            for (let dx = -half; dx <= half; dx++) {
              const v = src[row + held(x + dx, w)]!;
              seen[n++] = v > 0 ? v : 0;
            }
          }
          dst[y * w + x] = select(seen, n, n >> 1);
        }
    },
  },
  isNoOp: (p) => Math.round(p.radiusPx) === 0,
  place: 40,
  added: { radiusPx: 1 },
  say: (p) => [`noise ${short(p.radiusPx)} px`],
});
