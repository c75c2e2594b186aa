import { choice, num } from '../../op/params';

export const params = {
  display: choice({ default: 'bt1886', options: { bt1886: 'BT.709, gamma 2.4', srgb: 'sRGB' }, label: 'Display', doc: 'What the picture is converted to: BT.709 primaries with the curve of BT.1886 or of sRGB.' }),
  greyPct: num({ default: 43, min: 10, max: 80, ui: [30, 55], step: 0.25, unit: 'pct', label: 'Mid grey', doc: 'Signal on the display of an 18 % grey card, for material that needs a tone rendering.' }),
  whiteStops: num({ default: 4, min: 1, max: 12, ui: [2, 8], step: 0.05, unit: 'stops', label: 'White', doc: 'Stops above mid grey that come to 100 %.' }),
  softPct: num({ default: 60, min: 0, max: 100, ui: [0, 100], step: 1, unit: 'pct', label: 'Softness', doc: 'How early the highlights begin to roll off: 0 clips at white, 100 begins at mid grey.' }),
  gamutPct: num({ default: 50, min: 0, max: 100, ui: [0, 100], step: 1, unit: 'pct', label: 'Gamut', doc: 'How much colours outside the display are drawn in; 0 leaves them beyond it.' }),
};
