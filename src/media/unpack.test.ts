/** Lengths of packed data, against encoders written here as the standards say, and against zlib. */
import { deflateSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rng } from '../core/math/rng';
import { checkUnpacked, lzwLength, packBitsLength } from './unpack';

/** TIFF 6.0, section 13: codes of 9 to 12 bits, the highest bit first, the width rising one code early. */
function lzw(data: Uint8Array): Uint8Array {
  const out: number[] = [];
  let hold = 0;
  let held = 0;
  let table = new Map<string, number>();
  let next = 258;
  let bits = 9;
  const put = (code: number): void => {
    hold = hold * 2 ** bits + code;
    held += bits;
    while (held >= 8) {
      out.push(Math.floor(hold / 2 ** (held - 8)) & 255);
      held -= 8;
      hold %= 2 ** held;
    }
  };
  const codeOf = (s: string): number => (s.length === 1 ? s.charCodeAt(0) : table.get(s)!);
  put(256);
  let w = '';
  for (const byte of data) {
    const c = String.fromCharCode(byte);
    if (w === '' || table.has(w + c)) {
      w += c;
      continue;
    }
    put(codeOf(w));
    table.set(w + c, next++);
    if (next === 512 || next === 1024 || next === 2048) bits++;
    if (next === 4095) {
      put(256);
      table = new Map();
      next = 258;
      bits = 9;
    }
    w = c;
  }
  if (w !== '') put(codeOf(w));
  // The decoder has one more entry by now.
  if (next + 1 === 512 || next + 1 === 1024 || next + 1 === 2048) bits++;
  put(257);
  if (held > 0) out.push((hold * 2 ** (8 - held)) & 255);
  return Uint8Array.from(out);
}
/** TIFF 6.0, section 9. */
function packBits(data: Uint8Array): Uint8Array {
  const out: number[] = [];
  for (let i = 0; i < data.length;) {
    let run = 1;
    while (run < 128 && data[i + run] === data[i]) run++;
    if (run > 1) {
      out.push(257 - run, data[i]!);
      i += run;
      continue;
    }
    let n = 1;
    while (n < 128 && i + n < data.length && data[i + n] !== data[i + n + 1]) n++;
    out.push(n - 1, ...data.slice(i, i + n));
    i += n;
  }
  return Uint8Array.from(out);
}
/** Runs and noise, so that both kinds of code come. */
const bytes = fc
  .array(fc.tuple(fc.nat(255), fc.integer({ min: 1, max: 60 })), { maxLength: 200 })
  .map((l) =>
    Uint8Array.from(l.flatMap(([v, n]) => Array.from({ length: n }, (_, i) => (v % 3 ? v : (v + i * i) & 255)))),
  );

describe('lengths of packed data', () => {
  it('LZW: what was packed, for anything', () => {
    fc.assert(
      fc.property(bytes, (b) => {
        if (b.length > 0) expect(lzwLength(lzw(b))).toBe(b.length);
      }),
      { numRuns: 200, seed: 3 },
    );
  });
  it('LZW: over many tables, and less where it is cut', () => {
    const r = rng(8);
    const b = Uint8Array.from({ length: 60_000 }, (_, i) => (i % 7 ? Math.floor(r() * 40) : i & 255));
    const packed = lzw(b);
    expect(packed.length).toBeGreaterThan(8000);
    expect(lzwLength(packed)).toBe(b.length);
    for (const k of [0.1, 0.5, 0.9]) {
      const n = lzwLength(packed.slice(0, Math.floor(packed.length * k)));
      expect(n).toBeLessThan(b.length);
      expect(n).toBeGreaterThan(b.length * (k - 0.15));
    }
  });
  it('PackBits: what was packed, and no more than there is where it is cut', () => {
    fc.assert(
      fc.property(bytes, (b) => {
        const packed = packBits(b);
        expect(packBitsLength(packed)).toBe(b.length);
        expect(packBitsLength(packed.slice(0, packed.length - 1))).toBeLessThanOrEqual(b.length);
      }),
      { numRuns: 200, seed: 4 },
    );
    expect(packBitsLength(Uint8Array.of(0x80, 0x80, 5))).toBe(0);
  });
  it('deflate: as zlib packs it; more than allowed is refused, damaged data count as far as they go', async () => {
    const b = Uint8Array.from({ length: 30_000 }, (_, i) => (i * i) & 63);
    const packed = new Uint8Array(deflateSync(b));
    expect(await checkUnpacked([packed], 30_000)).toBe(30_000);
    expect(await checkUnpacked([packed.slice(0, 50), packed.slice(50)], 30_000)).toBe(30_000);
    await expect(checkUnpacked([packed], 29_000)).rejects.toThrow(/unpack to more than/);
    expect(await checkUnpacked([packed.slice(0, packed.length >> 1)], 30_000)).toBeLessThan(30_000);
  });
});
