import { bool, choice, num } from '../../op/params';

export const params = {
  amountPct: num({
    default: 100,
    min: 0,
    max: 400,
    ui: [40, 200],
    step: 1,
    unit: 'pct',
    label: 'Contrast',
    doc: 'Slope at the pivot; 100 changes nothing.',
  }),
  greyPivot: bool({
    default: true,
    label: 'Pivot at the grey card',
    doc: 'The pivot is the signal of an 18 % grey card in the encoding; off: the pivot given below.',
  }),
  pivotPct: num({
    default: 45,
    min: 1,
    max: 99,
    ui: [10, 90],
    step: 0.5,
    unit: 'pct',
    label: 'Pivot',
    doc: 'Signal that stays exactly where it is, when the grey card is not the pivot.',
  }),
  shape: choice({
    default: 'straight',
    options: { straight: 'straight', soft: 'soft S' },
    label: 'Shape',
    doc: 'Straight: a line through the pivot. Soft S: black and white stay too, the slope eases towards both.',
  }),
};
