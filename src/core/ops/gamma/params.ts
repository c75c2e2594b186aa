import { num } from '../../op/params';

export const params = {
  gamma: num({
    default: 1,
    min: 0.1,
    max: 10,
    ui: [0.3, 3],
    step: 0.01,
    label: 'Gamma',
    doc: 'Above 1 what is half in comes in further, below 1 it goes out; nothing and full stay.',
  }),
};
