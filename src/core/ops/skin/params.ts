import { choice, num } from '../../op/params';

export const params = {
  reachPct: num({
    default: 100,
    min: 20,
    max: 400,
    ui: [40, 250],
    step: 5,
    unit: 'pct',
    label: 'Reach',
    doc: 'How far it grows over skin that differs more and more; 100 % is what photographs need.',
  }),
  brushPx: num({
    default: 24,
    min: 1,
    max: 400,
    ui: [4, 80],
    step: 1,
    unit: 'px',
    label: 'Brush',
    doc: 'Width of a press and of the strokes.',
  }),
  found: choice({
    default: 'parted',
    options: {
      parted: 'Compared and parted',
      compared: 'Compared',
      one: 'As one thing',
      sizes: 'At several sizes',
      grown: 'As it grows',
    },
    label: 'Found',
    doc:
      'What was pressed is looked for at several sizes and in any light, without what an edge and another hue part ' +
      'from it, and what was found is compared with each other. Older projects keep the way they were made with.',
    whenSet: true,
  }),
  sharePct: num({
    default: 0,
    min: 0,
    max: 100,
    ui: [0, 40],
    step: 0.1,
    unit: 'pct',
    label: 'Held near',
    doc: 'Share of the picture where it was pressed. What is about as large is taken before what is not; 0: any size.',
    whenSet: true,
  }),
};
