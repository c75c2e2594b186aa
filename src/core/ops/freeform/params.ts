import { list, num } from '../../op/params';

export const params = {
  points: list({
    default: [100, 100, 200, 100, 200, 200, 100, 200],
    min: -100000,
    max: 100000,
    least: 6,
    most: 256,
    unit: 'px',
    axes: ['x', 'y'],
    label: 'Points',
    doc: 'The points it runs through, x and y in turn; the last is joined to the first.',
  }),
  roundPct: num({
    default: 0,
    min: 0,
    max: 100,
    ui: [0, 100],
    step: 1,
    unit: 'pct',
    label: 'Round',
    doc: '0 joins the points by straight lines, 100 by a smooth curve.',
  }),
  softPx: num({
    default: 2,
    min: 0,
    max: 4000,
    ui: [0, 200],
    step: 0.5,
    unit: 'px',
    label: 'Soft edge',
    doc: 'Width of the soft edge, half of it inside; it may lie beyond the picture.',
  }),
};
