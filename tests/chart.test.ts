/**
 * The chart and neutral helpers on pictures whose truth is known: rendered charts under known light, and the demo's
 * own.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { chart24 } from '../src/core/color/chart';
import { apply3, decode, encode, resolveEncoding, rgbToRgb } from '../src/core/color/encodings';
import type { EncodingId } from '../src/core/color/encodings';
import { adaptWhite } from '../src/core/color/locus';
import { rgbToYcbcr } from '../src/core/color/ycbcr';
import { polygonMask } from '../src/core/math/polygon';
import { multiply } from '../src/core/color/matrix3';
import { invert3, primaries, rgbToXyz } from '../src/core/color/encodings';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { chartCells, quadMap } from '../src/core/match/chart';
import type { ChartPlace } from '../src/core/match/chart';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import { decodeStill } from '../src/media/decode';
import type { ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const W = 420;
const H = 300;
const place: ChartPlace = {
  kind: 'chart24',
  corners: [
    [40, 30],
    [390, 52],
    [372, 268],
    [28, 250],
  ],
  steps: 5,
  greyStep: null,
};

/** A chart in perspective, of `encoding`, as the light says, with noise; values on 16 bits. */
function chartPicture(
  encoding: EncodingId,
  light: (rgb: readonly [number, number, number]) => [number, number, number],
  noise: number,
  corners = place.corners,
) {
  const e = resolveEncoding(encoding);
  const toOwn = rgbToRgb('bt709', e.primaries);
  const rgb = new Uint16Array(3 * W * H);
  const r = rng(5);
  const map = quadMap(corners);
  const cells = Array.from({ length: 24 }, (_, i) => {
    const [x, y] = [i % 6, Math.floor(i / 6)];
    return [
      map((x + 0.06) / 6, (y + 0.06) / 4),
      map((x + 0.94) / 6, (y + 0.06) / 4),
      map((x + 0.94) / 6, (y + 0.94) / 4),
      map((x + 0.06) / 6, (y + 0.94) / 4),
    ] as const;
  });
  const masks = cells.map((c) => polygonMask(c, W, H));
  const shown = [...chart24.map((c) => c.linear), [0.03, 0.03, 0.03] as const].map((lin) =>
    apply3(toOwn, light(lin)).map((v) => encode(e, v)),
  );
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const k = masks.findIndex((m) => m[y * W + x]);
      shown.at(k)!.forEach((v, c) => {
        const s = v + noise * (r() + r() + r() - 1.5);
        rgb[3 * (y * W + x) + c] = Math.round(65535 * Math.min(1, Math.max(0, s)));
      });
    }
  return { width: W, height: H, bits: 16 as const, format: 'png' as const, rgb, notes: [], encoding, alpha: false };
}
const base = (side?: 'camera'): CorrectionSpec => ({
  id: 'base',
  name: 'Base',
  on: true,
  mixPct: 100,
  terms: [],
  tidy: [],
  adjustments: ['exposure', 'temperature', 'points', 'saturation'].map((op) => newUse(op, op)),
  ...(side ? { side } : {}),
});
const all = { balance: true, levels: true, saturation: true };

