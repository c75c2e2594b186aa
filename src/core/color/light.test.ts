import { describe, expect, it } from 'vitest';
import { bothKernels } from '../../../testkit/bench';
import { curveBlock, decodeBlock, encodeBlock } from './curves';
import { apply3, encodingIds, encodings, primaries, xyToXyz } from './encodings';
import type { Xy } from './encodings';
import { adaptWhite, miredToKelvin, planckTangent, planckUv, xyToUv } from './locus';
import type { Matrix3 } from './matrix3';
import { LIGHT_HEAD, lightBlock, lightKernel } from './light';

const same = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;
const half = [0.5, 0, 0, 0, 0.5, 0, 0, 0, 0.5] as const;

describe('a matrix on linear light', () => {
  it('is decode, matrix, encode by the definition', () => {
    for (const id of encodingIds) {
      const { curve } = encodings[id];
      const b = curveBlock(curve);
      const run = { r: Float32Array.of(0.2, 0.7), g: Float32Array.of(0.4, 0.1), b: Float32Array.of(0.5, 0.9), n: 2 };
      const want = [...run.r].map((v) => encodeBlock(b, 0, 0.5 * decodeBlock(b, 0, v)));
      lightKernel(lightBlock(curve, half), run);
      run.r.forEach((v, i) => expect(Math.abs(v - want[i]!), id).toBeLessThan(1e-6));
    }
  });
  it('its tables keep to 1e-5 of the signal on ordinary pictures, in every encoding', async () => {
    const { wasm, memory, f32 } = await bothKernels();
    const n = 4096;
    for (const id of encodingIds) {
      const { curve } = encodings[id];
      const block = lightBlock(curve, half);
      const b = curveBlock(curve);
      const at = 2 ** 17;
      f32(1024, block.length).set(block);
      // Signals from black to white, every one of twelve bits.
      for (let c = 0; c < 3; c++) f32(at + c * 4 * n, n).set(Float32Array.from({ length: n }, (_, i) => i / (n - 1)));
      wasm['px_exposure']!(1024, at, at + 4 * n, at + 8 * n, n);
      const out = new Float32Array(memory.buffer, at, n);
      let worst = 0;
      out.forEach(
        (v, i) =>
          (worst = Math.max(worst, Math.abs(v - encodeBlock(b, 0, 0.5 * decodeBlock(b, 0, Math.fround(i / (n - 1))))))),
      );
      expect(worst, id).toBeLessThan(id === 'pq' ? 3e-5 : 1e-5);
    }
  });
  it('zero, negatives and what lies beyond the tables go by the curve itself', async () => {
    const { wasm, f32 } = await bothKernels();
    const block = lightBlock(encodings.srgb.curve, same);
    f32(1024, block.length).set(block);
    const odd = [0, -0.5, 1e-14, 200, -1e-20, 0.5, Infinity, NaN];
    const at = 2 ** 17;
    for (let c = 0; c < 3; c++) f32(at + c * 256, 8).set(odd);
    wasm['px_exposure']!(1024, at, at + 256, at + 512, 8);
    const got = f32(at, 8).slice();
    [0, 1, 2, 3, 4, 5].forEach((i) =>
      expect(Math.abs(got[i]! - odd[i]!)).toBeLessThan(2e-5 * Math.max(1, Math.abs(odd[i]!))),
    );
    expect(Number.isFinite(got[6]!)).toBe(false);
    expect(got[7]).toBeNaN();
  });
  it('the block is the same memory layout for every curve', () => {
    const sizes = new Set(encodingIds.map((id) => lightBlock(encodings[id].curve, same).length));
    expect(sizes.size).toBe(1);
    expect(LIGHT_HEAD % 4).toBe(0);
  });
});

describe('the locus of black bodies', () => {
  it('its tangent is the derivative: central differences agree to their own error, on the whole scale', () => {
    for (const t of [1000, 1500, 2856, 4000, 6504, 9000, 15000]) {
      const h = t * 1e-4;
      const [a, b] = [planckUv(t - h), planckUv(t + h)];
      planckTangent(t).forEach((v, i) => {
        const want = (b[i]! - a[i]!) / (2 * h);
        expect(Math.abs(v / want - 1), `${t} K`).toBeLessThan(3e-6);
      });
    }
  });
  it('tint stands square on it, to 1e-9 of a radian', () => {
    const white = primaries.bt709.white;
    const of = (m: Matrix3): Xy => {
      const [x, y, z] = apply3(m, xyToXyz(white));
      return xyToUv([x / (x + y + z), y / (x + y + z)]);
    };
    for (const mired of [-60, 0.001, 40, 150]) {
      const [plain, tinted] = [of(adaptWhite(white, mired, 0)), of(adaptWhite(white, mired, 10))];
      const [du, dv] = [tinted[0] - plain[0], tinted[1] - plain[1]];
      const [tu, tv] = planckTangent(miredToKelvin(mired));
      expect(Math.abs((du * tu + dv * tv) / (Math.hypot(du, dv) * Math.hypot(tu, tv)))).toBeLessThan(1e-9);
      expect(Math.hypot(du, dv)).toBeCloseTo(0.01, 9);
    }
  });
});
