/** The rim of a disc that is laid out as a vectorscope: what each hue looks like at middle luma. */
import { memo } from 'react';
import { ycbcrToRgb } from '../core/color/ycbcr';
import { DEG } from '../core/math/angle';

const rim = Array.from({ length: 72 }, (_, i) => {
  const a = (i * 5) / DEG;
  const c = ycbcrToRgb(0.52, 0.2 * Math.cos(a), 0.2 * Math.sin(a)).map((v) =>
    Math.round(255 * Math.min(1, Math.max(0, v))),
  );
  return { a, colour: `rgb(${c.join(',')})` };
});
/** @param r radius of the disc, which stands in a square of twice that side */
export const HueRim = memo(function HueRim({ r }: { r: number }) {
  return rim.map(({ a, colour }, i) => (
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
