/** Float planes -> PNG bytes. Values are clamped to 0..1 and rounded to the nearest code; NaN becomes 0. */
import { encode as encodePng } from 'fast-png';

export type PngPlanes = readonly Float32Array[];

/** One plane gives grey, three give RGB, four RGB with alpha. */
export function encodePlanes(planes: PngPlanes, width: number, height: number, bits: 8 | 16): Uint8Array<ArrayBuffer> {
  const n = width * height;
  const channels = planes.length;
  const max = bits === 16 ? 65535 : 255;
  const data = bits === 16 ? new Uint16Array(n * channels) : new Uint8Array(n * channels);
  planes.forEach((p, c) => {
    for (let i = 0; i < n; i++) {
      const v = p[i]!;
      data[i * channels + c] = v > 0 ? (v < 1 ? Math.floor(v * max + 0.5) : max) : 0;
    }
  });
  return encodePng({ width, height, data, depth: bits, channels }) as Uint8Array<ArrayBuffer>;
}
