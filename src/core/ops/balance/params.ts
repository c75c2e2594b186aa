import { num } from '../../op/params';

export const params = {
  cbPct: num({
    default: 0,
    min: -100,
    max: 100,
    ui: [-30, 30],
    step: 0.1,
    unit: 'pct',
    label: 'Push Cb',
    doc: 'Push towards blue (+) or yellow (-): chroma in % at 50 % luma.',
  }),
  crPct: num({
    default: 0,
    min: -100,
    max: 100,
    ui: [-30, 30],
    step: 0.1,
    unit: 'pct',
    label: 'Push Cr',
    doc: 'Push towards red (+) or cyan (-): chroma in % at 50 % luma.',
  }),
};
