/**
 * One row per stage and size: milliseconds (median), pixels per second, and ratios to the naive float64 twin and to a
 * plain copy of the same planes, all measured in this run on one thread. The naive twin is slow: it is measured on
 * 240x135 pixels and scaled by the number of pixels.
 */
import { newUse } from '../src/core/graph/plan.defaults';
import { compile } from '../src/core/graph/plan';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { ops } from '../src/core/ops/registry.gen';
import { rng } from '../src/core/math/rng';
import { ALL_GROUPS, SCOPE_SIZE, VECTOR_RANGE } from '../src/core/scopes/reduce';
import { Arena } from '../src/engine/memory';
import type { Plane } from '../src/engine/memory';
import { Evaluator } from '../src/engine/evaluator';
import { startTwins } from '../src/engine/twins';
import { wasmKernels } from '../src/engine/kernels';
import { SoloPool } from '../src/engine/pool';
import type { Use } from '../src/engine/tasks';
import { begin, change, emptyHistory, put } from '../src/document/history';
import { correctionsOf } from '../src/document/records';
import type { AnyRecord, CorrectionRecord, ShotRecord } from '../src/document/records';
import { naiveChain, naiveGaussian, naiveKey, naiveYcc } from '../testkit/naive';
import { around } from '../testkit/keys';
import { wasmBytes } from '../testkit/bench';

const SIZES: [number, number][] = [
  [960, 540],
  [1920, 1080],
  [3840, 2160],
];
const NAIVE: [number, number] = [240, 135];
const spec: CorrectionSpec = {
  id: 'c',
  name: 'c',
  on: true,
  mixPct: 100,
  terms: [
    {
      id: 't1',
      join: 'and',
      not: false,
      name: 'k',
      use: newUse('k', 'key', {
        ...around({ hue: [120, 60, 20], sat: [25, 60], luma: [50, 80] }),
      }),
    },
    {
      id: 't2',
      join: 'and',
      not: false,
      name: 'e',
      use: newUse('e', 'ellipse', {
        cxPx: 400,
        cyPx: 250,
        rxPx: 300,
        ryPx: 200,
        softInPx: 30,
        softOutPx: 30,
        angleDeg: 15,
      }),
    },
  ],
  tidy: [newUse('f', 'feather', { radiusPx: 20 })],
  adjustments: [
    newUse('h', 'hueTurn', { angleDeg: -8 }),
    newUse('s', 'saturation', { amountPct: 90 }),
    newUse('w', 'wheels', { gainLevel: 5, gammaLevel: 10 }),
  ],
};
/** Everything that makes a normal picture: eight adjustments that all act. */
const base: CorrectionSpec = {
  id: 'b',
  name: 'b',
  on: true,
  mixPct: 100,
  terms: [],
  tidy: [],
  adjustments: [
    newUse('1', 'exposure', { stops: 0.4 }),
    newUse('2', 'temperature', { mired: 18, tint: 3 }),
    newUse('3', 'points', { blackPct: 4, whitePct: 95 }),
    newUse('4', 'contrast', { amountPct: 115, shape: 'soft' }),
    newUse('5', 'wheels', { gainLevel: 5, gammaLevel: 10, liftCb: 2 }),
    newUse('6', 'zones', { lowLevel: 4, highSat: 90 }),
    newUse('7', 'curves', { luma: [0, 0, 0.4, 0.45, 1, 1] }),
    newUse('8', 'saturation', { amountPct: 108 }),
  ],
};
const median = (v: number[]): number => v.sort((a, b) => a - b)[v.length >> 1]!;
function time(f: () => void, least = 5, budgetMs = 900): number {
  f();
  const t: number[] = [];
  const start = performance.now();
  while (t.length < least || (performance.now() - start < budgetMs && t.length < 60)) {
    const t0 = performance.now();
    f();
    t.push(performance.now() - t0);
  }
  return median(t);
}
function picture(n: number): [Float32Array, Float32Array, Float32Array] {
  const r = rng(n);
  // Skin-like, so that keys have soft edges to compute and the power is taken.
  return [0.7, 0.5, 0.4].map((c) => Float32Array.from({ length: n }, () => c + 0.35 * (r() - 0.5))) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
}

