import { describe, expect, it } from 'vitest';
import { ycbcrToRgb } from '../color/ycbcr';
import { rng } from '../math/rng';
import { cleanPatch, readRegion } from './clean';
import { readPatch } from './reading';

const [W, H] = [120, 90];
const r = rng(5);
/** Skin of 130 degrees everywhere; lips of 100 degrees and a glint in it; what is outside the matte is blue. */
const m = Float32Array.from({ length: W * H }, (_, i) =>
  Math.hypot(((i % W) - 60) / 44, (Math.floor(i / W) - 45) / 38) < 1 ? 1 : 0,
);
const colour = (i: number): number[] => {
  const [x, y] = [i % W, Math.floor(i / W)];
  const lips = Math.abs(x - 60) < 14 && Math.abs(y - 66) < 5;
  const glint = Math.hypot(x - 50, y - 25) < 6;
  const deg = m[i] === 0 ? 350 : lips ? 100 : 130;
  const a = ((deg + 2 * (r() - 0.5)) * Math.PI) / 180;
  const c = glint ? 0.01 : 0.12;
  return ycbcrToRgb(glint ? 0.95 : 0.5, c * Math.cos(a), c * Math.sin(a));
};
const rgb = Array.from({ length: W * H }, (_, i) => colour(i));
const [red, green, blue] = [0, 1, 2].map((c) => Float32Array.from(rgb, (v) => v[c]!)) as [
  Float32Array,
  Float32Array,
  Float32Array,
];
const planes = { r: red, g: green, b: blue };

describe('clean skin inside a region', () => {
  it('the reading of the whole is that of what the matte holds, lips and glints left out', () => {
    const whole = readRegion(planes, m, 123, 16)!;
    expect(whole.offLineDeg!).toBeGreaterThan(6);
    expect(whole.offLineDeg!).toBeLessThan(7.5);
    expect(whole.outlierShare).toBeGreaterThan(0.02);
    expect(readRegion(planes, new Float32Array(W * H), 123, 16)).toBeNull();
  });
  it('the patch lies wholly inside, off the lips and the glint, and reads as the whole does', () => {
    const whole = readRegion(planes, m, 123, 16)!;
    const box = cleanPatch(planes, m, W, H, whole)!;
    for (let y = box.y; y < box.y + box.h; y++)
      for (let x = box.x; x < box.x + box.w; x++) {
        expect(m[y * W + x]).toBe(1);
        expect(Math.abs(x - 60) < 14 && Math.abs(y - 66) < 5, `lips at ${x}, ${y}`).toBe(false);
        expect(Math.hypot(x - 50, y - 25) < 6, `glint at ${x}, ${y}`).toBe(false);
      }
    const patch = readPatch(red, green, blue, W, box, 123, undefined, 16)!;
    expect(Math.abs(patch.offLineDeg! - whole.offLineDeg!)).toBeLessThan(0.5);
    expect(patch.pixels).toBeGreaterThan(100);
  });
  it('there is none where no box fits', () => {
    const thin = Float32Array.from({ length: W * H }, (_, i) => (i % W < 3 ? 1 : 0));
    expect(cleanPatch(planes, thin, W, H, readRegion(planes, m, 123, 16)!)).toBeNull();
  });
});
