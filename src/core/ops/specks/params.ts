import { num } from '../../op/params';

export const params = {
  sizePx: num({
    default: 0,
    min: 0,
    max: 400,
    ui: [0, 60],
    step: 0.5,
    unit: 'px',
    label: 'Specks',
    doc: 'Islands of the matte smaller than a disc of this diameter are taken out.',
  }),
  fromPct: num({
    default: 20,
    min: 0.1,
    max: 100,
    ui: [1, 100],
    step: 1,
    unit: 'pct',
    label: 'In from',
    doc: 'From this matte on a pixel counts towards an island.',
  }),
};
