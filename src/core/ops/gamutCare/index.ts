/**
 * What left the display's range is brought back at its own luma and hue: (Cb, Cr) is made shorter until every channel
 * lies within. A pixel's way to the border is measured by the channel that is nearest to leaving, d = (c - Y) / (1 - Y)
 * or (Y - c) / Y; up to the knee it stays, beyond it d goes to t + (1 - t) x / (1 + x) with x = (d - t) / (1 - t): it
 * never meets 1, keeps its order, and its slope at the knee is 1. Luma itself is the tones' business: beyond white it
 * is white, below black it is black, as the display has it.
 */
import { definePixelOp } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { params } from './params';

const [KR, KG, KB] = [0.2126, 0.7152, 0.0722];
/** Times the way to the border: with it a share of a colour is no number any more. */
const FAR = 1e6;
const soft = (d: number, t: number): number => {
  const x = (d - t) / (1 - t);
  return t + ((1 - t) * x) / (1 + x);
};

export default definePixelOp<typeof params>({
  id: 'gamutCare',
  title: 'Gamut care',
  doc:
    'Brings back what left the range of the display, with its hue: colours are drawn in towards grey of their own ' +
    'luma before a channel clips. Stands last in a correction.',
  version: 1,
  params,
  refs: ['ITU-R BT.709-6 item 3.2', 'worked by hand in vectors.ts'],
  edge:
    'Inside the knee every pixel keeps its bits. Luma above 1 is white, below 0 black. NaN spreads to all three ' +
    'channels; infinity becomes white or black where its luma is infinite.',
  migrations: [],
  /** Block: amount, knee. */
  prepare: ({ amountPct, kneePct }) => Float32Array.of(amountPct / 100, kneePct / 100),
  kernel(k, { r, g, b, n }) {
    const [amount, t] = [k[0]!, k[1]!];
    for (let i = 0; i < n; i++) {
      const [R, G, B] = [r[i]!, g[i]!, b[i]!];
      const y = KR * R + KG * G + KB * B;
      if (Number.isNaN(y)) {
        r[i] = g[i] = b[i] = NaN;
        continue;
      }
      const lit = Math.min(1, Math.max(0, y));
      const [dr, dg, db] = [R - y, G - y, B - y];
      const most = Math.max(dr, dg, db);
      const least = Math.max(-dr, -dg, -db);
      const d = Math.max(most > 0 ? most / (1 - lit) : 0, least > 0 ? least / lit : 0);
      if (d <= t && lit === y) continue;
      // Far out, and about white and black, nothing is left of the colour.
      const s = d <= t ? 1 : d < FAR ? soft(d, t) / d : 0;
      r[i] = R + amount * (lit + (s > 0 ? s * dr : 0) - R);
      g[i] = G + amount * (lit + (s > 0 ? s * dg : 0) - G);
      b[i] = B + amount * (lit + (s > 0 ? s * db : 0) - B);
    }
  },
  isNoOp: (p) => p.amountPct === 0,
  added: { amountPct: 100 },
  say: (p) => [`gamut care ${formatNumber(p.amountPct, 0)} %`],
  brief: (p) => `${formatNumber(p.amountPct, 0)} %`,
});
