import { num } from '../../op/params';

export const params = {
  amountPct: num({
    default: 0,
    min: 0,
    max: 100,
    step: 1,
    unit: 'pct',
    label: 'Gamut care',
    doc: 'How far what left the range of the display is brought back; at 100 all of it lies within.',
  }),
  kneePct: num({
    default: 92,
    min: 50,
    max: 99.5,
    step: 0.5,
    unit: 'pct',
    label: 'Begins at',
    doc: 'Share of the way from grey to the border from which colours are drawn in, so that none crowd at it.',
  }),
};
