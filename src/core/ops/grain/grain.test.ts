import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { plainContext } from '../../op/contract';
import type { AreaOp } from '../../op/contract';
import grain from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(grain, vectors, { twinTolerance: 2e-6, twinReason: 'weights in float32 where the kernel has float64' });

const op = grain as unknown as AreaOp<typeof params>;
const defaults = {
  strengthPct: 5,
  sizePx: 2,
  colourPct: 0,
  shadowsPct: 100,
  middlePct: 100,
  highlightsPct: 100,
  seed: 1,
};
function run(
  level: number,
  p: Partial<typeof defaults> = {},
  { frame = 0, w = 220, h = 160 }: { frame?: number; w?: number; h?: number } = {},
): Float32Array[] {
  const src = [0, 1, 2].map(() => new Float32Array(w * h).fill(level));
  const dst = [0, 1, 2].map(() => new Float32Array(w * h));
  const block = op.prepare({ ...defaults, ...p }, { ...plainContext, frame });
  op.kernels['grain']!(block, {
    ...{ src, dst, work: [], picture: [], scratch: new Int32Array(0) },
    ...{ w, h, y0: 0, y1: h },
  });
  return dst.map((d) => d.map((v) => v - level));
}
const deviation = (v: ArrayLike<number>): number => {
  const list = Array.from(v);
  const m = list.reduce((a, b) => a + b, 0) / list.length;
  return Math.sqrt(list.reduce((a, b) => a + (b - m) ** 2, 0) / list.length);
};
/** How alike a plane is with itself so many pixels on, and with another one. */
function alike(a: Float32Array, b: Float32Array, by = 0): number {
  const w = 220;
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    if ((i % w) + by >= w) continue;
    ab += a[i]! * b[i + by]!;
    aa += a[i]! ** 2;
    bb += b[i + by]! ** 2;
  }
  return ab / Math.sqrt(aa * bb);
}

describe('grain', () => {
  it.each([1, 2, 3.3, 6, 12])(
    'has the deviation that is asked for, and none in the mean, at a size of %f px',
    (sizePx) => {
      const [r] = run(0.5, { sizePx });
      expect(Math.abs(deviation(r!) - 0.05)).toBeLessThan(0.05 * (sizePx > 4 ? 0.12 : 0.03));
      expect(Math.abs(r!.reduce((a, b) => a + b, 0) / r!.length)).toBeLessThan(sizePx > 4 ? 0.004 : 0.001);
      // The same at every place of a cell: no lattice shows.
      const rows = Array.from({ length: 40 }, (_, y) => deviation(r!.subarray(220 * (y + 60), 220 * (y + 61))));
      if (sizePx <= 3.3) expect(Math.max(...rows) / Math.min(...rows)).toBeLessThan(1.5);
    },
  );
  it('is as wide as its size says: alike within a grain, not two grains on', () => {
    for (const sizePx of [4, 6, 10]) {
      const [r] = run(0.5, { sizePx });
      expect(alike(r!, r!, sizePx / 2)).toBeGreaterThan(0.4);
      expect(Math.abs(alike(r!, r!, 2 * sizePx))).toBeLessThan(0.12);
    }
    const [fine] = run(0.5, { sizePx: 1 });
    expect(alike(fine!, fine!, 1)).toBeLessThan(0.35);
  });
  it('is the same whenever a frame is made, another on another frame and for another seed', () => {
    const [a] = run(0.5, {}, { frame: 7 });
    expect(Buffer.from(run(0.5, {}, { frame: 7 })[0]!.buffer).equals(Buffer.from(a!.buffer))).toBe(true);
    for (const frame of [0, 6, 8, 1007]) expect(Math.abs(alike(a!, run(0.5, {}, { frame })[0]!))).toBeLessThan(0.03);
    expect(Math.abs(alike(a!, run(0.5, { seed: 2 }, { frame: 7 })[0]!))).toBeLessThan(0.03);
    // A seed is no frame in disguise.
    expect(Math.abs(alike(run(0.5, { seed: 5 })[0]!, run(0.5, {}, { frame: 1 })[0]!))).toBeLessThan(0.03);
  });
  it('is of luma alone, or of every channel by itself', () => {
    const grey = run(0.5);
    expect(alike(grey[0]!, grey[2]!)).toBeGreaterThan(0.9999);
    const own = run(0.5, { colourPct: 100 });
    expect(Math.abs(alike(own[0]!, own[1]!))).toBeLessThan(0.03);
    const half = run(0.5, { colourPct: 50 });
    expect(alike(half[0]!, half[1]!)).toBeGreaterThan(0.4);
    expect(alike(half[0]!, half[1]!)).toBeLessThan(0.6);
    for (const d of half) expect(Math.abs(deviation(d) - 0.05)).toBeLessThan(0.002);
  });
  it('follows the tone: less in the middle on request, all of it at the ends', () => {
    const p = { middlePct: 20, shadowsPct: 100, highlightsPct: 60 };
    expect(deviation(run(0, p)[0]!)).toBeCloseTo(0.05, 2);
    expect(deviation(run(0.5, p)[0]!)).toBeCloseTo(0.01, 3);
    expect(deviation(run(0.25, p)[0]!)).toBeCloseTo(0.03, 2);
    expect(deviation(run(1.4, p)[0]!)).toBeCloseTo(0.03, 2);
  });
  it('a draft of half the size has the same grain', () => {
    const [whole] = run(0.5, { sizePx: 8 });
    const [half] = run(0.5, { sizePx: 4 }, { w: 110, h: 80 });
    const seen = new Float32Array(110 * 80);
    for (let y = 0; y < 80; y++)
      for (let x = 0; x < 110; x++)
        seen[y * 110 + x] =
          (whole![2 * y * 220 + 2 * x]! +
            whole![2 * y * 220 + 2 * x + 1]! +
            whole![(2 * y + 1) * 220 + 2 * x]! +
            whole![(2 * y + 1) * 220 + 2 * x + 1]!) /
          4;
    let [ab, aa, bb] = [0, 0, 0];
    for (let i = 0; i < seen.length; i++) {
      ab += seen[i]! * half![i]!;
      aa += seen[i]! ** 2;
      bb += half![i]! ** 2;
    }
    expect(ab / Math.sqrt(aa * bb)).toBeGreaterThan(0.98);
  });
});
