/** What a lookup table can carry of a shot: everything that depends on a pixel's colour alone. */
import { ciede2000, displayToLab } from '../core/color/lab';
import { curveOf } from '../core/color/transfer';
import type { TransferCurve } from '../core/color/transfer';
import { resolveEncoding } from '../core/color/encodings';
import type { AnyOp } from '../core/op/contract';
import { formatCube, sampleCube } from '../core/formats/cube';
import type { Cube } from '../core/formats/cube';
import { displayEncoding, opById } from '../core/graph/plan';
import type { CorrectionSpec, OpUse, Step, Term } from '../core/graph/plan';
import { hasRegion, isGroup, isLive, isMatte, isOp, mapTerms } from '../core/graph/region';
import type { LutReply, ShotState } from '../protocol/messages';
import type { Evaluator } from './evaluator';
import type { Matte, Planes } from './pictures';
import type { Views } from './memory';

/** What depends on where a pixel lies and not on its colour alone. */
const isPlace = (op: AnyOp): boolean => op.kind === 'shape' || (op.kind === 'key' && op.area === 'frame');
/** Parts of a region without places; null for a part that is nothing else. Names of what was taken out. */
function partsWithoutPlaces(
  terms: readonly Term[],
  byId: ReadonlyMap<string, CorrectionSpec>,
): { kept: Term[]; names: string[] } {
  const names: string[] = [];
  const kept = mapTerms(terms.filter(isLive), (t) => {
    if (isGroup(t)) return t;
    const place = isMatte(t)
      ? true
      : isOp(t)
        ? t.use.on && isPlace(opById(t.use.op))
        : // A link to a region that is only a place.
          byId.has(t.of) &&
          hasRegion(byId.get(t.of)!) &&
          partsWithoutPlaces(byId.get(t.of)!.terms, byId).kept.length === 0;
    if (!place) return t;
    names.push(t.name);
    return null;
  });
  return { kept: kept.filter(isLive), names };
}
/** The corrections without their places, and in words what was left out. */
export function withoutPlaces(corrections: readonly CorrectionSpec[]): { kept: CorrectionSpec[]; leftOut: string[] } {
  const leftOut: string[] = [];
  const byId = new Map(corrections.map((c) => [c.id, c]));
  const kept = corrections.map((c): CorrectionSpec => {
    const { kept: terms, names } = partsWithoutPlaces(c.terms, byId);
    const area = (u: OpUse): boolean => {
      const op = opById(u.op);
      return u.on && (op.kind === 'area' || (op.kind === 'tidy' && op.area !== false));
    };
    const colours = (list: readonly OpUse[]): OpUse[] => list.filter((u) => !area(u));
    const next = { ...c, terms, tidy: colours(c.tidy), adjustments: colours(c.adjustments) };
    // One that is off stays: another one's region may rest on it.
    if (!c.on) return next;
    if (names.length > 0 && terms.length === 0) {
      leftOut.push(
        `${c.name}: left out whole, since its region is only a place ` +
          `(${names.join(', ')}) and a table knows no places`,
      );
      return { ...next, on: false };
    }
    if (names.length > 0) leftOut.push(`${c.name}: ${names.join(', ')} left out, so its key acts on the whole picture`);
    const areas = [...(terms.length > 0 ? c.tidy : []), ...c.adjustments].filter(area);
    if (areas.length > 0)
      leftOut.push(
        `${c.name}: ${areas.map((u) => opById(u.op).title.toLowerCase()).join(', ')} left out, since it ` +
          `looks at neighbouring pixels`,
      );
    return next;
  });
  return { kept, leftOut };
}

