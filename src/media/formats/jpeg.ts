/**
 * Baseline and progressive JPEG (ITU-T T.81) by libjpeg (mozjpeg of @jsquash), the same everywhere so that numbers
 * agree; orientation from EXIF, profile from APP2. The library fills up what is missing without a word, so that
 * completeness is checked here.
 */
import { runCodec } from '../codecs';
import { checkSize, MediaError } from '../picture';
import type { Raw } from '../picture';
import { orientationOf } from './exif';

const text = (b: Uint8Array, at: number, n: number): string => String.fromCharCode(...b.subarray(at, at + n));
const cut = (): MediaError =>
  new MediaError('truncated', 'the JPEG data are damaged or cut off', 'Copy or export it again.');

interface Head {
  components: number;
  progressive: boolean;
  icc: Uint8Array | null;
  /** Width of a pixel over its height (JFIF, ITU-T T.871, 10.1); 1 where nothing is said. */
  aspect: number;
}
/** Segments up to the frame header: SOF0..SOF15 without DHT, JPG and DAC. */
function head(bytes: Uint8Array): Head & { at: number } {
  const icc: Uint8Array[] = [];
  let aspect = 1;
  let at = 2;
  for (;;) {
    while (bytes[at] === 0xff && bytes[at + 1] === 0xff) at++;
    if (at + 9 >= bytes.length || bytes[at] !== 0xff) throw cut();
    const marker = bytes[at + 1]!;
    const size = (bytes[at + 2]! << 8) | bytes[at + 3]!;
    if (size < 2) throw cut();
    if (marker === 0xe0 && size >= 16 && text(bytes, at + 4, 5) === 'JFIF\0') {
      const [x, y] = [12, 14].map((o) => (bytes[at + o]! << 8) | bytes[at + o + 1]!) as [number, number];
      if (x > 0 && y > 0) aspect = y / x;
    }
    if (marker === 0xe2 && text(bytes, at + 4, 11) === 'ICC_PROFILE')
      icc[bytes[at + 16]!] = bytes.subarray(at + 18, at + 2 + size);
    if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc) {
      checkSize((bytes[at + 7]! << 8) | bytes[at + 8]!, (bytes[at + 5]! << 8) | bytes[at + 6]!);
      if (marker > 0xc2)
        throw new MediaError(
          'unsupported',
          'it is a lossless or arithmetic-coded JPEG',
          'Save it as PNG or as an ordinary JPEG.',
        );
      if (bytes[at + 4] !== 8)
        throw new MediaError('unsupported', `it is a JPEG of ${bytes[at + 4]} bits`, 'Save it as 16-bit PNG or TIFF.');
      const components = bytes[at + 9]!;
      if (components === 4)
        throw new MediaError('unsupported', 'it is a CMYK JPEG', 'Convert it to RGB and import it again.');
      if (components !== 1 && components !== 3)
        throw new MediaError('unsupported', `it is a JPEG of ${components} channels`, 'Save it as RGB.');
      const parts = icc.filter(Boolean);
      const profile = new Uint8Array(parts.reduce((a, x) => a + x.length, 0));
      parts.reduce((o, x) => (profile.set(x, o), o + x.length), 0);
      return { components, progressive: marker === 0xc2, icc: profile.length ? profile : null, aspect, at };
    }
    at += 2 + size;
  }
}

/** Walks segments and scans to the end marker; a file that ends before it, or has no scan, is cut off. */
function checkComplete(bytes: Uint8Array, from: number): void {
  let scans = 0;
  for (let at = from; ;) {
    while (at < bytes.length && bytes[at] === 0xff && bytes[at + 1] === 0xff) at++;
    if (at + 1 >= bytes.length || bytes[at] !== 0xff) throw cut();
    const marker = bytes[at + 1]!;
    if (marker === 0xd9) break;
    if (at + 3 >= bytes.length) throw cut();
    const size = (bytes[at + 2]! << 8) | bytes[at + 3]!;
    if (size < 2) throw cut();
    at += 2 + size;
    if (marker !== 0xda) continue;
    scans++;
    const start = at;
    // Entropy-coded bytes: 0xff is followed by 0, or by a restart marker.
    for (;;) {
      at = bytes.indexOf(0xff, at);
      if (at < 0 || at + 1 >= bytes.length) throw cut();
      const next = bytes[at + 1]!;
      if (next !== 0 && !(next >= 0xd0 && next <= 0xd7)) break;
      at += 2;
    }
    if (at === start) throw cut();
  }
  if (scans === 0) throw cut();
}

export async function jpeg(bytes: Uint8Array): Promise<Raw> {
  const { at, components, icc, aspect } = head(bytes);
  checkComplete(bytes, at);
  const p = await runCodec('jpeg', bytes);
  const n = p.width * p.height;
  const channels = components === 1 ? 1 : 3;
  const data = new Uint8Array(n * channels);
  for (let i = 0, o = 0; i < n; i++) for (let c = 0; c < channels; c++) data[o++] = p.data[4 * i + c]!;
  return {
    width: p.width,
    height: p.height,
    bits: 8,
    format: 'jpeg',
    channels,
    data,
    notes: [],
    encoding: 'srgb',
    turns: [orientationOf(bytes)],
    aspect,
    ...(icc ? { icc } : {}),
  };
}
