/** Corrections beside each other, linked regions, keys that read the base: bit for bit, in both kernels. */
import { beforeAll, describe, expect, it } from 'vitest';
import { newUse } from '../src/core/graph/plan.defaults';
import { compile, inputOf, inputOfAdjustment } from '../src/core/graph/plan';
import type { CorrectionSpec, Look, Term } from '../src/core/graph/plan';
import { evaluateColours } from '../src/core/graph/evaluate';
import type { ShotState } from '../src/protocol/messages';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import type { Planes } from '../src/engine/pictures';
import { goldenPlanes } from '../testkit/goldens';
import { around } from '../testkit/keys';
import { wasmBytes } from '../testkit/bench';

const [W, H] = [173, 97];
const N = W * H;
const rgb = goldenPlanes();
// Numbers that are none, in places that some reach and others do not.
rgb[0]![5 * W + 100] = NaN;
rgb[1]![90 * W + 3] = Infinity;

const term = (id: string, op: string, params: Record<string, number | boolean>, more: Partial<Term> = {}): Term =>
  ({ id, join: 'and', not: false, name: id, use: newUse(id, op, params), ...more }) as Term;
const ellipse = (id: string, cxPx: number, more: Partial<Term> = {}): Term =>
  term(id, 'ellipse', { cxPx, cyPx: 48, rxPx: 40, ryPx: 34, softInPx: 10, softOutPx: 10 }, more);
const link = (of: string, outside = false, more: Partial<Term> = {}): Term =>
  ({ id: `to-${of}`, join: 'and', not: false, name: of, of, outside, on: true, ...more }) as Term;
const spec = (id: string, more: Partial<CorrectionSpec>): CorrectionSpec => ({
  id,
  name: id,
  on: true,
  mixPct: 100,
  terms: [],
  tidy: [],
  adjustments: [newUse(`${id}-t`, 'hueTurn', { angleDeg: 25 }), newUse(`${id}-s`, 'saturation', { amountPct: 140 })],
  ...more,
});
const LOG: Look = { encoding: 'acescct', conversion: newUse('conversion', 'convert', {}) };

let sessions: Session[];
beforeAll(async () => {
  sessions = [await soloSession({ wasm: wasmBytes() }), await soloSession({})];
});
interface Ran {
  out: Uint32Array[];
  of(id: string): { key: string; input: Uint32Array[]; own: Uint32Array[]; matte: Float32Array };
}
/** Copies of everything that one kernel makes; `focus` asks for the matte of one that is off. */
async function run(kernel: number, list: CorrectionSpec[], opts: { focus?: string; look?: Look } = {}): Promise<Ran> {
  const { ev } = sessions[kernel]!;
  ev.begin();
  const src = await ev.load('p', W, H, (...to) => to.forEach((p, c) => p.set(rgb[c]!)));
  const r = await ev.run(src, compile(list, 0, 1, opts.look), opts.focus ? { focus: opts.focus } : {});
  const bits = (p: Planes): Uint32Array[] => [p.r, p.g, p.b].map((at) => ev.arena.look((v) => v.u32(at, N).slice()));
  return {
    out: bits(r.out),
    of: (id) => {
      const s = r.steps.get(id)!;
      const matte = s.matte ? ev.arena.look((v) => v.f32(s.matte!.at, N).slice()) : new Float32Array(N).fill(1);
      return { key: s.input.key, input: bits(s.input), own: bits(s.own), matte };
    },
  };
}
const KERNELS = [
  ['SIMD', 0],
  ['TypeScript', 1],
] as const;
const same = (a: Uint32Array[], b: Uint32Array[]): number =>
  a.reduce((s, p, c) => s + p.reduce((t, x, i) => t + (x === b[c]![i] ? 0 : 1), 0), 0);

