/** The correction told as a line of words and chips. Pure, so that it can be read in tests as a person reads it. */
import { opById } from '../../core/graph/plan';
import type { OpUse } from '../../core/graph/plan';
import { resolve, valueAt } from '../../core/op/params';
import { formatNumber } from '../../core/op/words';
import { hasRegion, isGroup, isLink, isLive, isMatte, linksOf, OWN } from '../../core/graph/region';
import type { CorrectionRecord, Records, Term } from '../../document/records';
import type { StepName } from '../store';

export interface Chip {
  text: string;
  step: StepName;
  /** Operation that it names. */
  use?: string;
  /** Part of the region that it names. */
  term?: string;
  /** It is the correction's mix. */
  mix?: true;
  /** It is a small word: how its part joins, or whether it counts inside or outside; pressed, it says `to` instead. */
  turn?: { what: 'join' | 'not'; to: string };
}
export type Piece = string | Chip;

/** In the middle of a sentence; what is spelt in capitals stays so. */
const lower = (title: string): string => title.replace(/\b[A-Z](?=[a-z])/g, (c) => c.toLowerCase());

/** How an operation is told: by its own words where it has any. */
function wordsOf(u: OpUse, frame: number): readonly string[] {
  const op = opById(u.op);
  return op.say?.(resolve(op.params, u.params, frame)) ?? [lower(op.title)];
}
const acts = (u: OpUse, frame: number): boolean => {
  const op = opById(u.op);
  return u.on && 'isNoOp' in op && !op.isNoOp(resolve(op.params, u.params, frame));
};

const told = new WeakMap<CorrectionRecord, { names: string; pieces: Piece[] }>();
/** Records do not change, so each is told once, as long as those it is linked to keep their names. */
export function sentence(c: CorrectionRecord, records: Records = {}, frame = 0): Piece[] {
  const nameOf = (id: string): string => {
    const to = records[id];
    return to?.type === 'correction' ? to.name : 'a correction that is not there';
  };
  const names = [frame, ...linksOf(c).map(nameOf)].join('\n');
  const known = told.get(c);
  if (known?.names === names) return known.pieces;
  const pieces = tell(c, nameOf, frame);
  told.set(c, { names, pieces });
  return pieces;
}

/** The same for a list: values only, where they fit. */
export function sayUse(u: OpUse, frame: number): string | null {
  const op = opById(u.op);
  return op.brief?.(resolve(op.params, u.params, frame)) ?? null;
}

/** The parts of a region, brackets included. */
function tellRegion(terms: readonly Term[], nameOf: (id: string) => string, frame: number): Piece[] {
  const out: Piece[] = [];
  terms.filter(isLive).forEach((t, i) => {
    const part = (text: string): Chip => ({ text, step: 'isolate', term: t.id });
    if (i > 0) out.push({ ...part(t.join), turn: { what: 'join', to: t.join === 'and' ? 'or' : 'and' } });
    /** Whether it counts inside, and how the other would be said. */
    const side = (is: boolean, yes: string, no: string): void => {
      out.push({ ...part(is ? yes : no), turn: { what: 'not', to: is ? no : yes } });
    };
    if (isGroup(t)) {
      const inside = tellRegion(t.group, nameOf, frame);
      // Brackets round one thing say nothing.
      const one = t.group.filter(isLive).length === 1 && !t.not;
      if (t.not) out.push({ ...part('not'), turn: { what: 'not', to: 'in' } });
      out.push(...(one ? inside : ['(', ...inside, ')']));
    } else if (isLink(t)) {
      side(t.not === t.outside, 'inside the region of', 'outside the region of');
      out.push(part(nameOf(t.of)));
    } else if (isMatte(t)) {
      const what = t.matte === OWN ? 'what the picture holds as' : 'the matte';
      side(!t.not, `inside ${what}`, `not inside ${what}`);
      out.push(part(t.name));
    } else if (opById(t.use.op).kind === 'key') {
      const parts = wordsOf(t.use, frame);
      const seen = [
        ...(t.reads === 'base' ? ['before any correction'] : []),
        ...(t.light?.length ? ['in one light'] : []),
        ...(t.quietPct ? ['with less noise'] : []),
      ];
      const where = ['where', ...seen].join(', ') + (seen.length > 0 ? ',' : '');
      side(!t.not, where, `not ${where}`);
      if (parts.length === 0) out.push(part('any colour'));
      parts.forEach((p, k) => {
        if (k > 0) out.push(k === parts.length - 1 ? 'and' : ',');
        out.push(part(p));
      });
    } else {
      side(!t.not, 'inside', 'not inside');
      out.push(part(t.name));
    }
  });
  return out;
}

function tell(c: CorrectionRecord, nameOf: (id: string) => string, frame: number): Piece[] {
  const out: Piece[] = [c.start === 'beside' ? `${c.name}, beside the one before:` : `${c.name}:`];
  const live = hasRegion(c);
  if (live) out.push(...tellRegion(c.terms, nameOf, frame));
  else out.push('on', { text: 'the whole picture', step: 'isolate' });
  const tidy: Chip[] = [];
  if (live)
    for (const u of c.tidy.filter((x) => acts(x, frame)))
      tidy.push(...wordsOf(u, frame).map((text): Chip => ({ text, step: 'tidy', use: u.id })));
  const done: Chip[] = [];
  for (const u of c.adjustments.filter((x) => acts(x, frame)))
    done.push(...(u.name ? [u.name] : wordsOf(u, frame)).map((text): Chip => ({ text, step: 'correct', use: u.id })));
  if (tidy.length) out.push(';', 'tidied by', ...join(tidy));
  out.push(
    ';',
    ...(done.length ? ['corrected by', ...join(done)] : [{ text: 'not corrected yet', step: 'correct' } as Chip]),
  );
  const n = (v: number): string => formatNumber(v, 0);
  const mix = valueAt(c.mixPct, frame);
  out.push(',', { text: `mix ${n(mix)} %`, step: 'correct', mix: true });
  if (!c.on) out.push('(off)');
  return out;
}
const join = (chips: Chip[]): Piece[] =>
  chips.flatMap((c, i) => (i === 0 ? [c] : [i === chips.length - 1 ? 'and' : ',', c]));

/** As read aloud. */
export const plain = (pieces: Piece[]): string =>
  pieces
    .map((p) => (typeof p === 'string' ? p : p.text))
    .join(' ')
    .replace(/ ([,;:)])/g, '$1')
    .replace(/\( /g, '(');
/** The same for the ear, where brackets would not be heard. */
export const aloud = (pieces: Piece[]): string =>
  plain(pieces.map((p) => (p === '(' ? 'open bracket' : p === ')' ? 'close bracket' : p)));
