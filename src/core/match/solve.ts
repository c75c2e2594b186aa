/**
 * Helpers that set ordinary values: the numbers of named operations for which measured colours come closest to what
 * they should be,
 * through the real operations. The strength takes the same share of every number.
 */
import { minimise } from '../math/minimise';
import { opById } from '../graph/plan';
import type { NumSpec } from '../op/params';

/** One number that may be set: of an operation, with how far a first step goes. */
export interface Free {
  op: string;
  param: string;
  step: number;
}
export interface Solved {
  /** By operation: parameters and their values at full strength. */
  values: Record<string, Record<string, number>>;
  error: number;
}

const spec = (f: Free): NumSpec => opById(f.op).params[f.param] as NumSpec;
const toValues = (free: readonly Free[], x: readonly number[]): Record<string, Record<string, number>> => {
  const out: Record<string, Record<string, number>> = {};
  free.forEach((f, i) => {
    const s = spec(f);
    (out[f.op] ??= {})[f.param] = Math.min(s.max, Math.max(s.min, x[i]!));
  });
  return out;
};

/** `error` of the values of every operation that is free; the least is sought from their defaults. */
export function solveValues(
  free: readonly Free[],
  error: (values: Record<string, Record<string, number>>) => number,
): Solved {
  const start = free.map((f) => spec(f).default);
  const { x } = minimise(
    (v) => error(toValues(free, v)),
    start,
    free.map((f) => f.step),
  );
  const values = toValues(free, x);
  return { values, error: error(values) };
}
/** A share of the way from the defaults, rounded as a control would. */
export function atStrength(
  values: Record<string, Record<string, number>>,
  strength: number,
): Record<string, Record<string, number>> {
  return Object.fromEntries(
    Object.entries(values).map(([op, p]) => [
      op,
      Object.fromEntries(
        Object.entries(p).map(([k, v]) => {
          const d = (opById(op).params[k] as NumSpec).default;
          return [k, Math.round((d + strength * (v - d)) * 1000) / 1000];
        }),
      ),
    ]),
  );
}

export const BALANCE: readonly Free[] = [
  { op: 'temperature', param: 'mired', step: 20 },
  { op: 'temperature', param: 'tint', step: 6 },
];
export const EXPOSURE: readonly Free[] = [{ op: 'exposure', param: 'stops', step: 0.5 }];
export const LEVELS: readonly Free[] = [
  ...EXPOSURE,
  { op: 'points', param: 'blackPct', step: 3 },
  { op: 'points', param: 'whitePct', step: 8 },
];
export const SATURATION: readonly Free[] = [{ op: 'saturation', param: 'amountPct', step: 15 }];
/** Lift for black, gamma for grey, gain for white: a push each. */
export const wheelFree = (wheels: readonly ('lift' | 'gamma' | 'gain')[]): Free[] =>
  wheels.flatMap((w) => [
    { op: 'wheels', param: `${w}Cb`, step: 4 },
    { op: 'wheels', param: `${w}Cr`, step: 4 },
  ]);
