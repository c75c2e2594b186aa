import { describe, expect, it } from 'vitest';
import { newUse } from '../core/graph/plan.defaults';
import { compile } from '../core/graph/plan';
import type { CorrectionSpec } from '../core/graph/plan';
import { ALL_GROUPS, VECTOR_RANGE } from '../core/scopes/reduce';
import { rng } from '../core/math/rng';
import { wasmBytes } from '../../testkit/bench';
import { Evaluator } from './evaluator';
import { NAME_BYTES, Stale } from './stages';
import type { Planes } from './pictures';
import { tsKernels, wasmKernels } from './kernels';
import { Arena } from './memory';
import { SoloPool } from './pool';
import type { Plane } from './memory';
import { taskOf } from './tasks';
import type { Command } from './tasks';

const W = 97;
const H = 71;
const spec = (o: Partial<CorrectionSpec> = {}): CorrectionSpec => ({
  id: 'a',
  name: 'A',
  on: true,
  mixPct: 100,
  terms: [
    {
      id: 't1',
      join: 'and',
      not: false,
      name: 'e',
      use: newUse('e', 'ellipse', { cxPx: 48, cyPx: 35, rxPx: 24, ryPx: 20, softInPx: 5, softOutPx: 5 }),
    },
  ],
  tidy: [newUse('f', 'feather', { radiusPx: 6 })],
  adjustments: [newUse('h', 'hueTurn', { angleDeg: 30 })],
  ...o,
});

/** A pool that runs every task in uneven bands, out of order, as threads may. */
class ShuffledPool extends SoloPool {
  override async run(c: Command): Promise<void> {
    const t = taskOf(c.do);
    const rows = t.rows(c);
    const cuts = [0, Math.floor(rows * 0.13), Math.floor(rows * 0.5), Math.floor(rows * 0.51), rows];
    this.packed(c, (args) => {
      for (const i of [2, 0, 3, 1])
        t.band({ ...this.ctx, thread: 0, scratch: this.scratchAt[0]! }, cuts[i]!, cuts[i + 1]!, args);
    });
    return Promise.resolve();
  }
}

async function make(kind: 'solo' | 'shuffled', kernels: 'wasm' | 'ts' = 'wasm', budget = 2 ** 28): Promise<Evaluator> {
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 8192 });
  const ctx = { memory, kernels: kernels === 'wasm' ? await wasmKernels(wasmBytes(), memory) : tsKernels(memory) };
  const arena = new Arena(memory, 2 ** 29);
  return new Evaluator(arena, kind === 'solo' ? new SoloPool(ctx, arena) : new ShuffledPool(ctx, arena), budget);
}
const load = (ev: Evaluator, key = 'p'): Promise<Planes> =>
  ev.load(key, W, H, (r, g, b) => {
    const random = rng(7);
    for (const p of [r, g, b]) for (let i = 0; i < p.length; i++) p[i] = random();
  });
const copy = (ev: Evaluator, at: Plane, n: number): Float32Array => ev.arena.look((v) => v.f32(at, n).slice());
const bytes = (ev: Evaluator, p: Planes): string =>
  [p.r, p.g, p.b]
    .map((at) => Buffer.from(ev.arena.look((v) => v.u8(at, W * H * 4).slice())).toString('base64'))
    .join('');

