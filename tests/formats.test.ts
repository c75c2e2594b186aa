/**
 * Stills in every format, written by other general-purpose programs (OpenImageIO 2.4 `oiiotool`, libavif `avifenc`,
 * libwebp `cwebp`,
 * ImageMagick 6.9; tests/data/stills), and a corpus of broken ones.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { constants, crc32, deflateRawSync, deflateSync } from 'node:zlib';
import { encode } from 'fast-png';
import { beforeAll, describe, expect, it } from 'vitest';
import { rng } from '../src/core/math/rng';
import { decodeStill, MediaError } from '../src/media/decode';
import type { DecodedPicture, DecodeOptions } from '../src/media/decode';
import { upright } from '../src/media/decode';
import { knownProfile, readProfile, toSrgb } from '../src/media/icc';
import { nodeCodecs } from '../src/media/node';
import { makeIcc, SRGB_MATRIX, SRGB_PARA, WIDE_MATRIX } from '../testkit/icc';

const dir = join(import.meta.dirname, 'data/stills');
const file = (name: string): Uint8Array => new Uint8Array(readFileSync(join(dir, name)));
const open = (name: string, o: Partial<DecodeOptions> = {}): Promise<DecodedPicture> => decodeStill(file(name), o);
/**
 * The picture that all of them hold: 13 x 9, 16 bit; a TIFF of them as libtiff reads it, through ImageMagick into a
 * big-endian PPM.
 */
const ppm = Buffer.from(file('src16.ppm'));
const want = Array.from({ length: 13 * 9 * 3 }, (_, i) => ppm.readUInt16BE(ppm.length - 13 * 9 * 6 + 2 * i));
const want8 = want.map((v) => Math.round(v / 257));
beforeAll(() => nodeCodecs());

describe('formats', () => {
  it.each(['t16_lzw.tif', 't16_zip.tif', 't16_tiles.tif', 't16_planar.tif'])(
    '%s: 16 bits to the code',
    async (name) => {
      const p = await open(name);
      expect([p.width, p.height, p.bits, p.format, p.encoding]).toEqual([13, 9, 16, 'tiff', 'srgb']);
      expect(Array.from(p.rgb)).toEqual(want);
    },
  );
  it('TIFF of 8 bits to the code; half and float within their own steps', async () => {
    const p = await open('t8.tif');
    expect(p.bits).toBe(8);
    expect(Math.max(...Array.from(p.rgb, (v, i) => Math.abs(v - want8[i]!)))).toBeLessThanOrEqual(1);
    for (const [name, step] of [
      ['th.tif', 2 ** -11],
      ['tf.tif', 2 ** -23],
    ] as const) {
      const f = await open(name);
      expect([f.bits, f.encoding]).toEqual([32, 'linear709']);
      f.rgb.forEach((v, i) => expect(Math.abs(v - want[i]! / 65535), name).toBeLessThanOrEqual(step));
    }
  });
  it.each(['eh_none', 'eh_zip', 'eh_piz', 'eh_rle', 'eh_pxr24', 'eh_tiles', 'ef'])(
    '%s.exr: rows the right way up, within a step of its kind',
    async (name) => {
      const p = await open(`${name}.exr`);
      expect([p.width, p.height, p.bits, p.format, p.encoding]).toEqual([13, 9, 32, 'exr', 'linear709']);
      p.rgb.forEach((v, i) =>
        expect(Math.abs(v - want[i]! / 65535)).toBeLessThanOrEqual(name === 'ef' ? 2 ** -22 : 2 ** -11),
      );
    },
  );
  it('WebP and AVIF: lossless ones to the code, more than 8 bits kept', async () => {
    const s8 = Array.from((await open('s8.png')).rgb);
    expect(Array.from((await open('s8.webp')).rgb)).toEqual(s8);
    expect(Array.from((await open('s8l.avif')).rgb)).toEqual(s8);
    const p = await open('s10.avif');
    expect([p.bits, p.width, p.height]).toEqual([10, 13, 9]);
    expect(p.rgb).toBeInstanceOf(Uint16Array);
    p.rgb.forEach((v, i) => expect(Math.abs(v / 1023 - s8[i]! / 255)).toBeLessThan(1.6 / 255));
    expect((await open('pq.avif')).encoding).toBe('pq');
  });
  it('EXIF orientation turns a JPEG upright: the corner that was first stands where it says', async () => {
    const o1 = await open('o1.jpg');
    const at = (p: DecodedPicture, x: number, y: number): number[] =>
      Array.from(p.rgb.slice(3 * (y * p.width + x), 3 * (y * p.width + x) + 3));
    for (const [name, w, h, x, y] of [
      ['o3.jpg', 13, 9, 12, 8],
      ['o6.jpg', 9, 13, 8, 0],
      ['o8.jpg', 9, 13, 0, 12],
    ] as const) {
      const p = await open(name);
      expect([p.width, p.height]).toEqual([w, h]);
      expect(at(p, x, y), name).toEqual(at(o1, 0, 0));
      expect(p.notes.join()).toMatch(/upright/);
    }
  });
  it('each of the eight orientations is undone by its inverse (CIPA DC-008, tag 0x0112)', () => {
    const inverse = [1, 2, 3, 4, 5, 8, 7, 6];
    const data = Uint8Array.from({ length: 3 * 5 * 2 }, (_, i) => i);
    for (let o = 1; o <= 8; o++) {
      const a = upright(data, 5, 3, 2, o);
      const b = upright(a.data, a.w, a.h, 2, inverse[o - 1]!);
      expect([b.w, b.h, ...b.data]).toEqual([5, 3, ...data]);
    }
  });
  it('transparency is kept or laid over black, as chosen', async () => {
    const rgba = encode({
      width: 2,
      height: 1,
      channels: 4,
      depth: 16,
      data: Uint16Array.of(60000, 30000, 9000, 32768, 1000, 2000, 3000, 0),
    });
    const flat = await decodeStill(rgba);
    expect(Array.from(flat.rgb)).toEqual([30000, 15000, 4500, 0, 0, 0]);
    expect(flat.alphaPlane).toBeUndefined();
    const kept = await decodeStill(rgba, { alpha: 'keep' });
    expect(Array.from(kept.rgb)).toEqual([60000, 30000, 9000, 1000, 2000, 3000]);
    expect(Array.from(kept.alphaPlane!)).toEqual([32768, 0]);
    expect(kept.alpha).toBe(true);
  });
});

