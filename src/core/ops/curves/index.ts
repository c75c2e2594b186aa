import { luma } from '../../color/ycbcr';
import { monotone } from '../../math/monotone';
import type { Monotone } from '../../math/monotone';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { params } from './params';

/** The table runs over -0.5..1.5; beyond, the curve goes on straight. */
export const LOW = -0.5;
export const CELLS = 4096;
export const PER = CELLS / 2;
const HEAD = 4;
const SIZE = CELLS + 3;

const isPlain = (v: readonly number[]): boolean => v.every((x, i) => i % 2 === 0 || x === v[i - 1]);

/** Sorted, with one point per x: what a hand may drag past a neighbour must not break the curve. */
export function pointsOf(v: readonly number[]): [number, number][] {
  const out: [number, number][] = [];
  for (let i = 0; i + 1 < v.length; i += 2) out.push([v[i]!, v[i + 1]!]);
  out.sort((a, b) => a[0] - b[0]);
  return out.filter((p, i) => i === 0 || p[0] - out[i - 1]![0] > 1e-6);
}
export const curveOf = (v: readonly number[]): Monotone => {
  const p = pointsOf(v);
  return monotone(
    p.map((q) => q[0]),
    p.map((q) => q[1]),
  );
};

/** Linear between the cells; straight on outside, with the slopes that stand at the table's end. */
function look(k: Float32Array, o: number, v: number): number {
  const t = (v - LOW) * PER;
  if (t <= 0) return k[o]! + k[o + CELLS + 1]! * (v - LOW);
  if (t >= CELLS) return k[o + CELLS]! + k[o + CELLS + 2]! * (v - 1.5);
  if (!(t > 0)) return v;
  const i = t | 0;
  const a = k[o + i]!;
  return a + (k[o + i + 1]! - a) * (t - i);
}

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const hasLuma = k[0]!;
  const hasRgb = k[1]!;
  for (let i = 0; i < n; i++) {
    let R = r[i]!;
    let G = g[i]!;
    let B = b[i]!;
    if (hasLuma) {
      const y = luma(R, G, B);
      const d = look(k, HEAD, y) - y;
      R += d;
      G += d;
      B += d;
    }
    if (hasRgb) {
      R = look(k, HEAD + SIZE, R);
      G = look(k, HEAD + 2 * SIZE, G);
      B = look(k, HEAD + 3 * SIZE, B);
    }
    r[i] = R;
    g[i] = G;
    b[i] = B;
  }
}

export default definePixelOp<typeof params>({
  id: 'curves',
  title: 'Tone curves',
  doc:
    'Curves through any number of points for luma, for all channels and for each, with monotone cubic ' +
    'interpolation: between rising points a curve never turns back. Luma first, then all, then each.',
  version: 1,
  params,
  refs: [
    'F. N. Fritsch, J. Butland, "A method for constructing local monotone piecewise cubic interpolants", ' +
      'SIAM J. Sci. Stat. Comput. 5 (1984) 300',
  ],
  edge:
    'Outside the points, and beyond -50..150 %, a curve goes on straight. Nothing clamps; infinity ' +
    'stays infinite or becomes NaN where the end is level; NaN stays NaN.',
  migrations: [],
  /**
   * Block: whether luma, whether channels, 2 unused; then a table for luma and for each channel: CELLS + 1 values,
   * two end slopes.
   */
  prepare(p) {
    const out = new Float32Array(HEAD + 4 * SIZE);
    const plainLuma = isPlain(p.luma);
    const plain = isPlain(p.rgb) && isPlain(p.red) && isPlain(p.green) && isPlain(p.blue);
    out[0] = plainLuma ? 0 : 1;
    out[1] = plain ? 0 : 1;
    const fill = (o: number, f: (x: number) => number): void => {
      for (let i = 0; i <= CELLS; i++) out[o + i] = f(LOW + i / PER);
      const h = 1e-3;
      out[o + CELLS + 1] = (f(LOW) - f(LOW - h)) / h;
      out[o + CELLS + 2] = (f(1.5 + h) - f(1.5)) / h;
    };
    if (!plainLuma) fill(HEAD, curveOf(p.luma).at);
    if (!plain) {
      const all = curveOf(p.rgb).at;
      [p.red, p.green, p.blue].forEach((v, c) => {
        const own = curveOf(v).at;
        fill(HEAD + (c + 1) * SIZE, (x) => own(all(x)));
      });
    }
    return out;
  },
  kernel,
  isNoOp: (p) => Object.values(p).every(isPlain),
});
