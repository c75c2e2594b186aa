/**
 * Detail softened or sharpened: luma is split into a picture beneath, which keeps edges, and what lies on it, by a
 * guided filter whose guide is the luma itself (K. He, J. Sun, X. Tang, "Guided image filtering", IEEE PAMI 35, 2013,
 * 3.2 and
 * 4.1); the difference goes to all three channels alike, so that colour difference stays.
 */
import { defineAreaOp } from '../../op/contract';
import type { FrameRun } from '../../op/contract';
import { guide, said, windows } from '../../op/windows';
import { formatNumber } from '../../op/words';
import { params } from './params';

/** Finer than for edges, since a flat picture must stay: exact up to a radius of 125 px. */
const FINER = 2 ** 17;
const luma = ([r, g, b]: readonly Float32Array[], i: number): number =>
  0.2126 * r![i]! + 0.7152 * g![i]! + 0.0722 * b![i]!;

/** Per window: slope and offset of the line that stands for its luma. */
function lines(r: number, eps: number, run: FrameRun): void {
  const { w, src, work } = run;
  const n = (2 * r + 1) ** 2;
  windows(
    run,
    r,
    2,
    (x, y, at) => {
      const v = guide(luma(src, y * w + x), FINER);
      at[0] = v;
      at[1] = v * v;
    },
    (x, y, s) => {
      const mean = s[0]! / n;
      const spread = s[1]! / n - mean * mean;
      const k = spread / (spread + eps);
      work[0]![y * w + x] = said(k);
      work[1]![y * w + x] = said(mean - k * mean);
    },
  );
}
const fit = (block: Float32Array, run: FrameRun): void => lines(block[0]!, block[1]!, run);
const fitFiner = (block: Float32Array, run: FrameRun): void => lines(block[4]!, block[1]!, run);
/** Luma beneath the detail of a size: the mean of the lines of every window that holds the pixel. */
function beneath(r: number, run: FrameRun, put: (i: number, luma: number, under: number) => void): void {
  const { w, src, work } = run;
  const n = (2 * r + 1) ** 2;
  windows(
    run,
    r,
    2,
    (x, y, at) => {
      at[0] = work[0]![y * w + x]!;
      at[1] = work[1]![y * w + x]!;
    },
    (x, y, s) => {
      const i = y * w + x;
      const v = luma(src, i);
      put(i, v, (s[0]! * v + s[1]!) / n);
    },
  );
}
/** What is finer than asked is left out of it: that is where the detail that is acted on begins. */
const finer = (block: Float32Array, run: FrameRun): void =>
  beneath(block[4]!, run, (i, _, under) => void (run.work[2]![i] = under));
function apply(block: Float32Array, run: FrameRun): void {
  const [amount, from, band] = [block[2]!, block[3]!, block[4]! > 0];
  const { src, dst, work } = run;
  beneath(block[0]!, run, (i, v, under) => {
    const d = (band ? work[2]![i]! : v) - under;
    const size = Math.abs(d) - from;
    const by = amount * (size > 0 ? (d > 0 ? size : -size) : 0);
    for (let c = 0; c < 3; c++) dst[c]![i] = src[c]![i]! + by;
  });
}

export default defineAreaOp<typeof params>({
  id: 'detail',
  title: 'Detail',
  doc:
    'Softens or sharpens what is smaller than a size, without halos at edges: at a few pixels pores and texture, at ' +
    'tens the modelling of a face. What is finer than a size of its own may stay: pores on skin whose blotches go. ' +
    'Acts on luma alone; colour difference stays.',
  version: 2,
  params,
  refs: ['K. He, J. Sun, X. Tang, "Guided image filtering", IEEE PAMI 35, 2013', 'ITU-R BT.709-6 3.2 (luma)'],
  edge:
    'Beyond the border the picture stands mirrored. Values outside 0..1 live on; what is no number stays one, and ' +
    'counts as dark for its neighbours. Luma beyond -50 and 200 % is no edge of its own.',
  // What is finer was acted on as well: so it is where nothing is said of it.
  migrations: [{ from: 1, up: (p) => p }],
  /**
   * Block: radius in whole pixels, square of the step that is an edge, amount, what is too faint, radius of what stays
   * (0: none).
   */
  prepare: ({ amountPct, sizePx, finerPx, edgePct, fromPct }) =>
    Float32Array.of(
      Math.max(1, Math.min(125, Math.round(sizePx))),
      (edgePct / 100) ** 2,
      amountPct / 100,
      fromPct / 100,
      // What stays is smaller than what goes.
      Math.min(Math.round(finerPx), Math.max(0, Math.round(sizePx) - 1), 60),
    ),
  haloPx: ({ sizePx }) => 2 * Math.max(1, Math.round(sizePx)),
  workPlanes: 3,
  passes: (block) => [
    ...(block[4]! > 0 ? [{ name: 'fitFiner' }, { name: 'finer' }] : []),
    { name: 'fit' },
    { name: 'apply' },
  ],
  kernels: { fit, fitFiner, finer, apply },
  isNoOp: (p) => Math.abs(p.amountPct) < 0.005,
  say: (p) => [`detail ${formatNumber(p.amountPct, 0, true)} %`],
  brief: (p) => `${formatNumber(p.amountPct, 0, true)} %`,
});
