import { num } from '../../op/params';

export const params = {
  blackPct: num({
    default: 0,
    min: -50,
    max: 90,
    ui: [-10, 30],
    step: 0.25,
    unit: 'pct',
    label: 'Black point',
    doc: 'Signal that becomes the black below.',
  }),
  whitePct: num({
    default: 100,
    min: 10,
    max: 800,
    ui: [50, 130],
    step: 0.25,
    unit: 'pct',
    label: 'White point',
    doc: 'Signal that becomes the white below.',
  }),
  toBlackPct: num({
    default: 0,
    min: -50,
    max: 90,
    ui: [0, 20],
    step: 0.25,
    unit: 'pct',
    label: 'Black to',
    doc: 'Where the black point is put.',
  }),
  toWhitePct: num({
    default: 100,
    min: 10,
    max: 200,
    ui: [80, 110],
    step: 0.25,
    unit: 'pct',
    label: 'White to',
    doc: 'Where the white point is put.',
  }),
};
