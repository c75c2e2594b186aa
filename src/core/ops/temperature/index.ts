import { CURVE_FLOATS, curveBlock, decodeBlock, encodeBlock } from '../../color/curves';
import { luma } from '../../color/ycbcr';
import { apply3, primaries, rgbToXyz, invert3 } from '../../color/encodings';
import { multiply } from '../../color/matrix3';
import type { Matrix3 } from '../../color/matrix3';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { adaptWhite } from '../../color/locus';
import { params } from './params';

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const even = k[0]! === 1;
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = k.subarray(1, 10) as unknown as Matrix3;
  const c = 10;
  for (let i = 0; i < n; i++) {
    let x = r[i]!;
    let y = g[i]!;
    let z = b[i]!;
    if (!even) {
      x = decodeBlock(k, c, x);
      y = decodeBlock(k, c, y);
      z = decodeBlock(k, c, z);
    }
    const R = m0 * x + m1 * y + m2 * z;
    const G = m3 * x + m4 * y + m5 * z;
    const B = m6 * x + m7 * y + m8 * z;
    r[i] = even ? R : encodeBlock(k, c, R);
    g[i] = even ? G : encodeBlock(k, c, G);
    b[i] = even ? B : encodeBlock(k, c, B);
  }
}

export default definePixelOp<typeof params>({
  id: 'temperature',
  title: 'Temperature and tint',
  doc: 'Moves white along and off the locus of black bodies. As light: Bradford adaptation of linear light, luminance of white kept. Even: gains on the signal that give white the same direction, luma of white kept.',
  version: 1,
  params,
  refs: ['M. Krystek, Color Research and Application 10 (1985) 38: the locus in CIE 1960 uv', 'ICC.1:2022 Annex E.3: linearised Bradford'],
  edge: 'Nothing clamps beyond what the encoding itself clamps. NaN and infinity spread to the channels that read them.',
  migrations: [],
  /** Block: 1 for even, the matrix, the curve. */
  prepare(p, { encoding }) {
    const toXyz = rgbToXyz(primaries[encoding.primaries]);
    let m = multiply(invert3(toXyz), multiply(adaptWhite(primaries[encoding.primaries].white, p.mired, p.tint), toXyz));
    if (p.how === 'even') {
      // The same white as a plain gain of each channel's signal.
      const white = apply3(m, [1, 1, 1]).map((v) => Math.max(0.02, v) ** (1 / 2.4)) as [number, number, number];
      const y = luma(...white);
      m = [white[0] / y, 0, 0, 0, white[1] / y, 0, 0, 0, white[2] / y];
    }
    const out = new Float32Array(10 + CURVE_FLOATS);
    out.set([p.how === 'even' ? 1 : 0, ...m, ...curveBlock(encoding.curve)]);
    return out;
  },
  kernel,
  isNoOp: (p) => p.mired === 0 && p.tint === 0,
});
