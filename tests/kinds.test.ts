/**
 * Kinds of operations that look at more than a pixel: areas within a chain, whole frames, other frames, and giving way.
 */
import { describe, expect, it, vi } from 'vitest';
import { newUse } from '../src/core/graph/plan.defaults';
import { compile } from '../src/core/graph/plan';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { Evaluator } from '../src/engine/evaluator';
import { Stale } from '../src/engine/stages';
import type { FrameAt } from '../src/engine/evaluator';
import type { Planes } from '../src/engine/pictures';
import { tsKernels, wasmKernels } from '../src/engine/kernels';
import { Arena } from '../src/engine/memory';
import type { Plane } from '../src/engine/memory';
import { soloSession } from '../src/engine/node';
import { controlBytes, SharedPool, SoloPool } from '../src/engine/pool';
import { Pulse } from '../src/engine/pulse';
import { wasmBytes } from '../testkit/bench';

// A tidy step over three frames as a stranger would add it: the mean of the mattes where the picture stands still.
vi.mock('../src/core/ops/registry.gen', async (original) => {
  const { ops } = await original<{ ops: readonly unknown[] }>();
  const { defineTidyFrameOp } = await import('../src/core/op/contract');
  const mean = defineTidyFrameOp({
    id: 'meanOfFrames',
    title: 'Mean of frames',
    doc: 'For a test.',
    version: 1,
    params: {},
    refs: ['none'],
    edge: 'none',
    migrations: [],
    prepare: () => Float32Array.of(0),
    haloPx: () => 0,
    workPlanes: 0,
    readsPicture: true,
    frames: () => [-1, 1],
    passes: () => [{ name: 'mean' }],
    kernels: {
      mean(_, { src, dst, picture, w, y0, y1 }) {
        for (let i = y0 * w; i < y1 * w; i++) {
          let [sum, n] = [src[0]![i]!, 1];
          for (const k of [1, 2]) if (picture[3 * k]![i] === picture[0]![i]) [sum, n] = [sum + src[k]![i]!, n + 1];
          dst[0]![i] = sum / n;
        }
      },
    },
    isNoOp: () => false,
    place: 99,
  });
  return { ops: [...ops, mean] };
});

const [W, H] = [160, 90];
const noise = (seed: number): ((...p: Float32Array[]) => void) => {
  const r = rng(seed);
  return (...planes) => planes.forEach((p) => p.forEach((_, i) => (p[i] = 0.2 + 0.6 * r())));
};
const spec = (o: Partial<CorrectionSpec> = {}): CorrectionSpec => ({
  id: 'a',
  name: 'A',
  on: true,
  mixPct: 100,
  terms: [],
  tidy: [],
  adjustments: [],
  ...o,
});
const ellipse = {
  id: 't1',
  join: 'and' as const,
  not: false,
  name: 'e',
  use: newUse('e', 'ellipse', { cxPx: 80, cyPx: 45, rxPx: 30, ryPx: 25, softInPx: 6, softOutPx: 6 }),
};
const key = { ...ellipse, id: 't2', use: newUse('k', 'key', { hueOn: false, satOn: false, lumaFromPct: 45 }) };
async function make(kernels: 'wasm' | 'ts' = 'wasm'): Promise<Evaluator> {
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 8192 });
  const arena = new Arena(memory, 2 ** 29);
  const k = kernels === 'wasm' ? await wasmKernels(wasmBytes(), memory) : tsKernels(memory);
  return new Evaluator(arena, new SoloPool({ memory, kernels: k }, arena), 2 ** 28);
}
const copy = (ev: Evaluator, at: Plane): Float32Array => ev.arena.look((v) => v.f32(at, W * H).slice());
const rgb = (ev: Evaluator, p: Planes): Float32Array[] => [p.r, p.g, p.b].map((x) => copy(ev, x));

const before = newUse('x', 'exposure', { stops: 0.4 });
const area = newUse('d', 'detail', { amountPct: 80, sizePx: 5 });
const after = newUse('h', 'hueTurn', { angleDeg: 20 });

