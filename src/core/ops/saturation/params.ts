import { num } from '../../op/params';

export const params = {
  amountPct: num({
    default: 100,
    min: 0,
    max: 400,
    ui: [0, 200],
    step: 1,
    unit: 'pct',
    label: 'Saturation',
    doc: 'Chroma as a share of what it was; 0 is grey, 100 changes nothing. Luma stays.',
  }),
};
