/** Figures that are told to people, against what really leaves: bits, codes of files, exact arithmetic. */
import { decode as decodePng } from 'fast-png';
import { beforeAll, describe, expect, it } from 'vitest';
import { srgb } from '../src/core/color/transfer';
import { ycbcrToRgb } from '../src/core/color/ycbcr';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { addScopes, GROUPS, groupOf, SCOPE_SIZE, WAVE_COLUMNS, WAVE_LEVELS } from '../src/core/scopes/reduce';
import { readPatch } from '../src/core/skin/reading';
import { surroundFigures } from '../src/core/skin/surround';
import { Arena } from '../src/engine/memory';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/decode';
import type { ShotState, SolveRequest } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const still = (w: number, h: number, at: (x: number, y: number) => readonly number[]): DecodedPicture => {
  const rgb = new Float32Array(3 * w * h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) rgb.set(at(x, y), 3 * (y * w + x));
  return { width: w, height: h, bits: 32, format: 'exr', rgb, notes: [], encoding: 'srgb', alpha: false };
};
const hueColour = (hue: number, chroma: number, luma: number): number[] => {
  const a = (hue * Math.PI) / 180;
  return ycbcrToRgb(luma, (chroma / 200) * Math.cos(a), (chroma / 200) * Math.sin(a));
};
const correction = (c: Partial<CorrectionSpec>): CorrectionSpec => ({
  id: 'c',
  name: 'C',
  on: true,
  mixPct: 100,
  terms: [],
  tidy: [],
  adjustments: [],
  ...c,
});
const shotOf = (...corrections: CorrectionSpec[]): ShotState => ({
  media: 'p',
  encoding: 'srgb',
  frame: 0,
  corrections,
});

describe('views of memory', () => {
  const arena = (): Arena => new Arena(new WebAssembly.Memory({ initial: 2 }), 2 ** 22);
  it('cannot be held while memory is asked for, nor be handed out', () => {
    const a = arena();
    const at = a.alloc(64);
    expect(() => a.look(() => a.alloc(64))).toThrow(/while somebody looks/);
    expect(() => a.look((v) => v.f32(at, 4))).toThrow(/handed out/);
    expect(() => a.look((v) => ({ r: v.f32(at, 4) }))).toThrow(/handed out/);
    // After a fault it can be asked again.
    expect(a.alloc(64)).toBeGreaterThan(at);
    expect(a.look((v) => v.f32(at, 4).slice())).toHaveLength(4);
  });
});

describe('the error of a lookup table', () => {
  let s: Session;
  beforeAll(async () => {
    s = await soloSession({ wasm: wasmBytes() });
  });
  // A table of 65 needs 3.3 MB of lattice planes: memory grows after the picture has been computed.
  it.each([
    [33, 3200, 1800],
    [65, 1600, 900],
    [97, 1600, 900],
  ])('is measured at %d per side on %dx%d: what a shape leaves out shows', async (size, w, h) => {
    s.open(
      'p',
      still(w, h, (x, y) => [0.3 + (0.4 * x) / w, 0.5, 0.3 + (0.4 * y) / h]),
    );
    const key = newUse('k', 'key', { hueOn: false, satOn: false, lumaOn: false });
    const shape = newUse('e', 'ellipse', { cxPx: w / 2, cyPx: h / 2, rxPx: w / 5, ryPx: h / 5 });
    const r = await s.lut(
      shotOf(
        correction({
          terms: [
            { id: 't1', join: 'and', not: false, name: 'k', use: key },
            { id: 't2', join: 'and', not: false, name: 'e', use: shape },
          ],
          adjustments: [newUse('x', 'exposure', { stops: 1 })],
        }),
      ),
      size,
      'x',
    );
    expect(r.comparedInRegion).toBeGreaterThan(1000);
    expect(r.comparedInSurround).toBeGreaterThan(10_000);
    expect(r.surroundMeanDe!).toBeGreaterThan(5);
    expect(r.surroundMaxDe!).toBeGreaterThan(r.surroundMeanDe!);
    expect(r.regionMeanDe!).toBeGreaterThan(0);
  });
  it('is not said where nothing can be compared, and 0 of nothing is no figure', async () => {
    s.open(
      'p',
      still(40, 30, () => [NaN, NaN, NaN]),
    );
    await expect(() => s.lut(shotOf(correction({})), 17, 'x')).rejects.toThrow(/could be compared/);
    s.open(
      'p',
      still(40, 30, () => [0.4, 0.4, 0.4]),
    );
    const r = await s.lut(shotOf(correction({ adjustments: [newUse('x', 'exposure', { stops: 1 })] })), 17, 'x');
    expect([r.comparedInSurround, r.surroundMeanDe, r.surroundMaxDe]).toEqual([0, null, null]);
  });
});

