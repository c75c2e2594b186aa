import { list } from '../../op/params';

const curve = (label: string, doc: string) =>
  list({
    default: [0, 0, 1, 1],
    min: -0.5,
    max: 2,
    least: 4,
    most: 128,
    label,
    doc: `${doc} Points as x, y, x, y ... of the signal, x rising.`,
  });
export const params = {
  luma: curve('Luma', 'Luma in, luma out; the difference is added to all channels, so that Cb and Cr stay.'),
  rgb: curve('All', 'Red, green and blue alike, before their own curves.'),
  red: curve('Red', 'Red.'),
  green: curve('Green', 'Green.'),
  blue: curve('Blue', 'Blue.'),
};
export type CurveName = keyof typeof params;
