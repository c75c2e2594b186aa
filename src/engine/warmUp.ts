/**
 * What grows over a whole frame is long code that a browser first runs slowly, and quickly only once it has run for a
 * while: a first press took twice as long as a third one. While nobody asks for anything it is run here over a small
 * picture, in steps (the first ones of up to 0.1 s); what comes of it is thrown away.
 */
import { ops } from '../core/ops/registry.gen';
import { plainContext } from '../core/op/contract';
import type { FrameRun, Stroke } from '../core/op/contract';
import { defaultsOf } from '../core/op/params';

const [W, H] = [56, 36];
/** So often each, a second or two of work: what that gains stands in docs/measured.md; more was not tried. */
const ROUNDS = 8;
/** A thread that nobody has asked for so long begins. */
export const QUIET_MS = 2500;

/** A round thing before a wall of nearly its colour: not clear, so that all that can be tried is tried. */
function picture(): Float32Array[] {
  const planes = [0, 1, 2].map(() => new Float32Array(W * H));
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const inside = ((x - 29) / 11) ** 2 + ((y - 18) / 13) ** 2 < 1;
    const light = 1 - 0.01 * Math.abs(x - 23) + 0.02 * (((x * 7 + y * 13) % 5) - 2);
    const c = inside ? [0.68, 0.5, 0.41] : [0.64, 0.48, 0.42];
    c.forEach((v, k) => (planes[k]![i] = v * light));
  }
  return planes;
}
const strokes: readonly Stroke[] = [
  { keep: true, points: [[27, 18]] },
  {
    keep: false,
    points: [
      [4, 4],
      [6, 30],
    ],
  },
];

/** A step each time it is asked. What fails is left: whoever wants it is told then. */
export function* warmUp(rounds = ROUNDS): Generator<void, void, void> {
  const rgb = picture();
  const plane = (): Float32Array => new Float32Array(W * H);
  for (let round = 0; round < rounds; round++)
    for (const op of ops) {
      if (op.kind !== 'key' || op.area !== 'frame' || !op.plain) continue;
      const block = op.prepare({ ...defaultsOf(op.params), brushPx: 4 } as never, {
        ...plainContext,
        // With what is left out, and by what is kept alone.
        strokes: round % 2 === 0 ? strokes : strokes.slice(0, 1),
      });
      const { workPlanes } = op;
      const spare =
        typeof workPlanes === 'number' ? workPlanes : (workPlanes as (w: number, h: number) => number)(W, H);
      const run: FrameRun = {
        ...{ src: [], dst: [plane()], work: Array.from({ length: spare }, plane), picture: rgb },
        ...{ scratch: new Int32Array(28 * (W + 8)), w: W, h: H, y0: 0, y1: H },
      };
      for (const pass of op.passes(block))
        for (let piece = 0; piece < (pass.pieces ?? 1); piece++) {
          try {
            op.kernels[pass.name]!(block, pass.pieces ? { ...run, y0: piece, y1: piece + 1 } : run);
          } catch (e) {
            // Uncaught it would end the thread.
            console.warn(`${op.title} could not be run in:`, e);
            return;
          }
          yield;
        }
    }
}
