/**
 * Every correction by itself at 1920x1080 on one thread, beside a plain copy of three planes: `npm run
 * bench:corrections [-- --only recolour]`. Each with all to do that it can, over a picture of skin and cloth with the
 * noise of a camera, and over noise of all colours, the worst there is. Exits non-zero where a goal is missed.
 */
import { parseArgs } from 'node:util';
import { newUse } from '../src/core/graph/plan.defaults';
import { compile } from '../src/core/graph/plan';
import type { BlockStep } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import type { StoredValues } from '../src/core/op/params';
import { ops } from '../src/core/ops/registry.gen';
import type { Plane } from '../src/engine/memory';
import { soloStages, timed } from '../testkit/bench';

const [W, H] = [1920, 1080];
const N = W * H;
const { values: given } = parseArgs({ options: { only: { type: 'string' } } });
/** Goals in ms: pixel operations, such in perceptual spaces, what looks at neighbours, noise reduction. */
const [PIXEL, PERCEPTUAL, NEAR, NOISE] = [30, 80, 60, 400];
/** Hue and value, up and down again, all round. */
const wave = (high: number): number[] => Array.from({ length: 12 }, (_, i) => [30 * i, i % 2 ? high : -high]).flat();
const bent = [0, 0, 0.25, 0.2, 0.75, 0.85, 1, 1];
const CORRECTIONS: readonly [op: string, goal: number, values: StoredValues, what?: string][] = [
  ['balance', PIXEL, { cbPct: 4, crPct: -3 }],
  ['exposure', PIXEL, { stops: 0.7 }],
  ['temperature', PIXEL, { mired: 30, tint: -6 }],
  ['contrast', PIXEL, { amountPct: 30 }],
  ['saturation', PIXEL, { amountPct: 140 }],
  ['hueTurn', PIXEL, { angleDeg: 25 }],
  ['cdl', PIXEL, { slopeR: 1.1, offsetG: 0.02, powerB: 1.2, saturation: 1.2 }],
  ['wheels', PIXEL, { liftCb: 3, gammaCr: -4, gammaLevel: 110, gainCb: 2, gainLevel: 95 }],
  ['zones', PIXEL, { lowLevel: 10, middleCb: 4, highSat: 80, topLevel: -10 }],
  ['curves', PIXEL, { luma: bent, rgb: bent, red: bent }],
  ['points', PIXEL, { blackPct: 4, whitePct: 93 }],
  ['byHue', PIXEL, { turn: wave(20), sat: wave(30), level: wave(20) }, 'turn, saturation, level'],
  ['byTone', PIXEL, { satByLevel: [0, 20, 50, -20, 100, 30], satBySat: [0, 30, 50, 0, 100, -20] }],
  ['bands', PIXEL, { values: [20, 30, -20, -10, 20, 10, 15, -30, 5, 0, 20, 10, -20, 10, 0, 10, 0, 5] }],
  ['pulls', PIXEL, { pulls: [-10, 20, -20, 5, 10, 30, -20, 20, -30, 0], holds: [-15, 10, 20, 20] }, 'two, two holds'],
  ['evenness', PIXEL, { strengthPct: 100, chromaPct: 25 }],
  ['gamutCare', PIXEL, { amountPct: 100 }],
  ['recolour', PERCEPTUAL, { from: [0.42, 0.13, 0.08], to: [0.45, -0.06, 0.06] }],
  ['detail', NEAR, { amountPct: -60, sizePx: 6 }, 'soften, 6 px'],
  ['detail', NEAR, { amountPct: -60, sizePx: 12, finerPx: 2 }, 'soften, 2 to 12 px'],
  ['detail', NEAR, { amountPct: 60, sizePx: 2, fromPct: 1 }, 'sharpen, 2 px'],
  ['detail', NEAR, { amountPct: 40, sizePx: 40 }, 'mid-scale contrast, 40 px'],
  ['denoise', NOISE, { strengthPct: 100, sizePx: 6 }],
  ['grain', NEAR, { strengthPct: 20, sizePx: 2 }, '2 px'],
  ['grain', NEAR, { strengthPct: 20, sizePx: 1 }, '1 px'],
  ['grain', NEAR, { strengthPct: 20, sizePx: 2, colourPct: 100 }, '2 px, in colour'],
];

const { arena, pool, ev } = await soloStages();
const r = rng(3);
const cloth = await ev.load('cloth', W, H, (...planes) =>
  planes.forEach((p, c) => {
    for (let i = 0; i < N; i++) {
      const skin = Math.hypot((i % W) - 960, Math.floor(i / W) - 540) < 380;
      const fold = 0.8 + 0.2 * Math.sin((i % W) / 37);
      p[i] = fold * (skin ? [0.7, 0.5, 0.4][c]! : [0.45, 0.12, 0.14][c]!) + 0.03 * (r() - 0.5);
    }
  }),
);
const noise = await ev.load('noise', W, H, (...planes) =>
  planes.forEach((p) => {
    for (let i = 0; i < N; i++) p[i] = r();
  }),
);
const planes = Array.from({ length: 12 }, () => arena.alloc(N * 4)) as Plane[];
const [toR, toG, toB, ...spare] = planes as [Plane, Plane, Plane, ...Plane[]];
const to = { r: toR, g: toG, b: toB };
function stepOf(op: string, values: StoredValues): BlockStep {
  const [c] = compile(
    [{ id: 'c', name: 'c', on: true, mixPct: 100, terms: [], tidy: [], adjustments: [newUse('u', op, values)] }],
    0,
    1,
  );
  const step = c?.chain[0];
  if (!step) throw new Error(`${op} does nothing at ${JSON.stringify(values)}`);
  return step;
}
function run(use: BlockStep, from: typeof cloth): void {
  const op = ops[use.opIndex]!;
  if (op.kind === 'area') {
    const work = spare.slice(0, op.workPlanes);
    const dst = [toR, toG, toB];
    for (const pass of op.passes(use.block))
      void pool.run({
        ...{ do: 'framePass', w: W, h: H, src: [from.r, from.g, from.b], dst, picture: [], work, use, pass },
      });
  } else void pool.run({ do: 'chain', w: W, h: H, base: from, from, to, matte: null, mix: 1, uses: [use] });
}
const copied = new Float32Array(3 * N);
const copy = timed(() => {
  arena.look((v) => [cloth.r, cloth.g, cloth.b].forEach((p, k) => copied.set(v.f32(p, N), k * N)));
});
console.log(
  `${W}x${H}, one thread, Node ${process.versions.node}, SIMD kernels; a copy of three planes ${copy.toFixed(1)} ms.`,
);
console.log('\n| correction | ms, cloth | ms, noise | goal | within | x copy |\n|---|---:|---:|---:|---|---:|');
let missed = 0;
for (const [op, goal, values, what] of CORRECTIONS) {
  if (given.only !== undefined && given.only !== op) continue;
  const use = stepOf(op, values);
  const [ms, worst] = [timed(() => run(use, cloth)), timed(() => run(use, noise))];
  if (worst > goal) missed++;
  console.log(
    `| ${op}${what === undefined ? '' : `, ${what}`} | ${ms.toFixed(1)} | ${worst.toFixed(1)} | ${goal} | ` +
      `${worst <= goal ? 'yes' : ms <= goal ? 'on cloth' : 'NO'} | ${(ms / copy).toFixed(1)} |`,
  );
}
if (missed > 0) {
  console.log(`\n${missed} of them miss their goal on one of the pictures.`);
  process.exitCode = 1;
}
