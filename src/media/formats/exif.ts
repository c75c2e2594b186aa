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

/** Orientation of bare EXIF data (a TIFF structure, as in PNG eXIf): 1 to 8; 1 where there is none. */
export function orientationOfTiff(b: Uint8Array): number {
  const v = new DataView(b.buffer, b.byteOffset, b.byteLength);
  try {
    const little = v.getUint16(0) === 0x4949;
    const at = v.getUint32(4, little);
    const n = v.getUint16(at, little);
    for (let i = 0; i < n; i++)
      if (v.getUint16(at + 2 + 12 * i, little) === 0x0112) {
        const o = v.getUint16(at + 10 + 12 * i, little);
        return o >= 1 && o <= 8 ? o : 1;
      }
  } catch {
    // Cut short: there is no orientation to find.
  }
  return 1;
}