/** The shot as it really is, for measuring what the table loses; a null matte stands for the whole picture. */
export interface LutAgainst {
  source: Planes;
  real: Planes;
  mattes: readonly (Matte | null)[];
}
export async function bakeLut(
  ev: Evaluator,
  shot: ShotState,
  steps: (s: ShotState) => Step[],
  size: number,
  title: string,
  against: LutAgainst,
): Promise<LutReply> {
  if (!Number.isInteger(size) || size < 2 || size > 129)
    throw new RangeError('The size of the table must be a whole number from 2 to 129');
  const { kept, leftOut } = withoutPlaces(shot.corrections);
  if (resolveEncoding(shot.encoding).curve.kind === 'linear')
    leftOut.push('Light above 100 % left out: the table reads 0..1, and the shot is linear');
  const w = size * size;
  const lattice = await ev.load(`lattice:${size}`, w, size, (r, g, b) => {
    for (let i = 0; i < w * size; i++) {
      r[i] = (i % size) / (size - 1);
      g[i] = (Math.floor(i / size) % size) / (size - 1);
      b[i] = Math.floor(i / w) / (size - 1);
    }
  });
  const { out } = await ev.run(lattice, steps({ ...shot, corrections: kept }));
  const data = new Float32Array(w * size * 3);
  ev.arena.look((v) =>
    [out.r, out.g, out.b].forEach((at, c) => {
      const p = v.f32(at, w * size);
      for (let i = 0; i < w * size; i++) data[3 * i + c] = p[i]!;
    }),
  );
  const cube: Cube = { kind: '3d', title, size, domainMin: [0, 0, 0], domainMax: [1, 1, 1], data };
  const check = (): void => ev.check();
  // Everything is computed: from here on memory is only looked at.
  const error = ev.arena.look((v) => lutError(v, cube, curveOf(displayEncoding(shot)), against, check));
  const comments = [
    'Made by Rowanleaf. Input and output: display signal 0..1 of the shot; tetrahedral lookup is meant.',
    ...(leftOut.length ? ['Left out:', ...leftOut.map((l) => `  ${l}`)] : ['Nothing of the shot is left out.']),
  ];
  return { text: formatCube(cube, comments, check), leftOut, ...error };
}

/** Every 1/40000th pixel at least; throws when nothing could be compared, since 0.00 would be a lie. */
function lutError(
  v: Views,
  cube: Cube,
  curve: TransferCurve,
  { source, real, mattes }: LutAgainst,
  tick: () => void,
): Omit<LutReply, 'text' | 'leftOut'> {
  const n = source.w * source.h;
  const rgb = (p: Planes): Float32Array[] => [p.r, p.g, p.b].map((at) => v.f32(at, n));
  const [from, to] = [rgb(source), rgb(real)] as const;
  const planes = mattes.map((m) => m && v.f32(m.at, n));
  const sums = { in: [0, 0, 0], out: [0, 0, 0] };
  const clip = (x: number): number => Math.min(1, Math.max(0, x));
  const lab = (r: number, g: number, b: number) => displayToLab(curve, clip(r), clip(g), clip(b));
  const stride = Math.max(1, Math.floor(n / 40_000));
  let seen = 0;
  for (let i = 0; i < n; i += stride) {
    if (seen++ % 1024 === 0) tick();
    const s = planes.some((m) => m === null || m[i]! > 0) ? sums.in : sums.out;
    const t = sampleCube(cube, from[0]![i]!, from[1]![i]!, from[2]![i]!);
    const de = ciede2000(lab(...t), lab(to[0]![i]!, to[1]![i]!, to[2]![i]!));
    // What cannot be measured (NaN in the picture) is not counted as equal.
    if (!Number.isFinite(de)) continue;
    s[0]! += de;
    s[1]!++;
    s[2] = Math.max(s[2]!, de);
  }
  const compared = { in: sums.in[1]!, out: sums.out[1]! };
  if (compared.in + compared.out === 0)
    throw new Error('No pixel of the picture could be compared with the table: its error is not known');
  return {
    regionMeanDe: compared.in ? sums.in[0]! / compared.in : null,
    regionMaxDe: compared.in ? sums.in[2]! : null,
    surroundMeanDe: compared.out ? sums.out[0]! / compared.out : null,
    surroundMaxDe: compared.out ? sums.out[2]! : null,
    comparedInRegion: compared.in,
    comparedInSurround: compared.out,
  };
}
