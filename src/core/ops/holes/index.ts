/** Small holes in the matte filled: small islands of its complement, whose pixels touch by sides only. */
import { defineTidyFrameOp } from '../../op/contract';
import { discArea, dropIslands } from '../../op/components';
import { short } from '../../op/words';
import { params } from './params';

export default defineTidyFrameOp<typeof params>({
  id: 'holes',
  title: 'Holes',
  doc:
    'Fills holes that are smaller than a disc of the given diameter. A hole is what hangs together, by sides, of ' +
    'pixels up to "hole up to"; what is only a little short of full around it is filled with it, unless a hole that ' +
    'stays hangs on it or it covers more than four times the disc.',
  version: 1,
  params,
  refs: [
    'J. Hopcroft, J. Ullman, "Set merging algorithms", SIAM J. Comput. 2, 1973',
    'the complement is joined by 4 neighbours where the figure is joined by 8: A. Rosenfeld, "Connectivity in ' +
      'digital pictures", J. ACM 17, 1970',
  ],
  edge: 'Diameter 0 changes nothing. What stays keeps its bits. NaN counts as full and keeps its bits.',
  migrations: [],
  /** Block: pixels that a hole needs to stay, how far from full a pixel counts. */
  prepare: ({ sizePx, belowPct }) => Float32Array.of(Math.max(1, Math.ceil(discArea(sizePx))), 1 - belowPct / 100),
  haloPx: () => 'all',
  workPlanes: 5,
  passes: () => [{ name: 'fill', whole: true }],
  kernels: {
    fill(block, { src, dst, work, w, h }) {
      const [open, ...rest] = work as [Float32Array, ...Float32Array[]];
      const m = src[0]!;
      for (let i = 0; i < w * h; i++) open[i] = 1 - m[i]!;
      const ints = rest.map((p) => new Int32Array(p.buffer, p.byteOffset, p.length));
      dropIslands(open, dst[0]!, ints as unknown as Four, w, h, block[1]!, block[0]!, false);
      // Where the complement was taken out the matte is full; elsewhere it keeps its bits.
      for (let i = 0; i < w * h; i++) dst[0]![i] = open[i]! > 0 && dst[0]![i]! === 0 ? 1 : m[i]!;
    },
  },
  isNoOp: (p) => discArea(p.sizePx) <= 1,
  place: 30,
  added: { sizePx: 12 },
  say: (p) => [`holes under ${short(p.sizePx)} px filled`],
});
type Four = [Int32Array, Int32Array, Int32Array, Int32Array];
