import { num } from '../../op/params';

export const params = {
  sizePx: num({
    default: 0,
    min: 0,
    max: 400,
    ui: [0, 60],
    step: 0.5,
    unit: 'px',
    label: 'Holes',
    doc: 'Holes in the matte smaller than a disc of this diameter are filled.',
  }),
  belowPct: num({
    default: 80,
    min: 0,
    max: 99.9,
    ui: [0, 99],
    step: 1,
    unit: 'pct',
    label: 'Hole up to',
    doc: 'Up to this matte a pixel counts towards a hole.',
  }),
};