describe('colour profiles (ICC.1:2022)', () => {
  const wide = makeIcc('Wide test', WIDE_MATRIX, { gamma: 2.19921875 });
  const withProfile = (icc: Uint8Array) =>
    encode({
      width: 1,
      height: 1,
      channels: 3,
      depth: 16,
      data: Uint16Array.of(52428, 32768, 26214),
      iccEmbeddedProfile: { name: 'p', profile: icc },
    } as Parameters<typeof encode>[0]);
  it('known ones are an encoding, not a conversion', () => {
    expect(knownProfile(readProfile(makeIcc('s', SRGB_MATRIX, SRGB_PARA)))).toBe('srgb');
    expect(knownProfile(readProfile(wide))).toBeNull();
  });
  it(
    'other matrix profiles are applied as LittleCMS applies them (ImageMagick 6.9 with lcms2, relative ' +
      'colorimetric, 16 bit)',
    () => {
      const p = readProfile(wide);
      expect(p.name).toBe('Wide test');
      if (p.kind !== 'matrix') throw new Error('a matrix profile');
      for (const [rgb, out] of [
        [
          [0.8, 0.5, 0.4],
          [58373, 33031, 25909],
        ],
        [
          [0.5, 0.5, 0.5],
          [33027, 33031, 33023],
        ],
        [
          [0.3, 0.35, 0.6],
          [17716, 22818, 40216],
        ],
      ] as const)
        toSrgb(p, Float32Array.from(rgb), 1).forEach((v, c) =>
          expect(Math.abs(v - out[c]! / 65535)).toBeLessThan(2e-4),
        );
      // Outside of sRGB nothing is cut off: LittleCMS wrote 0 for this red.
      expect(toSrgb(p, Float32Array.of(0.2, 0.6, 0.3), 1)[0]!).toBeLessThan(-0.05);
    },
  );
  it('is honoured in a file: bits are not cut, and it is said', async () => {
    const png = withProfile(wide);
    // fast-png writes no profile: the chunk is put in by hand where it did not.
    const p = await decodeStill(withIccp(png, wide));
    expect([p.bits, p.encoding]).toEqual([32, 'srgb']);
    [58373, 33031, 25909].forEach((v, c) => expect(Math.abs(p.rgb[c]! - v / 65535)).toBeLessThan(2e-4));
    expect(p.notes.join()).toMatch(/"[^"]+" is applied/);
  });
  it('profiles by tables are named and refused, or taken as sRGB by choice', async () => {
    const png = withIccp(withProfile(wide), makeIcc('Printer', null, { gamma: 1 }));
    await expect(decodeStill(png)).rejects.toMatchObject({
      code: 'profile',
      message: expect.stringContaining('"Printer"') as string,
    });
    const p = await decodeStill(png, { profile: 'assume' });
    expect(Array.from(p.rgb)).toEqual([52428, 32768, 26214]);
    expect(p.notes.join()).toMatch(/taken as sRGB/);
    expect(readProfile(Uint8Array.of(1, 2, 3)).kind).toBe('other');
    expect(readProfile(makeIcc('g', null, { gamma: 2.2 }, 'GRAY')).kind).toBe('grey');
  });
});

