/** Colours of a decoded frame over squares, against a sum over its pixels one by one. */
import { describe, expect, it } from 'vitest';
import type { DecodedPicture } from '../media/picture';
import { coloursAt } from './grey';

const code = (i: number): number => (i * 37 + 11) % 251;
/** Odd sides, so that the last codes of a row and column are known for one pixel alone. */
const [W, H] = [13, 9];
const picture = (subX: number, subY: number): DecodedPicture => {
  const [wide, high] = [Math.ceil(W / subX), Math.ceil(H / subY)];
  const plane = (n: number, from: number): Uint8Array => Uint8Array.from({ length: n }, (_, i) => code(i + from));
  const planes = { y: plane(W * H, 0), u: plane(wide * high, 5), v: plane(wide * high, 90), subX, subY, bits: 8 };
  return { width: W, height: H, yuv: { planes } } as unknown as DecodedPicture;
};

describe('colours over squares', () => {
  for (const [subX, subY] of [
    [1, 1],
    [2, 1],
    [2, 2],
  ] as const)
    it.each([1, 2, 3, 4, 5])(`one colour for ${subX} x ${subY} pixels, squares of %d`, (step) => {
      const p = picture(subX, subY);
      const { y, u, v } = p.yuv!.planes;
      const wide = Math.ceil(W / subX);
      const got = coloursAt(p)(step);
      expect([got.w, got.h]).toEqual([Math.floor(W / step), Math.floor(H / step)]);
      const mean = (at: (x: number, y: number) => number, cx: number, cy: number): number => {
        let sum = 0;
        for (let j = 0; j < step; j++) for (let i = 0; i < step; i++) sum += at(cx * step + i, cy * step + j);
        return sum / step ** 2;
      };
      const chroma =
        (c: ArrayLike<number>) =>
        (px: number, py: number): number =>
          c[Math.floor(py / subY) * wide + Math.floor(px / subX)]!;
      for (let cy = 0; cy < got.h; cy++)
        for (let cx = 0; cx < got.w; cx++) {
          const want = [mean((px, py) => y[py * W + px]!, cx, cy), mean(chroma(u), cx, cy), mean(chroma(v), cx, cy)];
          want.forEach((w, k) => expect(got.planes[k]![cy * got.w + cx]).toBe(Math.fround(w)));
        }
    });
});
