import { list } from '../../op/params';

/** Six points, one of them where the skin line is. */
const LEVEL = [3, 63, 123, 183, 243, 303].flatMap((hue) => [hue, 0]);
const curve = (label: string, doc: string) =>
  list({
    default: LEVEL,
    min: -200,
    max: 400,
    least: 2,
    most: 48,
    label,
    doc: `${doc} Points as hue in degrees (BT.709 angle), value, hue, value ...; the curve is closed.`,
  });
export const params = {
  turn: curve('Turn', 'Degrees that colours of a hue are turned, counter-clockwise; luma and chroma stay.'),
  sat: curve('Saturation', 'Chroma of a hue gained or lost, in %; luma and hue stay.'),
  level: curve('Level', 'Light of a hue gained or lost, in %; hue and saturation stay. Greys have no hue and stay.'),
};
export type HueCurve = keyof typeof params;
