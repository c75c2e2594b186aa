import { describe, expect, it } from 'vitest';
import { luma, ycbcrToRgb } from '../color/ycbcr';
import { zoneWeights } from '../ops/zones/index';
import {
  chromaScale,
  FALSE_CELLS,
  falseColours,
  falseIndex,
  falseTable,
  levelBands,
  offLineScale,
  zoneColours,
} from './falseColour';
import type { FalseColour, Rgb8 } from './falseColour';

const shown = (kind: FalseColour, rgb: readonly [number, number, number], greyPct = 43): number[] | null => {
  const t = falseTable(kind, { greyPct, zoneAt: (y) => zoneWeights(y, [0.1, 0.3, 0.6, 0.85], 0.14) });
  const i = falseIndex(kind, ...rgb, 123);
  return i < 0 || t[4 * i + 3] === 0 ? null : [0, 1, 2].map((c) => Math.round(255 * t[4 * i + c]!));
};
const grey = (v: number): [number, number, number] => [v, v, v];
const at = (y: number, deg: number, chromaPct: number): [number, number, number] =>
  ycbcrToRgb(
    y,
    (chromaPct / 200) * Math.cos((deg * Math.PI) / 180),
    (chromaPct / 200) * Math.sin((deg * Math.PI) / 180),
  );

describe('levels', () => {
  it('shows each level in the colour that its legend says, the grey card before the skin it lies in', () => {
    for (const greyPct of [36, 43, 46, 49]) {
      for (const b of levelBands(greyPct)) {
        const lo = Math.max(-5, b.from);
        const hi = Math.min(108, b.to);
        const mid = (lo + hi) / 2;
        const card = Math.abs(mid - greyPct) < 2.5;
        if (card && b.name.startsWith('skin')) continue;
        expect(shown('levels', grey(mid / 100), greyPct), `${b.name} at ${mid}`).toEqual(b.colour && [...b.colour]);
      }
      expect(shown('levels', grey(greyPct / 100), greyPct)).toEqual([40, 176, 160]);
    }
  });
  it('skin lies at 40 to 70 %, white at 90 to 97 %, what clips apart from what nearly does', () => {
    expect(shown('levels', grey(0.6))).toEqual([226, 160, 62]);
    expect(shown('levels', grey(0.8))).toBeNull();
    expect(shown('levels', grey(0.985))).not.toEqual(shown('levels', grey(1.01)));
    expect(shown('levels', grey(0.005))).not.toEqual(shown('levels', grey(0.05)));
  });
});
describe('off-line angle', () => {
  it(
    'is white on the line, bluer to the red side, more orange to the yellow side, nothing where it ' + 'cannot be read',
    () => {
      const on = shown('offLine', at(0.5, 123, 25))!;
      expect(Math.min(...on)).toBeGreaterThan(235);
      const red = shown('offLine', at(0.5, 103, 25))!;
      expect(red[2]! - red[0]!).toBeGreaterThan(100);
      const yellow = shown('offLine', at(0.5, 143, 25))!;
      expect(yellow[0]! - yellow[2]!).toBeGreaterThan(100);
      expect(shown('offLine', at(0.5, 123, 4))).toBeNull();
      expect(shown('offLine', at(0.5, 250, 25))).toBeNull();
      expect(shown('offLine', [NaN, 0.5, 0.5])).toBeNull();
    },
  );
});
describe('scales', () => {
  const lightness = (c: Rgb8): number => luma(c[0] / 255, c[1] / 255, c[2] / 255);
  it(
    'chroma gets lighter with every stop, so that it reads without hue; the line is the lightest of ' + 'the angles',
    () => {
      for (let i = 1; i < chromaScale.stops.length; i++)
        expect(lightness(chromaScale.stops[i]![1])).toBeGreaterThan(lightness(chromaScale.stops[i - 1]![1]) + 0.08);
      const l = offLineScale.stops.map(([, c]) => lightness(c));
      expect(Math.max(...l)).toBe(l[2]);
      for (let i = 1; i < zoneColours.length; i++)
        expect(lightness(zoneColours[i]!)).toBeGreaterThan(lightness(zoneColours[i - 1]!));
    },
  );
  it('zones are mixed by their shares', () => {
    expect(shown('zones', grey(0.45))).toEqual([...zoneColours[2]!]);
    const border = shown('zones', grey(0.3))!;
    border.forEach((v, c) => expect(Math.abs(v - (zoneColours[1]![c]! + zoneColours[2]![c]!) / 2)).toBeLessThan(4));
  });
  it('tables hold every kind, and indexes stay inside for any number', () => {
    for (const kind of falseColours) {
      expect(falseTable(kind, { greyPct: 43, zoneAt: null })).toHaveLength(4 * FALSE_CELLS);
      for (const v of [-5, 0, 0.5, 1, 9, Infinity]) {
        const i = falseIndex(kind, v, 0.4, -v, 123);
        expect(i >= -1 && i < FALSE_CELLS).toBe(true);
      }
    }
  });
});
