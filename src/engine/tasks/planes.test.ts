import { beforeAll, describe, expect, it } from 'vitest';
import { bothKernels } from '../../../testkit/bench';
import type { Both } from '../../../testkit/bench';
import { rng } from '../../core/math/rng';

const N = 501;
let both: Both;
beforeAll(async () => {
  both = await bothKernels();
});
const at = (i: number): number => 2 ** 17 + i * 4 * (N + 11);
const bytes = (from: number, n: number): string =>
  Buffer.from(new Uint8Array(both.memory.buffer, from, n).slice()).toString('base64');

describe('numbers of files', () => {
  it.each([
    [1, Uint8Array, 255],
    [2, Uint16Array, 65535],
    [2, Uint16Array, 1023],
    [4, Float32Array, 1],
    [4, Float32Array, 3],
  ] as const)('come apart into planes alike in both kernels: %d bytes', (size, Kind, most) => {
    const r = rng(size);
    const from = new Kind(both.memory.buffer, at(10), 3 * N);
    for (let i = 0; i < 3 * N; i++) from[i] = most === 3 || most === 1 ? 4 * r() - 1 : Math.floor(r() * (most + 1));
    const scale = most === 3 ? 1 / 3 : 1 / most;
    const got = (['wasm', 'ts'] as const).map((k) => {
      both[k][`planar${size}`]!(at(10), at(0), at(1), at(2), N, scale);
      return [0, 1, 2].map((c) => bytes(at(c), 4 * N));
    });
    expect(got[0]).toEqual(got[1]);
    for (const i of [0, 7, N - 1])
      for (const c of [0, 1, 2]) expect(both.f32(at(c), N)[i]).toBe(Math.fround(from[3 * i + c]! * scale));
  });
  it.each([
    [8, 1],
    [8, 4],
    [16, 3],
    [16, 4],
  ] as const)(
    'and together again: %d bits, %d channels, with what is no number and what lies outside',
    (bits, channels) => {
      const r = rng(bits + channels);
      const odd = [NaN, Infinity, -Infinity, -0.2, 1.7, 0.5, 1, 0];
      for (let c = 0; c < 4; c++)
        both.f32(at(c), N).forEach((_, i, p) => (p[i] = i < 8 ? odd[(i + c) % 8]! : 1.2 * r() - 0.1));
      const most = 2 ** bits - 1;
      const got = (['wasm', 'ts'] as const).map((k) => {
        both[k]['codes']!(at(0), at(1), at(2), at(3), channels, bits, N, at(10));
        return bytes(at(10), (N * channels * bits) / 8);
      });
      expect(got[0]).toBe(got[1]);
      const codes =
        bits === 16
          ? new Uint16Array(both.memory.buffer, at(10), N * channels)
          : new Uint8Array(both.memory.buffer, at(10), N * channels);
      for (let i = 0; i < N; i++)
        for (let c = 0; c < channels; c++) {
          const v = both.f32(at(c), N)[i]!;
          expect(codes[i * channels + c]).toBe(v > 0 ? Math.min(most, Math.floor(v * most + 0.5)) : 0);
        }
    },
  );
});
