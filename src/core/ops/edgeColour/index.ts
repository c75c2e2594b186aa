/**
 * Edge colour: a pixel at the edge of a region mixes the thing with what lies behind it. Both colours are estimated
 * from where the matte is full and where it is empty, and what the correction is given there is the thing alone; what
 * it changes of that is added to the mixed pixel by the matte (Evaluator.act), so that what lies behind stays.
 *
 * With F and B the weighted means of either side, t the share of the thing in the pixel I, what lies on the line
 * between them: I - t F - (1 - t) B is texture, and the thing alone is F + that = I + (1 - t) (F - B). Where the matte
 * takes in what the picture shows to be ground alone (t near 0) it is held back, or a halo would stand there.
 */
import { defineAreaOp } from '../../op/contract';
import type { FrameRun } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { params } from './params';

/** Places that are looked at in the disc about a pixel: a spiral that covers it evenly (H. Vogel, 1979). */
const PLACES = 48;
const GOLDEN = Math.PI * (3 - Math.sqrt(5));
const HEAD = 2;
/** Square of a difference of colours that tells the mixture as well as the matte does. */
const TELLS = 0.01;
/** A share of the thing from which the matte is let stand as it is: below, noise and shading are no ground. */
const STANDS = 0.6;
/** Shares of the disc that a side must fill, as far as counts: below the first its colour is not known. */
const KNOWN = { from: 0.01, to: 0.06 };

const finite = (r: number, g: number, b: number): boolean => r + g + b - (r + g + b) === 0;
const known = (share: number): number => {
  const t = (share - KNOWN.from) / (KNOWN.to - KNOWN.from);
  const c = t > 0 ? (t < 1 ? t : 1) : 0;
  return c * c * (3 - 2 * c);
};

function unmix(k: Float32Array, { src, dst, picture, w, h, y0, y1 }: FrameRun): void {
  const [R, G, B] = src as [Float32Array, Float32Array, Float32Array];
  const m = picture[0]!;
  const [amount, all] = [k[0]!, k[1]!];
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const [r, g, b, a] = [R[i]!, G[i]!, B[i]!, m[i]!];
      dst[0]![i] = r;
      dst[1]![i] = g;
      dst[2]![i] = b;
      dst[3]![i] = a;
      // Full or empty: there is nothing to unmix.
      if (!(a > 0 && a < 1) || !finite(r, g, b)) continue;
      let [fr, fg, fb, fw] = [0, 0, 0, 0];
      let [br, bg, bb, bw] = [0, 0, 0, 0];
      for (let p = 0; p < PLACES; p++) {
        const u = x + k[HEAD + 3 * p]!;
        const v = y + k[HEAD + 3 * p + 1]!;
        if (u < 0 || v < 0 || u >= w || v >= h) continue;
        const j = v * w + u;
        const [qr, qg, qb, q] = [R[j]!, G[j]!, B[j]!, m[j]!];
        if (!finite(qr, qg, qb) || !(q >= 0 && q <= 1)) continue;
        const near = k[HEAD + 3 * p + 2]!;
        const [in2, out2] = [q * q, (1 - q) * (1 - q)];
        const [f, o] = [near * in2 * in2, near * out2 * out2];
        fr += f * qr;
        fg += f * qg;
        fb += f * qb;
        fw += f;
        br += o * qr;
        bg += o * qg;
        bb += o * qb;
        bw += o;
      }
      const sure = known(fw / all) * known(bw / all);
      if (!(sure > 0)) continue;
      const [dr, dg, db] = [fr / fw - br / bw, fg / fw - bg / bw, fb / fw - bb / bw];
      const apart = dr * dr + dg * dg + db * db;
      if (!(apart > 0)) continue;
      const on = ((r - br / bw) * dr + (g - bg / bw) * dg + (b - bb / bw) * db) / apart;
      const t = on > 0 ? (on < 1 ? on : 1) : 0;
      const tells = apart / (apart + TELLS);
      const share = a + (t - a) * tells;
      const held = t < STANDS * a ? t / STANDS : a;
      dst[3]![i] = a + amount * sure * tells * (held - a);
      const by = amount * sure * (1 - share);
      dst[0]![i] = r + by * dr;
      dst[1]![i] = g + by * dg;
      dst[2]![i] = b + by * db;
    }
}

export default defineAreaOp<typeof params>({
  id: 'edgeColour',
  title: 'Edge colour',
  doc:
    'Takes what lies behind out of the colour at the edge of the region before anything else is done to it, so that ' +
    'no fringe of the old colour stays after a strong change, and nothing behind changes. It acts first, wherever it ' +
    'stands.',
  version: 1,
  params,
  refs: [
    'T. Porter, T. Duff, "Compositing digital images", SIGGRAPH 1984: a pixel as a mixture',
    'M. Forte, "Approximate fast foreground colour estimation", ICIP 2021: both colours by weighted means (here from ' +
      'memory, with the share read in the picture)',
    'H. Vogel, "A better way to construct the sunflower head", Mathematical Biosciences 44, 1979: the places',
  ],
  edge:
    'Where the matte is 0 or 1, where a side is not within reach, and where a channel is no number the pixel keeps ' +
    'its bits. Values outside 0..1 live on.',
  migrations: [],
  unmixes: true,
  added: { amountPct: 100 },
  /** Block: amount, sum of the weights; of each place its offset in pixels and its weight. */
  prepare({ amountPct, reachPx }) {
    const reach = Math.max(2, reachPx);
    const out = new Float32Array(HEAD + 3 * PLACES);
    let all = 0;
    for (let p = 0; p < PLACES; p++) {
      const far = Math.sqrt((p + 0.5) / PLACES);
      const near = Math.exp(-2 * far * far);
      out.set(
        [
          Math.round(reach * far * Math.cos(p * GOLDEN)),
          Math.round(reach * far * Math.sin(p * GOLDEN)),
          Math.fround(near),
        ],
        HEAD + 3 * p,
      );
      all += Math.fround(near);
    }
    out.set([amountPct / 100, all]);
    return out;
  },
  haloPx: ({ reachPx }) => Math.ceil(Math.max(2, reachPx)),
  workPlanes: 0,
  passes: () => [{ name: 'unmix' }],
  kernels: { unmix },
  isNoOp: (p) => p.amountPct === 0,
  say: (p) => [`edge colour ${formatNumber(p.amountPct, 0)} %`],
  brief: (p) => `${formatNumber(p.amountPct, 0)} %`,
});
