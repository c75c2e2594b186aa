import { averaged, coloursOf } from '../core/track/inside';
import type { Colours } from '../core/track/inside';
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
/** Its colours over squares of so many pixels, for following. */
export const coloursAt =
  (p: DecodedPicture) =>
  (step: number): Colours => {
    if (!p.yuv) {
      const plane = (k: number): Float32Array => {
        const out = new Float32Array(p.width * p.height);
        for (let i = 0, at = k; i < out.length; i++, at += 3) out[i] = p.rgb[at]!;
        return out;
      };
      return coloursOf({ r: plane(0), g: plane(1), b: plane(2) }, p.width, p.height, step);
    }
    const { y, u, v, subX, subY } = p.yuv.planes;
    const [wide, high] = [Math.ceil(p.width / subX), Math.ceil(p.height / subY)];
    // Colour that is known once for so many pixels is averaged as it is, where squares hold whole ones of them.
    const colour = (c: ArrayLike<number>): Grey => {
      if (subX === subY && step % subX === 0 && p.width % subX === 0 && p.height % subY === 0)
        return averaged(c, wide, high, step / subX);
      const full = new Float32Array(p.width * p.height);
      for (let row = 0, k = 0; row < p.height; row++)
        for (let col = 0, from = Math.floor(row / subY) * wide; col < p.width; from++)
          for (const end = Math.min(p.width, col + subX); col < end; col++) full[k++] = c[from]!;
      return averaged(full, p.width, p.height, step);
    };
    const [a, b, c] = [averaged(y, p.width, p.height, step), colour(u), colour(v)];
    return { w: a.w, h: a.h, planes: [a.data, b.data, c.data], step };
  };
