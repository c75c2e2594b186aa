import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { CB_DIV, CR_DIV, G_CB, G_CR } from '../../color/ycbcr';
import { params } from './params';

/** Channel values of a colour push given in % chroma. */
const push = (cbPct: number, crPct: number): [number, number, number] => {
  const cb = cbPct / 200;
  const cr = crPct / 200;
  return [CR_DIV * cr, G_CB * cb + G_CR * cr, CB_DIV * cb];
};

/** Ends nearer than this, in %, are no range. */
const LEAST_RANGE = 5;

/**
 * Per channel, v from 0 at the dark end to 1 at the bright one: v = in + offset; v = v + lift (1 - v); v = v gain;
 * v > 0: v = v^(1/gamma). Values at or below 0 skip the power, as the no-clamp form of ASC CDL does.
 */
function kernel(block: Float32Array, { r, g, b, n }: PixelRun): void {
  const [low, range] = [block[9]!, block[10]!];
  for (let c = 0; c < 3; c++) {
    const p = c === 0 ? r : c === 1 ? g : b;
    const a = block[c * 3]!;
    const k = block[c * 3 + 1]!;
    const e = block[c * 3 + 2]!;
    if (e === 1) for (let i = 0; i < n; i++) p[i] = a + k * p[i]!;
    else
      for (let i = 0; i < n; i++) {
        const v = a + k * (p[i]! - low);
        p[i] = low + range * (v > 0 ? v ** e : v);
      }
  }
}

export default definePixelOp<typeof params>({
  id: 'wheels',
  title: 'Wheels',
  doc:
    'Lift, gamma, gain and offset, each a colour push and a level. Per channel, from the dark end (0) to the bright ' +
    'one (1): v = in + offset; v += lift (1 - v); v *= gain; v = v^(1/gamma) where v > 0.',
  version: 2,
  params,
  refs: [
    'common practice: lift/gamma/gain/offset; the order is stated in the documentation',
    'ASC CDL 1.2: power without clamping',
  ],
  edge:
    'Nothing clamps. At or below 0 the power is skipped; NaN stays NaN; +infinity stays +infinity ' +
    'for a positive gain.',
  // The two ends came: what has none acts from black to white, as it did.
  migrations: [{ from: 1, up: (p) => p }],
  /**
   * Block, per channel: a, k, 1/gamma, with v = a + k (in - low) folding range, offset, lift and gain into one line;
   * then the dark end and the range, which lead back. Where no power comes between, the line is a + k in and leads back
   * by itself.
   */
  prepare(p) {
    const lift = push(p.liftCb, p.liftCr);
    const gamma = push(p.gammaCb, p.gammaCr);
    const gain = push(p.gainCb, p.gainCr);
    const offset = push(p.offsetCb, p.offsetCr);
    const low = p.fromPct / 100;
    const range = Math.max(LEAST_RANGE, p.toPct - p.fromPct) / 100;
    const out = new Float32Array(11);
    out.set([low, range], 9);
    for (let c = 0; c < 3; c++) {
      const o = offset[c]! + p.offsetLevel / 100;
      const l = lift[c]! + p.liftLevel / 100;
      const g = Math.max(0, 1 + gain[c]! + p.gainLevel / 100);
      const e = 2 ** -(gamma[c]! + p.gammaLevel / 100);
      const a = (o * (1 - l) + l) * g;
      const k = (1 - l) * g;
      out.set(e === 1 ? [low + range * a - k * low, k, 1] : [a, k / range, e], c * 3);
    }
    return out;
  },
  kernel,
  isNoOp: ({ fromPct: _f, toPct: _t, ...p }) => Object.values(p).every((v) => v === 0),
  say: (p) => [
    (['lift', 'gamma', 'gain', 'offset'] as const)
      .filter((w) => p[`${w}Cb`] || p[`${w}Cr`] || p[`${w}Level`])
      .join(', '),
  ],
});
