/**
 * The edge of the matte laid onto edges of the picture: a guided filter with the three channels as its guide (K. He,
 * J. Sun, X. Tang, "Guided image filtering", ECCV 2010 and IEEE PAMI 35, 2013, eq. 19 to 21): in every window the
 * matte is explained as a line over the colours, and a pixel gets the mean of what the windows about it say.
 *
 * Sums run over whole multiples of small powers of two in float64, so that they are exact: any tiling gives the same
 * bits. Where a window holds nothing but 0, or nothing but 1, it says just that: far from the edge the matte keeps
 * its bits.
 */
import { defineTidyFrameOp } from '../../op/contract';
import type { FrameRun } from '../../op/contract';
import { FINE, guide, said, windows } from '../../op/windows';
import { short } from '../../op/words';
import { params } from './params';

const unit = (v: number): number => Math.floor((v > 0 ? (v < 1 ? v : 1) : 0) * FINE + 0.5) / FINE;

/** Per window: the three slopes and the offset of the line, as `work` planes. */
function fit(block: Float32Array, run: FrameRun): void {
  const [r, eps] = [block[0]!, block[1]!];
  const { w, picture, src, work } = run;
  const [R, G, B] = picture as [Float32Array, Float32Array, Float32Array];
  const p = src[0]!;
  const n = (2 * r + 1) ** 2;
  windows(
    run,
    r,
    13,
    (x, y, at) => {
      const i = y * w + x;
      const [a, b, c, m] = [guide(R[i]!), guide(G[i]!), guide(B[i]!), unit(p[i]!)];
      at[0] = a;
      at[1] = b;
      at[2] = c;
      at[3] = m;
      at[4] = a * m;
      at[5] = b * m;
      at[6] = c * m;
      at[7] = a * a;
      at[8] = a * b;
      at[9] = a * c;
      at[10] = b * b;
      at[11] = b * c;
      at[12] = c * c;
    },
    (x, y, s) => {
      const i = y * w + x;
      if (s[3] === 0 || s[3] === n) {
        work[0]![i] = work[1]![i] = work[2]![i] = 0;
        work[3]![i] = s[3] === 0 ? 0 : 1;
        return;
      }
      const [a, b, c, m] = [s[0]! / n, s[1]! / n, s[2]! / n, s[3]! / n];
      const [pa, pb, pc] = [s[4]! / n - a * m, s[5]! / n - b * m, s[6]! / n - c * m];
      const [aa, ab, ac] = [s[7]! / n - a * a + eps, s[8]! / n - a * b, s[9]! / n - a * c];
      const [bb, bc, cc] = [s[10]! / n - b * b + eps, s[11]! / n - b * c, s[12]! / n - c * c + eps];
      // The inverse of a symmetric 3x3 by its cofactors.
      const [i00, i01, i02] = [bb * cc - bc * bc, ac * bc - ab * cc, ab * bc - ac * bb];
      const [i11, i12, i22] = [aa * cc - ac * ac, ab * ac - aa * bc, aa * bb - ab * ab];
      const det = aa * i00 + ab * i01 + ac * i02;
      const ka = (i00 * pa + i01 * pb + i02 * pc) / det;
      const kb = (i01 * pa + i11 * pb + i12 * pc) / det;
      const kc = (i02 * pa + i12 * pb + i22 * pc) / det;
      work[0]![i] = said(ka);
      work[1]![i] = said(kb);
      work[2]![i] = said(kc);
      work[3]![i] = said(m - ka * a - kb * b - kc * c);
    },
  );
}
function apply(block: Float32Array, run: FrameRun): void {
  const [r, hold] = [block[0]!, block[2]!];
  const gain = 1 / (1 - hold);
  const { w, picture, src, dst, work } = run;
  const n = (2 * r + 1) ** 2;
  windows(
    run,
    r,
    4,
    (x, y, at) => {
      for (let t = 0; t < 4; t++) at[t] = work[t]![y * w + x]!;
    },
    (x, y, s) => {
      const i = y * w + x;
      const fitted =
        (s[0]! * guide(picture[0]![i]!) + s[1]! * guide(picture[1]![i]!) + s[2]! * guide(picture[2]![i]!) + s[3]!) / n;
      const own = src[0]![i]!;
      // What was wholly in and nearly is stays so, and what was wholly out: noise of the picture is no edge.
      const v = own >= 1 ? fitted * gain : own > 0 ? fitted : (fitted - hold) * gain;
      dst[0]![i] = v > 0 ? (v < 1 ? v : 1) : 0;
    },
  );
}

export default defineTidyFrameOp<typeof params>({
  id: 'edgeFit',
  title: 'Edge fit',
  doc:
    'Lays the edge of the matte onto edges of the picture, hair and fibres included: a guided filter whose guide is ' +
    'the picture that the correction starts from. Away from the edge, further than twice the radius, the matte keeps ' +
    'its values. Noise of the picture leaves what was wholly in or out as it was.',
  version: 2,
  params,
  refs: [
    'K. He, J. Sun, X. Tang, "Guided image filtering", IEEE PAMI 35, 2013, eq. 19 to 21',
    'values of another general-purpose library and of a float64 filter: edgeFit.test.ts',
  ],
  edge:
    'Radius under half a pixel changes nothing. Beyond the border the picture stands mirrored. NaN in the picture ' +
    'counts as dark, in the matte as 0. The guide is looked at between -50 and 200 %.',
  migrations: [{ from: 1, up: (s) => ({ ...s, holdPct: 0 }) }],
  /** Block: radius in whole pixels, square of the step that is followed, how much is held, 0..1. */
  prepare: ({ radiusPx, edgePct, holdPct }) =>
    Float32Array.of(Math.min(250, Math.round(radiusPx)), (edgePct / 100) ** 2, holdPct / 100),
  haloPx: ({ radiusPx }) => 2 * Math.round(radiusPx),
  workPlanes: 4,
  readsPicture: true,
  passes: () => [{ name: 'fit' }, { name: 'apply' }],
  kernels: { fit, apply },
  isNoOp: (p) => Math.round(p.radiusPx) === 0,
  place: 70,
  added: { radiusPx: 8 },
  say: (p) => [`edge fit ${short(p.radiusPx)} px`],
});
