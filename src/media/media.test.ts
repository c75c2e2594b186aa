import { encode } from 'fast-png';
import jpeg from 'jpeg-js';
import { describe, expect, it } from 'vitest';
import { rng } from '../core/math/rng';
import { decodeStill, MediaError } from './decode';
import { nodeCodecs } from './node';
import { encodePlanes } from './encode';

const random = (n: number, max: number): number[] => {
  const r = rng(n);
  return Array.from({ length: n }, () => Math.floor(r() * (max + 1)));
};
const png = (w: number, h: number, channels: number, depth: 8 | 16): Uint8Array =>
  encode({
    width: w,
    height: h,
    channels,
    depth,
    data:
      depth === 16 ? Uint16Array.from(random(w * h * channels, 65535)) : Uint8Array.from(random(w * h * channels, 255)),
  });

nodeCodecs();
describe('stills', () => {
  it.each([8, 16] as const)('PNG of %d bits goes round without a change', async (bits) => {
    const src = random(7 * 5 * 3, 2 ** bits - 1);
    const planes = [0, 1, 2].map((c) => Float32Array.from({ length: 35 }, (_, i) => src[3 * i + c]! / (2 ** bits - 1)));
    const p = await decodeStill(encodePlanes(planes, 7, 5, bits));
    expect([p.width, p.height, p.bits, p.format]).toEqual([7, 5, bits, 'png']);
    expect(Array.from(p.rgb)).toEqual(src);
  });
  it('spreads grey, lays transparency over black and says so', async () => {
    const p = await decodeStill(png(4, 3, 2, 8));
    expect(p.rgb[0]).toBe(p.rgb[2]);
    expect(p.notes.join()).toMatch(/transparency/);
    expect((await decodeStill(png(4, 3, 4, 16))).rgb).toHaveLength(36);
  });
  it('opens a JPEG', async () => {
    const data = new Uint8Array(16 * 16 * 4).fill(200);
    const p = await decodeStill(jpeg.encode({ data, width: 16, height: 16 }, 95).data);
    expect([p.width, p.height, p.bits, p.format]).toEqual([16, 16, 8, 'jpeg']);
    expect(Math.abs(p.rgb[100]! - 200)).toBeLessThanOrEqual(2);
  });
  it('clamps, rounds and writes NaN as 0', async () => {
    expect(
      Array.from(
        (await decodeStill(encodePlanes([Float32Array.of(-1, 2, NaN, 0.5)], 4, 1, 16))).rgb.filter(
          (_, i) => i % 3 === 0,
        ),
      ),
    ).toEqual([0, 65535, 0, 32768]);
  });

  const good = png(40, 30, 3, 8);
  const claim = (w: number, h: number): Uint8Array => {
    const b = good.slice();
    new DataView(b.buffer).setUint32(16, w);
    new DataView(b.buffer).setUint32(20, h);
    return b;
  };
  const jpg = jpeg.encode({ data: new Uint8Array(32 * 32 * 4).fill(90), width: 32, height: 32 }, 90).data;
  const cmyk = Uint8Array.from([0xff, 0xd8, 0xff, 0xc0, 0, 17, 8, 0, 16, 0, 16, 4, 1, 0x11, 0, 2, 0x11, 0, 3, 0x11, 0]);
  it.each<[string, Uint8Array, string]>([
    ['nothing', new Uint8Array(0), 'empty'],
    ['text', new TextEncoder().encode('hello, this is no picture'), 'unknown'],
    ['a PNG cut in its header', good.slice(0, 20), 'truncated'],
    ['a PNG cut in its data', good.slice(0, good.length - 400), 'truncated'],
    ['a PNG with a flipped byte', good.map((v, i) => (i === 200 ? v ^ 255 : v)), 'truncated'],
    ['a PNG that claims 100000 x 100000', claim(100000, 100000), 'too-large'],
    ['a PNG that claims 0 x 10', claim(0, 10), 'truncated'],
    ['a PNG one pixel too wide', claim(8193, 10), 'too-large'],
    ['a JPEG cut in its header', jpg.slice(0, 60), 'truncated'],
    ['a JPEG of four channels', cmyk, 'unsupported'],
    ['a JPEG magic and nothing', Uint8Array.from([0xff, 0xd8, 0xff]), 'truncated'],
  ])('%s is refused with the fault and a remedy', async (_, bytes, code) => {
    try {
      await decodeStill(bytes);
      expect.unreachable();
    } catch (e) {
      expect(e).toBeInstanceOf(MediaError);
      expect((e as MediaError).code).toBe(code);
      expect((e as MediaError).message.length).toBeGreaterThan(10);
      expect((e as MediaError).remedy).toMatch(/\.$/);
    }
  });
});
