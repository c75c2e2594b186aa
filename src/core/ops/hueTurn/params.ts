import { num } from '../../op/params';

export const params = {
  angleDeg: num({
    default: 0,
    min: -180,
    max: 180,
    ui: [-60, 60],
    step: 0.5,
    unit: 'deg',
    label: 'Hue turn',
    doc: 'Turn of hue, counter-clockwise on the vectorscope. Luma and chroma stay.',
  }),
};
