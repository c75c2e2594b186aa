/**
 * What the helpers measure and solve: charts, strips, neutral patches, percentiles. Solves over a few colours, by the
 * real operations.
 */
import { ciede2000, displayToLab } from '../core/color/lab';
import { curveOf } from '../core/color/transfer';
import { encode, resolveEncoding, rgbToRgb, apply3 } from '../core/color/encodings';
import { rgbToYcbcr } from '../core/color/ycbcr';
import { evaluateColours } from '../core/graph/evaluate';
import type { Triple } from '../core/graph/evaluate';
import { compile, conversionStep, displayEncoding } from '../core/graph/plan';
import type { CorrectionSpec, Look, OpUse } from '../core/graph/plan';
import { newUse } from '../core/graph/plan.defaults';
import { atStrength, BALANCE, EXPOSURE, LEVELS, SATURATION, solveValues, wheelFree } from '../core/match/solve';
import type { Free } from '../core/match/solve';
import type { Cube } from '../core/formats/cube';
import type { ChartReading, HelperReply, ShotState } from '../protocol/messages';

type Table = (id: string) => Cube | null;

/** What a helper's correction is: of the whole picture, with nothing but what the helper sets. */
function onlyWith(c: CorrectionSpec, values: Record<string, Record<string, number>>): CorrectionSpec {
  return {
    ...c,
    on: true,
    mixPct: 100,
    terms: [],
    tidy: [],
    adjustments: Object.entries(values).map(([op, p]) => newUse(`solve-${op}`, op, p)),
  };
}
/** Colours that go into a correction -> as shown after it, without what stands behind it but the conversion. */
function through(
  shot: Look & { frame: number },
  c: CorrectionSpec,
  values: Record<string, Record<string, number>>,
  colours: readonly Triple[],
  table: Table,
): [number, number, number][] {
  const steps = compile([onlyWith(c, values)], shot.frame, 1, shot, table).filter(
    (s) => c.side === 'camera' || s.id === c.id,
  );
  return evaluateColours(steps, colours);
}

/** The reference of a patch as the display should show it: through the shot's own conversion where it has one. */
export function referenceShown(shot: ShotState, linear: Triple, table: Table): [number, number, number] {
  const conversion = conversionStep(shot, shot.frame, table);
  const e = resolveEncoding(shot.encoding);
  if (!conversion || (typeof shot.encoding === 'object' && 'table' in shot.encoding))
    return linear.map((v) => encode(displayEncoding(shot), v)) as [number, number, number];
  const own = apply3(rgbToRgb('bt709', e.primaries), linear).map((v) => encode(e, v)) as [number, number, number];
  return evaluateColours([conversion], [own])[0]!;
}
const clip = (v: number): number => Math.min(1, Math.max(0, v));
/** CIEDE2000 of two shown colours. */
function difference(shot: ShotState, a: Triple, b: Triple): number {
  const curve = curveOf(displayEncoding(shot));
  return ciede2000(
    displayToLab(curve, ...(a.map(clip) as [number, number, number])),
    displayToLab(curve, ...(b.map(clip) as [number, number, number])),
  );
}
/** The neutral of the same luma. */
const neutralOf = (v: Triple): [number, number, number] => {
  const y = rgbToYcbcr(...v)[0];
  return [y, y, y];
};

export function chartReading(
  shot: ShotState,
  cells: readonly { name: string; linear: Triple | null }[],
  before: readonly Triple[],
  after: readonly Triple[],
  table: Table,
): Omit<ChartReading, 'found'> {
  const patches = cells.map((c, i) => {
    const of = (v: Triple): { reference: Triple; de: number } => {
      const reference = c.linear ? referenceShown(shot, c.linear, table) : neutralOf(v);
      return { reference, de: difference(shot, v, reference) };
    };
    const a = of(after[i]!);
    return {
      name: c.name,
      before: before[i]!,
      after: after[i]!,
      reference: a.reference,
      deBefore: of(before[i]!).de,
      deAfter: a.de,
    };
  });
  const mean = (f: (p: (typeof patches)[number]) => number): number =>
    patches.reduce((s, p) => s + f(p), 0) / patches.length;
  return {
    patches,
    meanBefore: mean((p) => p.deBefore),
    meanAfter: mean((p) => p.deAfter),
    maxAfter: Math.max(...patches.map((p) => p.deAfter)),
  };
}

export interface HelperInput {
  shot: ShotState;
  correction: CorrectionSpec;
  strength: number;
  table: Table;
}
function reply(
  h: HelperInput,
  values: Record<string, Record<string, number>>,
  said: (v: Record<string, Record<string, number>>) => { before: number; after: number; unit: string },
): HelperReply {
  const set = atStrength(values, h.strength);
  const uses: OpUse[] = [...h.correction.adjustments];
  for (const [op, params] of Object.entries(set)) {
    // The first of its kind takes the values; one that is missing is put where it belongs.
    const i = uses.findIndex((u) => u.op === op);
    if (i >= 0) uses[i] = { ...uses[i]!, on: true, params: { ...uses[i]!.params, ...params } };
    else uses.push(newUse(`${h.correction.id}-${op}-${uses.length + 1}`.slice(0, 200), op, params));
  }
  return { adjustments: uses, set, ...said(set) };
}

