/** Small islands of the matte taken out, by true connected components (corners touch). */
import { defineTidyFrameOp } from '../../op/contract';
import { discArea, dropIslands } from '../../op/components';
import { short } from '../../op/words';
import { params } from './params';

export default defineTidyFrameOp<typeof params>({
  id: 'specks',
  title: 'Specks',
  doc:
    'Takes out islands of the matte that are smaller than a disc of the given diameter. An island is what hangs ' +
    'together, corners included, of pixels from "in from" on; what is fainter around it goes with it, unless an ' +
    'island that stays hangs on it or it covers more than four times the disc.',
  version: 1,
  params,
  refs: [
    'J. Hopcroft, J. Ullman, "Set merging algorithms", SIAM J. Comput. 2, 1973',
    'connected components, 8-neighbourhood: any textbook of image processing; float64 twin in the test',
  ],
  edge: 'Diameter 0 changes nothing. What stays keeps its bits. NaN counts as out and keeps its bits.',
  migrations: [],
  /** Block: pixels that an island needs to stay, matte from which a pixel counts. */
  prepare: ({ sizePx, fromPct }) => Float32Array.of(Math.max(1, Math.ceil(discArea(sizePx))), fromPct / 100),
  haloPx: () => 'all',
  workPlanes: 4,
  passes: () => [{ name: 'drop', whole: true }],
  kernels: {
    drop(block, { src, dst, work, w, h }) {
      const ints = work.map((p) => new Int32Array(p.buffer, p.byteOffset, p.length));
      dropIslands(src[0]!, dst[0]!, ints as unknown as Four, w, h, block[1]!, block[0]!, true);
    },
  },
  isNoOp: (p) => discArea(p.sizePx) <= 1,
  place: 20,
  added: { sizePx: 12 },
  say: (p) => [`specks under ${short(p.sizePx)} px out`],
});
type Four = [Int32Array, Int32Array, Int32Array, Int32Array];
