import { beforeAll, describe, expect, it } from 'vitest';
import { bothKernels } from '../../../testkit/bench';
import type { Both } from '../../../testkit/bench';
import { rng } from '../math/rng';
import { chromaRows, mixChroma, toYuv420, turnYuv, widenChroma, yuvBlock, yuvToRgb } from './yuv';
import type { MatrixId, YuvPlanes } from './yuv';

/** One neutral-free way, in float64, straight from ITU-T H.273 (07/2024), 8.3: E'Y, E'PB, E'PR and their scalings. */
function h273(y: number, u: number, v: number, bits: number, full: boolean, kr: number, kb: number): number[] {
  const one = 2 ** (bits - 8);
  const Y = full ? y / (2 ** bits - 1) : (y / one - 16) / 219;
  const [pb, pr] = [u, v].map((c) => (full ? (c - 2 ** (bits - 1)) / (2 ** bits - 1) : (c / one - 128) / 224)) as [
    number,
    number,
  ];
  const r = Y + 2 * (1 - kr) * pr;
  const b = Y + 2 * (1 - kb) * pb;
  return [r, (Y - kr * r - kb * b) / (1 - kr - kb), b];
}
const one = (block: Float32Array, y: number, u: number, v: number, middle: number): number[] => {
  const to = { r: new Float32Array(1), g: new Float32Array(1), b: new Float32Array(1) };
  yuvToRgb(block, [y], Float32Array.of(u - middle), Float32Array.of(v - middle), to);
  return [to.r[0]!, to.g[0]!, to.b[0]!];
};

describe("Y', Cb, Cr to R'G'B'", () => {
  it.each([
    ['bt709', 0.2126, 0.0722],
    ['bt601', 0.299, 0.114],
    ['bt2020', 0.2627, 0.0593],
    ['smpte240', 0.212, 0.087],
  ] as const)('%s: equal to ITU-T H.273 in 8 and 10 bits, both ranges', (matrix, kr, kb) => {
    const r = rng(7);
    for (const bits of [8, 10, 12] as const)
      for (const full of [false, true]) {
        const block = yuvBlock({ matrix, full, siting: 'left' }, bits);
        for (let i = 0; i < 200; i++) {
          const [y, u, v] = [0, 0, 0].map(() => Math.floor(r() * 2 ** bits)) as [number, number, number];
          const got = one(block, y, u, v, 2 ** (bits - 1));
          h273(y, u, v, bits, full, kr, kb).forEach((x, c) => expect(Math.abs(got[c]! - x)).toBeLessThan(6e-7));
        }
      }
  });
  it('colour bars of ITU-R BT.709: 75 % blue and white at 8 bits (from memory: 28 212 120, 180 128 128)', () => {
    const block = yuvBlock({ matrix: 'bt709', full: false, siting: 'left' }, 8);
    const blue = one(block, 28, 212, 120, 128);
    expect(blue[0]).toBeCloseTo(0, 1.9);
    expect(blue[2]).toBeCloseTo(0.75, 1.9);
    for (const c of one(block, 180, 128, 128, 128)) expect(c).toBeCloseTo(0.749, 3);
  });
  it('neutral codes are neutral to the bit, and nothing is clipped', () => {
    const block = yuvBlock({ matrix: 'bt2020', full: false, siting: 'left' }, 10);
    for (const y of [64, 512, 940, 1023]) {
      const [r, g, b] = one(block, y, 512, 512, 512);
      expect(r).toBe(g);
      expect(g).toBe(b);
    }
    expect(one(block, 1023, 512, 512, 512)[0]).toBeGreaterThan(1.09);
    expect(one(block, 0, 512, 512, 512)[0]).toBeLessThan(-0.07);
  });
});

describe('chroma at its place', () => {
  /** A ramp over luma columns, sampled where the siting says, comes back as the ramp. */
  it.each([
    ['left', 0],
    ['centre', 0.5],
  ] as const)('%s: a ramp stays a ramp', (siting, off) => {
    const cw = 20;
    const from = Float32Array.from({ length: cw }, (_, k) => 2 * k + off);
    const to = new Float32Array(2 * cw);
    widenChroma(from, siting === 'centre', to);
    for (let x = 2; x < 2 * cw - 2; x++) expect(to[x]).toBeCloseTo(x, 6);
  });
  it.each([
    ['left', 0.5],
    ['centre', 0.5],
    ['topLeft', 0],
  ] as const)('%s: and down the rows', (siting, off) => {
    const rows = 12;
    for (let y = 2; y < 2 * rows - 2; y++) {
      const [a, b, f] = chromaRows(y, rows, 2, siting);
      const row = (k: number): Float32Array => Float32Array.of(2 * k + off);
      const to = new Float32Array(1);
      mixChroma(row(a), row(b), f, 0, to);
      expect(to[0]).toBeCloseTo(y, 6);
    }
    expect(chromaRows(5, rows, 1, siting)).toEqual([5, 5, 0]);
  });
});

