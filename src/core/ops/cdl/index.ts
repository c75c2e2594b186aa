import { luma } from '../../color/ycbcr';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { params } from './params';

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const [sr, sg, sb, or, og, ob, pr, pg, pb, sat, clamp] = k as unknown as number[];
  // NaN passes: it is neither below 0 nor above 1.
  const cut = (v: number): number => (v < 0 ? 0 : v > 1 ? 1 : v);
  const one = (v: number, s: number, o: number, p: number): number => {
    let x = v * s + o;
    if (clamp) x = cut(x);
    return x > 0 && p !== 1 ? x ** p : x;
  };
  for (let i = 0; i < n; i++) {
    let R = one(r[i]!, sr!, or!, pr!);
    let G = one(g[i]!, sg!, og!, pg!);
    let B = one(b[i]!, sb!, ob!, pb!);
    if (sat !== 1) {
      const y = luma(R, G, B);
      R = y + sat! * (R - y);
      G = y + sat! * (G - y);
      B = y + sat! * (B - y);
    }
    r[i] = clamp ? cut(R) : R;
    g[i] = clamp ? cut(G) : G;
    b[i] = clamp ? cut(B) : B;
  }
}

export default definePixelOp<typeof params>({
  id: 'cdl',
  title: 'ASC CDL',
  doc:
    'Slope, offset, power per channel, then saturation about the luma of the powered signal. Read ' +
    'from and written to .cc, .cdl and .ccc files.',
  version: 1,
  params,
  refs: ['ASC Color Decision List (ASC CDL) Transfer Functions and Interchange Syntax, version 1.2'],
  edge:
    'Without clamping negatives skip the power and values above 1 live on. NaN stays NaN, and ' +
    'spreads to all channels when saturation is not 1.',
  migrations: [],
  /** Block: slopes, offsets, powers, saturation, 1 for clamping. */
  prepare: (p) =>
    Float32Array.from([
      p.slopeR,
      p.slopeG,
      p.slopeB,
      p.offsetR,
      p.offsetG,
      p.offsetB,
      p.powerR,
      p.powerG,
      p.powerB,
      p.saturation,
      p.clamp ? 1 : 0,
    ]),
  kernel,
  isNoOp: (p) =>
    !p.clamp &&
    [p.slopeR, p.slopeG, p.slopeB, p.powerR, p.powerG, p.powerB, p.saturation].every((v) => v === 1) &&
    p.offsetR === 0 &&
    p.offsetG === 0 &&
    p.offsetB === 0,
});
