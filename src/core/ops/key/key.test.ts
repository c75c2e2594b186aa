import { migrateParams, plainContext } from '../../op/contract';
import Color from 'colorjs.io';
import { converter } from 'culori';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { around } from '../../../../testkit/keys';
import { naiveKey } from '../../../../testkit/naive';
import { defaultsOf, resolve, valueAt } from '../../op/params';
import type { Keyframed, StoredValues } from '../../op/params';
import { hueDeg, rgbToYcbcr } from '../../color/ycbcr';
import { rng } from '../../math/rng';
import type { KeyPointOp } from '../../op/contract';
import op, { hueWidth } from './index';
import { params } from './params';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 2e-3,
  twinReason: 'a softness near 0 turns a float32 rounding of the hue (2e-5 degrees) into a step of the matte',
});

describe('key against a float64 twin', () => {
  it('agrees within 1e-5 over -0.2..1.2 with usual softness', () => {
    const p = {
      ...defaultsOf(params),
      ...around({ hue: [350, 40, 12], sat: [25, 30, 5], luma: [50, 60, 10] }),
    };
    const block = op.prepare(p as never, plainContext);
    const random = rng(9);
    const n = 4000;
    const [r, g, b] = [0, 1, 2].map(() => Float32Array.from({ length: n }, () => random() * 1.4 - 0.2)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    const m = new Float32Array(n);
    (op as KeyPointOp).kernel(block, { r, g, b, m, n });
    let partial = 0;
    for (let i = 0; i < n; i++) {
      const want = naiveKey([r[i]!, g[i]!, b[i]!], {
        hue: { centre: 350, width: 40, soft: 12 },
        sat: { centre: 25, width: 30, soft: 5 },
        luma: { centre: 50, width: 60, soft: 10 },
        neutralPct: p.neutralPct,
      });
      if (want > 0 && want < 1) partial++;
      expect(Math.abs(m[i]! - want)).toBeLessThan(1e-5);
    }
    expect(partial).toBeGreaterThan(20);
  });
});

describe('ranges', () => {
  const at = (p: Record<string, number | boolean>, rgb: readonly number[]): number => {
    const block = op.prepare(resolve(params, p) as never, plainContext);
    const [r, g, b] = rgb.map((v) => Float32Array.of(v)) as [Float32Array, Float32Array, Float32Array];
    const m = new Float32Array(1);
    (op as KeyPointOp).kernel(block, { r, g, b, m, n: 1 });
    return m[0]!;
  };
  const grey = (luma: number): number[] => [luma / 100, luma / 100, luma / 100];
  it('fade on each side by that side\u2019s own width', () => {
    const p = { hueOn: false, satOn: false, lumaFromPct: 40, lumaToPct: 60, lumaFadeFromPct: 4, lumaFadeToPct: 20 };
    expect([38, 40, 50, 60].map((v) => at(p, grey(v)))).toEqual([0.5, 1, 1, 1].map((v) => expect.closeTo(v, 4)));
    expect([36, 70, 80].map((v) => at(p, grey(v)))).toEqual([0, 0.5, 0].map((v) => expect.closeTo(v, 4)));
  });
  it('of hue run counter-clockwise from their beginning, over 0 degrees, to a whole turn', () => {
    // BT.709 angles of the bars (shared/reference/colour_bars.json): red 102.9, blue 354.8, green 228.2.
    const [red, green, blue] = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ];
    const hue = (from: number, to: number) => ({
      satOn: false,
      lumaOn: false,
      hueFromDeg: from,
      hueToDeg: to,
      hueFadeFromDeg: 0,
      hueFadeToDeg: 0,
    });
    const of = (from: number, to: number): number[] => [red, green, blue].map((c) => at(hue(from, to), c!));
    expect(of(340, 110)).toEqual([1, 0, 1]);
    expect(of(110, 340)).toEqual([0, 1, 0]);
    expect(of(340, 470)).toEqual([1, 0, 1]);
    expect(of(-20, 110)).toEqual([1, 0, 1]);
    expect(of(30, 390)).toEqual([1, 1, 1]);
    expect(of(30, 30)).toEqual([0, 0, 0]);
    expect(hueWidth(350, 15)).toBe(25);
    // Fades lie before the beginning and behind the end, as one goes round.
    const soft = { ...hue(340, 90), hueFadeToDeg: 2 * 12.912 };
    expect(at(soft, red!)).toBeCloseTo(0.5, 2);
    expect(at({ ...hue(120, 340), hueFadeFromDeg: 2 * 17.088 }, red!)).toBeCloseTo(0.5, 2);
  });
  it('are told as they stand: a whole turn is any hue', () => {
    const said = (p: Record<string, number | boolean>) => op.say!(resolve(params, p) as never);
    expect(said({ hueFromDeg: -5, hueToDeg: 15, satOn: false })).toEqual([
      'hue is 355\u201315\u00b0',
      'luma 20\u201380 %',
    ]);
    expect(said({ hueFromDeg: 30, hueToDeg: 390, satOn: false, lumaOn: false })).toEqual(['any hue']);
    expect(said({ hueOn: false, satOn: false, lumaOn: false })).toEqual([]);
  });
  it('that end before they begin hold nothing but their middle', () => {
    const p = { hueOn: false, satOn: false, lumaFromPct: 60, lumaToPct: 40, lumaFadeFromPct: 0, lumaFadeToPct: 0 };
    expect([40, 49, 51, 60].map((v) => at(p, grey(v)))).toEqual([0, 0, 0, 0]);
  });
});

