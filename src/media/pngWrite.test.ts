/** PNG files as another reader finds them: fast-png 8.0.0 (its own unpacking by fflate), and Node's zlib. */
import { inflateSync } from 'node:zlib';
import { decode } from 'fast-png';
import { describe, expect, it } from 'vitest';
import type { Codes } from './picture';
import { crc32, encodePng } from './pngWrite';

let seed = 7;
const rand = (n: number): number => (seed = (seed * 48271) % 2147483647) % n;
const codes = (width: number, height: number, channels: 1 | 3 | 4, bits: 8 | 16, smooth = false): Codes => {
  const n = width * height * channels;
  const most = 2 ** bits;
  const at = (i: number): number => (smooth ? (i * 5 + rand(3)) % most : rand(most));
  const data =
    bits === 16 ? Uint16Array.from({ length: n }, (_, i) => at(i)) : Uint8Array.from({ length: n }, (_, i) => at(i));
  return { width, height, channels, bits, data };
};

describe('a PNG file', () => {
  it('CRC-32 has the check value of its catalogue entry', () => {
    // Source: CRC-32/ISO-HDLC in the "Catalogue of parametrised CRC algorithms": "123456789" gives CBF43926.
    expect(crc32(new TextEncoder().encode('123456789'))).toBe(0xcbf43926);
  });
  for (const bits of [8, 16] as const)
    for (const channels of [1, 3, 4] as const)
      it.each([
        [1, 1],
        [1, 9],
        [37, 1],
        [33, 17],
      ])(`${bits} bits, ${channels} channels, %d x %d: every number comes back`, (w, h) => {
        const c = codes(w, h, channels, bits);
        const back = decode(encodePng(c), { checkCrc: true });
        expect([back.width, back.height, back.channels, back.depth]).toEqual([w, h, channels, bits]);
        expect(Array.from(back.data)).toEqual(Array.from(c.data));
      });
  it('lines are filtered, and smooth pictures come out small', () => {
    const c = codes(200, 100, 3, 16, true);
    const png = encodePng(c);
    // Signature 8, IHDR 25, IDAT from there; its name and length before its data.
    const v = new DataView(png.buffer);
    const lines = inflateSync(png.subarray(41, 41 + v.getUint32(33)));
    expect(lines).toHaveLength(100 * (1 + 6 * 200));
    expect([...Array(100).keys()].every((y) => lines[y * 1201] === 1)).toBe(true);
    expect(png.length).toBeLessThan(c.data.byteLength / 2);
  });
});
