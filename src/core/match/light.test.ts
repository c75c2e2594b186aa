import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { estimateLight, lightSaid, lightsApart } from './light';
import type { Light } from './light';

const [W, H] = [60, 40];
const all = new Uint8Array(W * H).fill(1);
type Planes = [Float32Array, Float32Array, Float32Array];
/** Patches of random reflectances under a light. */
function mondrian(seed: number, light: readonly number[], size = 5): Planes {
  const r = rng(seed);
  const cells = new Map<number, number[]>();
  const out = [0, 1, 2].map(() => new Float32Array(W * H)) as Planes;
  for (let i = 0; i < W * H; i++) {
    const key = Math.floor((i % W) / size) + 100 * Math.floor(Math.floor(i / W) / size);
    if (!cells.has(key)) cells.set(key, [r(), r(), r()]);
    cells.get(key)!.forEach((v, c) => (out[c]![i] = 0.6 * v * light[c]!));
  }
  return out;
}
const unit = (v: readonly number[]): Light => v.map((x) => x / Math.hypot(...v)) as unknown as Light;

describe('the light of a picture', () => {
  it.each([
    ['warm', [1.4, 1, 0.55]],
    ['green tubes', [0.85, 1.15, 0.8]],
    ['cold window', [0.7, 0.95, 1.5]],
    ['neutral', [1, 1, 1]],
  ] as const)('%s: within three degrees, and the four agree', (_, light) => {
    const e = estimateLight(mondrian(3, light), all, W, H)!;
    expect(lightsApart(e.light, unit(light))).toBeLessThan(3);
    expect(e.each.map((x) => x.name)).toEqual(['grey world', 'largest channels', 'shades of grey', 'grey edge']);
    expect(e.apartDeg).toBeLessThan(3);
  });

  it('each is its published formula, worked by hand on four stripes', () => {
    // Columns of one colour each, so that differences stand across them alone.
    const colours = [
      [0.1, 0.2, 0.3],
      [0.4, 0.2, 0.1],
      [0.3, 0.3, 0.3],
      [0.2, 0.5, 0.1],
    ];
    const [w, h] = [4, 30];
    const planes = [0, 1, 2].map((c) => Float32Array.from({ length: w * h }, (_, i) => colours[i % w]![c]!)) as Planes;
    const e = estimateLight(planes, new Uint8Array(w * h).fill(1), w, h)!;
    const mean = (list: readonly (readonly number[])[], p: number): Light =>
      unit([0, 1, 2].map((c) => (list.reduce((a, v) => a + v[c]! ** p, 0) / list.length) ** (1 / p)));
    const steps = [0, 1, 2].map((k) => [0, 1, 2].map((c) => Math.abs(colours[k + 1]![c]! - colours[k]![c]!)));
    const want = [mean(colours, 1), mean(colours, 24), mean(colours, 6), mean(steps, 6)];
    e.each.forEach((x, i) => expect(lightsApart(x.light, want[i]!)).toBeLessThan(0.01));
  });

  it('does not ask what clips, and says so where little is left', () => {
    const planes = mondrian(5, [1.4, 1, 0.55]);
    // A sign that clips, in another colour, over two thirds of the picture.
    const usable = all.slice();
    for (let i = 0; i < W * H; i++)
      if (i % W < 0.9 * W) {
        usable[i] = 0;
        [1, 0.2, 1].forEach((v, c) => (planes[c]![i] = v));
      }
    const e = estimateLight(planes, usable, W, H)!;
    expect(lightsApart(e.light, unit([1.4, 1, 0.55]))).toBeLessThan(8);
    expect(lightSaid(e)).toContain('Only 10 % of the picture could be asked');
  });

  it('is unsure where the estimates disagree, and silent where there is nothing', () => {
    expect(lightSaid({ apartDeg: 1, asked: 1 })).toMatch(/^Sure/);
    expect(lightSaid({ apartDeg: 3, asked: 1 })).toMatch(/^Fairly/);
    expect(lightSaid({ apartDeg: 9, asked: 1 })).toMatch(/^Unsure.*something grey/);
    expect(estimateLight([0, 1, 2].map(() => new Float32Array(W * H)) as Planes, all, W, H)).toBeNull();
    expect(estimateLight(mondrian(1, [1, 1, 1]), new Uint8Array(W * H), W, H)).toBeNull();
  });
});