/** A chart or strip: balance, levels and saturation for the least mean difference. */
export function solveChart(
  h: HelperInput,
  cells: readonly { linear: Triple | null }[],
  inputs: readonly Triple[],
  parts: { balance: boolean; levels: boolean; saturation: boolean },
): HelperReply {
  const known = cells.filter((c) => c.linear).length;
  const free: Free[] = [
    ...(parts.balance ? BALANCE : []),
    ...(parts.levels ? (known > 1 ? LEVELS : known === 1 ? EXPOSURE : []) : []),
    ...(parts.saturation && known > 6 ? SATURATION : []),
  ];
  if (free.length === 0)
    throw new RangeError(
      'Nothing is left to solve: choose balance, levels or saturation, and say which step is the grey card',
    );
  const refs = cells.map((c) => (c.linear ? referenceShown(h.shot, c.linear, h.table) : null));
  const error = (values: Record<string, Record<string, number>>): number => {
    const out = through(h.shot, h.correction, values, inputs, h.table);
    return out.reduce((s, v, i) => s + difference(h.shot, v, refs[i] ?? neutralOf(v)), 0) / out.length;
  };
  // Exposure and the white point do nearly the same: of the ways that fit alike, the one that leaves the white point.
  const held = (v: Record<string, Record<string, number>>): number => {
    const p = v['points'];
    return p ? (((p['whitePct'] ?? 100) - 100) / 40) ** 2 + ((p['blackPct'] ?? 0) / 40) ** 2 : 0;
  };
  const solved = solveValues(free, (v) => error(v) + held(v));
  return reply(h, solved.values, (set) => ({ before: error({}), after: error(set), unit: 'CIEDE2000' }));
}

const WHEEL_OF = { black: 'lift', grey: 'gamma', white: 'gain' } as const;
/** Neutral things: with one of them temperature and tint, with more a push of lift, gamma and gain. */
export function solveNeutral(
  h: HelperInput,
  inputs: readonly { kind: 'black' | 'grey' | 'white'; colour: Triple }[],
): HelperReply {
  const kinds = [...new Set(inputs.map((i) => i.kind))];
  const free = kinds.length === 1 ? [...BALANCE] : wheelFree(kinds.map((k) => WHEEL_OF[k]));
  const chroma = (values: Record<string, Record<string, number>>): number => {
    const out = through(
      h.shot,
      h.correction,
      values,
      inputs.map((i) => i.colour),
      h.table,
    );
    return (
      Math.sqrt(out.reduce((s, v) => s + (([, cb, cr]) => cb * cb + cr * cr)(rgbToYcbcr(...v)), 0) / out.length) * 200
    );
  };
  // Of the ways to neutral the one that pushes least: a grain of the push counts too.
  const solved = solveValues(
    free,
    (v) =>
      chroma(v) +
      1e-4 * Object.values(v).reduce((s, p) => s + Object.values(p).reduce((a, x) => a + Math.abs(x), 0), 0),
  );
  return reply(h, solved.values, (set) => ({ before: chroma({}), after: chroma(set), unit: '% chroma' }));
}

/** Black and white points from the levels below and above which a share of the picture lies. */
export function solvePoints(
  h: HelperInput,
  levels: { black: number; white: number },
  targets: { blackPct: number; whitePct: number },
): HelperReply {
  if (levels.white - levels.black < 0.02)
    throw new RangeError('The picture has next to no contrast: there are no points to set');
  const r = (v: number): number => Math.round(v * 100) / 100;
  const at = (from: number, to: number): number => r(from + h.strength * (to - from));
  const set = {
    points: {
      blackPct: at(targets.blackPct, 100 * levels.black),
      whitePct: at(targets.whitePct, 100 * levels.white),
      toBlackPct: targets.blackPct,
      toWhitePct: targets.whitePct,
    },
  };
  const out = reply({ ...h, strength: 1 }, {}, () => ({
    before: 100 * (levels.white - levels.black),
    after: targets.whitePct - targets.blackPct,
    unit: '% from black to white',
  }));
  const i = out.adjustments.findIndex((u) => u.op === 'points');
  const use =
    i >= 0
      ? { ...out.adjustments[i]!, on: true, params: { ...out.adjustments[i]!.params, ...set.points } }
      : newUse(`${h.correction.id}-points`, 'points', set.points);
  return {
    ...out,
    set,
    adjustments: i >= 0 ? out.adjustments.map((u, k) => (k === i ? use : u)) : [...out.adjustments, use],
    after: at(100 * (levels.white - levels.black), targets.whitePct - targets.blackPct),
  };
}