describe('surround proof', () => {
  const plane = (...v: number[]): Float32Array => Float32Array.from(v);
  const figures = (before: number[], after: number[], m: number[]) =>
    surroundFigures(
      { r: plane(...before), g: plane(...before), b: plane(...before) },
      { r: plane(...after), g: plane(...before), b: plane(...before) },
      plane(...m),
      srgb,
    );
  it.each([
    [2, 5, 3],
    [-0.5, -0.1, 0.4],
    [0.5, 0.500003, 3e-6],
    [0, -0, 0],
    [Infinity, 7, Infinity],
    [NaN, 0.5, Infinity],
    [0.5, NaN, Infinity],
  ])('shows %d -> %d though codes may not', (from, to, by) => {
    const f = figures([0.25, from], [0.25, to], [0, 0]);
    expect(f.surroundChanged).toBe(1);
    if (Number.isFinite(by)) expect(f.surroundMaxChange).toBeCloseTo(by, 6);
    else expect(f.surroundMaxChange).toBe(Infinity);
  });
  it('finds nothing where nothing changed, NaN and infinity included', () => {
    const same = [NaN, Infinity, -Infinity, -0, 3, 0.5];
    expect(figures(same, same, [0, 0, 0, 0, 0, 0])).toMatchObject({ surroundChanged: 0, surroundMaxChange: 0 });
    expect(() => figures([], [], [])).toThrow(/no pixel/);
  });
  it('holds for operations that make NaN and infinity of every colour, on any kernel', async () => {
    for (const wasm of [wasmBytes(), undefined]) {
      const s = await soloSession(wasm ? { wasm } : {});
      const r = rng(3);
      // Above, below and far beyond the range, and pixels that are no number at all.
      s.open(
        'p',
        still(230, 120, (x) =>
          x % 37 === 0 ? [NaN, 1, -Infinity] : x % 23 === 0 ? [1e30, -1e30, 0] : [r() * 3 - 1, r() * 3 - 1, r()],
        ),
      );
      const c = correction({
        terms: [
          {
            id: 't3',
            join: 'and',
            not: false,
            name: 'e',
            use: newUse('e', 'ellipse', { cxPx: 110, cyPx: 60, rxPx: 40, ryPx: 30, softInPx: 5, softOutPx: 5 }),
          },
        ],
        adjustments: [
          newUse('a', 'wheels', { gainLevel: 100, gammaLevel: 100 }),
          newUse('b', 'exposure', { stops: 10 }),
          newUse('d', 'contrast', { amountPct: 400 }),
          newUse('f', 'cdl', { powerR: 4, slopeG: 10 }),
        ],
      });
      const f = await s.figures(shotOf(c), 'c');
      expect(f.surroundShare).toBeGreaterThan(0.7);
      expect(f.regionMaxCodes).toBeGreaterThan(1000);
      expect(f).toMatchObject({ surroundChanged: 0, surroundMaxChange: 0, surroundMaxCodes: 0 });
    }
  });
});

