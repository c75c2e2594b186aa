/**
 * What a region is made of, stage by stage at 1920x1080 on one thread, beside the same stages in OpenCV where Debian's
 * python3-opencv is installed: `npm run bench:region`. Times are medians; ratios hold within the run.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { newUse } from '../src/core/graph/plan.defaults';
import { compile, opById } from '../src/core/graph/plan';
import type { CorrectionSpec, OpTerm } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { plainContext } from '../src/core/op/contract';
import type { Stroke } from '../src/core/op/contract';
import { defaultsOf } from '../src/core/op/params';
import type { StoredValues } from '../src/core/op/params';
import spreadOp from '../src/core/ops/spread';
import { ops } from '../src/core/ops/registry.gen';
import type { Plane } from '../src/engine/memory';
import type { Use } from '../src/engine/tasks';
import { decodeStill } from '../src/media/decode';
import { nodeCodecs } from '../src/media/node';
import { around } from '../testkit/keys';
import { soloStages, timed } from '../testkit/bench';

const [W, H] = [1920, 1080];
const { arena, pool, ev } = await soloStages();
const r = rng(1);
const noise = Array.from({ length: 3 * W * H }, () => r() - 0.5);
const src = await ev.load('p', W, H, (...planes) =>
  planes.forEach((p, c) => {
    // A disc of skin before a bluish ground, with the noise of a camera.
    for (let i = 0; i < W * H; i++) {
      const skin = Math.hypot((i % W) - 960, Math.floor(i / W) - 540) < 380;
      p[i] = (skin ? [0.7, 0.5, 0.4][c]! : [0.3, 0.4, 0.5][c]!) + 0.03 * noise[3 * i + c]!;
    }
  }),
);
const [m, out, spare, ...more] = Array.from({ length: 12 }, () => arena.alloc(W * H * 4)) as [Plane, Plane, Plane];
// As keys make it: full and nothing, a soft edge, grain on it, a few specks and holes.
arena.look((v) => {
  const p = v.f32(m, W * H);
  for (let i = 0; i < W * H; i++) {
    const d = 0.5 - (Math.hypot((i % W) - 960, Math.floor(i / W) - 540) - 380) / 8;
    const speck = (i * 7919) % 10007 === 0 ? 1 - 2 * Math.min(1, Math.max(0, d)) : 0;
    p[i] = Math.min(1, Math.max(0, d + speck));
  }
});
const spec = (terms: OpTerm[], tidy: CorrectionSpec['tidy']): CorrectionSpec => ({
  id: 'c',
  name: 'c',
  on: true,
  mixPct: 100,
  terms,
  tidy,
  adjustments: [newUse('s', 'saturation', { amountPct: 50 })],
});
const term = (op: string, params: StoredValues): OpTerm => ({
  id: op,
  join: 'and',
  not: false,
  name: op,
  use: newUse(op, op, params),
});
const leafOf = (op: string, params: StoredValues): Use => {
  const [first] = compile([spec([term(op, params)], [])], 0, 1)[0]!.region;
  if (!first || !('step' in first)) throw new Error(op);
  return first.step;
};
const stepOf = (op: string, params: StoredValues): Use =>
  compile([spec([term('ellipse', {})], [newUse(op, op, params)])], 0, 1)[0]!.tidy[0]!;
function tidy(use: Use): void {
  const op = ops[use.opIndex]!;
  if (op.kind !== 'tidy') throw new Error(op.id);
  if (op.area === true) {
    let from = m;
    op.passes(use.block).forEach((pass, i) => {
      const to = i % 2 ? spare : out;
      void pool.run({ do: 'tidyArea', w: W, h: H, left: 0, top: 0, from, to, use, pass });
      from = to;
    });
  } else if (op.area === 'frame') {
    const picture = op.readsPicture ? [src.r, src.g, src.b] : [];
    const work = (more as Plane[]).slice(0, op.workPlanes);
    for (const pass of op.passes(use.block))
      void pool.run({ do: 'framePass', w: W, h: H, src: [m], dst: [out], work, picture, use, pass });
  } else void pool.run({ do: 'tidyPoint', w: W, h: H, plane: out, use } as never);
}
const key = (use: Use): void => void pool.run({ do: 'key', w: W, h: H, from: src, to: out, use });
const shape = (use: Use): void => void pool.run({ do: 'shape', w: W, h: H, to: out, use, x: 0, y: 0 });
const colours = Array.from({ length: 18 }, (_, i) => (i % 3 === 0 ? 0.6 : 0.05) + 0.01 * i);
const round = Array.from({ length: 24 }, (_, i) => {
  const a = (Math.floor(i / 2) / 12) * 2 * Math.PI;
  return i % 2 ? 540 + 400 * Math.sin(a) : 960 + 400 * Math.cos(a);
});
/** Stage, goal in ms (null: none was set), what is run, its name in OpenCV's list. */
const rows: [string, number | null, () => void, string?][] = [
  ['range key', 50, run(key, leafOf('key', around({ hue: [120, 60, 20], sat: [25, 60], luma: [50, 80] }))), 'key'],
  ['nearness key, 6 colours kept, 6 left', 80, run(key, leafOf('nearness', { near: colours, far: colours }))],
  ['ellipse', null, run(shape, leafOf('ellipse', { cxPx: 960, cyPx: 540, rxPx: 400, ryPx: 300 }))],
  ['box, rounded', null, run(shape, leafOf('box', { cxPx: 960, cyPx: 540, rxPx: 400, ryPx: 300, roundPct: 30 }))],
  ['ramp', null, run(shape, leafOf('ramp', { toYPx: 900 }))],
  ['band', null, run(shape, leafOf('band', { cyPx: 500 }))],
  ['freeform, 12 smooth points', null, run(shape, leafOf('freeform', { points: round, roundPct: 100, softOutPx: 20 }))],
  ['guided filter, radius 8', 80, run(tidy, stepOf('edgeFit', { radiusPx: 8 })), 'guided'],
  ['Gaussian, sigma 6', 28, run(tidy, stepOf('feather', { radiusPx: 12 })), 'gauss6'],
  ['Gaussian, sigma 10', 40, run(tidy, stepOf('feather', { radiusPx: 20 })), 'gauss10'],
  ['Gaussian, sigma 25', 40, run(tidy, stepOf('feather', { radiusPx: 50 })), 'gauss25'],
  ['specks', 60, run(tidy, stepOf('specks', { sizePx: 12 })), 'components'],
  ['holes', 60, run(tidy, stepOf('holes', { sizePx: 12 })), 'components'],
  ['median, radius 1', null, run(tidy, stepOf('noise', { radiusPx: 1 })), 'median3'],
  ['median, radius 2', null, run(tidy, stepOf('noise', { radiusPx: 2 })), 'median5'],
  ['grow 3.5 px', 60, run(tidy, stepOf('grow', { byPx: 3.5 })), 'dilate7'],
  ['choke 8 px', 60, run(tidy, stepOf('grow', { byPx: -8 })), 'erode17'],
];
// A spread looks at a real picture: faces of the demo, from one stroke on the face and one beside it.
nodeCodecs();
for (const [still, x, y, rx, ry] of [
  ['proofing-table', 439, 365, 180, 190],
  ['oven-mouth', 530, 413, 220, 250],
] as const) {
  const file = join(import.meta.dirname, `../demo/stills/${still}.png`);
  const p = await decodeStill(new Uint8Array(readFileSync(file)));
  const [k, top] = [W / p.width, 2 ** p.bits - 1];
  const at = (i: number): number => Math.floor((i % W) / k) + Math.floor(Math.floor(i / W) / k) * p.width;
  const picture = [0, 1, 2].map((c) => Float32Array.from({ length: W * H }, (_, i) => p.rgb[3 * at(i) + c]! / top));
  const inside = Float32Array.from({ length: W * H }, (_, i) =>
    Math.hypot(((i % W) / k - x) / rx, (i / W / k - y) / ry) < 1 ? 1 : 0,
  );
  const stroke = (keep: boolean, dx: number): Stroke => ({
    keep,
    points: [
      [k * (x + dx), k * y],
      [k * (x + dx + 20), k * (y + 30)],
    ],
  });
  const block = spreadOp.prepare(
    { ...defaultsOf(spreadOp.params), brushPx: 10 },
    {
      ...plainContext,
      strokes: [stroke(true, -30), stroke(false, 1.3 * rx)],
    },
  );
  for (const [name, src] of [
    ['in a shape', [inside]],
    ['free', []],
  ] as const)
    rows.push([
      `spread ${name}, ${still}`,
      300,
      () =>
        spreadOp.kernels['grow']!(block, {
          ...{ src, picture, dst: [inside.slice()], work: [], scratch: new Int32Array(0) },
          ...{ w: W, h: H, y0: 0, y1: H },
        }),
    ]);
}
function run(f: (use: Use) => void, use: Use): () => void {
  if (!opById(ops[use.opIndex]!.id)) throw new Error('no operation');
  return () => f(use);
}

