import { defineShapeOp } from '../../op/contract';
import type { ShapeRun } from '../../op/contract';
import { DEG } from '../../math/angle';
import { params } from './params';

/**
 * With (a, b) the turned offset over the half axes and f = hypot(a, b), the distance from the outline is
 * f (f - 1) / |grad|, exact to first order at the outline; along the axes and for circles it is exact everywhere.
 */
function kernel(k: Float32Array, { m, x0, y, n }: ShapeRun): void {
  const [cx, cy, c, s, ix, iy, invSoft] = k as unknown as number[] & { length: 7 };
  const dy = y + 0.5 - cy!;
  for (let i = 0; i < n; i++) {
    const dx = x0 + i + 0.5 - cx!;
    const a = (dx * c! - dy * s!) * ix!;
    const b = (dx * s! + dy * c!) * iy!;
    const f = Math.sqrt(a * a + b * b);
    const grad = Math.sqrt(a * a * ix! * ix! + b * b * iy! * iy!);
    const t = grad > 0 ? 0.5 - ((f * (f - 1)) / grad) * invSoft! : 1;
    m[i] = t >= 1 ? 1 : t > 0 ? t * t * (3 - 2 * t) : 0;
  }
}

export default defineShapeOp<typeof params>({
  id: 'ellipse',
  title: 'Ellipse',
  doc:
    'A turned ellipse, one half on its outline, with an edge of stated width. Analytic: a crop of it ' +
    'is the same bits.',
  version: 1,
  params,
  refs: [
    'first-order distance to an implicit curve: G. Taubin, "Distance approximations for rasterizing ' +
      'implicit curves", ACM TOG 13(1), 1994',
  ],
  edge:
    'A softness below one pixel is drawn as one pixel, so that the edge is not jagged. Exactly 0 ' +
    'outside, exactly 1 inside.',
  migrations: [],
  /** Block: centre x, y, cos, sin, 1 / half axes, 1 / softness. */
  prepare: (p) =>
    Float32Array.of(
      p.cxPx,
      p.cyPx,
      Math.cos(p.angleDeg / DEG),
      Math.sin(p.angleDeg / DEG),
      1 / p.rxPx,
      1 / p.ryPx,
      1 / Math.max(p.softPx, 1),
    ),
  kernel,
  drawnAs: 'ellipse',
  fromBox: ({ x, y, w, h }) => ({
    cxPx: x + w / 2,
    cyPx: y + h / 2,
    rxPx: Math.max(1, w / 2),
    ryPx: Math.max(1, h / 2),
    softPx: 0.175 * Math.min(w, h),
  }),
});
