/** Straight lines right across the picture, as ramps and bands have them. */
import type { SVGProps } from 'react';

/** Longer than any stage at any zoom. */
const FAR = 20000;
/** A line through a point of the stage, its direction given. */
export function Across({ x, y, dx, dy, ...look }: { x: number; y: number; dx: number; dy: number } & Look) {
  return <line x1={x - FAR * dx} y1={y - FAR * dy} x2={x + FAR * dx} y2={y + FAR * dy} {...look} />;
}
type Look = Pick<SVGProps<SVGLineElement>, 'className' | 'strokeDasharray' | 'strokeOpacity' | 'strokeWidth'>;
