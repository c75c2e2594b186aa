/** Turn, saturation and level of colours by their hue. */
import { byHueTables, hueTables } from '../../color/hueTables';
import { closed, isLevel, pointsOf } from '../../math/closed';
import { definePixelOp } from '../../op/contract';
import { params } from './params';

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
  /** Block: a table over the circle, 1025 places: turn in degrees, saturation and level as shares. */
  prepare: (p) =>
    hueTables(
      (['turn', 'sat', 'level'] as const).map((name) => closed(pointsOf(p[name]), 360)) as unknown as Parameters<
        typeof hueTables
      >[0],
    ),
  kernel: byHueTables,
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