// --- the naive twin, per pixel
const nn = NAIVE[0] * NAIVE[1];
const np = picture(nn);
const nm = Float32Array.from({ length: nn }, (_, i) => ((i * 7) % 11) / 10);
const sink = new Float64Array(nn);
const naive: Record<string, number> = {
  key:
    time(() => {
      for (let i = 0; i < nn; i++)
        sink[i] = naiveKey([np[0][i]!, np[1][i]!, np[2][i]!], {
          hue: { centre: 120, width: 60, soft: 20 },
          sat: { centre: 25, width: 60, soft: 5 },
          luma: { centre: 50, width: 80, soft: 10 },
          neutralPct: 2,
        });
    }) / nn,
  ellipse:
    time(() => {
      for (let i = 0; i < nn; i++) {
        const [dx, dy] = [(i % NAIVE[0]) - 100, Math.floor(i / NAIVE[0]) - 60];
        const a = (15 * Math.PI) / 180;
        const [u, v] = [(dx * Math.cos(a) - dy * Math.sin(a)) / 75, (dx * Math.sin(a) + dy * Math.cos(a)) / 50];
        const f = Math.hypot(u, v);
        const t = Math.min(1, Math.max(0, 0.5 - (f * (f - 1)) / Math.hypot(u / 75, v / 50) / 15));
        sink[i] = t * t * (3 - 2 * t);
      }
    }) / nn,
  'feather 20 px': time(() => void naiveGaussian(nm, ...NAIVE, 10), 3, 300) / nn,
  'correction chain':
    time(() => {
      for (let i = 0; i < nn; i++)
        sink[i] = naiveChain([np[0][i]!, np[1][i]!, np[2][i]!], -8, 90, 1.05, 1.07, nm[i]!)[0];
    }) / nn,
  'scopes: vectorscope, strip, waveform':
    time(() => {
      const v = new Map<number, number>();
      for (let i = 0; i < nn; i++) {
        const [y, cb, cr, h, c] = naiveYcc(np[0][i]!, np[1][i]!, np[2][i]!);
        for (const k of [
          Math.floor(cb * 228 + 128) * 256 + Math.floor(cr * 228 + 128),
          1e6 + Math.floor(y * 200) * 300 + (i % 280),
          c > 6 ? 2e6 + Math.floor(h) * 128 + Math.floor(y * 127) : 3e6,
        ])
          v.set(k, (v.get(k) ?? 0) + 1);
      }
    }) / nn,
};

// The same chain by the operations' own float64 definitions, with what they call.
const baseSteps = compile([base], 0, 1);
naive['base chain of eight adjustments'] =
  time(() => {
    const run = [np[0].slice(), np[1].slice(), np[2].slice()] as const;
    for (const s of baseSteps[0]!.chain) {
      const op = ops[s.opIndex]!;
      if (op.kind === 'pixel') op.kernel(s.block, { r: run[0], g: run[1], b: run[2], n: nn });
    }
  }) / nn;
naive['scopes: all'] =
  time(() => {
    const v = new Map<number, number>();
    for (let i = 0; i < nn; i++) {
      const rgb = [np[0][i]!, np[1][i]!, np[2][i]!] as const;
      const [y, cb, cr, h, c] = naiveYcc(...rgb);
      const col = (i % 280) * 600;
      for (const k of [
        Math.floor(cb * 500 + 280) * 560 + Math.floor(cr * 500 + 280),
        c > 6 ? 1e6 + Math.floor(h) * 128 + Math.floor(y * 127) : 2e6,
        ...[y, ...rgb, cb + 0.5, cr + 0.5].map((s, j) => (3 + j) * 1e6 + col + Math.floor(s * 500 + 50)),
      ])
        v.set(k, (v.get(k) ?? 0) + 1);
    }
  }) / nn;