describe('in OKLCh', () => {
  const at = (p: Record<string, number | boolean | string>, rgb: readonly number[]): number => {
    const block = op.prepare(resolve(params, { space: 'oklch', ...p }) as never, plainContext);
    const [r, g, b] = rgb.map((v) => Float32Array.of(v)) as [Float32Array, Float32Array, Float32Array];
    const m = new Float32Array(1);
    (op as KeyPointOp).kernel(block, { r, g, b, m, n: 1 });
    return m[0]!;
  };
  const hard = { hueFadeFromDeg: 0, hueFadeToDeg: 0, satFadeFromPct: 0, satFadeToPct: 0 };
  const edges = { ...hard, lumaFadeFromPct: 0, lumaFadeToPct: 0, neutralPct: 0 };
  // Sources: culori 4.0.2 and colorjs.io 0.7.1, computed here; percentages of W3C CSS Color 4 (chroma of 0.4 is 100 %).
  it('hue, chroma and lightness are those of two colour libraries', () => {
    const random = rng(12);
    const oklch = converter('oklch');
    let compared = 0;
    for (let i = 0; i < 300; i++) {
      const [r, g, b] = [random(), random(), random()];
      const theirs = oklch({ mode: 'rgb', r, g, b });
      const [l, c, h] = new Color('srgb', [r, g, b]).to('oklch').coords.map(Number) as [number, number, number];
      // Where a hue means nothing, or a chroma lies nearer to 0 than the steps below.
      if (c < 0.02) continue;
      compared++;
      expect(Math.abs(theirs.l - l) + Math.abs(theirs.c - c)).toBeLessThan(1e-5);
      // A table of 1024 steps stands for the curve: 0.1 of a percent, and as much of a turn as that is of the chroma.
      const turn = 0.1 + 0.05 / c;
      const near = (dh: number, dc: number, dl: number) => ({
        ...edges,
        hueFromDeg: h + dh - turn,
        hueToDeg: h + dh + turn,
        satFromPct: 250 * c + dc - 0.2,
        satToPct: 250 * c + dc + 0.2,
        lumaFromPct: 100 * l + dl - 0.2,
        lumaToPct: 100 * l + dl + 0.2,
      });
      expect(at(near(0, 0, 0), [r, g, b]), `${r} ${g} ${b}`).toBe(1);
      for (const [dh, dc, dl] of [
        [2.2 * turn, 0, 0],
        [-2.2 * turn, 0, 0],
        [0, 0.5, 0],
        [0, -0.5, 0],
        [0, 0, 0.5],
        [0, 0, -0.5],
      ] as const)
        expect(at(near(dh, dc, dl), [r, g, b])).toBe(0);
    }
    expect(compared).toBeGreaterThan(250);
  });
  it('a light and a dark side of one colour have one hue, which the angle of the scopes does not give them', () => {
    // Source: CSS Color 4 names this hue line; converted by colorjs.io 0.7.1.
    const of = (l: number): number[] => new Color('oklch', [l, 0.09, 264]).to('srgb').coords.map(Number);
    const key = { ...edges, satOn: false, lumaOn: false, hueFromDeg: 263, hueToDeg: 265 };
    expect([0.3, 0.5, 0.7].map((l) => at(key, of(l)))).toEqual([1, 1, 1]);
    const angle = (rgb: number[]) => rgbToYcbcr(rgb[0]!, rgb[1]!, rgb[2]!);
    const hues = [0.3, 0.7].map((l) => hueDeg(angle(of(l))[1], angle(of(l))[2]));
    expect(Math.abs(hues[0]! - hues[1]!)).toBeGreaterThan(2);
  });
  it('is told in its own words', () => {
    expect(op.say!(resolve(params, { space: 'oklch' }) as never)).toEqual([
      'OKLCh hue is 108\u2013138\u00b0',
      'chroma 10\u201340 %',
      'lightness 20\u201380 %',
    ]);
  });
});

describe('version 1 -> 2', () => {
  it('tells centre, width and softness as from, to and fades, keyframes included', () => {
    const up = (p: StoredValues): StoredValues => migrateParams(op, 1, p);
    expect(up({ hueCentreDeg: 5, hueWidthDeg: 20, hueSoftDeg: 7, hueOn: false, neutralPct: 3 })).toEqual({
      hueOn: false,
      neutralPct: 3,
      hueFromDeg: -5,
      hueToDeg: 15,
      hueFadeFromDeg: 7,
      hueFadeToDeg: 7,
    });
    expect(up({})).toEqual({});
    // What was not said had the defaults of then.
    expect(up({ satWidthPct: 10 })).toEqual({ satFromPct: 20, satToPct: 30 });
    const keys = (...v: [number, number][]) => ({
      keys: v.map(([frame, value]) => ({ frame, value, ease: 'smooth' as const })),
    });
    const moved = up({ lumaCentrePct: keys([0, 40], [8, 60]), lumaWidthPct: 20 });
    expect(moved).toEqual({ lumaFromPct: keys([0, 30], [8, 50]), lumaToPct: keys([0, 50], [8, 70]) });
    for (const f of [0, 3, 5.5, 8, 9])
      expect(valueAt(moved['lumaFromPct'] as Keyframed, f)).toBeCloseTo(valueAt(keys([0, 40], [8, 60]), f) - 10, 12);
  });
});
