import { MOST_COLOURS } from '../../matte/near';
import { list, num } from '../../op/params';

const colours = (least: number, init: { default: number[]; label: string; doc: string }) =>
  list({ ...init, min: -2, max: 2, least, most: 3 * MOST_COLOURS });

export const params = {
  near: colours(3, {
    default: [0.7, 0.06, 0.05],
    label: 'Colours',
    doc: 'Colours that belong, as OKLab L, a and b in turn.',
  }),
  far: colours(0, {
    default: [],
    label: 'Colours left out',
    doc: 'Colours that do not belong, in the same way: whatever is nearer to one of these is out.',
  }),
  reachPct: num({
    default: 5,
    min: 0,
    max: 100,
    ui: [0, 12],
    step: 0.1,
    unit: 'pct',
    label: 'Reach',
    doc: 'Distance from the nearest colour, in OKLab, at which the key is one half.',
  }),
  fadePct: num({
    default: 5,
    min: 0,
    max: 100,
    ui: [0.5, 15],
    step: 0.1,
    unit: 'pct',
    label: 'Fade',
    doc: 'Distance over which it falls from full to nothing.',
  }),
  lightPct: num({
    default: 30,
    min: 0,
    max: 200,
    ui: [0, 100],
    step: 1,
    unit: 'pct',
    label: 'Weight of light',
    doc: 'How much a difference in light counts beside one in colour: light and shade of one thing belong together.',
  }),
};
