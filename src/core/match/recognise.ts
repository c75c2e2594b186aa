/**
 * Is it the chart that lies under the grid, which way up, and how even is the light on it? The measured colours, as
 * linear light, are brought to the reference by one 3x3 matrix and one plane of light over the chart (weighted least
 * squares in turns). Any lamp, camera and exposure is nearly such a matrix; a wall, a grid half a patch off or a chart
 * the wrong way up is not: twelve numbers cannot make 24 patches right.
 */
import { ciede2000, displayToLab } from '../color/lab';
import { resolveEncoding } from '../color/encodings';
import { curveOf } from '../color/transfer';
import type { Corner } from '../math/polygon';
import { solveLinear } from '../math/linear';

type Triple = readonly [number, number, number];
type Quad = readonly [Corner, Corner, Corner, Corner];

/** The eight ways in which a grid can lie on a chart; `corners` begin with the chart's own left top. */
export const ORIENTATIONS = [
  { name: 'as drawn', order: [0, 1, 2, 3] },
  { name: 'upside down', order: [2, 3, 0, 1] },
  { name: 'turned a quarter clockwise', order: [1, 2, 3, 0] },
  { name: 'turned a quarter counter-clockwise', order: [3, 0, 1, 2] },
  { name: 'mirrored', order: [1, 0, 3, 2] },
  { name: 'mirrored and upside down', order: [3, 2, 1, 0] },
  { name: 'mirrored and turned a quarter clockwise', order: [2, 1, 0, 3] },
  { name: 'mirrored and turned a quarter counter-clockwise', order: [0, 3, 2, 1] },
] as const;
export const orient = (q: Quad, k: number): Quad => ORIENTATIONS[k]!.order.map((i) => q[i]!) as unknown as Quad;

export interface Recognised {
  /** Mean CIEDE2000 that no lamp, no camera and no slope of light explains. */
  misfit: number;
  /** Factor of light on each patch, 1 in the middle of the chart. */
  light: number[];
  /** Light at the right (lower) edge over that at the left (upper) one, as a share: 0.3 is 30 % more. */
  across: number;
  down: number;
}
/**
 * Above this it is not the chart. Rendered charts under five lights, three tone curves and slopes of +-30 % come to
 * 0.1 to 4.6 (the last clipped); a third of a patch off 6 and more, half off, a column off, turned, mirrored and
 * walls above 22.
 */
export const MISFIT_MOST = 5;

const LINEAR = curveOf(resolveEncoding('linear709'));
const lab = (v: Triple): ReturnType<typeof displayToLab> => {
  const c = v.map((x) => Math.min(1.2, Math.max(0, x))) as [number, number, number];
  return displayToLab(LINEAR, ...c);
};
const yOf = (v: Triple): number => 0.2126 * v[0] + 0.7152 * v[1] + 0.0722 * v[2];

/**
 * @param measured linear light of the patches, any primaries; not finite or clipped ones are left out by `use`
 * @param reference linear BT.709 of the chart
 * @param at place of each patch in the chart, 0..1
 */
export function recognise(
  measured: readonly Triple[],
  reference: readonly Triple[],
  at: readonly Corner[],
  use: readonly boolean[] = measured.map(() => true),
): Recognised {
  const rows = measured.map((_, i) => i).filter((i) => use[i]);
  let best: Recognised = { misfit: Infinity, light: measured.map(() => 1), across: 0, down: 0 };
  if (rows.length < 18) return best;
  // A picture that has seen a contrast curve is no longer linear; a power takes the most of it away.
  for (const power of [1, 0.8, 1.25, 0.65, 1.5]) {
    const x = measured.map((v) => v.map((c) => Math.sign(c) * Math.abs(c) ** power) as [number, number, number]);
    let [a, b] = [0, 0];
    let m: number[] = [];
    const gain = (i: number): number => Math.exp(a * (at[i]![0] - 0.5) + b * (at[i]![1] - 0.5));
    const shown = (i: number): Triple => {
      const g = gain(i);
      return [0, 1, 2].map((r) => (m[3 * r]! * x[i]![0] + m[3 * r + 1]! * x[i]![1] + m[3 * r + 2]! * x[i]![2]) / g) as [
        number,
        number,
        number,
      ];
    };
    for (let round = 0; round < 5; round++) {
      m = [0, 1, 2].flatMap((r) => {
        const [n, t] = [new Float64Array(9), new Float64Array(3)];
        for (const i of rows) {
          // Errors count about as they are seen: relative to the level, with a floor in the dark.
          const w = 1 / (Math.abs(reference[i]![r]!) + 0.1) ** 2;
          const v = x[i]!.map((c) => c / gain(i));
          for (let p = 0; p < 3; p++) {
            t[p]! += w * v[p]! * reference[i]![r]!;
            for (let q = 0; q < 3; q++) n[3 * p + q]! += w * v[p]! * v[q]!;
          }
        }
        const grain = 1e-4 * (n[0]! + n[4]! + n[8]!) + 1e-12;
        for (let p = 0; p < 3; p++) n[4 * p]! += grain;
        return solveLinear(n, t) ?? [0, 0, 0];
      });
      // The slope of light that is left in log of luminance.
      const [n, t] = [new Float64Array(9), new Float64Array(3)];
      for (const i of rows) {
        const [have, want] = [yOf(shown(i)) * gain(i), yOf(reference[i]!)];
        if (want < 0.03 || have <= 0) continue;
        const f = [1, at[i]![0] - 0.5, at[i]![1] - 0.5];
        const l = Math.max(-1, Math.min(1, Math.log(have / want)));
        for (let p = 0; p < 3; p++) {
          t[p]! += f[p]! * l;
          for (let q = 0; q < 3; q++) n[3 * p + q]! += f[p]! * f[q]!;
        }
      }
      const s = solveLinear(n, t);
      if (!s) break;
      [a, b] = [Math.max(-1.1, Math.min(1.1, s[1]!)), Math.max(-1.1, Math.min(1.1, s[2]!))];
    }
    const misfit = rows.reduce((sum, i) => sum + ciede2000(lab(shown(i)), lab(reference[i]!)), 0) / rows.length;
    if (misfit < best.misfit - 1e-9)
      best = {
        misfit,
        light: measured.map((_, i) => gain(i) ** (1 / power)),
        across: Math.exp(a / power) - 1,
        down: Math.exp(b / power) - 1,
      };
    // Only a picture that is far from linear needs the other powers.
    if (best.misfit < 2) break;
  }
  return best;
}

/** Null for a row of greys whose levels rise or fall from one to the next; else what is wrong. */
export function stripFault(luma: readonly number[]): string | null {
  const steps = luma.slice(1).map((v, i) => v - luma[i]!);
  const way = Math.sign(luma[luma.length - 1]! - luma[0]!);
  if (Math.abs(luma[luma.length - 1]! - luma[0]!) < 0.04 * steps.length || steps.some((d) => d * way < 0.008))
    return (
      'what lies under the grid is no grey strip: its levels do not rise or fall from step to step. ' +
      'Pull the corners onto the outer corners of the strip and say how many greys it has'
    );
  return null;
}
export const NOT_THE_CHART =
  'What lies under the grid is not the chart. Pull its corners onto the outer corners of the patches, beginning with ' +
  'the dark brown one; if the chart is covered or clipped there, it cannot be used';
