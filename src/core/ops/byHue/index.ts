/** Turn, saturation and level of colours by their hue. */
import { CB_DIV, CR_DIV, G_CB, G_CR, KB, KG, KR } from '../../color/ycbcr';
import { closed, isLevel, pointsOf } from '../../math/closed';
import { DEG } from '../../math/angle';
import { definePixelOp } from '../../op/contract';
import { params } from './params';

/** Cells of a table over the circle; one more value closes it. */
export const CELLS = 1024;
const SIZE = CELLS + 1;
/** Chroma in % below which a hue says nothing, and from which it says all: level follows it in between. */
const GREY = { from: 1, to: 6 };
/** Turns are held here, so that a curve through wild points cannot wind round. */
const MOST_TURN = 180;

function kernel(k: Float32Array, { r, g, b, n }: { r: Float32Array; g: Float32Array; b: Float32Array; n: number }) {
  for (let i = 0; i < n; i++) {
    const [R, G, B] = [r[i]!, g[i]!, b[i]!];
    const y = KR * R + KG * G + KB * B;
    const cb = (B - y) / CB_DIV;
    const cr = (R - y) / CR_DIV;
    const chroma = 200 * Math.sqrt(cb * cb + cr * cr);
    const deg = Math.atan2(cr, cb) * DEG;
    const at = (deg < 0 ? deg + 360 : deg) * (CELLS / 360);
    const cell = at > 0 ? Math.min(CELLS - 1, Math.floor(at)) : 0;
    const f = at - cell;
    const look = (t: number): number => k[t + cell]! + f * (k[t + cell + 1]! - k[t + cell]!);
    const turn = look(0) / DEG;
    const gain = 1 + look(SIZE);
    const t = Math.min(1, Math.max(0, (chroma - GREY.from) / (GREY.to - GREY.from)));
    const level = 1 + look(2 * SIZE) * t * t * (3 - 2 * t);
    const [c, s] = [gain * Math.cos(turn) - 1, gain * Math.sin(turn)];
    // Differences: where nothing bends, not a bit moves.
    const db = c * cb - s * cr;
    const dr = s * cb + c * cr;
    r[i] = level * (R + CR_DIV * dr);
    g[i] = level * (G + G_CB * db + G_CR * dr);
    b[i] = level * (B + CB_DIV * db);
  }
}

export default definePixelOp<typeof params>({
  id: 'byHue',
  title: 'By hue',
  doc:
    'Turns hues, and gives or takes saturation and level, each by a smooth closed curve over hue. Between its points ' +
    'a curve never overshoots. Luma stays when hue or saturation change; hue and saturation stay when level does.',
  version: 1,
  params,
  refs: [
    'ITU-R BT.709-6 item 3.2, 3.3',
    'F. N. Fritsch, J. Butland, "A method for constructing local monotone piecewise cubic interpolants", ' +
      'SIAM J. Sci. Stat. Comput. 5 (1984) 300',
  ],
  edge: 'Nothing clamps. NaN and infinity become NaN in all three channels. Greys below 1 % chroma keep their level.',
  migrations: [],
  /** Block: tables over the circle, 1025 values each: turn in degrees, saturation and level as shares. */
  prepare(p) {
    const out = new Float32Array(3 * SIZE);
    (['turn', 'sat', 'level'] as const).forEach((name, n) => {
      const f = closed(pointsOf(p[name]), 360);
      const [lo, hi] = name === 'turn' ? [-MOST_TURN, MOST_TURN] : [-100, 400];
      for (let i = 0; i <= CELLS; i++) {
        const v = Math.min(hi, Math.max(lo, f((i * 360) / CELLS)));
        out[n * SIZE + i] = name === 'turn' ? v : v / 100;
      }
    });
    return out;
  },
  kernel,
  isNoOp: (p) => Object.values(p).every(isLevel),
  say: (p) =>
    (['turn', 'sat', 'level'] as const).flatMap((name) => {
      if (isLevel(p[name])) return [];
      const [hue, most] = pointsOf(p[name]).reduce((a, q) => (Math.abs(q[1]) > Math.abs(a[1]) ? q : a));
      const v = `${most > 0 ? '+' : '\u2212'}${Math.abs(Math.round(10 * most) / 10)}`;
      const what = { turn: `turned ${v}\u00b0`, sat: `saturation ${v} %`, level: `level ${v} %` }[name];
      return [`hue ${Math.round(((hue % 360) + 360) % 360)}\u00b0 ${what}`];
    }),
});