const CV = `
import cv2, json, time, numpy as np
cv2.setNumThreads(1)
W, H = ${W}, ${H}
g = np.random.default_rng(1)
y, x = np.mgrid[0:H, 0:W]
d = np.hypot(x - 960, y - 540)
rgb = np.where((d < 380)[..., None], [0.7, 0.5, 0.4], [0.3, 0.4, 0.5]).astype(np.float32)
rgb += (0.03 * (g.random((H, W, 3)) - 0.5)).astype(np.float32)
m = np.clip(0.5 - (d - 380) / 8, 0, 1).astype(np.float32)
def key():
    ycc = cv2.cvtColor(rgb, cv2.COLOR_RGB2YCrCb)
    yy, cr, cb = cv2.split(ycc)
    mag, ang = cv2.cartToPolar(cb - 0.5, cr - 0.5, angleInDegrees=True)
    f = lambda v, lo, hi, s: np.clip(np.minimum(v - lo, hi - v) / s + 1, 0, 1)
    return np.minimum(np.minimum(f(ang, 90, 150, 20), f(200 * mag, 0, 55, 5)), f(100 * yy, 10, 90, 10))
def guided(r=8, eps=1e-4):
    b = lambda v: cv2.blur(v, (2 * r + 1, 2 * r + 1))
    c = cv2.split(rgb); mI = [b(v) for v in c]; mp = b(m)
    cov = [b(v * m) - a * mp for v, a in zip(c, mI)]
    v = {(i, j): b(c[i] * c[j]) - mI[i] * mI[j] for i in range(3) for j in range(i, 3)}
    for i in range(3): v[(i, i)] = v[(i, i)] + eps
    i00 = v[1, 1] * v[2, 2] - v[1, 2] ** 2
    i01 = v[0, 2] * v[1, 2] - v[0, 1] * v[2, 2]
    i02 = v[0, 1] * v[1, 2] - v[0, 2] * v[1, 1]
    i11 = v[0, 0] * v[2, 2] - v[0, 2] ** 2
    i12 = v[0, 1] * v[0, 2] - v[0, 0] * v[1, 2]
    i22 = v[0, 0] * v[1, 1] - v[0, 1] ** 2
    det = v[0, 0] * i00 + v[0, 1] * i01 + v[0, 2] * i02
    inv = [(i00, i01, i02), (i01, i11, i12), (i02, i12, i22)]
    a = [(p * cov[0] + q * cov[1] + r * cov[2]) / det for p, q, r in inv]
    o = mp - a[0] * mI[0] - a[1] * mI[1] - a[2] * mI[2]
    return b(a[0]) * c[0] + b(a[1]) * c[1] + b(a[2]) * c[2] + b(o)
def components():
    n, l, s, c = cv2.connectedComponentsWithStats((m > 0.2).astype(np.uint8), connectivity=8)
    keep = s[:, cv2.CC_STAT_AREA] >= 113
    return np.where(keep[l], m, 0)
disc = lambda k: cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (k, k))
jobs = dict(key=key, guided=guided, components=components,
  gauss6=lambda: cv2.GaussianBlur(m, (0, 0), 6), gauss10=lambda: cv2.GaussianBlur(m, (0, 0), 10),
  gauss25=lambda: cv2.GaussianBlur(m, (0, 0), 25),
  median3=lambda: cv2.medianBlur(m, 3), median5=lambda: cv2.medianBlur(m, 5),
  dilate7=lambda: cv2.dilate(m, disc(7)), erode17=lambda: cv2.erode(m, disc(17)))
out = {}
for k, f in jobs.items():
    f(); t = []
    for _ in range(7):
        s = time.perf_counter(); f(); t.append(1000 * (time.perf_counter() - s))
    out[k] = sorted(t)[3]
print(json.dumps({"version": cv2.__version__, "ms": out}))
`;
// Debian's own Python has Debian's packages.
const cv = spawnSync('/usr/bin/python3', ['-c', CV], { encoding: 'utf8' });
const other =
  cv.status === 0 ? (JSON.parse(cv.stdout) as { version: string; ms: Record<string, number | undefined> }) : null;
console.log(
  `${W}x${H}, one thread, Node ${process.versions.node}, SIMD kernels; ` +
    (other
      ? `beside OpenCV ${other.version} on one thread.`
      : 'no OpenCV here (apt-get install python3-opencv): no ratios.'),
);
console.log('\n| stage | ms | goal | within | OpenCV ms | times as fast |\n|---|---:|---:|---|---:|---:|');
for (const [name, goal, f, same] of rows) {
  const ms = timed(f);
  const theirs = same === undefined ? undefined : other?.ms[same];
  console.log(
    `| ${name} | ${ms.toFixed(1)} | ${goal ?? ''} | ${goal === null ? '' : ms <= goal ? 'yes' : 'NO'} | ` +
      `${theirs?.toFixed(1) ?? ''} | ${theirs === undefined ? '' : (theirs / ms).toFixed(1)} |`,
  );
}
