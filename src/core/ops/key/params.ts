import { bool, num } from '../../op/params';

export const params = {
  hueOn: bool({ default: true, label: 'Hue', doc: 'Limit by hue.' }),
  hueCentreDeg: num({ default: 123, min: 0, max: 360, step: 0.5, unit: 'deg', label: 'Hue centre', doc: 'Centre of the hue range, degrees counter-clockwise from +Cb.' }),
  hueWidthDeg: num({ default: 30, min: 0, max: 360, ui: [0, 180], step: 0.5, unit: 'deg', label: 'Hue width', doc: 'Whole width in which the key is full.' }),
  hueSoftDeg: num({ default: 10, min: 0, max: 180, ui: [0, 60], step: 0.5, unit: 'deg', label: 'Hue softness', doc: 'Fall from full to nothing on each side, outside the width.' }),
  satOn: bool({ default: true, label: 'Saturation', doc: 'Limit by saturation, measured as chroma in %.' }),
  satCentrePct: num({ default: 25, min: 0, max: 150, ui: [0, 100], step: 0.5, unit: 'pct', label: 'Saturation centre', doc: 'Centre of the chroma range.' }),
  satWidthPct: num({ default: 30, min: 0, max: 300, ui: [0, 100], step: 0.5, unit: 'pct', label: 'Saturation width', doc: 'Whole width in which the key is full.' }),
  satSoftPct: num({ default: 5, min: 0, max: 100, ui: [0, 40], step: 0.5, unit: 'pct', label: 'Saturation softness', doc: 'Fall on each side, outside the width.' }),
  lumaOn: bool({ default: true, label: 'Luma', doc: 'Limit by luma.' }),
  lumaCentrePct: num({ default: 50, min: -50, max: 150, ui: [0, 100], step: 0.5, unit: 'pct', label: 'Luma centre', doc: 'Centre of the luma range.' }),
  lumaWidthPct: num({ default: 60, min: 0, max: 300, ui: [0, 100], step: 0.5, unit: 'pct', label: 'Luma width', doc: 'Whole width in which the key is full.' }),
  lumaSoftPct: num({ default: 10, min: 0, max: 100, ui: [0, 40], step: 0.5, unit: 'pct', label: 'Luma softness', doc: 'Fall on each side, outside the width.' }),
  neutralPct: num({ default: 2, min: 0, max: 20, ui: [0, 10], step: 0.1, unit: 'pct', label: 'Neutral guard', doc: 'Below this chroma a hue means nothing: the hue limit lets nothing through at half of it, everything from one and a half of it on.' }),
};
