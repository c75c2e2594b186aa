import { defineShapeOp } from '../../op/contract';
import type { ShapeRun } from '../../op/contract';
import { DEG } from '../../math/angle';
import { edgeAt, invSoft } from '../../op/edge';
import { halvesOfSoftness } from '../../op/edgeWidths';
import { params } from './params';

/**
 * With (a, b) the turned offset over the half axes and f = hypot(a, b), the distance from the outline is
 * f (f - 1) / |grad|, exact to first order at the outline; along the axes and for circles it is exact everywhere.
 */
function kernel(k: Float32Array, { m, x0, y, n }: ShapeRun): void {
  const [cx, cy, c, s, ix, iy, invIn, invOut] = k as unknown as number[] & { length: 8 };
  const dy = y + 0.5 - cy!;
  for (let i = 0; i < n; i++) {
    const dx = x0 + i + 0.5 - cx!;
    const a = (dx * c! - dy * s!) * ix!;
    const b = (dx * s! + dy * c!) * iy!;
    const f = Math.sqrt(a * a + b * b);
    const grad = Math.sqrt(a * a * ix! * ix! + b * b * iy! * iy!);
    m[i] = grad > 0 ? edgeAt((f * (f - 1)) / grad, invIn!, invOut!) : 1;
  }
}

export default defineShapeOp<typeof params>({
  id: 'ellipse',
  title: 'Ellipse',
  doc:
    'A turned ellipse, one half on its outline, with an edge of stated width on either side. Analytic: a crop of ' +
    'it is the same bits.',
  version: 2,
  params,
  refs: [
    'first-order distance to an implicit curve: G. Taubin, "Distance approximations for rasterizing ' +
      'implicit curves", ACM TOG 13(1), 1994',
  ],
  edge:
    'A softness below half a pixel is drawn as half a pixel, so that the edge is not jagged. Exactly 0 ' +
    'outside, exactly 1 inside.',
  migrations: [{ from: 1, up: halvesOfSoftness }],
  /** Block: centre x, y, cos, sin, 1 / half axes, 1 / twice the softness inside and outside. */
  prepare: (p) =>
    Float32Array.of(
      p.cxPx,
      p.cyPx,
      Math.cos(p.angleDeg / DEG),
      Math.sin(p.angleDeg / DEG),
      1 / p.rxPx,
      1 / p.ryPx,
      invSoft(p.softInPx),
      invSoft(p.softOutPx),
    ),
  kernel,
  drawnAs: 'ellipse',
  fromBox: ({ x, y, w, h }) => ({
    cxPx: x + w / 2,
    cyPx: y + h / 2,
    rxPx: Math.max(1, w / 2),
    ryPx: Math.max(1, h / 2),
    softInPx: 0.0875 * Math.min(w, h),
    softOutPx: 0.0875 * Math.min(w, h),
  }),
});
