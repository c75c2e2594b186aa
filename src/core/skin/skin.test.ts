import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { ycbcrToRgb } from '../color/ycbcr';
import { bringToLine, CannotBring } from './bringToLine';
import type { Trial } from './bringToLine';
import { addToKey, fitKey, fitStrokes, inSpace, meanKey, takeFromKey } from './fitKey';
import { guardFor } from '../matte/noise';
import { hueWidth } from '../ops/key/index';
import type { KeyFit } from './fitKey';
import { readPatch, usedPixels } from './reading';
import type { Reading } from './reading';
import { surroundFigures } from './surround';
import { srgb } from '../color/transfer';

/** A plane of colours given by hue, chroma % and luma with some spread. */
function colours(n: number, hue: number, chroma: number, luma: number, spread: number, seed = 1): number[][] {
  const r = rng(seed);
  const g = (): number => r() + r() + r() - 1.5;
  return Array.from({ length: n }, () => {
    const a = ((hue + spread * g()) * Math.PI) / 180;
    return ycbcrToRgb(luma + 0.01 * g(), (chroma / 200) * Math.cos(a), (chroma / 200) * Math.sin(a));
  });
}
const planes = (list: number[][]) =>
  [0, 1, 2].map((c) => Float32Array.from(list, (p) => p[c]!)) as [Float32Array, Float32Array, Float32Array];
const read = (list: number[][]): Reading =>
  readPatch(...planes(list), list.length, { x: 0, y: 0, w: list.length, h: 1 })!;

/** As a sample that is added or taken away is fitted. */
const TOUCHED = { leanPct: 0, narrow: true };
describe('reading of a patch', () => {
  it('gives hue, chroma, luma and spread as they were put in', () => {
    const r = read(colours(4000, 130, 25, 0.55, 4));
    expect(r.offLineDeg!).toBeCloseTo(7, 0);
    expect(r.chromaPct).toBeCloseTo(25, 0);
    expect(r.lumaPct).toBeCloseTo(55, 1);
    expect(r.hueSpreadDeg!).toBeGreaterThan(1.6);
    expect(r.hueSpreadDeg!).toBeLessThan(2.4);
    expect(r.pixels).toBe(4000);
  });
  it('leaves lips and glints out: a tenth of foreign pixels moves the hue by less than half a degree', () => {
    const clean = colours(900, 130, 25, 0.55, 3);
    const dirty = [...clean, ...colours(50, 100, 60, 0.3, 1, 2), ...colours(50, 200, 2, 0.98, 1, 3)];
    const [a, b] = [read(clean), read(dirty)];
    expect(Math.abs(a.offLineDeg! - b.offLineDeg!)).toBeLessThan(0.5);
    expect(b.outlierShare).toBeGreaterThan(0.095);
    const plainMean =
      dirty.reduce((s, p) => s + p[0]!, 0) / dirty.length - clean.reduce((s, p) => s + p[0]!, 0) / clean.length;
    expect(Math.abs(plainMean)).toBeGreaterThan(0.003);
  });
  it('tells which pixels it left out: those that are foreign, where they lie in the patch', () => {
    const [w, h] = [30, 14];
    const all = planes(colours(w * h, 130, 25, 0.55, 3));
    const put = (x: number, y: number, p: number[]): void => p.forEach((v, c) => (all[c]![y * w + x] = v));
    const lips = [
      [6, 3],
      [7, 3],
      [20, 9],
    ] as const;
    for (const [x, y] of lips) put(x, y, ycbcrToRgb(0.3, 0.1, 0.25));
    put(10, 5, [NaN, 0, 0]);
    const box = { x: 4, y: 2, w: 20, h: 10 };
    const { box: at, used } = usedPixels(...all, w, box)!;
    expect(at).toEqual(box);
    const state = (x: number, y: number): number => used[(y - box.y) * box.w + x - box.x]!;
    for (const [x, y] of lips) expect(state(x, y)).toBe(2);
    expect(state(10, 5)).toBe(0);
    expect(state(15, 6)).toBe(1);
    const r = readPatch(...all, w, box)!;
    expect(used.filter((v) => v !== 0)).toHaveLength(r.pixels);
    expect(used.filter((v) => v === 2).length / r.pixels).toBeCloseTo(r.outlierShare, 12);
    // Inside a freeform only what it holds is there at all.
    const three = usedPixels(...all, w, box, [
      [4, 2],
      [24, 2],
      [4, 12],
    ])!;
    expect(three.used[9 * box.w + 19]).toBe(0);
    expect(three.used[box.w + 2]).toBe(2);
    expect(usedPixels(...all, w, { x: 40, y: 0, w: 4, h: 4 })).toBeNull();
  });
  it('says neutral rather than guess, and nothing outside the picture or of NaN', () => {
    expect(read(colours(100, 123, 5, 0.5, 1))).toMatchObject({ offLineDeg: null, hueDeg: null, hueSpreadDeg: null });
    expect(readPatch(...planes(colours(10, 123, 20, 0.5, 1)), 10, { x: 20, y: 0, w: 5, h: 5 })).toBeNull();
    expect(readPatch(...planes([[NaN, 0, 0]]), 1, { x: 0, y: 0, w: 1, h: 1 })).toBeNull();
  });
});

