/**
 * Regions as trees: parts joined by and, or, not, with brackets and links to other corrections' regions; compiled to
 * a program in postfix form that an engine runs over planes.
 */
import type { CorrectionSpec, GroupTerm, LinkTerm, MatteTerm, OpTerm, OpUse, Term } from './plan';
import type { BlockStep } from './plan';

export type RegionStep =
  /**
   * `within`: shapes that a key over the whole frame is joined with by *and*; `quiet`: noise reduction of the copy that
   * the key reads, after what `quietFrames` frames either way show of the same places was taken in.
   */
  | {
      do: 'key';
      step: BlockStep;
      base: boolean;
      quiet: BlockStep | null;
      quietFrames: number;
      /** The light in which the picture is read; null: as it is lit. */
      light: readonly number[] | null;
      within: readonly BlockStep[];
    }
  | { do: 'shape'; step: BlockStep }
  /** The tidied matte of another correction. */
  | { do: 'of'; id: string }
  /** A matte from outside. */
  | ({ do: 'matte' } & OutsideMatte)
  /** 1 minus the topmost. */
  | { do: 'not' }
  /** Least and greatest of the two topmost. */
  | { do: 'and' }
  | { do: 'or' };

/** Where a matte from outside comes from. */
export type OutsideMatte = Pick<MatteTerm, 'channel' | 'from'> & { media: string };

export const isOp = (t: Term): t is OpTerm => 'use' in t;
export const isLink = (t: Term): t is LinkTerm => 'of' in t;
export const isMatte = (t: Term): t is MatteTerm => 'matte' in t;
export const isGroup = (t: Term): t is GroupTerm => 'group' in t;

/** Whether a part acts: it is on, and brackets hold something that acts. */
export const isLive = (t: Term): boolean => (isOp(t) ? t.use.on : t.on && (!isGroup(t) || t.group.some(isLive)));
/** Every part, brackets and what stands in them included. */
export const allTerms = (terms: readonly Term[]): Term[] =>
  terms.flatMap((t) => (isGroup(t) ? [t, ...allTerms(t.group)] : [t]));
/** How many brackets stand in each other. */
export const depthOf = (terms: readonly Term[]): number =>
  Math.max(0, ...terms.map((t) => (isGroup(t) ? 1 + depthOf(t.group) : 0)));
export const opTerms = (terms: readonly Term[]): OpTerm[] => allTerms(terms).filter(isOp);
/** Whether the correction is limited at all. */
export const hasRegion = (c: Pick<CorrectionSpec, 'terms'>): boolean => c.terms.some(isLive);

/** Changes parts anywhere in a tree; null takes one out, and brackets that are left empty with it. */
export function mapTerms(terms: readonly Term[], f: (t: Term) => Term | null): Term[] {
  return terms.flatMap((t): Term[] => {
    const next = f(t);
    if (!next) return [];
    if (!isGroup(next)) return [next];
    const group = mapTerms(next.group, f);
    if (group.length === 0 && next.group.length > 0) return [];
    return group.every((x, i) => x === next.group[i]) && group.length === next.group.length
      ? [next]
      : [{ ...next, group }];
  });
}
export const mapTermUses = (terms: readonly Term[], f: (u: OpUse) => OpUse): Term[] =>
  mapTerms(terms, (t) => {
    if (!isOp(t)) return t;
    const use = f(t.use);
    return use === t.use ? t : { ...t, use };
  });

/**
 * @param quiet makes the numbers of a noise reduction of that strength in %
 * @param block makes the numbers of a key or a shape
 */
export function regionProgram(
  terms: readonly Term[],
  quiet: (pct: number) => BlockStep,
  block: (
    use: OpUse,
    strokes: OpTerm['strokes'],
    track: OpTerm['track'],
  ) => BlockStep & { kind: 'key' | 'shape'; frame: boolean },
): RegionStep[] {
  const out: RegionStep[] = [];
  const live = terms.filter(isLive);
  // With nothing but "and" between them, every shape that is not turned round limits all the others.
  const shapes = live.every((t, i) => i === 0 || t.join === 'and')
    ? live.filter((t): t is OpTerm => isOp(t) && !t.not)
    : [];
  live.forEach((t, i) => {
    if (isOp(t)) {
      const { kind, frame, ...step } = block(t.use, t.strokes, t.track);
      const within = !frame
        ? []
        : shapes
            .filter((x) => x !== t)
            .flatMap((x) => {
              const { kind: k, frame: _, ...s } = block(x.use, x.strokes, x.track);
              return k === 'shape' ? [s] : [];
            });
      const copy = t.quietPct ? quiet(t.quietPct) : null;
      out.push(
        kind === 'key'
          ? {
              ...{ do: 'key', step, base: t.reads === 'base', quiet: copy, within },
              quietFrames: copy ? (t.quietFrames ?? 0) : 0,
              light: t.light?.length ? t.light : null,
            }
          : { do: 'shape', step },
      );
    } else if (isLink(t)) {
      out.push({ do: 'of', id: t.of });
      if (t.outside) out.push({ do: 'not' });
    } else if (isMatte(t)) out.push({ do: 'matte', media: t.matte, channel: t.channel, from: t.from });
    else out.push(...regionProgram(t.group, quiet, block));
    if (t.not) out.push({ do: 'not' });
    if (i > 0) out.push({ do: t.join });
  });
  return out;
}

/** Media whose frames are mattes of a correction; not the shot's own. */
export const mattesOf = (c: Pick<CorrectionSpec, 'terms'>): string[] =>
  allTerms(c.terms).flatMap((t) => (isMatte(t) && t.matte !== OWN ? [t.matte] : []));
/** As a matte's media: the picture that the shot shows. */
export const OWN = 'shot';

/** Corrections whose regions a correction's own rests on, links that are off included. */
export const linksOf = (c: Pick<CorrectionSpec, 'terms'>): string[] =>
  allTerms(c.terms)
    .filter(isLink)
    .map((t) => t.of);

type Linked = Pick<CorrectionSpec, 'id' | 'terms'>;
/** Corrections that rest on each other in a circle, in its order; null where there is none. */
export function circleOf<C extends Linked>(corrections: readonly C[]): C[] | null {
  const byId = new Map(corrections.map((c) => [c.id, c]));
  const done = new Set<string>();
  const visit = (c: C, path: C[]): C[] | null => {
    const at = path.indexOf(c);
    if (at >= 0) return path.slice(at);
    if (done.has(c.id)) return null;
    for (const id of linksOf(c)) {
      const next = byId.get(id);
      const found = next && visit(next, [...path, c]);
      if (found) return found;
    }
    done.add(c.id);
    return null;
  };
  for (const c of corrections) {
    const found = visit(c, []);
    if (found) return found;
  }
  return null;
}
