/** How wide a pixel is: said by every kind of file that goes out, and heard of every kind that comes in. */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { aspectOfRatio, beforeRounding } from '../src/media/aspect';
import { decodeStill } from '../src/media/decode';
import { encodeFrame } from '../src/media/encode';
import { nodeCodecs } from '../src/media/node';
import type { Aspect, Codes, Halves } from '../src/media/picture';

nodeCodecs();
const ffprobe = spawnSync('ffprobe', ['-version']).status === 0;
if (!ffprobe) console.log('ffmpeg is not installed: the shape of pixels is not read by it (apt-get install ffmpeg)');
const oiio = spawnSync('oiiotool', ['--help']).status === 0;
if (!oiio) console.log('OpenImageIO is not installed: the shape of pixels is not read by it (openimageio-tools)');
const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-aspect-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

const codes = (channels: 1 | 3 | 4, bits: 8 | 16): Codes => {
  const n = 6 * 4 * channels;
  return {
    ...{ width: 6, height: 4, channels, bits },
    data: (bits === 8 ? new Uint8Array(n) : new Uint16Array(n)).map((_, i) => (i * 37) % 251),
  };
};
const halves: Halves = {
  ...{ width: 6, height: 4, channels: 3, bits: 'half', chromaticities: null },
  data: new Uint16Array(72).fill(0x3800),
};
const frames = [
  ['png', codes(3, 8)],
  ['png', codes(1, 16)],
  ['tiff', codes(1, 16)],
  ['tiff', codes(3, 8)],
  ['tiff', codes(4, 16)],
  ['exr', halves],
] as const;
const shapes: readonly Aspect[] = [
  [64, 45],
  [8, 9],
  [2, 1],
  [16, 11],
];

describe('what goes out', () => {
  it.each(frames)('%s says it, and holds the same numbers', async (kind, frame) => {
    const plain = await decodeStill(encodeFrame(kind, frame));
    expect(plain.pixelAspect).toBeUndefined();
    for (const shape of shapes) {
      const p = await decodeStill(encodeFrame(kind, frame, shape));
      expect(p.pixelAspect).toEqual(shape);
      expect(p.notes.join()).toContain(`its pixels are ${shape.join(':')} wide`);
      expect(p.rgb).toEqual(plain.rgb);
    }
  });
  // By other readers: ffmpeg ("sample aspect ratio"), and OpenImageIO, whose PNG reader is libpng. Of a PNG ffmpeg
  // takes the densities themselves for the fraction, which is the reciprocal of what ISO/IEC 15948 says.
  it.skipIf(!ffprobe).each(frames.filter(([kind]) => kind !== 'png'))('%s says it to ffmpeg', (kind, frame) => {
    for (const [num, den] of shapes) {
      const file = join(dir, `a.${kind}`);
      writeFileSync(file, encodeFrame(kind, frame, [num, den]));
      const said = execFileSync('ffprobe', [
        ...['-v', 'error', '-show_entries', 'stream=sample_aspect_ratio', '-of', 'csv=p=0', file],
      ]).toString();
      const [a, b] = said.trim().split(':').map(Number) as [number, number];
      expect(a / b).toBeCloseTo(num / den, 4);
    }
  });
  it.skipIf(!oiio).each(frames.filter(([kind]) => kind !== 'tiff'))('%s says it to OpenImageIO', (kind, frame) => {
    for (const [num, den] of shapes) {
      const file = join(dir, `b.${kind}`);
      writeFileSync(file, encodeFrame(kind, frame, [num, den]));
      const said = execFileSync('oiiotool', ['--info', '-v', file]).toString();
      expect(Number(/PixelAspectRatio: (\S+)/.exec(said)?.[1])).toBeCloseTo(num / den, 3);
    }
  });
});

describe('what comes in', () => {
  /** A photograph whose JFIF header says other densities (ITU-T T.871, 10.1), and an orientation where one is given. */
  const photo = (x: number, y: number, orientation = 1): Uint8Array => {
    const b = new Uint8Array(readFileSync(join(import.meta.dirname, 'data/photos/portrait.jpg')));
    expect(String.fromCharCode(...b.subarray(6, 10))).toBe('JFIF');
    b.set([x >> 8, x & 255, y >> 8, y & 255], 14);
    // APP1, "Exif", a little-endian TIFF header and one entry (CIPA DC-008).
    const exif = [0x45, 0x78, 0x69, 0x66, 0, 0, 0x49, 0x49, 42, 0, 8, 0, 0, 0, 1, 0];
    const entry = [0x12, 0x01, 3, 0, 1, 0, 0, 0, orientation, 0, 0, 0, 0, 0, 0, 0];
    const app1 = [0xff, 0xe1, 0, 2 + exif.length + entry.length, ...exif, ...entry];
    return Uint8Array.from([...b.subarray(0, 20), ...app1, ...b.subarray(20)]);
  };
  it('JPEG by its densities, turned with the picture', async () => {
    expect((await decodeStill(photo(96, 96))).pixelAspect).toBeUndefined();
    expect((await decodeStill(photo(1, 2))).pixelAspect).toEqual([2, 1]);
    expect((await decodeStill(photo(300, 150))).pixelAspect).toEqual([1, 2]);
    // A quarter turn: what was wide is high.
    const turned = await decodeStill(photo(1, 2, 6));
    expect(turned.pixelAspect).toEqual([1, 2]);
    expect(turned.notes.join()).toContain('turned upright');
  });
  it('what is no shape of a pixel is left out, and said', async () => {
    const p = await decodeStill(photo(1, 600));
    expect(p.pixelAspect).toBeUndefined();
    expect(p.notes.join()).toMatch(/600 times as wide as high: left out/);
    expect((await decodeStill(photo(0, 0))).notes.join()).not.toContain('wide');
  });
  it('fractions by their ratio', () => {
    for (const [a, b] of [...shapes, [12, 11], [32, 27], [59, 54], [160, 99]] as Aspect[]) {
      expect(aspectOfRatio(a / b)).toEqual([a, b]);
      expect(aspectOfRatio(Math.fround(b / a))).toEqual([b, a]);
    }
    // WebM tells the width of the shown picture in whole pixels.
    expect(beforeRounding([137, 96], 96)).toEqual([64, 45]);
    expect(beforeRounding([1047, 720], 720)).toEqual([16, 11]);
    expect(beforeRounding([1100, 720], 720)).toEqual([1100, 720]);
    expect(beforeRounding([1, 1], 16)).toEqual([1, 1]);
    expect(aspectOfRatio(1.0004)).toEqual([1, 1]);
    expect([NaN, 0, -1, Infinity, 9].map(aspectOfRatio)).toEqual([null, null, null, null, null]);
  });
});
