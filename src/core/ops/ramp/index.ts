import { defineShapeOp } from '../../op/contract';
import { params } from './params';

export default defineShapeOp<typeof params>({
  id: 'ramp',
  title: 'Ramp',
  doc: 'Full on one side of a line, nothing beyond a second line beside it, with a smooth fall between the two.',
  version: 1,
  params,
  refs: ['cubic Hermite step: common practice'],
  edge:
    'Two points closer than a pixel make a fall of one pixel; two at one place a fall downwards. Exactly 1 before ' +
    'the first, exactly 0 beyond the second.',
  migrations: [],
  /** Block: first point, direction divided by the length of the fall. */
  prepare: ({ fromXPx, fromYPx, toXPx, toYPx }) => {
    const [dx, dy] = [toXPx - fromXPx, toYPx - fromYPx];
    const length = Math.hypot(dx, dy);
    if (length === 0) return Float32Array.of(fromXPx, fromYPx, 0, 1);
    const k = 1 / (length * Math.max(1, length));
    return Float32Array.of(fromXPx, fromYPx, dx * k, dy * k);
  },
  kernel(k, { m, x0, y, n }) {
    const [ax, ay, nx, ny] = k as unknown as number[] & { length: 4 };
    const dy = (y + 0.5 - ay!) * ny!;
    for (let i = 0; i < n; i++) {
      const t = 1 - ((x0 + i + 0.5 - ax!) * nx! + dy);
      m[i] = t >= 1 ? 1 : t > 0 ? t * t * (3 - 2 * t) : 0;
    }
  },
  drawnAs: 'line',
  fromLine: (a, b) => ({ fromXPx: a[0], fromYPx: a[1], toXPx: b[0], toYPx: b[1] }),
});
