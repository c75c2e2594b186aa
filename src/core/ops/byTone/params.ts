import { list } from '../../op/params';

const LEVEL = [0, 25, 50, 75, 100].flatMap((x) => [x, 0]);
const curve = (label: string, doc: string) =>
  list({
    default: LEVEL,
    min: -100,
    max: 400,
    least: 2,
    most: 48,
    label,
    doc: `${doc} Points as place in %, value in %, place, value ...; beyond its ends a curve is flat.`,
  });
/** The measure that each curve stands over. */
export const OVER = { satByLevel: 'level', levelByLevel: 'level', satBySat: 'sat', levelBySat: 'sat' } as const;
export const params = {
  satByLevel: curve('Saturation by level', 'Chroma gained or lost by luma (0 black, 100 white); luma and hue stay.'),
  levelByLevel: curve(
    'Level by level',
    'Light gained or lost by luma; hue and saturation stay, tones keep their order.',
  ),
  satBySat: curve(
    'Saturation by saturation',
    'Chroma gained or lost by chroma, in % of the largest colour difference; luma and hue stay, chromas keep their ' +
      'order.',
  ),
  levelBySat: curve('Level by saturation', 'Light gained or lost by chroma; hue and saturation stay.'),
};
export type ToneCurve = keyof typeof params;