/** Zeros, packed piece by piece so that the test itself stays small. */
function zeros(n: number): Buffer {
  const piece = 2 ** 24;
  // Each piece ends on a byte (a full flush), so that they join into one stream; header and checksum of zlib round
  // them.
  const body = deflateRawSync(Buffer.alloc(piece), { finishFlush: constants.Z_FULL_FLUSH });
  const end = deflateRawSync(Buffer.alloc(0));
  return Buffer.concat([
    Buffer.from([0x78, 0x9c]),
    ...Array.from({ length: n / piece }, () => body),
    end,
    Buffer.alloc(4),
  ]);
}

/** The PNG with its iCCP chunk set (ISO/IEC 15948, 11.3.2.3). */
function withIccp(png: Uint8Array, icc: Uint8Array): Uint8Array {
  const parts: Uint8Array[] = [png.slice(0, 33)];
  const zipped = deflateSync(icc);
  const data = Buffer.concat([Buffer.from('iCCP'), Buffer.from(`${readProfile(icc).name}\0\0`, 'latin1'), zipped]);
  const size = Buffer.alloc(4);
  size.writeUInt32BE(data.length - 4);
  const crc = Buffer.alloc(4);
  crc.writeUInt32BE(crc32(data));
  parts.push(size, data, crc);
  const v = new DataView(png.buffer, png.byteOffset);
  for (let at = 33; at < png.length;) {
    const n = 12 + v.getUint32(at);
    if (String.fromCharCode(...png.subarray(at + 4, at + 8)) !== 'iCCP') parts.push(png.slice(at, at + n));
    at += n;
  }
  return new Uint8Array(Buffer.concat(parts));
}

