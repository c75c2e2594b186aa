/** What a file is by its first bytes, whatever it is called. */
import type { StillFormat } from './picture';

/** So many are enough for it. */
export const SNIFFED = 64;
const starts = (b: Uint8Array, at: number, ...v: number[]): boolean => v.every((x, i) => b[at + i] === x);
const text = (b: Uint8Array, at: number, n: number): string => String.fromCharCode(...b.subarray(at, at + n));
/** By its first bytes; null for anything else. */
export function sniff(b: Uint8Array): StillFormat | null {
  if (starts(b, 0, 0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'png';
  if (starts(b, 0, 0xff, 0xd8, 0xff)) return 'jpeg';
  if (
    starts(b, 0, 0x49, 0x49, 0x2a, 0) ||
    starts(b, 0, 0x4d, 0x4d, 0, 0x2a) ||
    starts(b, 0, 0x49, 0x49, 0x2b, 0) ||
    starts(b, 0, 0x4d, 0x4d, 0, 0x2b)
  )
    return 'tiff';
  if (starts(b, 0, 0x76, 0x2f, 0x31, 0x01)) return 'exr';
  if (text(b, 0, 4) === 'RIFF' && text(b, 8, 4) === 'WEBP') return 'webp';
  if (
    text(b, 4, 4) === 'ftyp' &&
    ['avif', 'avis', 'mif1', 'miaf'].includes(text(b, 8, 4)) &&
    text(b, 8, 40).includes('avif')
  )
    return 'avif';
  return null;
}
/** Brands of ISO/IEC 14496-12 files that hold pictures, not clips (ISO/IEC 23008-12, AVIF). */
const PICTURES = ['avif', 'avis', 'mif1', 'miaf', 'msf1', 'heic', 'heix', 'heim', 'heis', 'hevc', 'hevx'];
/** MP4 and QuickTime (an old one begins with its media or its description), Matroska and WebM (EBML, RFC 8794). */
export function sniffClip(b: Uint8Array): boolean {
  if (starts(b, 0, 0x1a, 0x45, 0xdf, 0xa3)) return true;
  const box = text(b, 4, 4);
  if (box === 'ftyp') return !PICTURES.includes(text(b, 8, 4));
  return ['moov', 'mdat', 'wide', 'free', 'skip'].includes(box);
}
