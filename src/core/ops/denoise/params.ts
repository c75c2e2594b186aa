import { num } from '../../op/params';

export const params = {
  strengthPct: num({
    default: 0,
    min: 0,
    max: 100,
    ui: [0, 60],
    step: 0.5,
    unit: 'pct',
    label: 'Strength',
    doc:
      'How large a difference of colour still counts as noise: at 100 % a quarter of the signal; what differs more ' +
      'is an edge.',
  }),
  sizePx: num({
    default: 6,
    min: 3,
    max: 60,
    ui: [3, 24],
    step: 1,
    unit: 'px',
    label: 'Reach',
    doc: 'How far around a pixel its like are sought.',
  }),
  lightPct: num({
    default: 100,
    min: 0,
    max: 100,
    ui: [0, 100],
    step: 1,
    unit: 'pct',
    label: 'Light as well',
    doc: 'Share that luma takes part with: 0 takes noise of colour only and leaves grain and texture.',
  }),
};
