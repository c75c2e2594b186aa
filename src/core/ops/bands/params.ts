import { list, num } from '../../op/params';

export const FEWEST = 3;
export const MOST = 8;

export const params = {
  borders: list({
    default: [0, 60, 120, 180, 240, 300],
    min: 0,
    max: 360,
    least: FEWEST,
    most: MOST,
    unit: 'deg',
    label: 'Borders',
    doc: 'Hues between one band and the next, rising (BT.709 angle); the last goes on over 360 degrees to the first.',
  }),
  values: list({
    default: [],
    min: -180,
    max: 200,
    least: 0,
    most: 3 * MOST,
    label: 'Values',
    doc: 'Of each band, from the first border on: turn in degrees, saturation and level in %; what is left out is 0.',
  }),
  softDeg: num({
    default: 24,
    min: 1,
    max: 120,
    ui: [2, 60],
    step: 1,
    unit: 'deg',
    label: 'Soft borders',
    doc: 'Over so many degrees one band gives way to the next; no further than to the middle of a narrow band.',
  }),
};
