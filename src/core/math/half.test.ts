import { expect, test } from 'vitest';
import { halfTable, HALF_MOST, toHalf } from './half';

test('every half comes back as itself (IEEE 754-2019, binary16)', () => {
  const t = halfTable();
  for (let h = 0; h < 65536; h++) {
    if (Number.isNaN(t[h]!)) expect(toHalf(t[h]!) & 0x7e00).toBe(0x7e00);
    else if (toHalf(t[h]!) !== h) expect([h, toHalf(t[h]!)]).toEqual([h, h]);
  }
  // Published examples of the format: 1, 2/3 rounded, the largest, the smallest normal and subnormal ones.
  expect([0x3c00, 0x3555, 0x7bff, 0x0400, 0x0001].map((h) => t[h])).toEqual([
    1,
    0.333251953125,
    HALF_MOST,
    2 ** -14,
    2 ** -24,
  ]);
});
test('between two it takes the nearest, and of two the even one', () => {
  const t = halfTable();
  for (let h = 0; h < 0x7bff; h++) {
    const [a, b] = [t[h]!, t[h + 1]!];
    const mid = (a + b) / 2;
    const even = (h & 1) === 0 ? h : h + 1;
    const ulp = (b - a) / 64;
    if (
      toHalf(mid) !== even ||
      toHalf(mid - ulp) !== h ||
      toHalf(mid + ulp) !== h + 1 ||
      toHalf(-mid) !== (even | 0x8000)
    )
      expect([h, toHalf(mid), toHalf(mid - ulp), toHalf(mid + ulp)]).toEqual([h, even, h, h + 1]);
  }
  expect([65519.99, 65520, 1e9, -Infinity, 2 ** -25, 2 ** -24 * 0.75].map(toHalf)).toEqual([
    0x7bff, 0x7c00, 0x7c00, 0xfc00, 0, 1,
  ]);
});