describe('an area adjustment', () => {
  it.each(['wasm', 'ts'] as const)('in the middle of a chain is three steps in a row, to the bit: %s', async (k) => {
    const ev = await make(k);
    const src = await ev.load('p', W, H, noise(3));
    const one = await ev.run(src, compile([spec({ adjustments: [before, area, after] })], 0, 1));
    const three = await ev.run(
      src,
      compile(
        [before, area, after].map((u) => spec({ id: u.id, adjustments: [u] })),
        0,
        1,
      ),
    );
    expect(rgb(ev, one.out)).toEqual(rgb(ev, three.out));
    expect(rgb(ev, one.out)).not.toEqual(rgb(ev, src));
  });
  it('first, last and alone stands too; limited by a matte and a mix it leaves the surround its bits', async () => {
    const ev = await make();
    const src = await ev.load('p', W, H, noise(3));
    const given = rgb(ev, src);
    for (const adjustments of [[area], [area, after], [before, area], [area, { ...area, id: 'd2' }]]) {
      const c = spec({ adjustments, terms: [ellipse], mixPct: 70 });
      const full = rgb(ev, (await ev.run(src, compile([{ ...c, terms: [], mixPct: 100 }], 0, 1))).out);
      const res = await ev.run(src, compile([c], 0, 1));
      const m = copy(ev, res.steps.get('a')!.matte!.at);
      let moved = 0;
      rgb(ev, res.out).forEach((p, ch) =>
        p.forEach((v, i) => {
          const k = Math.fround(m[i]! * Math.fround(0.7));
          const was = given[ch]![i]!;
          if (m[i] === 0) expect(v).toBe(was);
          else expect(Math.abs(v - (was + k * (full[ch]![i]! - was)))).toBeLessThan(1e-6);
          if (v !== was) moved++;
        }),
      );
      expect(moved).toBeGreaterThan(2000);
    }
  });
  it('is kept: what follows it, the matte and the mix do not renew it; what stands before it does', async () => {
    const ev = await make();
    const src = await ev.load('p', W, H, noise(3));
    const list = (turn: number, stops: number, mixPct: number): CorrectionSpec[] => [
      spec({
        terms: [ellipse],
        mixPct,
        adjustments: [newUse('x', 'exposure', { stops }), area, newUse('h', 'hueTurn', { angleDeg: turn })],
      }),
    ];
    await ev.run(src, compile(list(20, 0.4, 100), 0, 1));
    ev.begin();
    await ev.run(src, compile(list(25, 0.4, 90), 0, 1));
    expect(ev.computed).toEqual(['out']);
    ev.begin();
    await ev.run(src, compile(list(25, 0.5, 90), 0, 1));
    expect(ev.computed).toEqual(['segment', 'segment', 'out']);
  });
  it('parts what would be run as one: light before it is not light after it', () => {
    const chain = compile([spec({ adjustments: [before, area, { ...before, id: 'x2' }] })], 0, 1)[0]!.chain;
    expect(chain).toHaveLength(3);
    expect(compile([spec({ adjustments: [before, { ...before, id: 'x2' }] })], 0, 1)[0]!.chain).toHaveLength(1);
  });
});

