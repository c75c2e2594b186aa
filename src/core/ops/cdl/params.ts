import { bool, num } from '../../op/params';

const slope = (c: string) =>
  num({ default: 1, min: 0, max: 20, ui: [0.5, 1.5], step: 0.005, label: `Slope ${c}`, doc: 'Multiplies the signal.' });
const offset = (c: string) =>
  num({
    default: 0,
    min: -10,
    max: 10,
    ui: [-0.2, 0.2],
    step: 0.002,
    label: `Offset ${c}`,
    doc: 'Added after the slope.',
  });
const power = (c: string) =>
  num({
    default: 1,
    min: 0.05,
    max: 20,
    ui: [0.5, 2],
    step: 0.005,
    label: `Power ${c}`,
    doc: 'Exponent after the offset.',
  });
export const params = {
  slopeR: slope('red'),
  slopeG: slope('green'),
  slopeB: slope('blue'),
  offsetR: offset('red'),
  offsetG: offset('green'),
  offsetB: offset('blue'),
  powerR: power('red'),
  powerG: power('green'),
  powerB: power('blue'),
  saturation: num({
    default: 1,
    min: 0,
    max: 20,
    ui: [0, 2],
    step: 0.01,
    label: 'Saturation',
    doc: 'Of the powered signal, about its BT.709 luma.',
  }),
  clamp: bool({
    default: false,
    label: 'Clamp to 0..1',
    doc:
      'As the published formula does, after the offset and at the end; off: values beyond live on, ' +
      'negatives skip the power.',
  }),
};
