import { place } from '../../op/edge';

export const params = {
  fromXPx: place('x', 'Full at x', 'Where it is full, and before it; from the left edge of the picture.'),
  fromYPx: place('y', 'Full at y', 'The same from the top edge of the picture.'),
  toXPx: place('x', 'Nothing at x', 'Where it has fallen to nothing, and beyond.', 0),
  toYPx: place('y', 'Nothing at y', 'The same from the top edge of the picture.', 200),
};
