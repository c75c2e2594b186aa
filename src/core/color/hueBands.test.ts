import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { bandFound, findBands, nameOfHue } from './hueBands';

/** So much of these hues, each with a spread in degrees, over 72 steps. */
const picture = (...tops: [deg: number, much: number, spread: number][]): number[] =>
  Array.from({ length: 72 }, (_, i) =>
    tops.reduce((a, [deg, much, spread]) => {
      const d = Math.abs((((((i + 0.5) * 5 - deg) % 360) + 540) % 360) - 180);
      return a + much * Math.exp(-(d * d) / (2 * spread * spread));
    }, 0),
  );
const inBand = (borders: readonly number[], deg: number): number => {
  const i = borders.findIndex((b, k) => {
    const to = borders[(k + 1) % borders.length]!;
    return (deg - b + 360) % 360 < ((to - b + 360) % 360 || 360);
  });
  return i;
};

describe('bands of a picture', () => {
  it('each heap of hues lies in a band of its own, also over zero degrees', () => {
    const bins = picture([120, 1, 12], [283, 0.6, 10], [5, 0.3, 12], [205, 0.4, 9]);
    const found = findBands(bins, null);
    expect(found).toHaveLength(4);
    expect(new Set([120, 283, 5, 205].map((h) => inBand(found, h))).size).toBe(4);
    // A border lies in the valley, about the middle between two heaps.
    expect(found.some((b) => b > 150 && b < 180)).toBe(true);
  });
  it('as many as asked for: the deepest valleys stay, else the fullest band is cut', () => {
    const bins = picture([120, 1, 12], [283, 0.6, 10], [5, 0.3, 12], [205, 0.4, 9]);
    for (let n = 3; n <= 8; n++) {
      const found = findBands(bins, n);
      expect(found).toHaveLength(n);
      expect([...found].sort((a, b) => a - b)).toEqual(found);
      expect(new Set(found).size).toBe(n);
    }
    expect(findBands(picture([120, 1, 14]), null)).toHaveLength(3);
    expect(findBands(new Array<number>(72).fill(0), null)).toHaveLength(3);
  });
  it('chance makes no band: noise on one heap is cut through its middle, as a smooth one is', () => {
    const r = rng(4);
    const plain = picture([118, 1, 20]);
    const found = [plain, plain.map((v) => v * (0.7 + 0.6 * r()))].map((b) => findBands(b, null));
    for (const f of found) {
      expect(f).toHaveLength(3);
      const inside = f.filter((b) => Math.abs(b - 118) < 40);
      expect(inside.length).toBeGreaterThanOrEqual(1);
      expect(inside.some((b) => Math.abs(b - 118) <= 6)).toBe(true);
    }
  });
  it('more than there are heaps: each holds something of the picture', () => {
    const bins = picture([118, 1, 18]);
    const found = findBands(bins, 6);
    const shares = found.map((b, i) => bandFound(bins, b, found[(i + 1) % 6]!).share);
    expect(shares.filter((s) => s > 0.1).length).toBeGreaterThanOrEqual(4);
  });
  it('are called by what is in them, with its share', () => {
    expect([103, 175, 230, 283, 355, 50, 139].map(nameOfHue)).toEqual([
      'red',
      'yellow',
      'green',
      'cyan',
      'blue',
      'magenta',
      'orange',
    ]);
    const bins = picture([139, 3, 8], [283, 1, 8]);
    expect(bandFound(bins, 90, 180)).toMatchObject({ name: 'orange' });
    expect(bandFound(bins, 90, 180).share).toBeCloseTo(0.75, 2);
    expect(bandFound(bins, 300, 20).share).toBeLessThan(0.03);
    // Over zero degrees.
    expect(bandFound(picture([358, 1, 8]), 330, 40)).toMatchObject({ name: 'blue' });
  });
});
