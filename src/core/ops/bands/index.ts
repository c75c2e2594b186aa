/** Bands of the picture's own hues, each with its turn, saturation and level; soft borders, weights that sum to one. */
import { byHueTables, hueTables } from '../../color/hueTables';
import { definePixelOp } from '../../op/contract';
import { params } from './params';
import { sortedBorders, valuesOfBand, weightsAt } from './weights';

export default definePixelOp<typeof params>({
  id: 'bands',
  title: 'Bands of hue',
  doc:
    'Three to eight bands of hue, found in the picture or set by hand, each with a turn, a saturation and a level. ' +
    'Over a border the one gives way to the other. Luma stays when hue or saturation change; hue and saturation stay ' +
    'when level does.',
  version: 1,
  params,
  refs: ['ITU-R BT.709-6 item 3.2, 3.3'],
  edge: 'Nothing clamps. NaN and infinity become NaN in all three channels. Greys below 1 % chroma keep their level.',
  migrations: [],
  /** Block: a table over the circle, 1025 places: turn in degrees, saturation and level as shares. */
  prepare({ borders, values, softDeg }) {
    const at = sortedBorders(borders);
    // Values belong to the borders as they are stored.
    const of = at.map((b) =>
      valuesOfBand(
        values,
        Math.max(
          0,
          borders.findIndex((x) => ((x % 360) + 360) % 360 === b),
        ),
      ),
    );
    const curve = (k: 0 | 1 | 2) => (deg: number) =>
      weightsAt(at, softDeg, deg).reduce((s, w, i) => s + w * of[i]![k], 0);
    return hueTables([curve(0), curve(1), curve(2)]);
  },
  kernel: byHueTables,
  isNoOp: ({ borders, values }) => values.slice(0, 3 * borders.length).every((v) => v === 0),
  say({ borders, values }) {
    const said = (v: number, unit: string): string =>
      `${v > 0 ? '+' : '\u2212'}${Math.abs(Math.round(10 * v) / 10)}${unit}`;
    return borders.flatMap((b, i) => {
      const [turn, sat, level] = valuesOfBand(values, i);
      const parts = [
        ...(turn ? [`turned ${said(turn, '\u00b0')}`] : []),
        ...(sat ? [`saturation ${said(sat, ' %')}`] : []),
        ...(level ? [`level ${said(level, ' %')}`] : []),
      ];
      const to = borders[(i + 1) % borders.length]!;
      return parts.length === 0 ? [] : [`hues ${Math.round(b)}\u2013${Math.round(to)}\u00b0 ${parts.join(', ')}`];
    });
  },
  brief: ({ borders, values }) => {
    const n = borders.filter((_, i) => valuesOfBand(values, i).some((v) => v !== 0)).length;
    return `${n} of ${borders.length} bands`;
  },
});