describe('beside', () => {
  const a = spec('a', { terms: [ellipse('ea', 50)], mixPct: 80 });
  const b = spec('b', {
    terms: [ellipse('eb', 115)],
    start: 'beside',
    adjustments: [newUse('bb', 'exposure', { stops: 0.7 })],
  });
  const c = spec('c', {
    terms: [ellipse('ec', 85)],
    start: 'beside',
    adjustments: [newUse('cc', 'contrast', { amountPct: 70 })],
  });

  it.each(KERNELS)(
    '%s: adds the changes up; where one reaches its bits stand, where none does the first ones',
    async (_, k) => {
      const base = spec('base', { adjustments: [newUse('x', 'exposure', { stops: -0.4 })] });
      const r = await run(k, [base, a, b, c]);
      const parts = ['a', 'b', 'c'].map((id) => r.of(id));
      expect(new Set(parts.map((s) => s.key)).size).toBe(1);
      const from = parts[0]!.input;
      const f = (u: number): number => new Float32Array(new Uint32Array([u]).buffer)[0]!;
      const seen = [0, 0, 0, 0];
      let wrong = 0;
      for (let i = 0; i < N; i++) {
        const reach = parts.filter((s) => s.matte[i]! > 0);
        seen[reach.length]!++;
        for (let ch = 0; ch < 3; ch++) {
          const got = r.out[ch]![i]!;
          if (reach.length === 0) wrong += got === from[ch]![i] ? 0 : 1;
          else if (reach.length === 1) wrong += got === reach[0]!.own[ch]![i] ? 0 : 1;
          else {
            const start = f(from[ch]![i]!);
            const want = reach.reduce((s, x) => s + (f(x.own[ch]![i]!) - start), start);
            if (Number.isFinite(want)) wrong += Math.abs(f(got) - want) <= 4e-7 * (1 + Math.abs(want)) ? 0 : 1;
          }
        }
      }
      expect(wrong).toBe(0);
      // All four cases were there.
      for (const x of seen) expect(x).toBeGreaterThan(300);
    },
  );

  it.each(KERNELS)('%s: alone it is the same as after, bit for bit; one that is off adds nothing', async (_, k) => {
    const alone = (await run(k, [a])).out;
    expect(same((await run(k, [{ ...a, start: 'beside' }])).out, alone)).toBe(0);
    const off = { ...c, on: false, start: 'after' } as const;
    expect(same((await run(k, [off, { ...a, start: 'beside' }, { ...b, on: false }])).out, alone)).toBe(0);
    expect(same((await run(k, [a, { ...c, start: 'after' }])).out, (await run(k, [a, c])).out)).toBeGreaterThan(1000);
  });

  it('never across the conversion', () => {
    const cam = spec('cam', { side: 'camera' });
    const steps = compile([cam, b], 0, 1, LOG);
    expect(steps.map((s) => [s.id, s.beside])).toEqual([
      ['cam', false],
      ['conversion', false],
      ['b', false],
    ]);
  });

  it('over colours, by the definitions, gives what the engine gives', async () => {
    const whole = [a, b, c].map((x) => ({ ...x, terms: [] }));
    const picks = Array.from({ length: 40 }, (_, i) => 11 + i * 401);
    const out = (await run(1, whole)).out.map((p) => new Float32Array(p.buffer));
    const colours = picks.map((i) => [rgb[0]![i]!, rgb[1]![i]!, rgb[2]![i]!] as const);
    const got = evaluateColours(compile(whole, 0, 1), colours);
    picks.forEach((i, j) => got[j]!.forEach((v, ch) => expect(v).toBeCloseTo(out[ch]![i]!, 5)));
  });

  it('what one is given is not what those beside it make', () => {
    const list = [spec('z', {}), a, b, { ...c, start: 'after' as const }];
    expect(inputOf(list, 'b').map((x) => x.on)).toEqual([true, false, false, false]);
    expect(inputOf(list, 'c').map((x) => x.on)).toEqual([true, true, true, false]);
    const part = inputOfAdjustment(list, 'b', 0);
    expect(part.map((x) => [x.on, x.adjustments.length])).toEqual([
      [true, 2],
      [false, 2],
      [true, 0],
      [false, 1],
    ]);
    expect(() => inputOf(list, 'none')).toThrow(/no such correction/);
  });
});

