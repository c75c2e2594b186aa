/**
 * Points followed from one frame to another, against what another library's pyramidal Lucas-Kanade finds of them on the
 * same frames: OpenCV 4.6.0, whose values are in tests/data/lucas_kanade_points.json with how they were made. That one
 * does not bring windows to each other's level and contrast: on a surface that turns in its light they part by some
 * hundredths of a pixel.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { pyramid } from '../src/core/track/image';
import { findPoints } from '../src/core/track/lucasKanade';
import { decodeStill } from '../src/media/decode';
import { nodeCodecs } from '../src/media/node';

interface Reference {
  pairs: { sheet: string; from: number; to: number; points: [number, number, number, number][] }[];
}
const data = join(import.meta.dirname, 'data');
const { pairs } = JSON.parse(readFileSync(join(data, 'lucas_kanade_points.json'), 'utf8')) as Reference;
const FRAMES = 24;

it('a hundred points of walking people are found where OpenCV finds them', async () => {
  nodeCodecs();
  const apart: number[] = [];
  const gone: number[] = [];
  for (const { sheet, from, to, points } of pairs) {
    const { rgb, width: w, height } = await decodeStill(readFileSync(join(data, `moving/${sheet}.jpg`)));
    const n = (w * height) / FRAMES;
    const levels = [from, to].map((f) => {
      const code = (i: number): number => {
        const [r, g, b] = rgb.subarray(3 * (f * n + i), 3 * (f * n + i) + 3);
        return Math.round(0.2126 * r! + 0.7152 * g! + 0.0722 * b!) / 255;
      };
      return pyramid({ w, h: height / FRAMES, data: Float32Array.from({ length: n }, (_, i) => code(i)) }, 4);
    });
    const found = findPoints(
      levels[0]!,
      levels[1]!,
      points.map(([x, y]) => [x, y]),
      { fine: true, within: 0.7 },
    );
    points.forEach(([x, y, u, v], i) => {
      const at = found[i]?.at ?? [Infinity, Infinity];
      apart.push(Math.hypot(at[0] - u, at[1] - v));
      gone.push(Math.hypot(u - x, v - y));
    });
  }
  const share = (v: number[], s: number): number => [...v].sort((a, b) => a - b)[Math.floor(s * (v.length - 1))]!;
  expect(apart).toHaveLength(100);
  expect(share(gone, 0.1)).toBeGreaterThan(7);
  expect(share(apart, 0.5)).toBeLessThan(0.03);
  expect(share(apart, 0.9)).toBeLessThan(0.25);
  expect(Math.max(...apart)).toBeLessThan(0.8);
  // A figure of nothing would mean that nothing was compared.
  expect(share(apart, 0.5)).toBeGreaterThan(0);
});
