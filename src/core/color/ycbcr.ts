/**
 * ITU-R BT.709-6, items 3.2 and 3.3: luma and colour differences of gamma-encoded R'G'B' (signal 0..1).
 * Y' = 0.2126 R' + 0.7152 G' + 0.0722 B';  Cb = (B' - Y') / 1.8556;  Cr = (R' - Y') / 1.5748.
 * Cb and Cr lie in -0.5..0.5 for R'G'B' in 0..1. Proving number: 100 % red has hue 102.91 degrees.
 */
import { angleOf } from '../math/angle';

export const KR = 0.2126;
export const KG = 0.7152;
export const KB = 0.0722;
/** 2 (1 - Kb) and 2 (1 - Kr): the divisors of item 3.3. */
export const CB_DIV = 2 * (1 - KB);
export const CR_DIV = 2 * (1 - KR);
/** G' = Y' + G_CB Cb + G_CR Cr. */
export const G_CB = (-KB * CB_DIV) / KG;
export const G_CR = (-KR * CR_DIV) / KG;

/** Below this chroma (%) a hue angle means nothing (PRODUCT.md, 3. Measures). */
export const NEUTRAL_CHROMA_PCT = 6;
/** Skin line: degrees counter-clockwise from +Cb (common practice: the +I phase, 90 + 33, carried over to Cb/Cr). */
export const SKIN_LINE_DEG = 123;

export type Vec3 = readonly [number, number, number];

export const luma = (r: number, g: number, b: number): number => KR * r + KG * g + KB * b;

/** R'G'B' -> [Y', Cb, Cr]. */
export function rgbToYcbcr(r: number, g: number, b: number): [number, number, number] {
  const y = luma(r, g, b);
  return [y, (b - y) / CB_DIV, (r - y) / CR_DIV];
}

/** [Y', Cb, Cr] -> R'G'B'. */
export function ycbcrToRgb(y: number, cb: number, cr: number): [number, number, number] {
  return [y + CR_DIV * cr, y + G_CB * cb + G_CR * cr, y + CB_DIV * cb];
}

/** Hue in degrees, 0..360 counter-clockwise from +Cb. */
export const hueDeg = (cb: number, cr: number): number => angleOf(cb, cr);

/** Chroma in %: hypot(Cb, Cr) / 0.5. */
export const chromaPct = (cb: number, cr: number): number => Math.hypot(cb, cr) * 200;

/**
 * Narrow-range code values of BT.709-6 item 4.6: Y = round((219 Y' + 16) 2^(n-8)),
 * C = round((224 C' + 128) 2^(n-8)).
 */
export function ycbcrToNarrowCodes(y: number, cb: number, cr: number, bits: 8 | 10): [number, number, number] {
  const k = 2 ** (bits - 8);
  return [
    Math.floor((219 * y + 16) * k + 0.5),
    Math.floor((224 * cb + 128) * k + 0.5),
    Math.floor((224 * cr + 128) * k + 0.5),
  ];
}

/** The six 75 % or 100 % colour-bar targets of a vectorscope, in hue order from red. */
export function barTargets(
  level: 0.75 | 1,
): { name: string; cb: number; cr: number; hueDeg: number; chromaPct: number }[] {
  const bars: [string, Vec3][] = [
    ['R', [1, 0, 0]],
    ['Mg', [1, 0, 1]],
    ['B', [0, 0, 1]],
    ['Cy', [0, 1, 1]],
    ['G', [0, 1, 0]],
    ['Yl', [1, 1, 0]],
  ];
  return bars.map(([name, c]) => {
    const [, cb, cr] = rgbToYcbcr(c[0] * level, c[1] * level, c[2] * level);
    return { name, cb, cr, hueDeg: hueDeg(cb, cr), chromaPct: chromaPct(cb, cr) };
  });
}