describe('broken files', () => {
  const names = readdirSync(dir).filter((n) => !n.endsWith('.ppm') && n !== 'cmyk.tif' && n !== 'e_rg.exr');
  it.each(names)(
    '%s: cut anywhere, or with bytes changed, gives a picture or a clear message, never anything else',
    async (name) => {
      const whole = file(name);
      const random = rng(whole.length);
      const cuts = [0.15, 0.4, 0.7, 0.95].map((k) => whole.slice(0, Math.floor(whole.length * k)));
      for (const c of cuts) await expect(decodeStill(c), `cut at ${c.length}`).rejects.toBeInstanceOf(MediaError);
      const tries: Uint8Array[] = [];
      for (let i = 0; i < 12; i++) {
        const b = whole.slice();
        for (let k = 0; k < 3; k++) b[Math.floor(random() * Math.min(b.length, 400))] = Math.floor(random() * 256);
        tries.push(b);
      }
      let refused = 0;
      for (const b of tries) {
        try {
          const p = await decodeStill(b);
          expect(p.rgb.length).toBe(3 * p.width * p.height);
          expect(p.width * p.height).toBeLessThanOrEqual(8192 * 8192);
        } catch (e) {
          refused++;
          if (!(e instanceof MediaError)) throw e;
          expect(e.message.length).toBeGreaterThan(8);
          expect(e.remedy).toMatch(/\.$/);
        }
      }
      expect(refused).toBeGreaterThan(0);
    },
  );
  const tiffOf = (entries: [tag: number, type: number, value: number][]): Uint8Array => {
    const b = Buffer.alloc(8 + 2 + 12 * entries.length + 4);
    b.write('II*\0', 'latin1');
    b.writeUInt32LE(8, 4);
    b.writeUInt16LE(entries.length, 8);
    entries.forEach(([tag, type, value], i) => {
      b.writeUInt16LE(tag, 10 + 12 * i);
      b.writeUInt16LE(type, 12 + 12 * i);
      b.writeUInt32LE(1, 14 + 12 * i);
      b.writeUInt32LE(value, 18 + 12 * i);
    });
    return new Uint8Array(b);
  };
  /** An EXR header that claims a size (OpenEXR file layout: magic, version, attributes). */
  const exrOf = (w: number, h: number): Uint8Array => {
    const attr = (name: string, type: string, data: Buffer): Buffer => {
      const n = Buffer.alloc(4);
      n.writeUInt32LE(data.length);
      return Buffer.concat([Buffer.from(`${name}\0${type}\0`), n, data]);
    };
    const box = Buffer.alloc(16);
    box.writeInt32LE(w - 1, 8);
    box.writeInt32LE(h - 1, 12);
    return new Uint8Array(
      Buffer.concat([
        Buffer.from([0x76, 0x2f, 0x31, 1, 2, 0, 0, 0]),
        attr('dataWindow', 'box2i', box),
        Buffer.from([0]),
      ]),
    );
  };
  /** A deflate bomb: a PNG of the largest size whose 400 MB of zeros take half a megabyte. */
  const bomb = (w: number, h: number): Uint8Array => {
    const b = encode({ width: 1, height: 1, channels: 3, depth: 16, data: new Uint16Array(3) }).slice();
    const v = new DataView(b.buffer);
    v.setUint32(16, w);
    v.setUint32(20, h);
    v.setUint32(29, crc32(b.slice(12, 29)));
    return b;
  };
  /** A true bomb: one megabyte that unpacks to one gigabyte of zeros. */
  const unpacking = (): Uint8Array => {
    const deflate = zeros(2 ** 30);
    const b = Buffer.from(encode({ width: 8, height: 8, channels: 3, depth: 8, data: new Uint8Array(192) }));
    const data = Buffer.concat([Buffer.from('IDAT'), deflate]);
    const size = Buffer.alloc(4);
    size.writeUInt32BE(deflate.length);
    const crc = Buffer.alloc(4);
    crc.writeUInt32BE(crc32(data));
    return new Uint8Array(Buffer.concat([b.subarray(0, 33), size, data, crc, b.subarray(b.length - 12)]));
  };
  it.each<[string, () => Uint8Array, string, RegExp]>([
    ['a CMYK TIFF', () => file('cmyk.tif'), 'unsupported', /CMYK/],
    ['an EXR without blue', () => file('e_rg.exr'), 'unsupported', /no channels R, G and B, but/],
    [
      'a TIFF that claims 100000 x 100000',
      () =>
        tiffOf([
          [256, 4, 100000],
          [257, 4, 100000],
          [258, 3, 8],
          [262, 3, 2],
          [277, 3, 3],
        ]),
      'too-large',
      /100000/,
    ],
    ['a TIFF without a size', () => tiffOf([[258, 3, 8]]), 'truncated', /./],
    ['an EXR that claims 2^30 x 4', () => exrOf(2 ** 30, 4), 'too-large', /8192/],
    ['an EXR of negative size', () => exrOf(-5, 4), 'truncated', /zero/],
    ['a PNG whose data are shorter than its size', () => bomb(8192, 8192), 'truncated', /damaged|cut/],
    ['a PNG of 8 x 8 whose data unpack to a gigabyte', () => unpacking(), 'truncated', /unpack to more than its size/],
    [
      'a TIFF of 8 x 8 whose strip unpacks to a gigabyte',
      () => {
        const strip = zeros(2 ** 30);
        const head = tiffOf([
          [256, 4, 8],
          [257, 4, 8],
          [258, 3, 8],
          [259, 3, 8],
          [262, 3, 1],
          [273, 4, 200],
          [277, 3, 1],
          [278, 4, 8],
          [279, 4, strip.length],
        ]);
        const out = Buffer.alloc(200 + strip.length);
        out.set(head);
        out.set(strip, 200);
        return new Uint8Array(out);
      },
      'truncated',
      /unpack to more than its size/,
    ],
    [
      'a RIFF that is no WebP',
      () => new Uint8Array(Buffer.from('RIFF\x10\0\0\0WAVEfmt aaaaaaaaaaaaaaaaaaaaaaaaaaaa')),
      'unknown',
      /neither a picture nor a clip/,
    ],
    [
      'an AVIF of nothing but its name',
      () => new Uint8Array(Buffer.from('\0\0\0\x18ftypavif\0\0\0\0avifmif1')),
      'truncated',
      /meta/,
    ],
    ['a WebP cut in its header', () => file('s8.webp').slice(0, 24), 'truncated', /header/],
  ])('%s', async (_, bytes, code, why) => {
    const before = process.memoryUsage().rss;
    const e = await decodeStill(bytes()).then(
      () => null,
      (x: unknown) => x as MediaError,
    );
    expect(e).toBeInstanceOf(MediaError);
    expect(e!.code).toBe(code);
    expect(e!.message).toMatch(why);
    // Memory is bounded: nothing of the claimed size was set aside for long.
    expect(process.memoryUsage().rss - before).toBeLessThan(1.5e9);
  });
});
