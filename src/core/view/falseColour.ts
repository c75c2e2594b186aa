/**
 * False colours: what a value of the picture is shown as. Each kind is a list of stops or bands, from which the
 * engine makes its table
 * and the interface its legend, so that the two cannot differ. The hues keep apart for the common kinds of colour
 * blindness: they
 * run between blue and orange, and lightness rises or falls with the value.
 */
import { wrap180 } from '../math/angle';
import { chromaPct, hueDeg, luma, NEUTRAL_CHROMA_PCT, rgbToYcbcr } from '../color/ycbcr';

export const falseColours = ['off', 'levels', 'offLine', 'chroma', 'zones', 'clipped'] as const;
export type FalseColour = (typeof falseColours)[number];
export type Rgb8 = readonly [number, number, number];

/** A band of values from..to that is shown in one colour; null: as the grey of its luma. */
export interface Band {
  from: number;
  to: number;
  colour: Rgb8 | null;
  name: string;
}
/**
 * Level bands in % of luma; `greyPct` is where the grey card lies. Common practice: skin 40-70 %, black 5-10 %, white
 * 90-95 %.
 */
export function levelBands(greyPct: number): Band[] {
  return [
    { from: -Infinity, to: 1, colour: [28, 44, 140], name: 'black, below 1 %' },
    { from: 1, to: 10, colour: [92, 134, 226], name: '1\u201310 %' },
    { from: 10, to: Math.min(40, greyPct - 2.5), colour: null, name: '' },
    {
      from: greyPct - 2.5,
      to: greyPct + 2.5,
      colour: [40, 176, 160],
      name: `grey card, ${greyPct.toFixed(0)} \u00b1 2.5 %`,
    },
    { from: 40, to: 70, colour: [226, 160, 62], name: 'skin, 40\u201370 %' },
    { from: 70, to: 90, colour: null, name: '' },
    { from: 90, to: 97, colour: [246, 238, 120], name: 'white, 90\u201397 %' },
    { from: 97, to: 100, colour: [240, 110, 60], name: 'near clip, 97\u2013100 %' },
    { from: 100, to: Infinity, colour: [196, 0, 106], name: 'at or above 100 %' },
  ];
}
/** Stops of a continuous scale. */
export interface Scale {
  stops: readonly [value: number, colour: Rgb8][];
  unit: string;
}
export const offLineScale: Scale = {
  unit: '\u00b0',
  stops: [
    [-60, [24, 40, 120]],
    [-20, [70, 120, 222]],
    [0, [246, 246, 240]],
    [20, [226, 150, 40]],
    [60, [120, 52, 0]],
  ],
};
export const chromaScale: Scale = {
  unit: ' %',
  stops: [
    [0, [22, 22, 30]],
    [15, [60, 52, 128]],
    [35, [146, 70, 130]],
    [60, [226, 122, 72]],
    [100, [252, 226, 140]],
  ],
};
export const zoneColours: readonly Rgb8[] = [
  [44, 62, 150],
  [92, 140, 226],
  [150, 150, 150],
  [226, 166, 70],
  [250, 236, 150],
];
export const clipColours = {
  low: [70, 130, 255],
  high: [255, 150, 40],
  both: [220, 60, 200],
} as const satisfies Record<string, Rgb8>;

function onScale(s: Scale, v: number): Rgb8 {
  const { stops } = s;
  if (v <= stops[0]![0]) return stops[0]![1];
  for (let i = 1; i < stops.length; i++)
    if (v <= stops[i]![0]) {
      const [a, ca] = stops[i - 1]!;
      const [b, cb] = stops[i]!;
      const t = (v - a) / (b - a);
      return ca.map((x, c) => x + (cb[c]! - x) * t) as unknown as Rgb8;
    }
  return stops.at(-1)![1];
}

/** Entries of a table. */
export const FALSE_CELLS = 2048;
/** Values that the table's index runs over. */
const SPAN: Record<FalseColour, [number, number]> = {
  off: [0, 1],
  levels: [-10, 110],
  offLine: [-180, 180],
  chroma: [0, 120],
  zones: [-10, 110],
  clipped: [0, 1],
};

/**
 * RGBA floats 0..1; alpha 0 means "as the grey of its luma". `zoneAt` gives the shares of the five zones at a luma
 * 0..1.
 */
export function falseTable(
  kind: FalseColour,
  opt: { greyPct: number; zoneAt: ((y: number) => readonly number[]) | null },
): Float32Array {
  const t = new Float32Array(4 * FALSE_CELLS);
  const [lo, hi] = SPAN[kind];
  const bands = levelBands(opt.greyPct);
  // The grey card's band goes before the skin's, which it lies in.
  const order = [3, 0, 1, 2, 4, 5, 6, 7, 8];
  for (let i = 0; i < FALSE_CELLS; i++) {
    const v = lo + ((i + 0.5) / FALSE_CELLS) * (hi - lo);
    let c: Rgb8 | null = null;
    if (kind === 'levels') c = bands[order.find((k) => v >= bands[k]!.from && v < bands[k]!.to) ?? 2]!.colour;
    else if (kind === 'offLine') c = Math.abs(v) <= 60 ? onScale(offLineScale, v) : null;
    else if (kind === 'chroma') c = onScale(chromaScale, v);
    else if (kind === 'zones' && opt.zoneAt) {
      const w = opt.zoneAt(v / 100);
      c = [0, 1, 2].map((k) => w.reduce((s, x, z) => s + x * zoneColours[z]![k]!, 0)) as unknown as Rgb8;
    }
    if (c) t.set([c[0] / 255, c[1] / 255, c[2] / 255, 1], 4 * i);
  }
  return t;
}

/** Index of a pixel in its table; -1: as the grey of its luma. */
export function falseIndex(kind: FalseColour, r: number, g: number, b: number, skinLineDeg: number): number {
  const [lo, hi] = SPAN[kind];
  let v: number;
  if (kind === 'levels' || kind === 'zones') v = 100 * luma(r, g, b);
  else {
    const [, cb, cr] = rgbToYcbcr(r, g, b);
    const c = chromaPct(cb, cr);
    if (kind === 'chroma') v = c;
    else {
      if (!(c >= NEUTRAL_CHROMA_PCT)) return -1;
      v = wrap180(hueDeg(cb, cr) - skinLineDeg);
    }
  }
  const i = Math.floor(((v - lo) / (hi - lo)) * FALSE_CELLS);
  return i >= 0 ? Math.min(FALSE_CELLS - 1, i) : i < 0 ? 0 : -1;
}
