import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { sniff, sniffClip, SNIFFED } from './sniff';

const ascii = (s: string): Uint8Array => Uint8Array.from(s, (c) => c.charCodeAt(0));

describe('what a file is by its first bytes', () => {
  it('clips of the tests are clips, pictures are pictures', () => {
    const clips = readdirSync('tests/data/clips').filter((n) => /\.(mp4|webm)$/.test(n));
    expect(clips.length).toBeGreaterThan(15);
    for (const n of clips) {
      const head = readFileSync(`tests/data/clips/${n}`).subarray(0, SNIFFED);
      expect([n, sniffClip(head), sniff(head)]).toEqual([n, true, null]);
    }
    const png = readFileSync('demo/stills/courier.png').subarray(0, SNIFFED);
    expect([sniffClip(png), sniff(png)]).toEqual([false, 'png']);
  });
  it('by brand: AVIF and HEIF are pictures, sound in an MP4 is a clip without one, old QuickTime has no brand', () => {
    expect(sniffClip(ascii('\0\0\0\x1cftypavif\0\0\0\0avifmif1miaf'))).toBe(false);
    expect(sniff(ascii('\0\0\0\x1cftypavif\0\0\0\0avifmif1miaf'))).toBe('avif');
    expect(sniffClip(ascii('\0\0\0\x18ftypheic\0\0\0\0mif1heic'))).toBe(false);
    expect(sniffClip(ascii('\0\0\0\x1cftypM4A \0\0\x02\0M4A isomiso2'))).toBe(true);
    expect(sniffClip(ascii('\0\0\0\x08wide\0\0\0\0mdat'))).toBe(true);
  });
  it('nothing else is either', () => {
    for (const s of ['', 'G', 'RIFF\0\0\0\0AVI LIST', 'GIF89a', 'no picture at all', '\x47\x40\x11\x10'])
      expect([sniffClip(ascii(s)), sniff(ascii(s))]).toEqual([false, null]);
  });
});
