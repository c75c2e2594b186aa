/** Corrections as stored, compiled at a frame and a picture scale into numeric steps that an engine runs. */
import { ops } from '../ops/registry.gen';
import { migrateParams } from '../op/contract';
import type { AnyOp, PixelOp, TidyOp } from '../op/contract';
import { resolve, scalePx, valueAt } from '../op/params';
import type { Keyframed, ParamSpecs, StoredValues, Values } from '../op/params';

/** One operation as a document stores it. */
export interface OpUse {
  id: string;
  op: string;
  version: number;
  on: boolean;
  params: StoredValues;
}
/** A key or a shape in a region, joined with what stands before it (the first one's join is ignored). */
export interface Term {
  join: 'and' | 'or';
  not: boolean;
  name: string;
  use: OpUse;
}
export interface CorrectionSpec {
  id: string;
  name: string;
  on: boolean;
  /** 0..100 %. */
  mixPct: number | Keyframed;
  /** No term that is on: the whole picture. */
  terms: Term[];
  tidy: OpUse[];
  adjustments: OpUse[];
}

export interface BlockStep {
  opIndex: number;
  block: Float32Array;
}
export interface TermStep extends BlockStep {
  kind: 'key' | 'shape';
  join: 'and' | 'or';
  not: boolean;
}
export interface Step {
  id: string;
  on: boolean;
  /** 0..1. */
  mix: number;
  terms: TermStep[];
  tidy: BlockStep[];
  chain: BlockStep[];
  /** How far the matte reaches, in pixels. */
  haloPx: number;
  /** Equal keys mean equal results, given an equal input. */
  regionKey: string;
  tidyKey: string;
  chainKey: string;
}

const index = new Map(ops.map((op, i) => [op.id, i]));

/** The operation, or a RangeError that names it. */
export function opById(id: string): AnyOp {
  const i = index.get(id);
  if (i === undefined) throw new RangeError(`There is no operation "${id}" in this version of the application`);
  return ops[i]!;
}

const keyOf = (s: BlockStep): string => `${ops[s.opIndex]!.id}:${Array.from(s.block).join(',')}`;

function toBlock(use: OpUse, frame: number, scale: number): { op: AnyOp; values: Values<ParamSpecs>; step: BlockStep } {
  const op = opById(use.op);
  const values = scalePx(op.params, resolve(op.params, migrateParams(op, use.version, use.params), frame), scale);
  return { op, values, step: { opIndex: index.get(use.op)!, block: op.prepare(values) } };
}

/**
 * Compiles corrections in order. `scale` is the size of the evaluated picture over the full one; lengths in pixels
 * follow it. Operations that are off or change nothing are left out. Throws a RangeError that names the correction.
 */
export function compile(corrections: readonly CorrectionSpec[], frame: number, scale: number): Step[] {
  return corrections.map((c) => {
    try {
      const terms: TermStep[] = [];
      for (const t of c.terms) {
        if (!t.use.on) continue;
        const { op, step } = toBlock(t.use, frame, scale);
        if (op.kind !== 'key' && op.kind !== 'shape') throw new RangeError(`${op.id} is neither a key nor a shape`);
        terms.push({ ...step, kind: op.kind, join: t.join, not: t.not });
      }
      const tidy: BlockStep[] = [];
      let haloPx = 0;
      for (const u of c.tidy) {
        if (!u.on || terms.length === 0) continue;
        const { op, values, step } = toBlock(u, frame, scale);
        if (op.kind !== 'tidy') throw new RangeError(`${op.id} is not a tidy step`);
        if ((op as TidyOp).isNoOp(values)) continue;
        if (op.area) haloPx += op.haloPx(values);
        tidy.push(step);
      }
      const chain: BlockStep[] = [];
      for (const u of c.adjustments) {
        if (!u.on) continue;
        const { op, values, step } = toBlock(u, frame, scale);
        if (op.kind !== 'pixel') throw new RangeError(`${op.id} is not an adjustment`);
        if (!(op as PixelOp).isNoOp(values)) chain.push(step);
      }
      const mix = valueAt(c.mixPct, frame) / 100;
      const on = c.on && mix > 0 && chain.length > 0;
      return {
        id: c.id, on, mix, terms, tidy, chain, haloPx,
        regionKey: terms.map((t) => `${t.join}${t.not ? '!' : ''}${keyOf(t)}`).join(';'),
        tidyKey: tidy.map(keyOf).join(';'),
        chainKey: `${mix}*${chain.map(keyOf).join(';')}`,
      };
    } catch (e) {
      throw new RangeError(`Correction "${c.name}": ${(e as Error).message}`, { cause: e });
    }
  });
}
