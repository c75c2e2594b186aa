/** The rim of a disc that is laid out as a vectorscope: what each hue looks like at middle luma. */
import { memo } from 'react';
import { colourAt } from './keyColours';
import type { KeySpace } from '../core/matte/keySpace';
import { DEG } from '../core/math/angle';

const rimOf = (space: KeySpace) =>
  Array.from({ length: 72 }, (_, i) => {
    const a = (i * 5) / DEG;
    const c = colourAt(space, 0.2 * Math.cos(a), 0.2 * Math.sin(a)).map((v) => Math.round(255 * v));
    return { a, colour: `rgb(${c.join(',')})` };
  });
const rims = { scope: rimOf('scope'), oklch: rimOf('oklch') };
/** @param r radius of the disc, which stands in a square of twice that side */
export const HueRim = memo(function HueRim({ r, space = 'scope' }: { r: number; space?: KeySpace }) {
  return rims[space].map(({ a, colour }, i) => (
    <line
      key={i}
      x1={r + Math.cos(a) * (r - 4)}
      y1={r - Math.sin(a) * (r - 4)}
      x2={r + Math.cos(a) * (r - 1)}
      y2={r - Math.sin(a) * (r - 1)}
      stroke={colour}
      strokeWidth={5}
    />
  ));
});