console.log(
  'One thread, Node ' +
    process.versions.node +
    ', SIMD kernels. "x naive": times faster than the float64 twin. "x copy": times a plain copy of three planes.\n',
);
console.log('| size | stage | ms | Mpixel/s | x naive | x copy |\n|---|---|---:|---:|---:|---:|');
const perPixel: Record<string, number[]> = {};
for (const [w, h] of SIZES) {
  const n = w * h;
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 32768 });
  const kernels = await wasmKernels(wasmBytes(), memory);
  await startTwins(wasmBytes());
  const arena = new Arena(memory, 2 ** 31 - 65536);
  const pool = new SoloPool({ memory, kernels }, arena);
  const ev = new Evaluator(arena, pool, 2 ** 30);
  const src = await ev.load('p', w, h, (r, g, b) => [r, g, b].forEach((p, c) => p.set(picture(n)[c]!)));
  const step = compile([spec], 0, 1)[0]!;
  const [m, spare, c, x, y, z] = Array.from({ length: 6 }, () => arena.alloc(n * 4)) as [
    ...[Plane, Plane, Plane],
    ...[Plane, Plane, Plane],
  ];
  const to = { r: x, g: y, b: z };
  const leaf = (i: number): Use => step.region.flatMap((t) => ('step' in t ? [t.step] : []))[i]!;
  const baseStep = compile([base], 0, 1)[0]!;
  const blur = step.tidy[0]!;
  const feather = ops[blur.opIndex]!;
  const passes = feather.kind === 'tidy' && feather.area === true ? feather.passes(blur.block) : [];
  const counts = arena.alloc(4 * SCOPE_SIZE);
  const u8 = (): Uint8Array => new Uint8Array(memory.buffer);
  const copy = time(() => {
    const bytes = u8();
    bytes.copyWithin(x, src.r, src.r + 4 * n);
    bytes.copyWithin(y, src.g, src.g + 4 * n);
    bytes.copyWithin(z, src.b, src.b + 4 * n);
  });
  const whole = { w, h, base: src, from: src, to, mix: 1 };
  const scope = {
    do: 'scope',
    w,
    from: src,
    matte: null,
    mode: 1,
    box: { x: 0, y: 0, w, h },
    stride: 1,
    skinLineDeg: 123,
    range: VECTOR_RANGE,
    to: counts,
  } as const;
  // On one thread a command is done when `run` comes back.
  const rows: [string, () => void][] = [
    ['key', () => void pool.run({ do: 'key', w, h, from: src, to: m, use: leaf(0) })],
    ['ellipse', () => void pool.run({ do: 'shape', w, h, to: m, use: leaf(1), x: 0, y: 0 })],
    [
      'feather 20 px',
      () => {
        let from = m;
        passes.forEach((pass, i) => {
          const into = i % 2 ? c : spare;
          void pool.run({ do: 'tidyArea', w, h, left: 0, top: 0, from, to: into, use: blur, pass });
          from = into;
        });
      },
    ],
    ['correction chain', () => void pool.run({ do: 'chain', ...whole, matte: m, uses: step.chain })],
    [
      'base chain of eight adjustments',
      () => void pool.run({ do: 'chain', ...whole, matte: null, uses: baseStep.chain }),
    ],
    ['scopes: vectorscope, strip, waveform', () => void pool.run({ ...scope, bits: 1 | 2 | 8 })],
    ['scopes: all', () => void pool.run({ ...scope, bits: ALL_GROUPS })],
  ];
  for (const [name, f] of rows) {
    const ms = time(f);
    (perPixel[name] ??= []).push(ms / n);
    console.log(
      `| ${w}x${h} | ${name} | ${ms.toFixed(1)} | ${(n / ms / 1000).toFixed(0)} | ` +
        `${((naive[name]! * n) / ms).toFixed(1)} | ${(ms / copy).toFixed(1)} |`,
    );
  }
}
console.log('\nGrowth of time per pixel from 960x540 to 3840x2160 (1.0 is linear):');
for (const [name, v] of Object.entries(perPixel)) console.log(`  ${name}: ${(v[2]! / v[0]!).toFixed(2)}`);

// The document: an edit as a pointer event makes it, and what acts on a shot, among 2 400 records of 200 shots.
{
  const r: Record<string, AnyRecord> = {};
  for (let i = 0; i < 200; i++) {
    const shot = `shot:${i}` as const;
    r[shot] = { type: 'shot', id: shot, order: i } as ShotRecord;
    for (let k = 0; k < 8; k++)
      r[`corr:${i}-${k}`] = { ...base, type: 'correction', id: `corr:${i}-${k}`, owner: shot, order: k };
    for (let k = 0; k < 3; k++) {
      const box = { x: 0, y: 0, w: 9, h: 9 };
      r[`patch:${i}-${k}`] = { type: 'patch', id: `patch:${i}-${k}`, shot, name: '', kind: 'skin', box, order: k };
    }
  }
  let h = begin({ ...emptyHistory, records: r }, 'drag');
  correctionsOf(h.records, 'shot:50');
  const edits: number[] = [];
  const finds: number[] = [];
  const scans: number[] = [];
  const copies: number[] = [];
  for (let i = 0; i < 400; i++) {
    const t0 = performance.now();
    h = change(h, 'drag', (x) => put({ ...(x['corr:50-3'] as CorrectionRecord), mixPct: i % 100 })(x));
    const t1 = performance.now();
    correctionsOf(h.records, 'shot:50');
    const t2 = performance.now();
    Object.values(h.records)
      .filter((x) => x.type === 'correction' && x.owner === 'shot:50')
      .sort();
    const t3 = performance.now();
    Object.assign({}, h.records);
    const t4 = performance.now();
    [edits, finds, scans, copies].forEach((l, k) => l.push([t1 - t0, t2 - t1, t3 - t2, t4 - t3][k]!));
  }
  const [e, f, s, c] = [edits, finds, scans, copies].map((l) => median(l.slice(100))) as [
    number,
    number,
    number,
    number,
  ];
  console.log(
    `\nDocument of ${Object.keys(r).length} records (goals: edit under 0.5 ms, what acts on a shot under 0.1 ms):`,
  );
  console.log(`  edit ${e.toFixed(3)} ms, ${(e / c).toFixed(2)} x a copy of the table of records`);
  console.log(
    `  what acts on a shot, after an edit: ${f.toFixed(3)} ms, ${(f / s).toFixed(2)} x a look at every record`,
  );
}
