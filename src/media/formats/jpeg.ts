/** Baseline and progressive JPEG (ITU-T T.81) by jpeg-js, the same everywhere so that numbers agree; orientation from EXIF, profile from APP2. */
import jpegJs from 'jpeg-js';
import { checkSize, damaged, MAX_PIXELS, MediaError } from '../picture';
import type { Raw } from '../picture';
import { orientationOf } from './exif';

const text = (b: Uint8Array, at: number, n: number): string => String.fromCharCode(...b.subarray(at, at + n));
export function jpeg(bytes: Uint8Array): Raw {
  const icc: Uint8Array[] = [];
  // Segments up to the frame header: SOF0..SOF15 without DHT, JPG and DAC.
  let at = 2;
  for (;;) {
    while (bytes[at] === 0xff && bytes[at + 1] === 0xff) at++;
    if (at + 9 >= bytes.length || bytes[at] !== 0xff) throw new MediaError('truncated', 'the JPEG data are damaged or cut off', 'Copy or export it again.');
    const marker = bytes[at + 1]!;
    const size = (bytes[at + 2]! << 8) | bytes[at + 3]!;
    if (marker === 0xe2 && text(bytes, at + 4, 11) === 'ICC_PROFILE') icc[bytes[at + 16]!] = bytes.subarray(at + 18, at + 2 + size);
    if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc) {
      checkSize((bytes[at + 7]! << 8) | bytes[at + 8]!, (bytes[at + 5]! << 8) | bytes[at + 6]!);
      if (marker > 0xc2) throw new MediaError('unsupported', 'it is a lossless or arithmetic-coded JPEG', 'Save it as PNG or as an ordinary JPEG.');
      if (bytes[at + 4] !== 8) throw new MediaError('unsupported', `it is a JPEG of ${bytes[at + 4]} bits`, 'Save it as 16-bit PNG or TIFF.');
      if (bytes[at + 9] === 4) throw new MediaError('unsupported', 'it is a CMYK JPEG', 'Convert it to RGB and import it again.');
      break;
    }
    at += 2 + size;
  }
  let p;
  try {
    p = jpegJs.decode(bytes, { useTArray: true, formatAsRGBA: false, tolerantDecoding: false, maxResolutionInMP: MAX_PIXELS / 1e6 + 1, maxMemoryUsageInMB: 4096 });
  } catch (e) {
    throw damaged('JPEG', e);
  }
  const parts = icc.filter(Boolean);
  const profile = new Uint8Array(parts.reduce((a, x) => a + x.length, 0));
  parts.reduce((o, x) => (profile.set(x, o), o + x.length), 0);
  return { width: p.width, height: p.height, bits: 8, format: 'jpeg', channels: 3, data: p.data as Uint8Array, notes: [], encoding: 'srgb', orientation: orientationOf(bytes), ...(profile.length ? { icc: profile } : {}) };
}
