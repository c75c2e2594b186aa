/** Orientation by EXIF (CIPA DC-008, tag 0x0112), by ExifReader. */
import ExifReader from 'exifreader';

/** 1 to 8; 1 where there is none or it cannot be read. */
export function orientationOf(bytes: Uint8Array): number {
  try {
    const tags = ExifReader.load(bytes.slice(0, Math.min(bytes.length, 2 ** 20)).buffer, { expanded: true });
    const v = Number(tags.exif?.Orientation?.value ?? 1);
    return v >= 1 && v <= 8 ? v : 1;
  } catch {
    // Files without metadata throw here.
    return 1;
  }
}
