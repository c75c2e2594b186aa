import { expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { rng } from '../../math/rng';
import op, { discRow, select } from './index';
import { vectors } from './vectors';
import type { TidyAreaOp } from '../../op/contract';

opContract(op, vectors, { twinTolerance: 0, twinReason: 'the median is one of the given values' });

it('selection is that of a sorted list, with many equal values too', () => {
  const r = rng(2);
  for (const n of [1, 2, 9, 21, 37, 97])
    for (let k = 0; k < n; k++) {
      const a = Float32Array.from({ length: n }, () => Math.round(4 * r()) / 4 + (k % 2) * r());
      const sorted = [...a].sort((x, y) => x - y);
      expect(select(a, n, k)).toBe(sorted[k]);
    }
});
it('removes a thread of one pixel and leaves a straight edge where it is', () => {
  const [w, h] = [40, 30];
  const tidy = op as TidyAreaOp;
  const src = Float32Array.from({ length: w * h }, (_, i) => (i % w >= 20 || i % w === 7 ? 1 : 0));
  const dst = new Float32Array(w * h);
  const run = { src, dst, scratch: new Int32Array(4 * (w + h)), w, h, y0: 0, y1: h, left: 0, top: 0 };
  tidy.kernels['median']!(tidy.prepare({ radiusPx: 2 }, null as never), run);
  dst.forEach((v, i) => expect(v).toBe(i % w >= 20 ? 1 : 0));
  // Nine, twenty-one, thirty-seven pixels: common practice for discs of whole pixels.
  expect([1, 2, 3].map((r) => [...Array(2 * r + 1).keys()].reduce((a, i) => a + 2 * discRow(r, i - r) + 1, 0))).toEqual(
    [9, 21, 37],
  );
});
