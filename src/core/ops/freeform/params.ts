import { softness } from '../../op/edge';
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
  bends: list({
    default: [],
    min: -1,
    max: 100,
    least: 0,
    most: 128,
    unit: 'pct',
    label: 'Bends',
    doc: 'Round of single points, in their order: 0 a corner, 100 smooth; -1, or none, as all of them.',
  }),
  tangents: list({
    default: [],
    min: -100000,
    max: 100000,
    least: 0,
    most: 512,
    unit: 'pct',
    label: 'Tangents',
    doc:
      'Of each point, before and behind it: the tangent along and across that of a Catmull-Rom curve, in % of its ' +
      'length; none: 100, 0, 100, 0. A point that comes in between two leaves the curve as it was by these.',
  }),
  ...softness(1),
  softs: list({
    default: [],
    min: 0,
    max: 1000,
    least: 0,
    most: 128,
    unit: 'pct',
    label: 'Softness of points',
    doc: 'How soft the edge is at single points, in their order, in % of that of all; none: 100.',
  }),
};
