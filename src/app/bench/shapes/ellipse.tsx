/** An ellipse on the picture. */
import { TurnedHandles } from '../TurnedHandles';
import type { ShapeHandlesProps } from './index';

export default function EllipseHandles(props: ShapeHandlesProps) {
  return (
    <TurnedHandles
      {...props}
      outline={({ x, y, rx, ry, className, strokeDasharray, strokeOpacity, strokeWidth, transform }) => (
        <ellipse cx={x} cy={y} {...{ rx, ry, className, strokeDasharray, strokeOpacity, strokeWidth, transform }} />
      )}
    />
  );
}
