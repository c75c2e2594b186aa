/** What a place on a disc of hue and chroma looks like. */
import { encode, resolveEncoding } from '../core/color/encodings';
import { oklabToLinear } from '../core/color/oklab';
import { ycbcrToRgb } from '../core/color/ycbcr';
import type { KeySpace } from '../core/matte/keySpace';

const srgb = resolveEncoding('srgb');
/**
 * The colour (0..1, sRGB) of a place at middle light.
 * @param across, up Cb and Cr; in OKLCh a and b, times 1.25
 */
export function colourAt(space: KeySpace, across: number, up: number): number[] {
  const rgb =
    space === 'scope'
      ? ycbcrToRgb(0.54, across, up)
      : oklabToLinear(0.68, across / 1.25, up / 1.25).map((v) => encode(srgb, v));
  return rgb.map((v) => Math.min(1, Math.max(0, v)));
}
