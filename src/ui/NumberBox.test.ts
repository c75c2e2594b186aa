import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatNumber, parseNumber } from './NumberBox';

describe('typed numbers', () => {
  it.each<[string, number | null]>([
    ['12', 12],
    [' -3,5 ', -3.5],
    ['−6.2°', -6.2],
    ['+40 %', 40],
    ['.5', 0.5],
    ['7.', 7],
    ['6 px', 6],
    ['', null],
    ['-', null],
    ['1e3', null],
    ['abc', null],
    ['1 2', null],
    ['3.4.5', null],
  ])('%j is %s', (text, v) => expect(parseNumber(text)).toBe(v));
  it('reads back what it writes', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e4, max: 1e4, noNaN: true }),
        fc.integer({ min: 0, max: 3 }),
        fc.boolean(),
        (v, digits, signed) => {
          const back = parseNumber(formatNumber(v, digits, signed))!;
          expect(Math.abs(back - v)).toBeLessThanOrEqual(0.5 * 10 ** -digits + 1e-9);
        },
      ),
      { seed: 8 },
    );
    expect(formatNumber(-0.001, 1, true)).toBe('0.0');
    expect(formatNumber(2, 1, true)).toBe('+2.0');
  });
});
