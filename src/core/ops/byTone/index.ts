/** Saturation and level of colours by their level and by their saturation. */
import { CB_DIV, CR_DIV, G_CB, G_CR, KB, KG, KR } from '../../color/ycbcr';
import { open } from '../../math/open';
import { isLevel, pointsOf } from '../../math/closed';
import { definePixelOp } from '../../op/contract';
import { OVER, params } from './params';
import type { ToneCurve } from './params';

/** Cells of a table over 0..100 %; one more value closes it. */
export const CELLS = 1024;
const SIZE = CELLS + 1;
const NAMES = Object.keys(OVER) as ToneCurve[];
/** What is scaled by its own measure keeps at least this slope: no tone passes another. */
const LEAST_SLOPE = 0.02;

function kernel(k: Float32Array, { r, g, b, n }: { r: Float32Array; g: Float32Array; b: Float32Array; n: number }) {
  for (let i = 0; i < n; i++) {
    const [R, G, B] = [r[i]!, g[i]!, b[i]!];
    const y = KR * R + KG * G + KB * B;
    const cb = (B - y) / CB_DIV;
    const cr = (R - y) / CR_DIV;
    const look = (v: number, table: number): number => {
      const at = Math.min(CELLS, Math.max(0, v * CELLS));
      const cell = at > 0 ? Math.min(CELLS - 1, Math.floor(at)) : 0;
      const t = table * SIZE + cell;
      return k[t]! + (at - cell) * (k[t + 1]! - k[t]!);
    };
    const chroma = 2 * Math.sqrt(cb * cb + cr * cr);
    const more = (1 + look(y, 0)) * (1 + look(chroma, 2)) - 1;
    const level = (1 + look(y, 1)) * (1 + look(chroma, 3));
    // Differences: where nothing bends, not a bit moves.
    r[i] = level * (R + CR_DIV * more * cr);
    g[i] = level * (G + G_CB * more * cb + G_CR * more * cr);
    b[i] = level * (B + CB_DIV * more * cb);
  }
}

export default definePixelOp<typeof params>({
  id: 'byTone',
  title: 'By level and saturation',
  doc:
    'Gives or takes saturation and level by smooth curves over luma and over chroma. Between its points a curve ' +
    'never overshoots. Luma stays when saturation changes; hue and saturation stay when level does; neither tones ' +
    'nor chromas change their order.',
  version: 1,
  params,
  refs: [
    'ITU-R BT.709-6 item 3.2, 3.3',
    'F. N. Fritsch, J. Butland, "A method for constructing local monotone piecewise cubic interpolants", ' +
      'SIAM J. Sci. Stat. Comput. 5 (1984) 300',
  ],
  edge:
    'Nothing clamps; below 0 and above 100 % the ends of the curves hold. NaN and infinity become NaN in all three ' +
    'channels.',
  migrations: [],
  /** Block: tables over 0..100 %, 1025 values each, as shares: in the order of the parameters. */
  prepare(p) {
    const out = new Float32Array(NAMES.length * SIZE);
    NAMES.forEach((name, n) => {
      const f = open(pointsOf(p[name]));
      const t = out.subarray(n * SIZE, (n + 1) * SIZE);
      for (let i = 0; i <= CELLS; i++) t[i] = Math.min(4, Math.max(-1, f((100 * i) / CELLS) / 100));
      if (name === 'levelByLevel' || name === 'satBySat') keepOrder(t);
    });
    return out;
  },
  kernel,
  isNoOp: (p) => Object.values(p).every(isLevel),
  say: (p) =>
    NAMES.flatMap((name) => {
      if (isLevel(p[name])) return [];
      const [x, most] = pointsOf(p[name]).reduce((a, q) => (Math.abs(q[1]) > Math.abs(a[1]) ? q : a));
      const v = `${most > 0 ? '+' : '\u2212'}${Math.abs(Math.round(10 * most) / 10)} %`;
      const [what, over] = [
        name.startsWith('sat') ? 'saturation' : 'level',
        OVER[name] === 'sat' ? 'saturation' : 'level',
      ];
      return [`${what} ${v} at ${over} ${Math.round(x)} %`];
    }),
});

/** Raises factors of a measure where its product would fall, or nearly, so that no value passes another. */
function keepOrder(t: Float32Array): void {
  let last = 0;
  for (let i = 1; i <= CELLS; i++) {
    const least = last + LEAST_SLOPE / CELLS;
    const now = (i / CELLS) * (1 + t[i]!);
    if (now < least) t[i] = (least * CELLS) / i - 1;
    last = Math.max(now, least);
  }
  // Nothing is scaled at 0; what is next to it is.
  t[0] = t[1]!;
}
