/** What a lookup table can carry of a shot: everything that depends on a pixel's colour alone. */
import { ciede2000, displayToLab } from '../core/color/lab';
import { curveOf } from '../core/color/transfer';
import { resolveEncoding } from '../core/color/encodings';
import { formatCube, sampleCube } from '../core/formats/cube';
import type { Cube } from '../core/formats/cube';
import { displayEncoding, opById } from '../core/graph/plan';
import type { CorrectionSpec, Step } from '../core/graph/plan';
import type { Rgb } from '../core/skin/surround';
import type { LutReply, ShotState } from '../protocol/messages';
import type { Evaluator } from './evaluator';

/** The corrections without their places, and in words what was left out. */
export function withoutPlaces(corrections: readonly CorrectionSpec[]): { kept: CorrectionSpec[]; leftOut: string[] } {
  const leftOut: string[] = [];
  const kept: CorrectionSpec[] = [];
  for (const c of corrections) {
    if (!c.on) continue;
    const live = c.terms.filter((t) => t.use.on);
    const shapes = live.filter((t) => opById(t.use.op).kind === 'shape');
    const keys = live.filter((t) => opById(t.use.op).kind === 'key');
    if (shapes.length > 0 && keys.length === 0) {
      leftOut.push(`${c.name}: left out whole, since its region is only a place (${shapes.map((s) => s.name).join(', ')}) and a table knows no places`);
      continue;
    }
    if (shapes.length > 0) leftOut.push(`${c.name}: ${shapes.map((s) => s.name).join(', ')} left out, so its key acts on the whole picture`);
    const areas = c.tidy.filter((u) => {
      const op = opById(u.op);
      return u.on && keys.length > 0 && op.kind === 'tidy' && op.area;
    });
    if (areas.length > 0) leftOut.push(`${c.name}: ${areas.map((u) => opById(u.op).title.toLowerCase()).join(', ')} left out, since it looks at neighbouring pixels`);
    kept.push({ ...c, terms: keys, tidy: c.tidy.filter((u) => !areas.includes(u)) });
  }
  return { kept, leftOut };
}

/** `mattes` of the shot's corrections that act; null stands for the whole picture. */
export function bakeLut(ev: Evaluator, shot: ShotState, steps: (s: ShotState) => Step[], size: number, title: string, source: Rgb, real: Rgb, mattes: readonly (Float32Array | null)[]): LutReply {
  if (!Number.isInteger(size) || size < 2 || size > 129) throw new RangeError('The size of the table must be a whole number from 2 to 129');
  const { kept, leftOut } = withoutPlaces(shot.corrections);
  if (resolveEncoding(shot.encoding).curve.kind === 'linear') leftOut.push('Light above 100 % left out: the table reads 0..1, and the shot is linear');
  const w = size * size;
  const lattice = ev.load(`lattice:${size}`, w, size, (r, g, b) => {
    for (let i = 0; i < w * size; i++) {
      r[i] = (i % size) / (size - 1);
      g[i] = (Math.floor(i / size) % size) / (size - 1);
      b[i] = Math.floor(i / w) / (size - 1);
    }
  });
  const { out } = ev.run(lattice, steps({ ...shot, corrections: kept }));
  const planes = [out.r, out.g, out.b].map((at) => ev.arena.f32(at, w * size));
  const data = new Float32Array(w * size * 3);
  for (let i = 0; i < w * size; i++) for (let c = 0; c < 3; c++) data[3 * i + c] = planes[c]![i]!;
  const cube: Cube = { kind: '3d', title, size, domainMin: [0, 0, 0], domainMax: [1, 1, 1], data };
  const curve = curveOf(displayEncoding(shot));
  const n = source.r.length;
  const stride = Math.max(1, Math.floor(n / 40_000));
  const sums = { in: [0, 0, 0], out: [0, 0, 0] };
  for (let i = 0; i < n; i += stride) {
    const inside = mattes.some((m) => m === null || m[i]! > 0);
    const t = sampleCube(cube, source.r[i]!, source.g[i]!, source.b[i]!);
    const clip = (v: number): number => Math.min(1, Math.max(0, v));
    const de = ciede2000(displayToLab(curve, clip(t[0]), clip(t[1]), clip(t[2])), displayToLab(curve, clip(real.r[i]!), clip(real.g[i]!), clip(real.b[i]!)));
    const s = inside ? sums.in : sums.out;
    s[0]! += de;
    s[1]!++;
    s[2] = Math.max(s[2]!, de);
  }
  const comments = ['Made by Rowanleaf. Input and output: display signal 0..1 of the shot; tetrahedral lookup is meant.', ...(leftOut.length ? ['Left out:', ...leftOut.map((l) => `  ${l}`)] : ['Nothing of the shot is left out.'])];
  return {
    text: formatCube(cube, comments),
    leftOut,
    regionMeanDe: sums.in[1] ? sums.in[0]! / sums.in[1] : 0,
    regionMaxDe: sums.in[2]!,
    surroundMeanDe: sums.out[1] ? sums.out[0]! / sums.out[1] : 0,
    surroundMaxDe: sums.out[2]!,
  };
}