describe('links', () => {
  const face = spec('face', {
    terms: [ellipse('e', 70)],
    tidy: [newUse('f', 'feather', { radiusPx: 4 })],
  });
  const lips = spec('lips', { terms: [link('face')], adjustments: [newUse('l', 'exposure', { stops: 0.3 })] });

  it.each(KERNELS)(
    '%s: a region is another one\u2019s tidied matte, or what it leaves, also while that is off',
    async (_, k) => {
      const want = (await run(k, [face])).of('face').matte;
      expect(Math.max(...want) - Math.min(...want)).toBe(1);
      for (const on of [true, false])
        for (const outside of [false, true]) {
          const got = (
            await run(k, [
              { ...face, on },
              { ...lips, terms: [link('face', outside)] },
            ])
          ).of('lips').matte;
          expect(got).toEqual(outside ? want.map((x) => Math.fround(1 - x)) : want);
        }
    },
  );

  it('two that leave each other out never both reach a pixel in full', async () => {
    const r = await run(0, [face, { ...lips, terms: [ellipse('e2', 100), link('face', true)] }]);
    const [f, l] = [r.of('face').matte, r.of('lips').matte];
    const most = Math.max(...f.map((x, i) => x + l[i]!));
    expect(most).toBeLessThanOrEqual(1 + 1e-6);
    expect(most).toBeGreaterThan(0.99);
  });

  it.each(KERNELS)('%s: a link to one that stands after takes its region as it would be here', async (_, k) => {
    const keyed = {
      ...face,
      terms: [term('k', 'key', { ...around({ hue: [120, 80] }), satOn: false, lumaOn: false })],
    };
    const got = (await run(k, [lips, keyed])).of('lips').matte;
    expect(got).toEqual((await run(k, [keyed])).of('face').matte);
    // There it is another one, since what stands before has changed the picture.
    expect((await run(k, [{ ...lips, terms: [] }, keyed])).of('face').matte).not.toEqual(got);
  });

  it('of the whole picture is everything; what is missing or goes in a circle is refused with names', async () => {
    expect(new Set((await run(0, [{ ...face, terms: [] }, lips])).of('lips').matte)).toEqual(new Set([1]));
    await expect(() => run(0, [lips])).rejects.toThrow(/face, which is not there/);
    expect(() => compile([{ ...face, terms: [link('lips')] }, lips], 0, 1)).toThrow(/"face", "lips".*circle/);
  });

  it.each(KERNELS)('%s: a tree over planes is what its parts are, joined by hand', async (_, k) => {
    const group = (id: string, of: Term[], more: Partial<Term> = {}): Term =>
      ({ id, join: 'and', not: false, name: id, on: true, group: of, ...more }) as Term;
    const [p, q, r, s, t] = [ellipse('p', 40), ellipse('q', 90), ellipse('r', 120), ellipse('s', 20), ellipse('t', 60)];
    const terms = [
      p!,
      group('g', [{ ...q!, not: true }, link('face', true, { join: 'or' })], { join: 'or', not: true }),
      group('h', [r!, group('i', [s!, { ...t!, join: 'or' }], { join: 'and' })], { join: 'and' }),
    ];
    const m: Float32Array[] = [];
    for (const e of [p, q, r, s, t]) m.push((await run(k, [{ ...lips, terms: [e!] }])).of('lips').matte!);
    const all = await run(k, [face, { ...lips, terms }]);
    const [f, got] = [all.of('face').matte, all.of('lips').matte];
    const most = got.reduce((x, v, i) => {
      const g = Math.max(1 - m[1]![i]!, 1 - f[i]!);
      const h = Math.min(m[2]![i]!, Math.max(m[3]![i]!, m[4]![i]!));
      return Math.max(x, Math.abs(v - Math.min(Math.max(m[0]![i]!, 1 - g), h)));
    }, 0);
    expect(most).toBeLessThan(1e-6);
    expect(new Set(got).size).toBeGreaterThan(50);
  });
});

describe('a key that reads the picture before any correction', () => {
  const key = (reads?: 'base'): Term =>
    term('k', 'key', { ...around({ hue: [120, 60] }), satOn: false, lumaOn: false }, reads ? { reads } : {});
  const shift = (angleDeg: number, side: 'camera' | 'display' = 'display'): CorrectionSpec =>
    spec('shift', { side, adjustments: [newUse('sh', 'hueTurn', { angleDeg })] });
  const matteOf = async (list: CorrectionSpec[], look?: Look): Promise<Float32Array> =>
    (await run(0, list, look ? { look } : {})).of('c').matte;

  it.each([
    ['srgb', undefined, 'display'],
    ['a log shot, display side', LOG, 'display'],
    ['a log shot, camera side', LOG, 'camera'],
  ] as const)('%s: what is changed before does not shift it; here it does', async (_, look, side) => {
    const c = (reads?: 'base'): CorrectionSpec => spec('c', { side, terms: [key(reads)] });
    const still = await matteOf([c()], look);
    expect(await matteOf([shift(40, side), c('base')], look)).toEqual(still);
    expect(await matteOf([shift(40, side), c()], look)).not.toEqual(still);
    if (side === 'display' && look)
      // Camera side corrections lie before the conversion, and do not shift it either.
      expect(await matteOf([shift(40, 'camera'), c('base')], look)).toEqual(still);
  });
});

