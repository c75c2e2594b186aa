import { choice, num } from '../../op/params';

export const params = {
  mired: num({
    default: 0,
    min: -86,
    max: 250,
    ui: [-60, 60],
    step: 0.5,
    label: 'Temperature',
    unit: 'none',
    doc: 'Shift of the light in mired (a million over kelvin): positive makes the picture warmer.',
  }),
  tint: num({
    default: 0,
    min: -60,
    max: 60,
    ui: [-20, 20],
    step: 0.2,
    label: 'Tint',
    unit: 'none',
    doc:
      'Distance off the locus of black bodies in thousandths of CIE 1960 uv: positive towards ' +
      'magenta, negative towards green.',
  }),
  how: choice({
    default: 'adapt',
    options: { adapt: 'as light', even: 'even' },
    label: 'Kind',
    doc:
      'As light: a chromatic adaptation, white moves as under another lamp, on linear light. Even: ' +
      'plain gains of red, green and blue on the signal, in the same direction.',
  }),
};