describe('a tidy step over whole frames', () => {
  it('reads one pixel as the whole picture has it, whatever the reach', async () => {
    const s = await soloSession({ wasm: wasmBytes() });
    const p = [0, 1, 2].map(() => new Float32Array(W * H)) as [Float32Array, Float32Array, Float32Array];
    noise(8)(...p);
    const interleaved = Float32Array.from({ length: 3 * W * H }, (_, i) => p[i % 3]![Math.floor(i / 3)]!);
    s.open('p', { width: W, height: H, bits: 32, rgb: interleaved, notes: [] } as never);
    for (const tidy of [
      [newUse('s', 'specks', { sizePx: 4 })],
      [newUse('o', 'holes', { sizePx: 4 })],
      [newUse('g', 'edgeFit', { radiusPx: 6 })],
    ]) {
      const c = spec({ terms: [key], tidy, adjustments: [before, area] });
      const shot = { media: 'p', encoding: 'srgb' as const, frame: 0, corrections: [c] };
      const whole = rgb(s.ev, (await s.run(shot)).out);
      for (const [x, y] of [
        [0, 0],
        [63, 64],
        [159, 89],
        [100, 30],
      ] as const)
        expect((await s.pick(shot, x, y))!.after).toEqual(whole.map((q) => q[y * W + x]));
    }
  });
  it('depends on the picture it reads, and only where it reads one', async () => {
    const ev = await make();
    const src = await ev.load('p', W, H, noise(3));
    const list = (op: string, stops: number): CorrectionSpec[] => [
      spec({ id: 'base', adjustments: [newUse('x', 'exposure', { stops })] }),
      spec({
        terms: [ellipse],
        tidy: [newUse('t', op, op === 'edgeFit' ? { radiusPx: 4 } : { sizePx: 4 })],
        adjustments: [after],
      }),
    ];
    for (const [op, again] of [
      ['edgeFit', true],
      ['specks', false],
    ] as const) {
      await ev.run(src, compile(list(op, 0.1), 0, 1));
      ev.begin();
      await ev.run(src, compile(list(op, 0.2), 0, 1));
      expect(ev.computed.includes('tidy')).toBe(again);
    }
  });
});

describe('a step that needs other frames', () => {
  it('is given their mattes and pictures as they stand there, its own beyond the ends', async () => {
    const ev = await make('ts');
    const corrections = (frame: number): ReturnType<typeof compile> =>
      compile(
        [
          spec({ id: 'base', adjustments: [before] }),
          spec({
            // A shape that moves by keyframes: each frame has its own matte.
            terms: [
              {
                ...ellipse,
                use: newUse('e', 'ellipse', {
                  cyPx: 45,
                  rxPx: 30,
                  ryPx: 25,
                  softInPx: 4,
                  softOutPx: 4,
                  cxPx: {
                    keys: [
                      { frame: 0, value: 60, ease: 'linear' },
                      { frame: 4, value: 100, ease: 'linear' },
                    ],
                  },
                } as never),
              },
            ],
            tidy: [newUse('f', 'feather', { radiusPx: 4 }), newUse('m', 'meanOfFrames')],
            adjustments: [after],
          }),
        ],
        frame,
        1,
      );
    const sources = await Promise.all([1, 2, 2].map((seed, i) => ev.load(`f${i}`, W, H, noise(seed))));
    const at =
      (frame: number): FrameAt =>
      (offset) => {
        const source = sources[frame + offset];
        return Promise.resolve(source ? { source, steps: corrections(frame + offset) } : null);
      };
    const matte = async (frame: number, tidied: boolean): Promise<Float32Array> => {
      const steps = corrections(frame);
      if (!tidied) steps[1] = { ...steps[1]!, tidy: steps[1]!.tidy.slice(0, 1) };
      const res = await ev.run(sources[frame]!, steps, { frame: at(frame) });
      return copy(ev, res.steps.get('a')!.matte!.at);
    };
    const plain = await Promise.all([0, 1, 2].map((f) => matte(f, false)));
    // Frame 2 shows what frame 1 does, and what comes after the end is frame 2 itself; frame 0 shows something else.
    const two = await matte(2, true);
    two.forEach((v, i) => expect(v).toBeCloseTo((2 * plain[2]![i]! + plain[1]![i]!) / 3, 6));
    const one = await matte(1, true);
    one.forEach((v, i) => expect(v).toBeCloseTo((plain[1]![i]! + plain[2]![i]!) / 2, 6));
    expect(one).not.toEqual(plain[1]);
    ev.begin();
    await matte(1, true);
    expect(ev.computed).toEqual([]);
  });
});

