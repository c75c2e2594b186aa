/**
 * Pictures whose meaning lies in a tag, a profile or a header, against what independent programs and published formulas
 * make of them (tests/data/readers/make.py names tools and versions): right, or refused in words, never wrong in
 * silence.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decode as decodePng, encode as encodePng } from 'fast-png';
import { beforeAll, describe, expect, it } from 'vitest';
import { rng } from '../src/core/math/rng';
import { decodeStill, MediaError } from '../src/media/decode';
import { nodeCodecs } from '../src/media/node';

interface Expected {
  width: number;
  height: number;
  rgb: number[];
  alpha?: number[];
  tolerance: number;
  by: string;
  encoding?: string;
  refused?: string;
}
const dir = join(import.meta.dirname, 'data/readers');
const file = (name: string): Uint8Array => new Uint8Array(readFileSync(join(dir, name)));
const expected = JSON.parse(readFileSync(join(dir, 'expected.json'), 'utf8')) as Record<string, Expected>;
beforeAll(() => nodeCodecs());

describe('what a file says of itself', () => {
  const read = Object.entries(expected).filter(([, e]) => !e.refused);
  it.each(read)('%s', async (name, want) => {
    const p = await decodeStill(file(name), { alpha: 'keep' });
    expect([p.width, p.height]).toEqual([want.width, want.height]);
    if (want.encoding) expect(p.encoding).toBe(want.encoding);
    const max = p.bits === 32 ? 1 : 2 ** p.bits - 1;
    let worst = 0;
    let compared = 0;
    want.rgb.forEach((v, i) => {
      // LittleCMS holds values in 0..1 on the way; we do not.
      if (/LittleCMS/.test(want.by) && (v <= 0 || v >= 1)) return;
      compared++;
      worst = Math.max(worst, Math.abs(p.rgb[i]! / max - v));
    });
    expect(compared).toBeGreaterThan(0.6 * want.rgb.length);
    expect(worst, `${want.by}`).toBeLessThanOrEqual(want.tolerance + 1e-7);
    if (want.alpha) {
      expect(p.alphaPlane).toBeDefined();
      want.alpha.forEach((v, i) => expect(Math.abs(p.alphaPlane![i]! / max - v)).toBeLessThan(1e-6));
    } else expect(p.alphaPlane).toBeUndefined();
  });
  it('is told: every picture that is not taken as it stands has a note', async () => {
    for (const [name, about] of [
      ['icc-matrix.tif', /profile "Readers test" is applied/],
      ['icc-tables-only.tif', /profile "Readers test" is applied/],
      ['cicp-p3-pq.png', /brought to PQ/],
      ['cicp-narrow.png', /narrow range/],
      ['gama-18.png', /gamma 1.80/],
      ['gama-chrm.png', /own primaries/],
      ['exif-6.png', /turned upright/],
      ['exr-window.exr', /display window of 22 x 18/],
      ['exr-own.exr', /own primaries/],
      ['exr-extra-depth.exr', /1 more channel is left out/],
      ['avif-crop.avif', /cropped/],
      ['avif-irot1.avif', /turned upright/],
    ] as const)
      expect((await decodeStill(file(name))).notes.join('; '), name).toMatch(about);
  });
  it.each(Object.entries(expected).filter(([, e]) => e.refused))('%s is refused in words', async (name, want) => {
    const e = await decodeStill(file(name)).then(
      () => null,
      (x: unknown) => x,
    );
    expect(e).toBeInstanceOf(MediaError);
    expect((e as MediaError).message).toContain(want.refused);
    expect((e as MediaError).code).toBe('unsupported');
    expect((e as MediaError).remedy.length).toBeGreaterThan(10);
  });
});

describe.each([8, 16] as const)('a large PNG of %d bits, unpacked by the machine', (depth) => {
  const [width, height] = [700, 500];
  const random = rng(depth);
  const codes = Array.from({ length: width * height * 3 }, () => Math.floor(random() * 2 ** depth));
  const data = depth === 8 ? Uint8Array.from(codes) : Uint16Array.from(codes);
  const whole = encodePng({ width, height, depth, channels: 3, data });
  // The row of the first chunk of data, behind the header.
  const idat = 8 + 25 + 8;
  it('is read to the last code', async () => {
    expect(whole.length).toBeGreaterThan(2 ** 19);
    const p = await decodeStill(whole);
    const bytes = (v: ArrayBufferView): Buffer => Buffer.from(v.buffer, v.byteOffset, v.byteLength);
    expect(p.rgb.length).toBe(data.length);
    expect(bytes(p.rgb).equals(bytes(data))).toBe(true);
    // Source: fast-png's own unpacking (fflate) of the same file.
    expect(bytes(p.rgb).equals(bytes(decodePng(whole, { checkCrc: true }).data))).toBe(true);
  });
  it('is refused with one wrong bit, in its data or in a sum, and wherever it is cut', async () => {
    for (const at of [idat + 100, Math.floor(whole.length / 2), whole.length - 20, whole.length - 1]) {
      const b = whole.slice();
      b[at]! ^= 1;
      await expect(decodeStill(b), `bit at ${at}`).rejects.toBeInstanceOf(MediaError);
    }
    for (const n of [1, 5, 12, 20, 1000, whole.length / 2])
      await expect(decodeStill(whole.slice(0, whole.length - n)), `cut by ${n}`).rejects.toBeInstanceOf(MediaError);
  });
});

describe('files damaged in the middle', () => {
  it('a JPEG whose coded data are broken is refused, baseline and progressive: libjpeg would only warn', async () => {
    for (const name of ['jpeg-420.jpg', 'jpeg-progressive.jpg', 'jpeg-rgb.jpg']) {
      const whole = file(name);
      let refused = 0;
      // A byte of the entropy-coded data becomes a stray marker, or a run of them is lost.
      for (let k = 1; k <= 8; k++) {
        const b = whole.slice();
        const at = whole.length - 4 - 17 * k;
        b.copyWithin(at, at + 12);
        const cut = b.slice(0, b.length - 12);
        await decodeStill(cut).catch((e: unknown) => {
          expect(e).toBeInstanceOf(MediaError);
          refused++;
        });
      }
      expect(refused, name).toBeGreaterThanOrEqual(4);
    }
  });
});

describe('files cut short', () => {
  const names = [...Object.keys(expected).filter((n) => !expected[n]!.refused)];
  it.each(names)('%s is refused wherever it is cut', async (name) => {
    const whole = file(name);
    for (let k = 1; k < 20; k++) {
      const at = Math.floor((whole.length * k) / 20);
      const e = await decodeStill(whole.slice(0, at)).then(
        () => `opened at ${at} of ${whole.length}`,
        (x: unknown) => x,
      );
      expect(e, `cut at ${at} of ${whole.length}`).toBeInstanceOf(MediaError);
    }
    // The last byte too, where it is part of the picture.
    if (/\.(png|jpg|exr|webp)$/.test(name))
      await expect(decodeStill(whole.slice(0, whole.length - 1))).rejects.toBeInstanceOf(MediaError);
  });
});
