import type { Grey } from '../core/track/image';
import type { DecodedPicture } from '../media/picture';

/** Luma of a decoded frame, in rows. */
export function greyOf(p: DecodedPicture): Grey {
  const n = p.width * p.height;
  const data = new Float32Array(n);
  if (p.yuv) {
    const k = 1 / (2 ** p.yuv.planes.bits - 1);
    for (let i = 0; i < n; i++) data[i] = p.yuv.planes.y[i]! * k;
  } else {
    const k = p.rgb instanceof Float32Array ? 1 : 1 / (2 ** p.bits - 1);
    for (let i = 0; i < n; i++)
      data[i] = k * (0.2126 * p.rgb[3 * i]! + 0.7152 * p.rgb[3 * i + 1]! + 0.0722 * p.rgb[3 * i + 2]!);
  }
  return { w: p.width, h: p.height, data };
}
