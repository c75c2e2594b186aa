import { defineShapeOp } from '../../op/contract';
import { DEG } from '../../math/angle';
import { edgeAt, invSoft } from '../../op/edge';
import { params } from './params';

export default defineShapeOp<typeof params>({
  id: 'band',
  title: 'Band',
  doc: 'A strip across the whole picture, level or turned, one half on its borders, that falls off on both sides.',
  version: 1,
  params,
  refs: ['distance from a line: elementary geometry'],
  edge:
    'A softness below half a pixel is drawn as half a pixel. One that reaches further inside than its middle leaves ' +
    'the middle short of full.',
  migrations: [],
  /** Block: a point of the middle line, the normal, half the width, 1 / twice the softness inside and outside. */
  prepare: (p) =>
    Float32Array.of(
      p.cxPx,
      p.cyPx,
      Math.sin(p.angleDeg / DEG),
      Math.cos(p.angleDeg / DEG),
      p.widthPx / 2,
      invSoft(p.softInPx),
      invSoft(p.softOutPx),
    ),
  kernel(k, { m, x0, y, n }) {
    const [cx, cy, nx, ny, half, invIn, invOut] = k as unknown as number[] & { length: 7 };
    const dy = (y + 0.5 - cy!) * ny!;
    for (let i = 0; i < n; i++) m[i] = edgeAt(Math.abs((x0 + i + 0.5 - cx!) * nx! + dy) - half!, invIn!, invOut!);
  },
  drawnAs: 'line',
  /** Drawn from border to border. */
  fromLine: ([x0, y0], [x1, y1]) => {
    const width = Math.hypot(x1 - x0, y1 - y0);
    return {
      cxPx: (x0 + x1) / 2,
      cyPx: (y0 + y1) / 2,
      // Its normal lies along what was drawn.
      angleDeg: width === 0 ? 0 : Math.round(10 * levelled(Math.atan2(x1 - x0, y1 - y0) * DEG)) / 10,
      widthPx: width,
      softInPx: 0.15 * width,
      softOutPx: 0.15 * width,
    };
  },
});
/** A line turned by half a turn is the same line. */
const levelled = (deg: number): number => (deg > 90 ? deg - 180 : deg <= -90 ? deg + 180 : deg);
