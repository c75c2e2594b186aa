import { num } from '../../op/params';

export const params = {
  floorPct: num({
    default: 0,
    min: 0,
    max: 100,
    step: 0.5,
    unit: 'pct',
    label: 'Floor',
    doc: 'Matte at or below this becomes 0.',
  }),
  ceilingPct: num({
    default: 100,
    min: 0,
    max: 100,
    step: 0.5,
    unit: 'pct',
    label: 'Ceiling',
    doc: 'Matte at or above this becomes 1.',
  }),
  softPct: num({
    default: 0,
    min: 0,
    max: 100,
    step: 1,
    unit: 'pct',
    label: 'Soft shoulders',
    doc: '0 runs straight from floor to ceiling, 100 starts and ends gently.',
  }),
};
