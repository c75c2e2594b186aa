import { half, place, softness, turn } from '../../op/edge';
import { num } from '../../op/params';

export const params = {
  cxPx: place('x', 'Centre x', 'Centre, from the left edge of the picture.'),
  cyPx: place('y', 'Centre y', 'Centre, from the top edge of the picture.'),
  rxPx: half('Half width', 'Half the width along the turned x direction.'),
  ryPx: half('Half height', 'Half the height along the turned y direction.'),
  angleDeg: turn,
  roundPct: num({
    default: 0,
    min: 0,
    max: 100,
    step: 1,
    unit: 'pct',
    label: 'Round',
    doc: 'How much of each side its corners take: 0 is a box, 100 an ellipse.',
  }),
  ...softness(0),
};