describe('bring to line tells what the file reads', () => {
  let s: Session;
  beforeAll(async () => {
    s = await soloSession({ wasm: wasmBytes() });
  });
  const patch = { x: 20, y: 20, w: 40, h: 30 };
  const solve = async (over: Partial<SolveRequest>) => {
    const c = correction({});
    const r = await s.solve({
      shot: shotOf(c),
      correction: 'c',
      patches: [{ box: patch }],
      kind: 'balance',
      strength: 1,
      keep: 'within10',
      skinLineDeg: 123,
      bits: 16,
      ...over,
    });
    const png = await s.exportPicture(shotOf({ ...c, adjustments: r.adjustments }), over.bits ?? 16);
    const p = decodePng(png);
    const max = 2 ** p.depth - 1;
    const planes = [0, 1, 2].map((k) =>
      Float32Array.from({ length: p.width * p.height }, (_, i) => p.data[3 * i + k]! / max),
    ) as [Float32Array, Float32Array, Float32Array];
    return { r, file: readPatch(...planes, p.width, patch, 123)! };
  };
  const noisy = (hue: number, chroma: number, luma: number, noise: number) => {
    const r = rng(11);
    return still(90, 70, () => hueColour(hue, chroma, luma).map((v) => v + noise * (r() + r() - 1)));
  };
  it.each([
    ['dull skin, flat', 135, 9, 0.4, 0],
    ['dull skin, noisy', 112, 10, 0.35, 0.01],
    ['bright skin', 140, 30, 0.7, 0.01],
    ['dark skin', 108, 14, 0.12, 0.006],
  ] as const)('%s: to the digit, and as near as the codes allow', async (_, hue, chroma, luma, noise) => {
    s.open('p', noisy(hue, chroma, luma, noise));
    for (const bits of [8, 16] as const)
      for (const kind of ['balance', 'turn'] as const) {
        const { r, file } = await solve({ bits, kind });
        expect(Math.abs(r.after.offLineDeg! - file.offLineDeg!)).toBeLessThan(1e-4);
        expect(Math.abs(r.residualDeg - file.offLineDeg!)).toBeLessThan(1e-4);
        expect(Math.abs(file.offLineDeg!)).toBeLessThan(bits === 16 ? 0.05 : 0.6);
        if (Math.abs(r.residualDeg) > 0.1) expect(r.why).toBe('rounding');
      }
  });
  it('in 8 bits flat dull skin comes nearer than its nearest rounding, or says that codes are too coarse', async () => {
    s.open('p', noisy(135, 9, 0.4, 0));
    const { r } = await solve({ bits: 8, kind: 'turn' });
    // Every code within two of the mean, as exact arithmetic has them: none lies nearer to the line at this chroma.
    expect(Math.abs(r.residualDeg)).toBeLessThan(0.6);
    expect(r.bits).toBe(8);
  });
  it('where channels clip on the display: solved within its range, and the share that clips is said', async () => {
    // A face under a strong lamp: red is at the top for most of it, blue near nothing.
    const r0 = rng(4);
    s.open(
      'p',
      still(90, 70, () => [0.985 + 0.02 * r0(), 0.62 + 0.02 * r0(), 0.3 + 0.02 * r0()]),
    );
    for (const kind of ['balance', 'turn'] as const) {
      const { r, file } = await solve({ kind, keep: 'exact' });
      expect(r.clippedShare).toBeGreaterThan(0.3);
      expect(Math.abs(r.after.offLineDeg! - file.offLineDeg!)).toBeLessThan(1e-4);
      expect(Math.abs(file.offLineDeg!)).toBeLessThan(0.1);
    }
    s.open('p', noisy(140, 20, 0.5, 0.005));
    expect((await solve({})).r.clippedShare).toBe(0);
  });
  it('outliers are chosen before the push: two colours in a patch do not flip the figure', async () => {
    // 60 % skin, 40 % of another hue that a push could make the majority's neighbour.
    const r = rng(9);
    s.open(
      'p',
      still(90, 70, (x) =>
        (x % 5 < 3 ? hueColour(138, 22, 0.5) : hueColour(95, 26, 0.42)).map((v) => v + 0.006 * (r() - 0.5)),
      ),
    );
    const { r: got, file } = await solve({ kind: 'turn' });
    expect(Math.abs(got.after.offLineDeg! - file.offLineDeg!)).toBeLessThan(1e-4);
    expect(Math.abs(file.offLineDeg!)).toBeLessThan(0.1);
    expect(Math.abs(got.push[0]! + 15)).toBeLessThan(1.5);
    // And the patch says that a second hue is left out.
    const second = got.before.second!;
    expect(second.share).toBeGreaterThan(0.38);
    expect(second.share).toBeLessThan(0.42);
    expect(second.offLineDeg!).toBeCloseTo(95 - 123, 0);
    expect(second.plainOffLineDeg!).toBeLessThan(got.before.offLineDeg! - 10);
  });
  it('glints of the same hue are no second hue', async () => {
    const r = rng(10);
    s.open(
      'p',
      still(90, 70, (x) => (x % 10 ? hueColour(130, 22, 0.5) : hueColour(130, 24, 0.9)).map((v) => v + 0.004 * r())),
    );
    const { r: got } = await solve({});
    expect(got.before.outlierShare).toBeGreaterThan(0.09);
    expect(got.before.second).toBeNull();
  });
});

describe('waveform cells', () => {
  // Exact arithmetic: level = floor(500 v + 50) of v = k / max, in whole numbers.
  const exact = (k: number, max: number): number =>
    Math.min(WAVE_LEVELS - 1, Math.max(0, Math.floor((500 * k + 50 * max) / max)));
  it.each([255, 1023])('all codes of %d fall where exact arithmetic puts them, in both kernels', async (max) => {
    const n = max + 1;
    const grey = Float32Array.from({ length: n }, (_, k) => k / max);
    const want = new Uint32Array(WAVE_LEVELS);
    for (let k = 0; k < n; k++) want[exact(k, max)]!++;
    const counts = new Uint32Array(SCOPE_SIZE);
    const p = { r: grey, g: grey, b: grey, m: null, matte: 0 as const, w: n, x0: 0, x1: n };
    addScopes(p, 0, 1, 1, 1 | 8 | 16 | 32, 123, 0.56, counts);
    const levels = (c: Uint32Array, g: 'y' | 'r' | 'g' | 'b' | 'cb' | 'cr'): number[] => {
      const wave = groupOf(c, g);
      return Array.from({ length: WAVE_LEVELS }, (_, l) => {
        let sum = 0;
        for (let col = 0; col < WAVE_COLUMNS; col++) sum += wave[col * WAVE_LEVELS + l]!;
        return sum;
      });
    };
    const s = await soloSession({ wasm: wasmBytes() });
    const fast = await s.ev.scopes(
      await s.ev.load(`codes${max}`, n, 1, (r, g, b) => [r, g, b].forEach((q) => q.set(grey))),
      { matte: null, mode: 1, box: null, bits: 1 | 8 | 16 | 32, range: 0.56, stride: 1, skinLineDeg: 123 },
      (c) => c.slice(),
    );
    for (const c of [counts, fast]) {
      for (const g of ['y', 'r', 'g', 'b'] as const) expect(levels(c, g)).toEqual([...want]);
      // A grey has no colour difference: the middle, and not the cell below it.
      for (const g of ['cb', 'cr'] as const) expect(levels(c, g)[300]).toBe(n);
      const at = GROUPS.vector.at + 280 * 560 + 280;
      expect(c[at]).toBe(n);
    }
  });
});
