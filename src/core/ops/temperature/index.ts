import { lightBlock, lightKernel } from '../../color/light';
import { luma } from '../../color/ycbcr';
import { apply3, primaries, rgbToXyz, invert3 } from '../../color/encodings';
import { applyMatrix, multiply } from '../../color/matrix3';
import type { Matrix3 } from '../../color/matrix3';
import { definePixelOp } from '../../op/contract';
import type { OpContext, PixelRun } from '../../op/contract';
import { adaptWhite } from '../../color/locus';
import { formatNumber } from '../../op/words';
import { params } from './params';

function kernel(k: Float32Array, run: PixelRun): void {
  if (k[0] === 1) applyMatrix(k.subarray(1, 10), run);
  else lightKernel(k.subarray(1), run);
}
/** White under the shifted light, on linear light of the encoding's own primaries. */
function matrix(mired: number, tint: number, { encoding }: OpContext): Matrix3 {
  const toXyz = rgbToXyz(primaries[encoding.primaries]);
  return multiply(invert3(toXyz), multiply(adaptWhite(primaries[encoding.primaries].white, mired, tint), toXyz));
}
const light = (m: Matrix3, { encoding }: OpContext): Float32Array => {
  const inner = lightBlock(encoding.curve, m);
  const out = new Float32Array(1 + inner.length);
  out.set(inner, 1);
  return out;
};

export default definePixelOp<typeof params>({
  id: 'temperature',
  title: 'Temperature and tint',
  doc:
    'Moves white along and off the locus of black bodies. As light: Bradford adaptation of linear ' +
    'light, luminance of white kept. Even: gains on the signal that give white the same direction, luma of white kept.',
  version: 1,
  params,
  refs: [
    'M. Krystek, Color Research and Application 10 (1985) 38: the locus in CIE 1960 uv',
    'ICC.1:2022 Annex E.3: linearised Bradford',
  ],
  edge:
    'Nothing clamps beyond what the encoding itself clamps. NaN and infinity spread to the channels ' +
    'that read them.',
  migrations: [],
  /** Block: 1 for even and the matrix on the signal; or 0 and a matrix on light (core/color/light.ts). */
  prepare(p, ctx) {
    const m = matrix(p.mired, p.tint, ctx);
    if (p.how === 'adapt') return light(m, ctx);
    // The same white as a plain gain of each channel's signal.
    const white = apply3(m, [1, 1, 1]).map((v) => Math.max(0.02, v) ** (1 / 2.4)) as [number, number, number];
    const y = luma(...white);
    return Float32Array.from([1, white[0] / y, 0, 0, 0, white[1] / y, 0, 0, 0, white[2] / y]);
  },
  kernel,
  light: { matrix: (p, ctx) => (p.how === 'adapt' ? matrix(p.mired, p.tint, ctx) : null), block: light },
  isNoOp: (p) => p.mired === 0 && p.tint === 0,
  say: (p) => (p.tint === 0 ? [`temperature ${formatNumber(p.mired, 0, true)} mired`] : ['temperature and tint']),
  brief: (p) => `${formatNumber(p.mired, 0, true)} mired${p.tint ? `, tint ${formatNumber(p.tint, 1, true)}` : ''}`,
});