describe('kernels', () => {
  let both: Both;
  beforeAll(async () => {
    both = await bothKernels();
  });
  const cases: [MatrixId, 1 | 2, number, number][] = [
    ['bt709', 1, 8, 1],
    ['bt709', 1, 8, 3],
    ['bt2020', 2, 10, 1],
    ['bt601', 1, 8, 0],
    ['rgb', 1, 8, 4],
  ];
  it.each(cases)('%s, %i byte(s), %i bits, how %i: alike to the bit, and as defined', (matrix, bytes, bits, how) => {
    const n = 333;
    const cw = how & 1 ? 167 : n;
    const r = rng(how + bits);
    const { memory } = both;
    const at = (i: number): number => 2 ** 17 + i * 4096;
    const Kind = bytes === 1 ? Uint8Array : Uint16Array;
    const fill = (i: number, m: number): Uint8Array | Uint16Array => {
      const a = new Kind(memory.buffer, at(i), m);
      for (let k = 0; k < m; k++) a[k] = Math.floor(r() * 2 ** bits);
      return a;
    };
    const [y, u0, u1, v0, v1] = [fill(0, n), fill(1, cw), fill(2, cw), fill(3, cw), fill(4, cw)] as const;
    const block = yuvBlock({ matrix, full: matrix === 'rgb', siting: 'left' }, bits);
    new Float32Array(memory.buffer, at(5), 7).set(block);
    const f = 0.75;
    const rows = (['wasm', 'ts'] as const).map((k) => {
      both[k]['yuvRow']!(at(5), at(0), at(1), at(2), at(3), at(4), f, cw, bytes, how, at(16), at(6), at(8), at(10), n);
      return [6, 8, 10].map((i) => new Float32Array(memory.buffer, at(i), n).slice());
    });
    rows[0]!.forEach((p, c) => expect(Buffer.from(p.buffer)).toEqual(Buffer.from(rows[1]![c]!.buffer)));
    // One pixel by hand, in float64.
    const x = 101;
    const mixed = (a: ArrayLike<number>, b: ArrayLike<number>, k: number): number => a[k]! + f * (b[k]! - a[k]!);
    const chroma = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
      !(how & 1)
        ? mixed(a, b, x)
        : how & 2
          ? 0.75 * mixed(a, b, 50) + 0.25 * mixed(a, b, 51)
          : 0.5 * (mixed(a, b, 50) + mixed(a, b, 51));
    const [U, V] = [chroma(u0, u1), chroma(v0, v1)];
    const weights = { bt709: [0.2126, 0.0722], bt601: [0.299, 0.114], bt2020: [0.2627, 0.0593] };
    const want =
      matrix === 'rgb'
        ? [V / 255, y[x]! / 255, U / 255]
        : h273(y[x]!, U, V, bits, false, ...(weights[matrix as 'bt709'] as [number, number]));
    want.forEach((w, c) => expect(Math.abs(rows[0]![c]![x]! - w)).toBeLessThan(1e-6));
  });
});

describe('to 4:2:0 and back', () => {
  it.each([
    [8, 219],
    [10, 876],
  ] as const)('flat colours come back within a code of %i bits', (bits, span) => {
    const [w, h] = [6, 4];
    const block = yuvBlock({ matrix: 'bt709', full: false, siting: 'left' }, bits);
    for (const rgb of [
      [0.2, 0.5, 0.8],
      [0.9, 0.3, 0.1],
      [0, 0, 0],
      [1, 1, 1],
    ]) {
      const codes = new Uint16Array(3 * w * h).map((_, i) => Math.round(65535 * rgb[i % 3]!));
      const { y, u, v } = toYuv420(codes, w, h, 'bt709', null, bits);
      const got = one(block, y[9]!, u[4]!, v[4]!, 2 ** (bits - 1));
      got.forEach((g, c) => expect(Math.abs(g - rgb[c]!)).toBeLessThan(1.2 / span));
    }
    // ITU-R BT.709-6, 4.6: white is 235 and 940, black 16 and 64, no colour 128 and 512.
    const white = toYuv420(new Uint16Array(3 * w * h).fill(65535), w, h, 'bt709', null, bits);
    const black = toYuv420(new Uint16Array(3 * w * h), w, h, 'bt709', null, bits);
    const levels = [white.y[0], black.y[0], white.u[0], black.v[0]];
    expect(levels).toEqual(bits === 8 ? [235, 16, 128, 128] : [940, 64, 512, 512]);
  });
  it('a ramp of chroma keeps its place', () => {
    const [w, h] = [64, 8];
    const codes = new Uint16Array(3 * w * h);
    for (let i = 0; i < w * h; i++) codes[3 * i + 2] = Math.round((65535 * (i % w)) / w);
    const { u } = toYuv420(codes, w, h);
    const from = Float32Array.from(u.subarray(32, 64));
    const to = new Float32Array(w);
    widenChroma(from, false, to);
    // (B - Y) / 1.8556 of a blue ramp: a slope of 224 (1 - 0.0722) / 1.8556 over the width.
    for (let x = 4; x < w - 4; x++) expect(Math.abs(to[x]! - (128 + (112 * x) / w))).toBeLessThan(0.8);
  });
});

describe('turned planes', () => {
  const p: YuvPlanes = {
    y: Uint8Array.of(1, 2, 3, 4, 5, 6, 7, 8),
    u: Uint8Array.of(1, 2),
    v: Uint8Array.of(3, 4),
    bits: 8,
    subX: 2,
    subY: 2,
  };
  it('a quarter clockwise puts the left bottom corner at the left top', () => {
    const { planes, w, h } = turnYuv(p, 4, 2, 1);
    expect([w, h, ...planes.y]).toEqual([2, 4, 5, 1, 6, 2, 7, 3, 8, 4]);
    expect([...planes.u]).toEqual([1, 2]);
  });
  it('four quarters are none, two and two as well', () => {
    expect(turnYuv(p, 4, 2, 4).planes).toBe(p);
    const half = turnYuv(p, 4, 2, 2);
    expect([...half.planes.y]).toEqual([8, 7, 6, 5, 4, 3, 2, 1]);
    expect([...turnYuv(half.planes, 4, 2, 2).planes.y]).toEqual([...p.y]);
    const three = turnYuv(turnYuv(p, 4, 2, 1).planes, 2, 4, 3);
    expect([...three.planes.y]).toEqual([...p.y]);
  });
});
