import { num } from '../../op/params';

export const params = {
  cxPx: num({ default: 0, min: -100000, max: 100000, ui: [0, 4096], step: 1, unit: 'px', label: 'Centre x', doc: 'Centre, from the left edge of the picture.' }),
  cyPx: num({ default: 0, min: -100000, max: 100000, ui: [0, 4096], step: 1, unit: 'px', label: 'Centre y', doc: 'Centre, from the top edge of the picture.' }),
  rxPx: num({ default: 100, min: 0.5, max: 100000, ui: [1, 2048], step: 1, unit: 'px', label: 'Half width', doc: 'Half axis along the turned x direction.' }),
  ryPx: num({ default: 100, min: 0.5, max: 100000, ui: [1, 2048], step: 1, unit: 'px', label: 'Half height', doc: 'Half axis along the turned y direction.' }),
  angleDeg: num({ default: 0, min: -360, max: 360, ui: [-180, 180], step: 1, unit: 'deg', label: 'Turn', doc: 'Turn, counter-clockwise as seen.' }),
  softPx: num({ default: 40, min: 0, max: 10000, ui: [0, 400], step: 1, unit: 'px', label: 'Softness', doc: 'Width of the edge, half of it inside and half outside the outline.' }),
};
