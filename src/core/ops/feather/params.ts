import { choice, num } from '../../op/params';

export const params = {
  radiusPx: num({
    default: 0,
    min: 0,
    max: 1000,
    ui: [0, 100],
    step: 0.5,
    unit: 'px',
    label: 'Feather',
    doc: 'Reach of the soft edge: a Gaussian whose standard deviation is half of it.',
  }),
  side: choice({
    default: 'both',
    options: { both: 'Both ways', in: 'Inwards', out: 'Outwards' },
    label: 'Falls',
    doc: 'To which side of the edge it falls off: half to each, all of it inside, or all of it outside.',
  }),
  kernel: choice({
    default: 'splines',
    options: { splines: 'Gaussian', boxes: 'As in older projects' },
    label: 'Made by',
    doc: 'Older projects keep the feather they were made with, a little off the Gaussian from 24 px on.',
    whenSet: true,
  }),
};
