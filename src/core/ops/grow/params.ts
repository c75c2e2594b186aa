import { num } from '../../op/params';

export const params = {
  byPx: num({
    default: 0,
    min: -40,
    max: 40,
    ui: [-20, 20],
    step: 0.1,
    unit: 'px',
    label: 'Grow',
    doc: 'Moves the edge outwards, below 0 inwards, by so many pixels and parts of one, alike in every direction.',
  }),
};