describe.each(KERNELS)('a key that reads a quieter copy, %s', (_, kernel) => {
  const key = (quietPct?: number): Term =>
    term(
      'k',
      'key',
      { hueOn: false, satOn: false, lumaFromPct: 40, lumaToPct: 60, lumaFadeFromPct: 8 },
      {
        ...(quietPct ? { quietPct } : {}),
      },
    );
  const c = (quietPct?: number, more: Partial<CorrectionSpec> = {}) => spec('c', { terms: [key(quietPct)], ...more });
  it('gets less noise into its matte, and nothing of that copy into the picture', async () => {
    const [plain, quiet] = [await run(kernel, [c()]), await run(kernel, [c(30)])];
    const [a, b] = [plain.of('c'), quiet.of('c')];
    expect(same(a.input, b.input)).toBe(0);
    /** Mean difference of neighbours in a row. */
    const rough = (m: Float32Array): number => m.reduce((t, v, i) => t + (i ? Math.abs(v - m[i - 1]!) : 0), 0) / N;
    expect(rough(b.matte)).toBeLessThan(0.8 * rough(a.matte));
    expect(rough(b.matte)).toBeGreaterThan(0);
    let [full, none] = [0, 0];
    for (let i = 0; i < N; i++) {
      // Full with and without: the correction of the picture itself, to the bit. Nothing: the picture to the bit.
      if (a.matte[i] === 1 && b.matte[i] === 1) {
        full++;
        for (const ch of [0, 1, 2]) expect(quiet.out[ch]![i]).toBe(plain.out[ch]![i]);
      } else if (b.matte[i] === 0) {
        none++;
        for (const ch of [0, 1, 2]) expect(quiet.out[ch]![i]).toBe(b.input[ch]![i]);
      }
    }
    expect(Math.min(full, none)).toBeGreaterThan(500);
  });
  it('reaches as far as its noise reduction does, so that a part of the picture knows enough around it', () => {
    expect(compile([c()], 0, 1)[0]!.haloPx).toBe(0);
    expect(compile([c(30)], 0, 1)[0]!.haloPx).toBe(6);
    const feathered = c(30, { tidy: [newUse('f', 'feather', { radiusPx: 4 })] });
    const alone = c(0, { tidy: [newUse('f', 'feather', { radiusPx: 4 })] });
    expect(compile([feathered], 0, 1)[0]!.haloPx).toBe(compile([alone], 0, 1)[0]!.haloPx + 6);
  });
});

describe('a sample for a key that reads the base', () => {
  it('is taken from the base, not from what stands before the correction', async () => {
    const s = await soloSession({ wasm: wasmBytes() });
    const skin = [45000, 33000, 26000];
    s.open('p', {
      width: 64,
      height: 48,
      bits: 16,
      format: 'png',
      rgb: Uint16Array.from({ length: 64 * 48 * 3 }, (_, i) => skin[i % 3]! + ((i * 31) % 900)),
      notes: [],
      encoding: 'srgb',
      alpha: false,
    });
    const turned = spec('turn', { adjustments: [newUse('t', 'hueTurn', { angleDeg: 60 })] });
    const of = async (base: boolean, corrections: CorrectionSpec[]) =>
      (
        await s.fitKey(
          { media: 'p', encoding: 'srgb', frame: 0, corrections },
          'c',
          { box: { x: 8, y: 8, w: 20, h: 20 } },
          { base },
        )
      ).fit.hueFromDeg;
    const plain = await of(false, [spec('c', {})]);
    expect(await of(true, [turned, spec('c', {})])).toBe(plain);
    expect(Math.abs((await of(false, [turned, spec('c', {})])) - plain)).toBeGreaterThan(40);
  });
});

