import { bool, choice, num } from '../../op/params';

export const params = {
  reachPct: num({
    default: 100,
    min: 5,
    max: 1000,
    ui: [20, 300],
    step: 5,
    unit: 'pct',
    label: 'Reach',
    doc: 'How far it grows over colour that belongs less and less; 100 % is what the thing seems to need.',
  }),
  brushPx: num({
    default: 8,
    min: 1,
    max: 400,
    ui: [2, 80],
    step: 1,
    unit: 'px',
    label: 'Brush',
    doc: 'Width of the strokes.',
  }),
  apart: bool({
    default: false,
    label: 'Pieces apart',
    doc: 'Pieces of the same colour that nothing joins belong too, as tiles between their joints; best inside a shape.',
  }),
  border: choice({
    default: 'laid',
    options: { laid: 'Along edges', grown: 'As in older projects' },
    label: 'Border',
    doc: 'Inside a shape the border is laid where it costs least. Older projects keep the one they were made with.',
    whenSet: true,
  }),
  taught: choice({
    default: 'again',
    options: { again: 'By what was found', once: 'As in older projects' },
    label: 'Learns',
    doc:
      'Without a shape, too, what the strokes grew to teaches which colours belong, and it is grown again; each ' +
      'stroke is a surface of its own where more than light tells it from others. Older projects keep their way.',
    whenSet: true,
  }),
  fits: choice({
    default: 'thing',
    options: {
      thing: 'The thing',
      whole: 'The thing and strips beside it',
      found: 'The thing as first found',
      filled: 'What fills its shape',
      held: 'The thing, held by its shape',
      asked: 'As in older projects',
    },
    label: 'Reach fits',
    doc:
      'Several reaches are tried on a small copy and the one is taken with which it looks most like one whole thing; ' +
      'inside a shape, with which it fills half of that. What fills less is looked at without the shape as well, and ' +
      'another thing beside it is left; so is what a longer reach finds beyond an edge and in another colour, in ' +
      'pieces apart a blob of colours that are rare in them, and hair or a collar beside skin. What goes on on a ' +
      'smaller copy goes on. Older projects keep the reach that they ask for, or what they filled their shapes with.',
    whenSet: true,
  }),
};
