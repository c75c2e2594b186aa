import { expect, test } from 'vitest';
import { ditherAt, ditheredCode } from './dither';

test('the noise is triangular: even sums of two even ones, mean 0, variance of a sixth of a step squared', () => {
  const n = 200_000;
  const bins = new Array<number>(20).fill(0);
  let [sum, square, next] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const d = ditherAt(i, 3);
    sum += d;
    square += d * d;
    next += d * ditherAt(i + 1, 3);
    bins[Math.min(19, Math.floor((d + 1) * 10))]!++;
  }
  expect(Math.abs(sum / n)).toBeLessThan(0.004);
  expect(square / n).toBeGreaterThan(0.165);
  expect(square / n).toBeLessThan(0.1685);
  // Neighbours have nothing to do with each other, nor have frames.
  expect(Math.abs(next / n)).toBeLessThan(0.002);
  bins.forEach((b, k) => {
    const at = Math.abs((k + 0.5) / 10 - 1);
    expect(Math.abs(b / n - 0.1 * (1 - at))).toBeLessThan(0.002);
  });
  let frames = 0;
  for (let i = 0; i < n; i++) frames += ditherAt(i, 3) * ditherAt(i, 4);
  expect(Math.abs(frames / n)).toBeLessThan(0.002);
});

test('the mean of the codes is the value, wherever it lies between two of them', () => {
  for (const v of [0.2, 0.20098, 0.2015, 0.5003, 0.99]) {
    let sum = 0;
    const n = 40_000;
    for (let i = 0; i < n; i++) sum += ditheredCode(v, 255, i, 0);
    // Four standard errors of the mean; the noise with its rounding has a variance of a quarter.
    expect(Math.abs(sum / n - 255 * v)).toBeLessThan(0.01);
  }
});

test('ends stay ends', () => {
  for (let i = 0; i < 1000; i++)
    expect([0, -0.2, NaN, 1, 1.5].map((v) => ditheredCode(v, 255, i, 0))).toEqual([0, 0, 0, 255, 255]);
});
