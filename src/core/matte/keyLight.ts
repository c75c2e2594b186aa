/**
 * The light that a key was made in: on every frame the picture that it reads is brought to that light, so that lamps
 * that flicker or drift over the whole picture do not make it breathe. For keys alone; the picture stays as it is lit.
 *
 * The light of a frame is kept as the means of coarse cells. By how much each channel is multiplied is the median of
 * the cells' ratios (a median: what moves over a few cells does not tell); where they do not agree, another picture
 * lies there or only part of it is lit otherwise, and nothing is told.
 */
import type { Rgb } from './quietTime';

/** Cells along a row and a column; three channels of each, one after the other. */
const [ACROSS, DOWN] = [12, 8];
export const LIGHT_CELLS = 3 * ACROSS * DOWN;
/** About so many pixels tell of a picture. */
const LOOKS = 120_000;
/** Darker than this, in the signal, a cell says nothing. */
const DARK = 0.02;
/** So many of the cells must say something. */
const FEW = 12;
/** A ratio that far from the median's agrees with it. */
const NEAR = 0.05;
/** Shares of the cells that do not agree: up to the first it is told, from the second on nothing is. */
const APART = { from: 0.3, to: 0.5 };
/** A ratio further off than the first counts less, from the second on it is another picture. */
const LIGHTER = { from: 1.5, to: 1.8 };

/** What makes a frame's light that of the frame where the key was made. */
export interface LightGains {
  /** Each channel is multiplied by this, in the signal. */
  gains: readonly [number, number, number];
  /** 0: it cannot be told, and the gains are 1; up to 1: it is told. */
  told: number;
}
export const AS_LIT: LightGains = { gains: [1, 1, 1], told: 0 };

/** Means of the cells of a picture, signal; what is no number is left out, and a cell without any is 0. */
export function lightOf({ r, g, b }: Rgb, w: number, h: number): number[] {
  const out: number[] = [];
  const step = Math.max(1, Math.floor(Math.sqrt((w * h) / LOOKS)));
  for (let j = 0; j < DOWN; j++)
    for (let i = 0; i < ACROSS; i++) {
      const [x0, x1] = [i, i + 1].map((k) => Math.floor((k * w) / ACROSS)) as [number, number];
      const [y0, y1] = [j, j + 1].map((k) => Math.floor((k * h) / DOWN)) as [number, number];
      let [n, sr, sg, sb] = [0, 0, 0, 0];
      for (let y = y0; y < y1; y += step)
        for (let x = x0; x < x1; x += step) {
          const k = y * w + x;
          const sum = r[k]! + g[k]! + b[k]!;
          if (!(Math.abs(sum) < 100)) continue;
          n++;
          sr += r[k]!;
          sg += g[k]!;
          sb += b[k]!;
        }
      for (const v of [sr, sg, sb]) out.push(n > 0 ? Math.round((1e5 * v) / n) / 1e5 : 0);
    }
  return out;
}
const fall = (v: number, { from, to }: { from: number; to: number }): number =>
  Math.max(0, Math.min(1, (to - v) / (to - from)));

/**
 * What brings a picture to the light that a key was made in.
 *
 * @param made of the frame where the key was made, `now` of this one, both as `lightOf` tells them
 */
export function lightGains(made: readonly number[], now: readonly number[]): LightGains {
  if (made.length !== LIGHT_CELLS || now.length !== LIGHT_CELLS) return AS_LIT;
  let told = 1;
  const medians = [0, 1, 2].map((c) => {
    const ratios: number[] = [];
    for (let k = c; k < LIGHT_CELLS; k += 3) if (made[k]! > DARK && now[k]! > DARK) ratios.push(made[k]! / now[k]!);
    if (ratios.length < FEW) {
      told = 0;
      return 1;
    }
    ratios.sort((a, b) => a - b);
    const m = ratios[ratios.length >> 1]!;
    const apart = ratios.filter((v) => Math.abs(v / m - 1) > NEAR).length / ratios.length;
    told = Math.min(told, fall(apart, APART), fall(Math.max(m, 1 / m), LIGHTER));
    return m;
  }) as [number, number, number];
  if (told === 0) return AS_LIT;
  // Rounded, so that frames that are lit alike are read alike to the bit, and share what is kept.
  const gains = medians.map((m) => Math.round(1e4 * (1 + told * (m - 1))) / 1e4) as [number, number, number];
  return { gains, told };
}
