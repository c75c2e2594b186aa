import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import type { Cube } from '../../formats/cube';
import { params } from './params';

const HEAD = 12;
const made = new WeakMap<Cube, Record<string, Float32Array>>();
/**
 * Block: 1 or 3 dimensions, size, 1 for trilinear, 0; scale and offset of each channel into the table; 2 unused; the
 * table.
 */
export function cubeBlock(c: Cube, trilinear: boolean): Float32Array {
  const kept = made.get(c) ?? {};
  made.set(c, kept);
  const name = trilinear ? 'linear' : 'tetra';
  let out = kept[name];
  if (!out) {
    out = new Float32Array(HEAD + c.data.length + 4);
    out.set([c.kind === '1d' ? 1 : 3, c.size, trilinear ? 1 : 0, 0]);
    for (let i = 0; i < 3; i++) {
      const k = (c.size - 1) / (c.domainMax[i]! - c.domainMin[i]!);
      out[4 + i] = k;
      out[7 + i] = -c.domainMin[i]! * k;
    }
    out.set(c.data, HEAD);
    kept[name] = out;
  }
  return out;
}

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const N = k[1]!;
  const top = N - 1;
  const at = (v: number, c: number): number => {
    const t = v * k[4 + c]! + k[7 + c]!;
    return t > 0 ? (t < top ? t : top) : t <= 0 ? 0 : t;
  };
  const planes = [r, g, b];
  if (k[0] === 1) {
    for (let c = 0; c < 3; c++)
      for (let i = 0; i < n; i++) {
        const t = at(planes[c]![i]!, c);
        const j = Math.min(t | 0, N - 2);
        const a = k[HEAD + 3 * j + c]!;
        planes[c]![i] = a + (k[HEAD + 3 * j + 3 + c]! - a) * (t - j);
      }
    return;
  }
  const linear = k[2] === 1;
  const [X, Y, Z] = [3, 3 * N, 3 * N * N];
  for (let i = 0; i < n; i++) {
    const x = at(r[i]!, 0);
    const y = at(g[i]!, 1);
    const z = at(b[i]!, 2);
    const [xi, yi, zi] = [Math.min(x | 0, N - 2), Math.min(y | 0, N - 2), Math.min(z | 0, N - 2)];
    const [fx, fy, fz] = [x - xi, y - yi, z - zi];
    const o = HEAD + xi * X + yi * Y + zi * Z;
    // Tetrahedra: from corner 000 to 111 along the axes in order of falling fraction; p and q are the two corners
    // between.
    let p: number;
    let q: number;
    let f1: number;
    let f2: number;
    let f3: number;
    if (fx >= fy) {
      if (fy >= fz) [p, q, f1, f2, f3] = [X, X + Y, fx, fy, fz];
      else if (fx >= fz) [p, q, f1, f2, f3] = [X, X + Z, fx, fz, fy];
      else [p, q, f1, f2, f3] = [Z, Z + X, fz, fx, fy];
    } else if (fz >= fy) [p, q, f1, f2, f3] = [Z, Z + Y, fz, fy, fx];
    else if (fz >= fx) [p, q, f1, f2, f3] = [Y, Y + Z, fy, fz, fx];
    else [p, q, f1, f2, f3] = [Y, Y + X, fy, fx, fz];
    for (let c = 0; c < 3; c++) {
      const v = o + c;
      if (linear) {
        const mix = (a: number, e: number, t: number): number => a + (e - a) * t;
        const face = (w: number): number => mix(mix(k[w]!, k[w + X]!, fx), mix(k[w + Y]!, k[w + X + Y]!, fx), fy);
        planes[c]![i] = mix(face(v), face(v + Z), fz);
      } else planes[c]![i] = k[v]! * (1 - f1) + k[v + p]! * (f1 - f2) + k[v + q]! * (f2 - f3) + k[v + X + Y + Z]! * f3;
    }
  }
}

export default definePixelOp<typeof params>({
  id: 'lut',
  title: 'Lookup table',
  doc:
    'A 1D or 3D table from a .cube file. 3D tables are read tetrahedrally or trilinearly, as chosen; ' +
    'the two differ by up to 0.04 on a coarse table.',
  version: 1,
  params,
  refs: [
    'Cube LUT Specification 1.0',
    'J. M. Kasson et al., "Performing color space conversions with three-dimensional linear ' +
      'interpolation", J. Electronic Imaging 4 (1995) 226: tetrahedral interpolation',
  ],
  edge:
    'Input is clamped to the domain of the table: infinity gives its ends. NaN stays NaN. Without a ' +
    'table nothing is done.',
  migrations: [],
  prepare(p, ctx) {
    const cube = ctx.table(p.table);
    return cube ? cubeBlock(cube, p.how === 'trilinear') : Float32Array.from([0]);
  },
  kernel(k, run) {
    if (k[0] !== 0) kernel(k, run);
  },
  isNoOp: (p) => p.table === '',
});
