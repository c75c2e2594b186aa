import { num } from '../../op/params';

export const params = {
  stops: num({
    default: 0,
    min: -10,
    max: 10,
    ui: [-3, 3],
    step: 0.05,
    unit: 'stops',
    label: 'Exposure',
    doc: 'Doublings of linear light: +1 is twice as much light.',
  }),
};
