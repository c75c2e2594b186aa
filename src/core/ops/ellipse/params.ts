import { half, place, softness, turn } from '../../op/edge';

export const params = {
  cxPx: place('x', 'Centre x', 'Centre, from the left edge of the picture.'),
  cyPx: place('y', 'Centre y', 'Centre, from the top edge of the picture.'),
  rxPx: half('Half width', 'Half axis along the turned x direction.'),
  ryPx: half('Half height', 'Half axis along the turned y direction.'),
  angleDeg: turn,
  ...softness(20),
};