describe('newer work', () => {
  it('is heard between two bands, and what was begun leaves nothing behind', async () => {
    const memory = new WebAssembly.Memory({ initial: 64, maximum: 8192, shared: true });
    const wasm = (await import('node:fs')).readFileSync(new URL('../build/kernels.shared.wasm', import.meta.url));
    const arena = new Arena(memory, 2 ** 28);
    let asked = 0;
    let stop = Infinity;
    const beat = (): void => {
      if (++asked > stop) throw new Stale();
    };
    const control = new SharedArrayBuffer(controlBytes);
    const pool = new SharedPool({ memory, kernels: await wasmKernels(wasm, memory) }, arena, control, 1, { beat });
    const ev = new Evaluator(arena, pool, 2 ** 27);
    const [w, h] = [1200, 1000];
    const load = (name: string): Promise<Planes> =>
      ev.load(name, w, h, (...p) => p.forEach((q, c) => q.forEach((_, i) => (q[i] = ((i * 7 + c) % 97) / 96))));
    const steps = compile([spec({ adjustments: [after] })], 0, 1);
    const src = await load('p');
    const used = arena.used;
    stop = asked + 2;
    await expect(ev.run(src, steps)).rejects.toThrow(Stale);
    expect(arena.used).toBe(used);
    stop = Infinity;
    const after1 = (await ev.run(src, steps)).out;
    const n = w * h;
    const got = arena.look((v) => v.f32(after1.r, n).slice());
    const solo = new Evaluator(arena, new SoloPool({ memory, kernels: tsKernels(memory) }, arena), 2 ** 27);
    const again = (
      await solo.run(
        await solo.load('q', w, h, (...p) =>
          p.forEach((q, c) => q.forEach((_, i) => (q[i] = ((i * 7 + c) % 97) / 96))),
        ),
        steps,
      )
    ).out;
    const want = arena.look((v) => v.f32(again.r, n).slice());
    let worst = 0;
    for (let i = 0; i < n; i++) worst = Math.max(worst, Math.abs(got[i]! - want[i]!));
    expect(worst).toBeLessThan(1e-6);
  });

  it('does not end what was announced for a piece of work in the middle of it', async () => {
    // A press was taken for dead on a busy machine: each band of it had ended its announcement.
    const memory = new WebAssembly.Memory({ initial: 64, maximum: 8192, shared: true });
    const wasm = (await import('node:fs')).readFileSync(new URL('../build/kernels.shared.wasm', import.meta.url));
    const shared = new Int32Array(new SharedArrayBuffer(12));
    const pulse = new Pulse(shared);
    const arena = new Arena(memory, 2 ** 28);
    const control = new SharedArrayBuffer(controlBytes);
    const kernels = await wasmKernels(wasm, memory);
    const pool = new SharedPool({ memory, kernels }, arena, control, 1, pulse);
    const ev = new Evaluator(arena, pool, 2 ** 27, pulse.check, pulse.quiet);
    const [w, h] = [1000, 800];
    const src = await ev.load('p', w, h, (...p) =>
      p.forEach((q, c) => q.forEach((_, i) => (q[i] = (i % (7 + c)) / 9))),
    );
    const runs = vi.spyOn(pool, 'run');
    const held: number[][] = [];
    runs.mockImplementation(async (c) => {
      const before = shared[2]!;
      await SharedPool.prototype.run.call(pool, c);
      if (c.do === 'framePass') held.push([before, shared[2]!]);
    });
    const counted = shared[1]!;
    const strokes = [{ keep: true, frame: 0, points: [[300, 300]] as [number, number][] }];
    const term = { id: 't', name: 't', join: 'and' as const, not: false, use: newUse('t', 'skin'), strokes };
    await ev.run(src, compile([spec({ terms: [term], adjustments: [after] })], 0, 1));
    expect(held.length).toBeGreaterThan(1);
    expect(Math.max(...held.map(([b]) => b!))).toBeGreaterThan(10_000);
    for (const [before, then] of held) expect(then).toBe(before);
    expect(shared[1]).toBeGreaterThan(counted + held.length);
    pulse.check();
    expect(shared[2]).toBe(0);
    // And newer work is heard from both.
    [pulse.current, shared[0]] = [3, 4];
    expect(() => pulse.beat()).toThrow(Stale);
    expect(() => pulse.check()).toThrow(Stale);
  });
});
