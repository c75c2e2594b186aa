import { expect, test } from 'vitest';
import { srgb } from '../color/transfer';
import { sideDistance, sideFigures, sideMeans } from './sides';

const planes = (...px: (readonly [number, number, number])[]) => ({
  r: Float32Array.from(px, (p) => p[0]),
  g: Float32Array.from(px, (p) => p[1]),
  b: Float32Array.from(px, (p) => p[2]),
});
test('each pixel counts by its matte, on the other side by what is left; what is no number counts nowhere', () => {
  const p = planes([1, 0, 0], [0, 1, 0], [0, 0, 1], [NaN, 1, 1], [Infinity, 0, 0]);
  const m = sideMeans(p, Float32Array.of(1, 0.5, 0, 1, 0), () => {});
  expect(m.inside!.map((v) => +v.toFixed(6))).toEqual([0.666667, 0.333333, 0]);
  expect(m.outside!.map((v) => +v.toFixed(6))).toEqual([0, 0.333333, 0.666667]);
  expect(sideMeans(p, null, () => {}).outside).toBeNull();
  expect(sideMeans(p, new Float32Array(5), () => {}).inside).toBeNull();
  expect(() =>
    sideMeans(p, null, () => {
      throw new Error('newer work');
    }),
  ).toThrow('newer work');
});
test('figures are those of the scopes; grey has no hue', () => {
  // ITU-R BT.709-6 items 3.2, 3.3: red has luma 0.2126, Cb -0.1146, Cr 0.5 and stands at 102.9 degrees.
  const red = sideFigures([1, 0, 0]);
  expect(red.lumaPct).toBeCloseTo(21.26, 6);
  expect(red.hueDeg).toBeCloseTo(102.91, 1);
  expect(sideFigures([0.4, 0.4, 0.4])).toMatchObject({ hueDeg: null });
});
test('the distance is CIEDE2000 of the two means', () => {
  const black = [0, 0, 0] as const;
  // CIE 142-2001: black to white is 100.
  expect(sideDistance({ inside: black, outside: [1, 1, 1] }, srgb)).toBeCloseTo(100, 3);
  expect(sideDistance({ inside: black, outside: black }, srgb)).toBe(0);
  expect(sideDistance({ inside: black, outside: null }, srgb)).toBeNull();
});