describe('chart', () => {
  let s: Session;
  beforeAll(async () => {
    s = await soloSession({ wasm: wasmBytes() });
  });
  const solved = async (shot: ShotState, chart: ChartPlace, strength = 1) => {
    const h = await s.helper({ shot, correction: 'base', strength, task: { kind: 'chart', chart, parts: all } });
    return {
      h,
      after: await s.chart({ ...shot, corrections: [{ ...shot.corrections[0]!, adjustments: h.adjustments }] }, chart),
    };
  };
  // A warm lamp, underexposed, as a Bradford shift of white and a factor of light; 0.75 stops and 45 mired are the
  // truth.
  const toXyz = rgbToXyz(primaries.bt709);
  const warm = multiply(invert3(toXyz), multiply(adaptWhite(primaries.bt709.white, 45, -4), toXyz));
  const light = (v: readonly [number, number, number]): [number, number, number] =>
    apply3(warm, v).map((x) => x * 2 ** -0.75) as [number, number, number];

  it('reads a chart without a cast as its reference, in any encoding, through perspective and noise', async () => {
    for (const encoding of ['srgb', 'acescct'] as const) {
      s.open(
        'p',
        chartPicture(encoding, (v) => [...v], 0.004),
      );
      const r = await s.chart(
        {
          media: 'p',
          encoding,
          conversion: newUse('c', 'convert', {}, encoding !== 'srgb'),
          frame: 0,
          corrections: [],
        },
        place,
      );
      expect(r.meanAfter, encoding).toBeLessThan(0.5);
      expect(r.patches.map((p) => p.name)).toEqual(chart24.map((c) => c.name));
    }
  });
  it.each(['srgb', 'bt1886', 'acescct', 'linear709'] as const)(
    'solves a known light on %s: mean CIEDE2000 under 1 after',
    async (encoding) => {
      s.open('p', chartPicture(encoding, light, 0.004));
      const scene = encoding === 'acescct' || encoding === 'linear709';
      const shot: ShotState = {
        media: 'p',
        encoding,
        conversion: newUse('c', 'convert', {}, scene),
        frame: 0,
        corrections: [base(scene ? 'camera' : undefined)],
      };
      const { h, after } = await solved(shot, place);
      expect(after.meanBefore).toBeGreaterThan(8);
      expect(after.meanAfter).toBeLessThan(1);
      expect(h.after).toBeCloseTo(after.meanAfter, 0);
      expect(h.set['exposure']!['stops']!).toBeGreaterThan(0.5);
      expect(h.set['temperature']!['mired']!).toBeLessThan(-30);
    },
  );
  it('goes half of the way at half strength', async () => {
    s.open('p', chartPicture('srgb', light, 0.004));
    const shot: ShotState = { media: 'p', encoding: 'srgb', frame: 0, corrections: [base()] };
    const [half, whole] = [await solved(shot, place, 0.5), await solved(shot, place)];
    expect(half.h.set['exposure']!['stops']!).toBeCloseTo(whole.h.set['exposure']!['stops']! / 2, 2);
    expect(half.after.meanAfter).toBeLessThan(half.after.meanBefore);
    expect(half.after.meanAfter).toBeGreaterThan(whole.after.meanAfter + 1);
  });
  describe('what lies under the grid', () => {
    const shot: ShotState = { media: 'p', encoding: 'srgb', frame: 0, corrections: [base()] };
    const [q0, q1, q2, q3] = place.corners;
    const moved = (dx: number, dy: number): ChartPlace => ({
      ...place,
      corners: place.corners.map(([x, y]) => [x + dx, y + dy]) as unknown as ChartPlace['corners'],
    });
    const refuse = async (c: ChartPlace): Promise<void> => {
      expect((await s.chart(shot, c)).found.fault).toMatch(/not the chart/);
      await expect(() =>
        s.helper({ shot, correction: 'base', strength: 1, task: { kind: 'chart', chart: c, parts: all } }),
      ).rejects.toThrow(/not the chart/);
    };
    it.each([
      ['half a patch to the side', 28, 0],
      ['half a patch down', 0, 27],
      ['a column', 57, 2],
      ['a row', -3, 54],
    ])('off by %s is not the chart: nothing is solved', async (_, dx, dy) => {
      s.open('p', chartPicture('srgb', light, 0.004));
      await refuse(moved(-dx, -dy));
    });
    it('a flat wall and a slope are not the chart', async () => {
      for (const flat of [true, false]) {
        const rgb = new Uint8Array(3 * W * H).map((_, i) => (flat ? 120 : 60 + ((i / 3) % W) / 3));
        s.open('p', { ...chartPicture('srgb', light, 0), bits: 8 as const, rgb });
        await refuse(place);
      }
    });
    it.each([
      ['upside down', [q2, q3, q0, q1]],
      ['quarter clockwise', [q3, q0, q1, q2]],
      ['mirrored', [q1, q0, q3, q2]],
      ['mirrored and turned', [q0, q3, q2, q1]],
    ] as const)('%s: found, said, and solved like the upright one', async (name, corners) => {
      s.open('p', chartPicture('srgb', light, 0.004));
      const turned = { ...place, corners };
      const r = await s.chart(shot, turned);
      expect(r.found.fault).toBeNull();
      expect(r.found.turned).toContain(name);
      const { h, after } = await solved(shot, turned);
      expect(after.meanAfter).toBeLessThan(1);
      expect(after.meanAfter).toBeGreaterThan(0.01);
      const upright = (await solved(shot, place)).h.set;
      expect(h.set['exposure']!['stops']!).toBeCloseTo(upright['exposure']!['stops']!, 1);
    });
    it.each([
      [0.3, 0],
      [-0.3, 0.2],
      [0, -0.25],
    ])('an uneven light of %d across and %d down is told and taken out', async (across, down) => {
      // Around the chart's middle: half of it on either side.
      const p = chartPicture('srgb', light, 0);
      const even = p.rgb.slice();
      const e = resolveEncoding('srgb');
      for (let y = 0; y < H; y++)
        for (let x = 0; x < W; x++)
          for (let c = 0; c < 3; c++) {
            const i = 3 * (y * W + x) + c;
            const k = (1 + across * ((x - 208) / 345)) * (1 + down * ((y - 150) / 216));
            p.rgb[i] = Math.round(65535 * Math.min(1, encode(e, decode(e, even[i]! / 65535) * k)));
          }
      s.open('p', p);
      const r = (await s.chart(shot, place)).found;
      expect(r.across).toBeCloseTo((1 + across / 2) / (1 - across / 2) - 1, 1);
      expect(r.down).toBeCloseTo((1 + down / 2) / (1 - down / 2) - 1, 1);
      const { set, after } = (await solved(shot, place)).h;
      // What is solved is the even chart: with the slope in it the mean stays above 2.
      expect(after).toBeLessThan(1);
      s.open('p', { ...p, rgb: even });
      const want = (await solved(shot, place)).h.set;
      // The pair does not run against each other.
      expect(Math.abs(set['exposure']!['stops']! - want['exposure']!['stops']!)).toBeLessThan(0.12);
      expect(Math.abs(set['points']!['whitePct']! - 100)).toBeLessThan(12);
      expect(Math.abs(set['temperature']!['mired']! - want['temperature']!['mired']!)).toBeLessThan(6);
    });
    it('a picture that has seen a contrast curve does not set exposure and white point at odds', async () => {
      for (const power of [0.75, 1.35]) {
        const p = chartPicture('srgb', light, 0.002);
        p.rgb.forEach((v, i) => (p.rgb[i] = Math.round(65535 * (v / 65535) ** power)));
        s.open('p', p);
        const { set } = (await solved(shot, place)).h;
        expect(
          Math.abs(set['points']!['whitePct']! - 100),
          `${power}: white ${set['points']!['whitePct']}`,
        ).toBeLessThan(20);
        expect(Math.abs(set['exposure']!['stops']!)).toBeLessThan(2);
      }
    });
    it('a strong perspective is read as it is', async () => {
      const corners = [
        [60, 80],
        [380, 20],
        [400, 285],
        [75, 200],
      ] as unknown as ChartPlace['corners'];
      s.open('p', chartPicture('srgb', light, 0.002, corners));
      const r = await s.chart(shot, { ...place, corners });
      expect(r.found).toMatchObject({ fault: null, turned: null });
      expect((await solved(shot, { ...place, corners })).after.meanAfter).toBeLessThan(1);
      // The corners of the upright chart lie elsewhere.
      expect((await s.chart(shot, place)).found.fault).toMatch(/not the chart/);
    });
    it('a strip needs levels that rise or fall', async () => {
      s.open('p', chartPicture('srgb', light, 0.004));
      const strip: ChartPlace = { ...place, kind: 'strip', steps: 6, greyStep: null };
      // The bottom row of the chart is a strip of six greys; the picture's border is none.
      const map = quadMap(place.corners);
      const row = { ...strip, corners: [map(0, 0.75), map(1, 0.75), map(1, 1), map(0, 1)] as ChartPlace['corners'] };
      expect((await s.chart(shot, row)).found.fault).toBeNull();
      expect(
        (
          await s.chart(shot, {
            ...strip,
            corners: [
              [2, 2],
              [400, 2],
              [400, 18],
              [2, 18],
            ],
          })
        ).found.fault,
      ).toMatch(/no grey strip/);
    });
  });
  it('says what is wrong in words', async () => {
    const shot: ShotState = { media: 'p', encoding: 'srgb', frame: 0, corrections: [base()] };
    await expect(() =>
      s.chart(shot, {
        ...place,
        corners: [
          [900, 30],
          [990, 52],
          [972, 268],
          [928, 250],
        ],
      }),
    ).rejects.toThrow(/outside the picture/);
    await expect(() =>
      s.helper({ shot, correction: 'base', strength: 1, task: { kind: 'neutral', patches: [] } }),
    ).rejects.toThrow(/no patch of the kind/);
    await expect(() =>
      s.helper({
        shot: {
          ...shot,
          corrections: [
            { ...base(), terms: [{ id: 't1', join: 'and', not: false, name: 'k', use: newUse('k', 'key') }] },
          ],
        },
        correction: 'base',
        strength: 1,
        task: { kind: 'points', lowPct: 1, highPct: 99, blackPct: 5, whitePct: 95 },
      }),
    ).rejects.toThrow(/whole picture/);
  });

  describe('the demo: Chart call, ACEScct under a warm light of its own', () => {
    const corners: ChartPlace['corners'] = [
      [169, 262],
      [757, 263],
      [757, 648],
      [168, 650],
    ];
    const chart: ChartPlace = { kind: 'chart24', corners, steps: 5, greyStep: null };
    let shot: ShotState;
    beforeAll(async () => {
      s.open(
        'call',
        await decodeStill(new Uint8Array(readFileSync(join(import.meta.dirname, '../demo/stills/chart-call.png')))),
      );
      shot = {
        media: 'call',
        encoding: 'acescct',
        conversion: newUse('c', 'convert', {}, true),
        frame: 0,
        corrections: [base('camera')],
      };
    });
    it('comes to a mean under 1 CIEDE2000', async () => {
      const { after } = await solved(shot, chart);
      expect(after.meanBefore).toBeGreaterThan(4);
      expect(after.meanAfter).toBeLessThan(1);
    });
    it('its strip turns neutral, and its fourth of light becomes the grey card', async () => {
      const strip: ChartPlace = {
        kind: 'strip',
        corners: [
          [169, 660],
          [755, 657],
          [755, 735],
          [169, 739],
        ],
        steps: 5,
        greyStep: 2,
      };
      const { after } = await solved(shot, strip);
      after.patches.forEach((p) =>
        expect(Math.hypot(...rgbToYcbcr(...p.after).slice(1)) * 200, p.name).toBeLessThan(2),
      );
      expect(Math.abs(rgbToYcbcr(...after.patches[2]!.after)[0] - 0.43)).toBeLessThan(0.02);
      expect(chartCells(strip)).toHaveLength(5);
    });
    it('black, grey and white patches are brought together, partly by choice', async () => {
      const at = (id: string, neutral: 'black' | 'grey' | 'white', x: number) => ({
        id,
        neutral,
        box: { x, y: 676, w: 60, h: 44 },
      });
      const patches = [at('b', 'black', 195), at('g', 'grey', 436), at('w', 'white', 668)];
      for (const list of [patches, patches.slice(1, 2)]) {
        const whole = await s.helper({
          shot,
          correction: 'base',
          strength: 1,
          task: { kind: 'neutral', patches: list },
        });
        const half = await s.helper({
          shot,
          correction: 'base',
          strength: 0.5,
          task: { kind: 'neutral', patches: list },
        });
        expect(whole.before).toBeGreaterThan(4);
        expect(whole.after).toBeLessThan(0.4);
        expect(half.after).toBeGreaterThan(whole.after + 1);
        expect(half.after).toBeLessThan(half.before - 1);
        expect(Object.keys(whole.set)).toEqual([list.length === 1 ? 'temperature' : 'wheels']);
      }
    });
    it('black and white points by percentiles put them where they are asked', async () => {
      const display: ShotState = { ...shot, corrections: [base()] };
      const h = await s.helper({
        shot: display,
        correction: 'base',
        strength: 1,
        task: { kind: 'points', lowPct: 1, highPct: 99, blackPct: 5, whitePct: 95 },
      });
      const r = await s.render({
        shot: { ...display, corrections: [{ ...base(), adjustments: h.adjustments }] },
        focus: null,
        view: { w: 4, h: 4, scale: 0.01, offX: 0, offY: 0, mode: 'picture', compare: 'off', wipeX: 0 },
        quality: 'final',
        scopes: [{ kind: 'histogram', over: 'whole', when: 'after', zoom: 1, px: [600, 1] }],
        patches: [],
        skinLineDeg: 123,
        bits: 16,
      });
      const y = r.scopes![0]!.planes[0]!.counts;
      const total = y.reduce((a, b) => a + b, 0);
      let sum = 0;
      const low = y.findIndex((n) => (sum += n) >= 0.01 * total);
      sum = 0;
      const high = y.findIndex((n) => (sum += n) >= 0.99 * total);
      expect(Math.abs((low + 0.5) / 500 - 0.1 - 0.05)).toBeLessThan(0.006);
      expect(Math.abs((high + 0.5) / 500 - 0.1 - 0.95)).toBeLessThan(0.006);
    });
  });
});
