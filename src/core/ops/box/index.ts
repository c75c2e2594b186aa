import { defineShapeOp } from '../../op/contract';
import type { ShapeRun } from '../../op/contract';
import { DEG } from '../../math/angle';
import { edgeAt, invSoft } from '../../op/edge';
import { params } from './params';

/**
 * Signed distance: beyond the sides along their normals, about a corner that of its ellipse (first order, see the
 * ellipse) or, where the corner is sharp, that of its point; inside never more than that of the nearest side.
 */
function kernel(k: Float32Array, { m, x0, y, n }: ShapeRun): void {
  const [cx, cy, c, s, rx, ry, qx, qy, iqx, iqy, invIn, invOut] = k as unknown as number[] & { length: 12 };
  const dy = y + 0.5 - cy!;
  for (let i = 0; i < n; i++) {
    const dx = x0 + i + 0.5 - cx!;
    const a = Math.abs(dx * c! - dy * s!) - rx!;
    const b = Math.abs(dx * s! + dy * c!) - ry!;
    const side = Math.max(a, b);
    // Along the axes of the corner's quarter, from its middle.
    const u = a + qx!;
    const v = b + qy!;
    let d = side;
    if (u > 0 && v > 0) {
      const [e, g] = [u * iqx!, v * iqy!];
      const f = Math.sqrt(e * e + g * g);
      const grad = Math.sqrt(e * e * iqx! * iqx! + g * g * iqy! * iqy!);
      d = qx! > 0 ? Math.max(side, (f * (f - 1)) / grad) : Math.sqrt(u * u + v * v);
    }
    m[i] = edgeAt(d, invIn!, invOut!);
  }
}

export default defineShapeOp<typeof params>({
  id: 'box',
  title: 'Box',
  doc:
    'A turned box whose corners may be rounded until it is an ellipse, one half on its outline, with an edge of ' +
    'stated width on either side.',
  version: 1,
  params,
  refs: [
    'distance from a box, by its sides and corners: elementary geometry; its rounded corners as the ellipse: ' +
      'G. Taubin, ACM TOG 13(1), 1994',
  ],
  edge:
    'A softness below half a pixel is drawn as half a pixel, so that the edge is not jagged. Exactly 0 outside, ' +
    'exactly 1 inside, as far as the softness inside leaves room.',
  migrations: [],
  /** Block: centre x, y, cos, sin, half sizes, sizes of the corners, 1 / these, 1 / twice the softness in and out. */
  prepare: (p) => {
    // Corners of less than a thousandth of a pixel are sharp.
    const round = Math.min(p.rxPx, p.ryPx) * p.roundPct < 0.1 ? 0 : p.roundPct / 100;
    const [qx, qy] = [p.rxPx * round, p.ryPx * round];
    return Float32Array.of(
      p.cxPx,
      p.cyPx,
      Math.cos(p.angleDeg / DEG),
      Math.sin(p.angleDeg / DEG),
      p.rxPx,
      p.ryPx,
      qx,
      qy,
      qx > 0 ? 1 / qx : 0,
      qy > 0 ? 1 / qy : 0,
      invSoft(p.softInPx),
      invSoft(p.softOutPx),
    );
  },
  kernel,
  drawnAs: 'box',
  fromBox: ({ x, y, w, h }) => ({
    cxPx: x + w / 2,
    cyPx: y + h / 2,
    rxPx: Math.max(1, w / 2),
    ryPx: Math.max(1, h / 2),
    softInPx: 0.03 * Math.min(w, h),
    softOutPx: 0.03 * Math.min(w, h),
  }),
});