describe('a key fitted to samples', () => {
  it('covers lit and dark sides of one hue, and leaves eyes and hair out', () => {
    const lit = colours(300, 120, 45, 0.6, 4);
    const dark = colours(300, 122, 18, 0.3, 4, 2);
    const eyes = colours(60, 250, 4, 0.8, 30, 3);
    const k = fitKey([...lit, ...dark, ...eyes].flat());
    expect(k.hueOn).toBe(true);
    expect(Math.abs((k.hueFromDeg + k.hueToDeg) / 2 - 121)).toBeLessThan(2);
    expect(k.hueToDeg - k.hueFromDeg).toBeLessThan(20);
    expect(k.hueToDeg - k.hueFromDeg).toBeGreaterThan(4);
    const mean = (list: number[][]): number => meanKey(k, list.flat());
    expect([mean(lit) > 0.95, mean(dark) > 0.95, mean(eyes) < 0.2]).toEqual([true, true, true]);
  });
  it('takes the dark and the light side of what it touched along, where it was not told to be narrow', () => {
    // A surface under light: its colour difference rises with its light; touched in the middle.
    const at = (y: number): number[][] => colours(80, 122, 50 * y, y, 2);
    const touched = [0.47, 0.5, 0.53].flatMap(at);
    const [wide, narrow] = [fitKey(touched.flat()), fitKey(touched.flat(), TOUCHED)];
    expect(Math.abs(wide.leanPct - 50)).toBeLessThan(10);
    for (const y of [0.3, 0.75]) {
      expect(meanKey(wide, at(y).flat())).toBeGreaterThan(0.9);
      expect(meanKey(narrow, at(y).flat())).toBeLessThan(0.5);
    }
    // A wall of its hue that is as light but far greyer stays out.
    expect(meanKey(wide, colours(80, 122, 6, 0.5, 2).flat())).toBeLessThan(0.1);
  });
  it('takes more in, and leaves out by the one cut that costs least; says when nothing tells them apart', () => {
    const lit = fitKey(colours(300, 122, 40, 0.6, 3).flat(), TOUCHED);
    const dark = fitKey(colours(300, 122, 18, 0.25, 3, 2).flat(), TOUCHED);
    const both = addToKey(lit, dark);
    expect([both.satFromPct, both.satToPct]).toEqual([dark.satFromPct, lit.satToPct]);
    expect([both.lumaFromPct, both.lumaToPct]).toEqual([dark.lumaFromPct, lit.lumaToPct]);
    // Over 0 degrees, the short way.
    const [a, b] = [
      { ...lit, hueFromDeg: 350, hueToDeg: 5 },
      { ...lit, hueFromDeg: 20, hueToDeg: 30 },
    ];
    for (const k of [addToKey(a, b), addToKey(b, a)]) expect([k.hueFromDeg, k.hueToDeg]).toEqual([350, 30]);
    expect(addToKey({ ...lit, hueFromDeg: 0, hueToDeg: 200 }, { ...lit, hueFromDeg: 180, hueToDeg: 20 }).hueToDeg).toBe(
      360,
    );
    const full = (k: KeyFit, rgb: number[][]): number => meanKey(k, rgb.flat());
    const [skin, wood, glint] = [
      colours(300, 122, 30, 0.5, 3, 4),
      colours(300, 138, 30, 0.5, 3, 5),
      colours(300, 122, 12, 0.9, 3, 6),
    ];
    const all = addToKey(
      addToKey(fitKey(skin.flat(), TOUCHED), fitKey(wood.flat(), TOUCHED)),
      fitKey(glint.flat(), TOUCHED),
    );
    const held = [...skin, ...wood, ...glint].flat();
    const noWood = takeFromKey(all, fitKey(wood.flat(), TOUCHED), held, wood.flat());
    expect([full(all, wood) > 0.9, full(noWood, wood) < 0.1, full(noWood, skin) > 0.6]).toEqual([true, true, true]);
    const noGlint = takeFromKey(noWood, fitKey(glint.flat(), TOUCHED), [...skin, ...glint].flat(), glint.flat());
    expect([full(noGlint, glint) < 0.05, full(noGlint, skin) > 0.6]).toEqual([true, true]);
    // Only one number of the key was cut each time, with its fade.
    const changed = (x: KeyFit, y: KeyFit): string[] =>
      Object.keys(x).filter((k) => x[k as 'satFromPct'] !== y[k as 'satFromPct']);
    expect(changed(all, noWood).every((k) => k.startsWith('hue'))).toBe(true);
    expect(() =>
      takeFromKey(fitKey(skin.flat(), TOUCHED), fitKey(skin.flat(), TOUCHED), skin.flat(), skin.flat()),
    ).toThrow(/shares its hue.*Draw a shape/);
  });
  it('set by strokes it holds what is meant and leaves out what is not; what shares all three stays', () => {
    const skin = [0.4, 0.5, 0.6].flatMap((y) => colours(60, 122, 40 * y, y, 2));
    const wood = [0.4, 0.5, 0.6].flatMap((y) => colours(60, 129, 45 * y, y, 2, 3));
    expect(meanKey(fitKey(skin.flat()), wood.flat())).toBeGreaterThan(0.2);
    const k = fitStrokes(skin.flat(), wood.flat());
    expect(meanKey(k, skin.flat())).toBeGreaterThan(0.8);
    expect(meanKey(k, wood.flat())).toBeLessThan(0.1);
    // Nothing left out: as wide as a sample's own. The same colour left out: no cut is made that costs the thing.
    expect(fitStrokes(skin.flat(), [])).toEqual(fitKey(skin.flat()));
    expect(meanKey(fitStrokes(skin.flat(), skin.flat()), skin.flat())).toBeGreaterThan(0.6);
  });
  it('crosses 0 degrees, switches hue off for greys, and asks for more pixels', () => {
    const k = fitKey(colours(200, 359, 40, 0.5, 5).flat());
    expect(Math.abs(k.hueFromDeg + k.hueToDeg - 360) / 2).toBeLessThan(3);
    expect(k.hueToDeg).toBeLessThan(k.hueFromDeg);
    expect(fitKey(colours(200, 10, 1, 0.5, 90).flat()).hueOn).toBe(false);
    expect(() => fitKey([0.5, 0.4, 0.3])).toThrow(/larger piece/);
  });
});

