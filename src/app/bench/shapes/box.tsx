/** A box on the picture, with its corners as round as they are. */
import { TurnedHandles } from '../TurnedHandles';
import type { ShapeHandlesProps } from './index';

export default function BoxHandles(props: ShapeHandlesProps) {
  return (
    <TurnedHandles
      {...props}
      outline={({ x, y, rx, ry, className, strokeDasharray, strokeOpacity, strokeWidth, transform }, v, grow) => {
        // Outside a sharp corner the soft edge runs round it.
        const round = v['roundPct']! / 100;
        const corner = (half: number): number => Math.max(0, (half - grow) * round + Math.max(0, grow));
        return (
          <rect
            x={x - rx}
            y={y - ry}
            width={2 * rx}
            height={2 * ry}
            rx={corner(rx)}
            ry={corner(ry)}
            {...{ className, strokeDasharray, strokeOpacity, strokeWidth, transform }}
          />
        );
      }}
    />
  );
}
