/**
 * The 24 patches of the widely used test chart (C. S. McCamy, H. Marcus, J. G. Davidson, "A Color-Rendition Chart",
 * J. Applied
 * Photographic Engineering 2 (1976) 95), four rows of six, in linear BT.709 light under D65. Values: measured L*a*b*
 * (D50) from
 * Debian's argyll-ref 2.3.1 (ColorChecker.cie), adapted by Bradford. Two lie outside the BT.709 gamut.
 */
export interface ChartPatch {
  name: string;
  /** Linear BT.709, white 1. */
  linear: readonly [number, number, number];
}
export const CHART_COLUMNS = 6;
export const CHART_ROWS = 4;
export const chart24: readonly ChartPatch[] = [
  { name: 'dark skin', linear: [0.173097, 0.082121, 0.056741] },
  { name: 'light skin', linear: [0.568332, 0.292678, 0.21835] },
  { name: 'blue sky', linear: [0.10365, 0.19591, 0.331478] },
  { name: 'foliage', linear: [0.101576, 0.148938, 0.051874] },
  { name: 'blue flower', linear: [0.221556, 0.215831, 0.434586] },
  { name: 'bluish green', linear: [0.107988, 0.514408, 0.412664] },
  { name: 'orange', linear: [0.747433, 0.2006, 0.028076] },
  { name: 'purplish blue', linear: [0.057601, 0.105163, 0.402918] },
  { name: 'moderate red', linear: [0.566757, 0.084211, 0.119665] },
  { name: 'purple', linear: [0.111049, 0.042317, 0.142973] },
  { name: 'yellow green', linear: [0.345397, 0.508702, 0.049423] },
  { name: 'orange yellow', linear: [0.794594, 0.359418, 0.020519] },
  { name: 'blue', linear: [0.017114, 0.050223, 0.292245] },
  { name: 'green', linear: [0.055945, 0.300206, 0.06871] },
  { name: 'red', linear: [0.455903, 0.030319, 0.040858] },
  { name: 'yellow', linear: [0.857323, 0.56752, 0.006855] },
  { name: 'magenta', linear: [0.533684, 0.088615, 0.307533] },
  { name: 'cyan', linear: [-0.037431, 0.247018, 0.400452] },
  { name: 'white', linear: [0.912587, 0.914989, 0.893628] },
  { name: 'neutral 8', linear: [0.579825, 0.592069, 0.593404] },
  { name: 'neutral 6.5', linear: [0.355006, 0.365489, 0.367572] },
  { name: 'neutral 5', linear: [0.190117, 0.191886, 0.19311] },
  { name: 'neutral 3.5', linear: [0.085317, 0.088899, 0.092594] },
  { name: 'black', linear: [0.030317, 0.031136, 0.03274] },
];