describe('a key in OKLCh', () => {
  const tan = [0.42, 0.5, 0.58].flatMap((y) => colours(80, 122, 40 * y, y, 2));
  const wall = [0.42, 0.5, 0.58].flatMap((y) => colours(80, 190, 30 * y, y, 2, 3));
  const oklch = { space: 'oklch' as const };
  it('is fitted, widened and cut in its own terms', () => {
    const k = fitKey(tan.flat(), oklch);
    expect(k.space).toBe('oklch');
    // BT.709 hue 122 degrees is a warm brown: about 50 degrees in OKLCh (sRGB #a5714f is 54, CSS Color 4 converter).
    const middle = k.hueFromDeg + hueWidth(k.hueFromDeg, k.hueToDeg) / 2;
    expect(middle).toBeGreaterThan(40);
    expect(middle).toBeLessThan(75);
    expect(meanKey(k, tan.flat())).toBeGreaterThan(0.95);
    expect(meanKey(k, wall.flat())).toBeLessThan(0.05);
    const both = addToKey(k, fitKey(wall.flat(), { ...oklch, leanPct: k.leanPct, narrow: true }));
    expect(meanKey(both, wall.flat())).toBeGreaterThan(0.8);
    const less = fitKey(wall.flat(), { ...oklch, leanPct: both.leanPct, narrow: true });
    const cut = takeFromKey(both, less, [...tan, ...wall].flat(), wall.flat());
    expect(meanKey(cut, wall.flat())).toBeLessThan(0.05);
    expect(meanKey(cut, tan.flat())).toBeGreaterThan(0.8);
  });
  it('and back in the scope\u2019s own holds about what it held, with the same limits on', () => {
    const k = { ...fitKey(tan.flat()), lumaOn: false };
    const there = inSpace(k, 'oklch', [...tan, ...wall].flat());
    expect([there.space, there.lumaOn, there.hueOn]).toEqual(['oklch', false, true]);
    expect(meanKey(there, tan.flat())).toBeGreaterThan(0.9);
    expect(meanKey(there, wall.flat())).toBeLessThan(0.05);
    const back = inSpace(there, 'scope', [...tan, ...wall].flat());
    expect(back.space).toBe('scope');
    expect(meanKey(back, tan.flat())).toBeGreaterThan(0.9);
    expect(inSpace(back, 'scope', [])).toBe(back);
    // With nothing of it in the picture it goes by all colours there are; a key of nothing says so.
    const blind = inSpace(k, 'oklch', wall.flat());
    expect(meanKey(blind, tan.flat())).toBeGreaterThan(0.9);
    const none = { ...k, satFromPct: 149, satToPct: 150, satFadeFromPct: 0, satFadeToPct: 0 };
    expect(() => inSpace(none, 'oklch', tan.flat())).toThrow(/sample it anew/);
  });
  it('leaves greys to the guard that their noise asks for, in its own percent', () => {
    const grey = [0.05, 0.05, 0.5];
    const [scope, own] = [guardFor(2, grey), guardFor(2, grey, 'oklch')];
    expect(scope).toBeGreaterThan(2);
    expect(own).not.toBe(scope);
    expect(own / scope).toBeGreaterThan(0.3);
    expect(own / scope).toBeLessThan(3);
  });
});