describe('figures, views and tables accuse the right one', () => {
  const half = (id: string, cxPx: number, more: Partial<CorrectionSpec> = {}): CorrectionSpec =>
    spec(id, {
      terms: [term(`${id}-e`, 'ellipse', { cxPx, cyPx: 48, rxPx: 30, ryPx: 30, softInPx: 1, softOutPx: 1 })],
      adjustments: [newUse(`${id}-x`, 'exposure', { stops: 0.5 })],
      ...more,
    });
  const list = [half('a', 50), half('b', 120, { start: 'beside' })];
  const state = (corrections: CorrectionSpec[]): ShotState => ({
    media: 'p',
    encoding: 'srgb',
    frame: 0,
    corrections,
  });
  let s: Session;
  beforeAll(async () => {
    s = await soloSession({ wasm: wasmBytes() });
    const flat = new Uint16Array(3 * N).map((_, i) => 20000 + ((i * 7919) % 9000));
    s.open('p', {
      width: W,
      height: H,
      bits: 16,
      format: 'png',
      rgb: flat,
      notes: [],
      encoding: 'srgb',
      alpha: false,
    });
  });

  it.each(['a', 'b'])('the surround of %s did not move, though the other one beside it moves there', async (id) => {
    const f = await s.figures(state(list), id);
    expect(f.surroundChanged).toBe(0);
    expect(f.surroundShare).toBeGreaterThan(0.5);
    expect(f.regionMeanDe).toBeGreaterThan(1);
  });
  it('the map of change shows what the chosen one changes, not what those beside or after it do', async () => {
    const at = async (focus: string, x: number): Promise<number> => {
      const view = { w: W, h: H, scale: 1, offX: 0, offY: 0, mode: 'change', compare: 'off', wipeX: 0 } as const;
      const after = [...list, spec('z', { adjustments: [newUse('z', 'exposure', { stops: -1 })] })];
      const r = await s.render({
        shot: state(after),
        focus,
        view,
        quality: 'final',
        scopes: [],
        patches: [],
        skinLineDeg: 123,
        bits: 16,
      });
      return r.rgba[4 * (48 * W + x)]!;
    };
    expect([await at('a', 50), await at('b', 120)].every((v) => v > 60)).toBe(true);
    expect([await at('a', 120), await at('b', 50), await at('a', 10)]).toEqual([0, 0, 0]);
    expect(await at('z', 10)).toBeGreaterThan(60);
  });
  it('a table carries those beside each other, and links to keys; a place is left out with its name', async () => {
    const whole = list.map((c) => ({ ...c, terms: [] as Term[] }));
    expect((await s.lut(state(whole), 33, 'x')).regionMaxDe!).toBeLessThan(0.5);
    const key = term('k', 'key', { hueOn: false, satOn: false, ...around({ luma: [35, 4, 30] }) });
    const linked = [
      { ...list[0]!, terms: [key], on: false },
      { ...list[1]!, terms: [link('a', true)] },
    ];
    const r = await s.lut(state(linked), 65, 'x');
    expect(r.leftOut).toEqual([]);
    expect(r.comparedInRegion).toBeGreaterThan(1000);
    expect(r.regionMeanDe!).toBeLessThan(0.3);
    const placed = await s.lut(state([list[0]!, { ...list[1]!, terms: [link('a', true)] }]), 17, 'x');
    expect(placed.leftOut.join(' ')).toMatch(/b: left out whole, since its region is only a place \(a\)/);
  });
  it('a correction whose lengths are in another frame stands where that frame says', async () => {
    const fit = { s: 0.5, dx: 10, dy: -4 };
    const there = { ...half('f', 2 * (60 - 10)), fit };
    there.terms = [
      term('f', 'ellipse', {
        cxPx: 2 * (60 - 10),
        cyPx: 2 * (48 + 4),
        rxPx: 60,
        ryPx: 50,
        softInPx: 10,
        softOutPx: 10,
      }),
    ];
    there.tidy = [newUse('ft', 'feather', { radiusPx: 6 })];
    const here = {
      ...half('f', 60),
      terms: [term('f', 'ellipse', { cxPx: 60, cyPx: 48, rxPx: 30, ryPx: 25, softInPx: 5, softOutPx: 5 })],
      tidy: [newUse('ft', 'feather', { radiusPx: 3 })],
    };
    expect((await run(0, [there])).of('f').matte).toEqual((await run(0, [here])).of('f').matte);
  });
});
