import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placing, zoomAbout } from '../app/bench/geometry';
import { formatNumber, parseNumber } from './NumberBox';

describe('typed numbers', () => {
  it.each<[string, number | null]>([
    ['12', 12], [' -3,5 ', -3.5], ['−6.2°', -6.2], ['+40 %', 40], ['.5', 0.5], ['7.', 7], ['6 px', 6], ['', null], ['-', null], ['1e3', null], ['abc', null], ['1 2', null], ['3.4.5', null],
  ])('%j is %s', (text, v) => expect(parseNumber(text)).toBe(v));
  it('reads back what it writes', () => {
    fc.assert(fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), fc.integer({ min: 0, max: 3 }), fc.boolean(), (v, digits, signed) => {
      const back = parseNumber(formatNumber(v, digits, signed))!;
      expect(Math.abs(back - v)).toBeLessThanOrEqual(0.5 * 10 ** -digits + 1e-9);
    }), { seed: 8 });
    expect(formatNumber(-0.001, 1, true)).toBe('0.0');
    expect(formatNumber(2, 1, true)).toBe('+2.0');
  });
});

describe('placing of the picture', () => {
  it('fits and centres', () => {
    expect(placing(800, 600, 1600, 900, null, false)).toEqual({ scale: 0.5, offX: 0, offY: -150 });
    expect(placing(800, 600, 1600, 900, null, true)).toEqual({ scale: 0.25, offX: 0, offY: -750 });
  });
  it('keeps the point under the pointer while zooming, whatever the zoom', () => {
    fc.assert(fc.property(fc.double({ min: 0, max: 800, noNaN: true }), fc.double({ min: 0, max: 600, noNaN: true }), fc.double({ min: 0.3, max: 3, noNaN: true }), fc.boolean(), (x, y, f, side) => {
      const a = placing(800, 600, 1600, 900, null, side);
      const b = placing(800, 600, 1600, 900, zoomAbout(a, 800, 600, side, x, y, f), side);
      expect(x / b.scale + b.offX).toBeCloseTo(x / a.scale + a.offX, 6);
      expect(y / b.scale + b.offY).toBeCloseTo(y / a.scale + a.offY, 6);
    }), { seed: 9 });
  });
});