describe('bring to line', () => {
  // A model pipeline: the patch's mean colour, a matte of 0.7, and the operations' own effect on it.
  const model =
    (hue: number, chroma: number, luma: number, m: number) =>
    (push: readonly number[]): Trial => {
      const a = (hue * Math.PI) / 180;
      let [cb, cr] = [(chroma / 200) * Math.cos(a), (chroma / 200) * Math.sin(a)];
      if (push.length === 1) {
        const t = (push[0]! * Math.PI) / 180;
        [cb, cr] = [
          cb + m * (cb * Math.cos(t) - cr * Math.sin(t) - cb),
          cr + m * (cb * Math.sin(t) + cr * Math.cos(t) - cr),
        ];
      } else [cb, cr] = [cb + (m * luma * push[0]!) / 100, cr + (m * luma * push[1]!) / 100];
      const one = planes([ycbcrToRgb(luma, cb, cr)]);
      const at = (as: 'shown' | 16): Reading => readPatch(...one, 1, { x: 0, y: 0, w: 1, h: 1 }, 123, undefined, as)!;
      return { file: at(16), smooth: at('shown'), clippedShare: 0 };
    };
  it.each([
    [140, 0.7],
    [100, 1],
    [160, 0.5],
    [123, 1],
  ])('from %d degrees through a matte of %d, both kinds', async (hue, m) => {
    for (const kind of ['turn', 'balance'] as const) {
      const r = await bringToLine(model(hue, 25, 0.5, m), kind, { strength: 1 });
      expect(Math.abs(r.after.offLineDeg!)).toBeLessThan(0.05);
      if (kind === 'balance') expect(r.after.chromaPct / r.before.chromaPct).toBeGreaterThanOrEqual(0.9);
    }
  });
  it('keeps all chroma, within ten percent, or takes the shortest way, as asked', async () => {
    const [exact, within10, free] = await Promise.all(
      (['exact', 'within10', 'free'] as const).map((keep) =>
        bringToLine(model(163, 30, 0.5, 1), 'balance', { strength: 1, keep }),
      ),
    );
    expect(exact!.after.chromaPct).toBeCloseTo(30, 1);
    expect(within10!.after.chromaPct / 30).toBeGreaterThanOrEqual(0.9);
    expect(free!.after.chromaPct).toBeCloseTo(30 * Math.cos((40 * Math.PI) / 180), 1);
    expect(Math.hypot(...free!.push)).toBeLessThan(Math.hypot(...exact!.push));
  });
  it('brings chroma to what is asked, on the line already or not', async () => {
    for (const hue of [123, 141])
      for (const pct of [18, 34]) {
        const r = await bringToLine(model(hue, 25, 0.5, 0.8), 'balance', { strength: 1, keep: { pct } });
        expect(Math.abs(r.after.chromaPct - pct), `${hue}, ${pct}`).toBeLessThan(0.3);
        expect(Math.abs(r.after.offLineDeg!), `${hue}, ${pct}`).toBeLessThan(0.05);
      }
  });
  it('goes half the way at half the strength and nowhere at none', async () => {
    expect((await bringToLine(model(143, 25, 0.5, 1), 'turn', { strength: 0.5 })).after.offLineDeg!).toBeCloseTo(10, 1);
    expect((await bringToLine(model(143, 25, 0.5, 1), 'balance', { strength: 0 })).push).toEqual([0, 0]);
  });
  it('says when it cannot', async () => {
    await expect(bringToLine(model(140, 3, 0.5, 1), 'turn', { strength: 1 })).rejects.toThrow(CannotBring);
    await expect(bringToLine(model(140, 25, 0.5, 0), 'turn', { strength: 1 })).rejects.toThrow(/does not reach/);
    await expect(bringToLine(model(140, 25, 0.5, 0), 'balance', { strength: 1 })).rejects.toThrow(/does not reach/);
    await expect(bringToLine(() => null, 'turn', { strength: 1 })).rejects.toThrow(/outside the picture/);
  });
});

describe('surround figures', () => {
  it('finds one code in one pixel of the surround, and tells shares', () => {
    const [r, g, b] = planes(colours(100, 120, 20, 0.5, 1));
    const after = { r: r.slice(), g: g.slice(), b: b.slice() };
    after.g[99] = g[99]! + 1 / 65535;
    after.r[3]! += 0.1;
    const m = Float32Array.from({ length: 100 }, (_, i) => (i < 10 ? 1 : i < 20 ? 0.5 : 0));
    const f = surroundFigures({ r, g, b }, after, m, srgb);
    expect([f.surroundMaxCodes, f.surroundShare, f.fringeShare, f.fullShare]).toEqual([1, 0.8, 0.1, 0.1]);
    expect(f.surroundMeanCodes).toBeCloseTo(1 / 80, 6);
    expect(f.regionMaxCodes).toBeGreaterThan(6000);
    expect(f.regionMeanDe).toBeGreaterThan(0.1);
    expect(surroundFigures({ r, g, b }, { r, g, b }, null, srgb)).toMatchObject({
      surroundShare: 0,
      fullShare: 1,
      regionMaxCodes: 0,
      regionMeanDe: 0,
    });
  });
});
