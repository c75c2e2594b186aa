/** Numbers as text, for records and files: little-endian float32 in base64 (RFC 4648 section 4). */
const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const VALUE = new Int16Array(128).fill(-1);
for (let i = 0; i < 64; i++) VALUE[ALPHABET.charCodeAt(i)] = i;

export function bytesToBase64(b: Uint8Array): string {
  const out: string[] = [];
  for (let i = 0; i < b.length; i += 3) {
    const n = (b[i]! << 16) | ((b[i + 1] ?? 0) << 8) | (b[i + 2] ?? 0);
    out.push(
      ALPHABET[n >> 18]! +
        ALPHABET[(n >> 12) & 63]! +
        (i + 1 < b.length ? ALPHABET[(n >> 6) & 63]! : '=') +
        (i + 2 < b.length ? ALPHABET[n & 63]! : '='),
    );
  }
  return out.join('');
}
/** Throws a RangeError for anything that is not base64. */
export function base64ToBytes(t: string): Uint8Array {
  if (t.length % 4 !== 0) throw new RangeError('The base64 text is cut off');
  const pad = t.endsWith('==') ? 2 : t.endsWith('=') ? 1 : 0;
  const out = new Uint8Array((t.length / 4) * 3 - pad);
  for (let i = 0, o = 0; i < t.length; i += 4) {
    let n = 0;
    for (let k = 0; k < 4; k++) {
      const v = i + k >= t.length - pad ? 0 : (VALUE[t.charCodeAt(i + k)] ?? -1);
      if (v < 0) throw new RangeError('The base64 text holds a character that does not belong there');
      n = (n << 6) | v;
    }
    for (let k = 16; k >= 0 && o < out.length; k -= 8) out[o++] = (n >> k) & 255;
  }
  return out;
}
export function floatsToBase64(f: Float32Array): string {
  const b = new Uint8Array(f.length * 4);
  const v = new DataView(b.buffer);
  f.forEach((x, i) => v.setFloat32(4 * i, x, true));
  return bytesToBase64(b);
}
export function base64ToFloats(t: string): Float32Array {
  const b = base64ToBytes(t);
  if (b.length % 4 !== 0) throw new RangeError('The numbers are cut off');
  const v = new DataView(b.buffer);
  return Float32Array.from({ length: b.length / 4 }, (_, i) => v.getFloat32(4 * i, true));
}
