import { num } from '../../op/params';

export const params = {
  amountPct: num({
    default: 0,
    min: -100,
    max: 400,
    ui: [-100, 150],
    step: 1,
    unit: 'pct',
    label: 'Detail',
    doc: 'Below 0 softens, above 0 sharpens; -100 takes the detail out, 100 doubles it.',
  }),
  sizePx: num({
    default: 6,
    min: 1,
    max: 125,
    ui: [1, 60],
    step: 0.5,
    unit: 'px',
    label: 'Up to',
    doc: 'What is smaller than about twice this counts as detail: a few pixels for pores, tens for modelling.',
  }),
  edgePct: num({
    default: 10,
    min: 0.2,
    max: 100,
    ui: [1, 50],
    step: 0.5,
    unit: 'pct',
    label: 'Edges over',
    doc: 'Steps of luma larger than this are edges: they belong to the picture beneath and make no halo.',
  }),
  fromPct: num({
    default: 0,
    min: 0,
    max: 20,
    ui: [0, 5],
    step: 0.05,
    unit: 'pct',
    label: 'From',
    doc: 'Detail fainter than this, such as noise, is left as it is.',
  }),
};
