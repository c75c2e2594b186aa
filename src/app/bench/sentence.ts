/** The correction told as a line of words and chips. Pure, so that it can be read in tests as a person reads it. */
import { opById } from '../../core/graph/plan';
import type { OpUse } from '../../core/graph/plan';
import { resolve } from '../../core/op/params';
import { wrap360 } from '../../core/math/angle';
import { formatNumber } from '../../ui/NumberBox';
import type { CorrectionRecord } from '../../document/records';
import type { StepName } from '../store';
import { valuesOf } from '../values';

export interface Chip {
  text: string;
  step: StepName;
  /** Operation that it names. */
  use?: string;
}
export type Piece = string | Chip;

const deg = (v: number): string => String(Math.round(wrap360(v)));
const n = (v: number, digits = 0): string => formatNumber(v, digits);

/** In the middle of a sentence; what is spelt in capitals stays so. */
const lower = (title: string): string => title.replace(/\b[A-Z](?=[a-z])/g, (c) => c.toLowerCase());

/** Operations whose one number says it all. */
function say(u: OpUse, v: Record<string, number>): string | null {
  if (u.op === 'exposure') return `exposure ${formatNumber(v['stops']!, 2, true)} stops`;
  if (u.op === 'contrast') return `contrast ${n(v['amountPct']!)} %`;
  if (u.op === 'temperature' && v['tint'] === 0) return `temperature ${formatNumber(v['mired']!, 0, true)} mired`;
  return null;
}

const told = new WeakMap<CorrectionRecord, Piece[]>();
/** Records do not change, so each is told once. */
export function sentence(c: CorrectionRecord): Piece[] {
  let s = told.get(c);
  if (!s) told.set(c, (s = tell(c)));
  return s;
}

/** The same for a list: values only, where they fit. */
export function sayUse(u: OpUse): string | null {
  const v = valuesOf(u, 0);
  if (u.op === 'exposure') return `${formatNumber(v['stops']!, 2, true)} stops`;
  if (u.op === 'contrast' || u.op === 'saturation') return `${n(v['amountPct']!)} %`;
  if (u.op === 'temperature') return `${formatNumber(v['mired']!, 0, true)} mired${v['tint'] ? `, tint ${formatNumber(v['tint']!, 1, true)}` : ''}`;
  if (u.op === 'hueTurn') return `${formatNumber(v['angleDeg']!, 1, true)}\u00b0`;
  return null;
}

function tell(c: CorrectionRecord): Piece[] {
  const out: Piece[] = [`${c.name}:`];
  const live = c.terms.filter((t) => t.use.on);
  if (live.length === 0) out.push('on', { text: 'the whole picture', step: 'isolate' });
  live.forEach((t, i) => {
    const joint = i === 0 ? '' : t.join;
    if (t.use.op === 'key') {
      const v = valuesOf(t.use, 0);
      const parts: string[] = [];
      if (v['hueOn']) parts.push(`hue is ${deg(v['hueCentreDeg']! - v['hueWidthDeg']! / 2)}\u2013${deg(v['hueCentreDeg']! + v['hueWidthDeg']! / 2)}\u00b0`);
      if (v['satOn']) parts.push(`saturation ${n(Math.max(0, v['satCentrePct']! - v['satWidthPct']! / 2))}\u2013${n(v['satCentrePct']! + v['satWidthPct']! / 2)} %`);
      if (v['lumaOn']) parts.push(`luma ${n(v['lumaCentrePct']! - v['lumaWidthPct']! / 2)}\u2013${n(v['lumaCentrePct']! + v['lumaWidthPct']! / 2)} %`);
      out.push([joint, t.not ? 'not where' : 'where'].filter(Boolean).join(' '));
      if (parts.length === 0) out.push({ text: 'any colour', step: 'isolate', use: t.use.id });
      parts.forEach((p, k) => {
        if (k > 0) out.push(k === parts.length - 1 ? 'and' : ',');
        out.push({ text: p, step: 'isolate', use: t.use.id });
      });
    } else out.push([joint, t.not ? 'not inside' : 'inside'].filter(Boolean).join(' '), { text: t.name, step: 'isolate', use: t.use.id });
  });
  const tidy: Chip[] = [];
  if (live.length > 0)
    for (const u of c.tidy) {
      if (!u.on) continue;
      const v = valuesOf(u, 0);
      if (u.op === 'floorCeiling') {
        if (v['floorPct']! > 0) tidy.push({ text: `floor ${n(v['floorPct']!)} %`, step: 'tidy', use: u.id });
        if (v['ceilingPct']! < 100) tidy.push({ text: `ceiling ${n(v['ceilingPct']!)} %`, step: 'tidy', use: u.id });
      } else if (u.op === 'feather' && v['radiusPx']! > 0) tidy.push({ text: `feather ${n(v['radiusPx']!, v['radiusPx']! % 1 ? 1 : 0)} px`, step: 'tidy', use: u.id });
    }
  const done: Chip[] = [];
  for (const u of c.adjustments) {
    if (!u.on) continue;
    const v = valuesOf(u, 0);
    const chip = (text: string): void => void done.push({ text, step: 'correct', use: u.id });
    if (u.op === 'hueTurn' && v['angleDeg'] !== 0) chip(`hue turned ${formatNumber(v['angleDeg']!, 1, true)}\u00b0`);
    if (u.op === 'saturation' && v['amountPct'] !== 100) chip(`saturation ${n(v['amountPct']!)} %`);
    if (u.op === 'balance' && (v['cbPct'] || v['crPct'])) chip(`balance ${n(Math.hypot(v['cbPct']!, v['crPct']!), 1)} %`);
    const op = opById(u.op);
    if (!['hueTurn', 'saturation', 'balance', 'wheels'].includes(u.op) && op.kind === 'pixel' && !op.isNoOp(resolve(op.params, u.params))) chip(u.name ?? say(u, v) ?? lower(op.title));
    if (u.op === 'wheels') {
      const moved = ['lift', 'gamma', 'gain', 'offset'].filter((w) => v[`${w}Cb`] || v[`${w}Cr`] || v[`${w}Level`]);
      if (moved.length) chip(moved.join(', '));
    }
  }
  if (tidy.length) out.push(';', 'tidied by', ...join(tidy));
  out.push(';', ...(done.length ? ['corrected by', ...join(done)] : [{ text: 'not corrected yet', step: 'correct' } as Chip]));
  const mix = typeof c.mixPct === 'number' ? c.mixPct : c.mixPct.keys[0]!.value;
  out.push(',', { text: `mix ${n(mix)} %`, step: 'correct' });
  if (!c.on) out.push('(off)');
  return out;
}
const join = (chips: Chip[]): Piece[] => chips.flatMap((c, i) => (i === 0 ? [c] : [i === chips.length - 1 ? 'and' : ',', c]));

/** As read aloud. */
export const plain = (pieces: Piece[]): string =>
  pieces.map((p) => (typeof p === 'string' ? p : p.text)).join(' ').replace(/ ([,;:)])/g, '$1');