describe('evaluator', () => {
  it('gives the same bits in bands of any size and order, for every stage and the scopes', async () => {
    const [a, b] = [await make('solo'), await make('shuffled')];
    const run = async (ev: Evaluator) => {
      const r = await ev.run(
        await load(ev),
        compile(
          [
            spec(),
            spec({
              id: 'b',
              tidy: [newUse('f', 'feather', { radiusPx: 40 })],
              terms: [
                {
                  id: 't2',
                  join: 'and',
                  not: true,
                  name: 'k',
                  use: newUse('k', 'key', { satOn: false, lumaOn: false }),
                },
              ],
            }),
          ],
          0,
          1,
        ),
      );
      return {
        out: bytes(ev, r.out),
        half: bytes(ev, { ...(await ev.halvePlanes(r.out)), w: W, h: H }).slice(0, 2000),
        scopes: Buffer.from(
          (
            await ev.scopes(
              r.out,
              {
                matte: r.steps.get('a')!.matte,
                mode: 1,
                box: null,
                bits: ALL_GROUPS,
                range: VECTOR_RANGE,
                stride: 1,
                skinLineDeg: 123,
              },
              (c) => c.slice(),
            )
          ).buffer,
        ).toString('base64'),
      };
    };
    expect(await run(a)).toEqual(await run(b));
  });

  it('copies the input to the bit where the matte is 0, and takes the operation to the bit where it is 1', async () => {
    const ev = await make('solo');
    const src = await load(ev);
    const r = await ev.run(src, compile([spec()], 0, 1));
    const m = copy(ev, r.steps.get('a')!.matte!.at, W * H);
    const full = (await ev.run(src, compile([spec({ terms: [] })], 0, 1))).out;
    const [i, o, f] = [src.g, r.out.g, full.g].map((at) => new Uint32Array(copy(ev, at, W * H).slice().buffer)) as [
      Uint32Array,
      Uint32Array,
      Uint32Array,
    ];
    let zero = 0;
    let one = 0;
    m.forEach((v, k) => {
      if (v === 0) {
        expect(o[k]).toBe(i[k]);
        zero++;
      } else if (v === 1) {
        expect(o[k]).toBe(f[k]);
        one++;
      }
    });
    expect(zero).toBeGreaterThan(1500);
    expect(one).toBeGreaterThan(50);
  });

  it('mixes in a straight line', async () => {
    const ev = await make('solo');
    const src = await load(ev);
    const at = async (mixPct: number): Promise<number> =>
      copy(ev, (await ev.run(src, compile([spec({ terms: [], mixPct })], 0, 1))).out.r, 10)[5]!;
    expect(await at(40)).toBeCloseTo((await at(0)) + 0.4 * ((await at(100)) - (await at(0))), 6);
    expect(await at(0)).toBe(copy(ev, src.r, 10)[5]);
  });

  it('puts a window of the picture where it lies: a crop equals the crop of the whole', async () => {
    const ev = await make('solo');
    const src = await load(ev);
    const steps = compile([spec()], 0, 1);
    const whole = (await ev.run(src, steps)).out;
    const halo = steps[0]!.haloPx;
    const [x0, y0, w, h] = [20, 15, 40, 36];
    const win = await ev.load('win', w, h, (...to) =>
      to.forEach((t, c) => {
        const s = copy(ev, [src.r, src.g, src.b][c]!, W * H);
        for (let y = 0; y < h; y++) t.set(s.subarray((y0 + y) * W + x0, (y0 + y) * W + x0 + w), y * w);
      }),
    );
    const part = copy(ev, (await ev.run(win, steps, { origin: [x0, y0] })).out.r, w * h);
    const all = copy(ev, whole.r, W * H);
    for (let y = halo; y < h - halo; y++)
      for (let x = halo; x < w - halo; x++) expect(part[y * w + x]).toBe(all[(y0 + y) * W + x0 + x]);
  });

  it('keeps to its budget and never drops what the present work holds', async () => {
    const ev = await make('solo', 'ts', 0);
    const src = await load(ev);
    const want = bytes(ev, (await ev.run(src, compile([spec()], 0, 1))).out);
    for (let i = 0; i < 400; i++) {
      ev.begin();
      await ev.run(
        await load(ev),
        compile([spec({ adjustments: [newUse('h', 'hueTurn', { angleDeg: i / 10 + 0.05 })] })], 0, 1),
      );
    }
    // 400 results of 83 kB would be 33 MB; small stages keep at most 96 MB, and the rest must be reused, not grown.
    expect(ev.arena.used).toBeLessThan(100 * 2 ** 20);
    ev.begin();
    expect(bytes(ev, (await ev.run(await load(ev), compile([spec()], 0, 1))).out)).not.toBe('');
    expect(want.length).toBeGreaterThan(1000);
  });

  it('lets frames go that have passed, and keeps all that work comes back to, however much that is', async () => {
    const ev = await make('solo', 'ts', 1.2e9);
    const [w, h] = [1920, 1080];
    const frame = (i: number): Promise<unknown> => ev.load(`f${i}`, w, h, (r) => void (r[0] = i));
    for (let i = 0; i < 30; i++) {
      ev.begin();
      await frame(i);
    }
    // 30 frames of 25 MB went by.
    expect(ev.held().bytes).toBeLessThan(140 * 2 ** 20);
    // Work that touches twelve of them, 300 MB, again and again: a new one beside them drops none.
    for (let round = 0; round < 3; round++) {
      ev.begin();
      for (let i = 0; i < 12; i++) await frame(100 + i);
    }
    expect(ev.computed).toEqual([]);
    ev.begin();
    await frame(200);
    for (let i = 0; i < 12; i++) await frame(100 + i);
    expect(ev.computed).toHaveLength(1);
  });

  it('stops between stages when newer work is wanted, and leaves nothing half made', async () => {
    const ev = await make('solo');
    await load(ev);
    const used = ev.arena.used;
    let left = 2;
    ev.check = () => {
      if (left-- <= 0) throw new Stale();
    };
    ev.begin();
    await expect(async () => ev.run(await load(ev), compile([spec()], 0, 1))).rejects.toThrow(Stale);
    ev.check = () => {};
    ev.begin();
    const again = bytes(ev, (await ev.run(await load(ev), compile([spec()], 0, 1))).out);
    const fresh = await make('solo');
    expect(again).toBe(bytes(fresh, (await fresh.run(await load(fresh), compile([spec()], 0, 1))).out));
    expect(ev.arena.used).toBeGreaterThan(used);
  });

  it('resizes with the mean kept and edges held', async () => {
    const ev = await make('solo');
    const flat = await ev.load('flat', 40, 30, (...p) => p.forEach((q) => q.fill(0.625)));
    const small = await ev.resizePlanes(flat, 27, 20);
    expect(copy(ev, small.g, 27 * 20).every((v) => Math.abs(v - 0.625) < 1e-6)).toBe(true);
    const ramp = await ev.load('ramp', 40, 30, (...p) => p.forEach((q) => q.forEach((_, i) => (q[i] = (i % 40) / 39))));
    const s = copy(ev, (await ev.resizePlanes(ramp, 30, 30)).r, 900);
    for (let x = 1; x < 29; x++) expect(s[x]).toBeCloseTo(((x + 0.5) * (40 / 30) - 0.5) / 39, 5);
    const half = await ev.halvePlanes(ramp);
    expect(copy(ev, half.r, 20)[3]).toBeCloseTo(6.5 / 39, 6);
  });

  it(
    'keeps no more names than their letters allow, over ten thousand drafts, and computes right all ' + 'the same',
    async () => {
      const ev = await make('solo', 'wasm', 2 ** 24);
      let most = 0;
      for (let i = 0; i < 10_000; i++) {
        ev.begin();
        const src = await load(ev);
        await ev.run(
          src,
          compile([spec({ adjustments: [newUse('s', 'saturation', { amountPct: 50 + i / 200 })] })], 0, 1),
        );
        if (i % 500 === 0) most = Math.max(most, ev.held().nameBytes);
      }
      expect(most).toBeLessThanOrEqual(NAME_BYTES + 4096);
      expect(ev.held().names).toBeGreaterThan(100);
      expect(ev.held().bytes).toBeLessThan(2 ** 27);
      const fresh = await make('solo');
      const steps = compile([spec()], 0, 1);
      const same =
        bytes(ev, (await ev.run(await load(ev), steps)).out) ===
        bytes(fresh, (await fresh.run(await load(fresh), steps)).out);
      expect(same).toBe(true);
    },
  );
});
