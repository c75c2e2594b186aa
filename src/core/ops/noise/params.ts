import { num } from '../../op/params';

export const params = {
  radiusPx: num({
    default: 0,
    min: 0,
    max: 5,
    ui: [0, 5],
    step: 0.5,
    unit: 'px',
    label: 'Noise',
    doc: 'Each pixel takes the median of those so near, to the nearest whole pixel; edges keep their place.',
  }),
};
