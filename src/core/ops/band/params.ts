import { place, softness, turn } from '../../op/edge';
import { num } from '../../op/params';

export const params = {
  cxPx: place('x', 'Centre x', 'A point of its middle line, from the left edge of the picture.'),
  cyPx: place('y', 'Centre y', 'The same from the top edge of the picture.'),
  angleDeg: turn,
  widthPx: num({
    default: 200,
    min: 0,
    max: 100000,
    ui: [1, 2048],
    step: 1,
    unit: 'px',
    label: 'Width',
    doc: 'Between its two borders, where it is one half.',
  }),
  ...softness(20),
};
