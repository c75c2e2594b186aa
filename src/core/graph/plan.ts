/** Corrections as stored, compiled at a frame and a picture scale into numeric steps that an engine runs. */
import { ops } from '../ops/registry.gen';
import { isAdjustment, migrateParams, plainContext } from '../op/contract';
import type { AnyOp, Halo, OpContext } from '../op/contract';
import { multiply } from '../color/matrix3';
import type { Matrix3 } from '../color/matrix3';
import { encodings, resolveEncoding } from '../color/encodings';
import type { Encoding, EncodingRef } from '../color/encodings';
import type { Cube } from '../formats/cube';
import { circleOf, regionProgram } from './region';
import type { RegionStep } from './region';
import { displayOf } from '../ops/convert/index';
import { strokesAt } from './strokes';
import { shapeAt } from './shapeAt';
import type { Track } from './track';
import { resolve, scalePx, valueAt } from '../op/params';
import type { Keyframed, ParamSpecs, StoredValues, Values } from '../op/params';

/** One operation as a document stores it. */
export interface OpUse {
  id: string;
  op: string;
  version: number;
  on: boolean;
  params: StoredValues;
  /** Given by the user; otherwise the operation's title. */
  name?: string;
  /**
   * Its values were solved on the picture, and for what: skin to the line, patches or the light of the picture to
   * neutral. On another picture they can be solved again. A hand that changes them takes this away.
   */
  solved?: SolvedFor;
}
export const SOLVED_FOR = ['line', 'neutral', 'light'] as const;
export type SolvedFor = (typeof SOLVED_FOR)[number];
/** How a part of a region stands in it: joined with what stands before it (the first one's join is ignored). */
interface TermHead {
  id: string;
  join: 'and' | 'or';
  not: boolean;
  name: string;
}
/** A key or a shape. */
export interface OpTerm extends TermHead {
  use: OpUse;
  /**
   * Of a key. `base`: it reads the shot's converted picture before any correction (on the camera side the source as
   * decoded), so that what is changed before it does not shift it; left out: the picture as it stands here.
   */
  reads?: 'base';
  /** Of a key: strength, in %, of the noise reduction of the copy that it reads; left out: none. Nothing shows it. */
  quietPct?: number;
  /** Of a quieter copy: so many frames before and after it are looked at as well. */
  quietFrames?: number;
  /**
   * Of a key: the light of the frame where it was made (core/matte/keyLight.ts: lightOf), in which it reads every
   * frame; empty: by choice as each is lit; left out: as each is lit.
   */
  light?: readonly number[];
  /**
   * How what lies under it moves: a shape moves with it (its own keyframes are an offset on top of that), and strokes
   * do.
   */
  track?: Track;
  /** What was painted for it: to keep, or to leave out. */
  strokes?: { keep: boolean; frame: number; points: [number, number][] }[];
}
/** The region of another correction of the same owner, tidied. */
export interface LinkTerm extends TermHead {
  of: string;
  /** Where that one does not reach. */
  outside: boolean;
  on: boolean;
}
/** Brackets. */
export interface GroupTerm extends TermHead {
  group: Term[];
  on: boolean;
}
/** A matte that was made elsewhere: the brightness or the transparency of another picture, or of the shot's own. */
export interface MatteTerm extends TermHead {
  /** The media that holds it; `shot`: the shot's own picture. */
  matte: string;
  channel: 'luma' | 'alpha';
  /** Of a matte that moves: the frame of the shot's media that its first frame belongs to. */
  from: number;
  on: boolean;
}
export type Term = OpTerm | LinkTerm | GroupTerm | MatteTerm;

/** Where lengths of a correction come from another frame: x becomes s x + dx, lengths s times theirs. */
export interface Fit {
  s: number;
  dx: number;
  dy: number;
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
  /** Before (camera) or after (display, when left out) the shot's conversion. */
  side?: 'camera' | 'display';
  /** `beside`: starts from the same picture as the one before it, and their changes add up. */
  start?: 'after' | 'beside';
  fit?: Fit;
}
/** What a shot's numbers mean and how they come to the display. */
export interface Look {
  encoding: EncodingRef;
  /** The conversion step; left out or off: the picture stays as it is. */
  conversion?: OpUse | undefined;
}
export const CONVERSION_ID = 'conversion';

export interface BlockStep {
  opIndex: number;
  block: Float32Array;
  /** Equal names mean equal blocks of one operation. */
  name: string;
}
/** `frames`: offsets of the frames beside the present one that it reads. */
export type TidyStep = BlockStep & { frames: readonly number[] };
/** How many frames before and after a shot's steps look at, all in all: each may lean on what another leans on. */
export const framesAround = (steps: readonly Pick<Step, 'tidy' | 'region'>[]): number =>
  steps.flatMap((s) => s.tidy).reduce((a, t) => a + Math.max(0, ...t.frames.map(Math.abs)), 0) +
  steps.reduce((a, s) => a + Math.max(0, ...s.region.map((t) => (t.do === 'key' ? t.quietFrames : 0))), 0);
export interface Step {
  id: string;
  on: boolean;
  /** 0..1. */
  mix: number;
  /** Starts from the picture that the step before it started from. */
  beside: boolean;
  /** Postfix; empty: the whole picture. */
  region: readonly RegionStep[];
  tidy: TidyStep[];
  /** What the colours of the edge are unmixed by before the chain; null: nothing. */
  unmix: BlockStep | null;
  /** Adjustments in order, of pixels and of areas. */
  chain: BlockStep[];
  /** How far a pixel of the result reaches, in pixels; infinite for the whole frame. */
  haloPx: number;
  /** Equal keys mean equal results, given an equal input. */
  chainKey: string;
}

const index = new Map(ops.map((op, i) => [op.id, i]));

/** The operation, or a RangeError that names it. */
export function opById(id: string): AnyOp {
  const i = index.get(id);
  if (i === undefined) throw new RangeError(`There is no operation "${id}" in this version of the application`);
  return ops[i]!;
}

const reach = (h: Halo): number => (h === 'all' ? Infinity : h);
const keyOf = (s: BlockStep): string => `${ops[s.opIndex]!.id}:${s.name}`;

const names = new WeakMap<Float32Array, string>();
/**
 * Short blocks are their own names; long ones (curves, tables) get two 32-bit sums (FNV-1a over words, from both
 * ends).
 */
function blockName(block: Float32Array): string {
  if (block.length <= 96) return Array.from(block).join(',');
  let n = names.get(block);
  if (!n) {
    const words = new Uint32Array(block.buffer, block.byteOffset, block.length);
    let a = 0x811c9dc5;
    let b = 0x1000193;
    for (let i = 0, j = words.length - 1; j >= 0; i++, j--) {
      a = Math.imul(a ^ words[i]!, 0x01000193);
      a ^= a >>> 15;
      b = Math.imul(b ^ words[j]!, 0x85ebca6b);
      b ^= b >>> 13;
    }
    names.set(block, (n = `${block.length}~${(a >>> 0).toString(36)}~${(b >>> 0).toString(36)}`));
  }
  return n;
}

/** Its name is found when it is asked for: solvers compile thousands of times and never ask. */
class Block implements BlockStep {
  constructor(
    readonly opIndex: number,
    readonly block: Float32Array,
  ) {}
  get name(): string {
    return blockName(this.block);
  }
}
function toBlock(
  use: OpUse,
  frame: number,
  scale: number,
  ctx: OpContext,
  fit?: Fit,
  track?: Track,
): { op: AnyOp; values: Values<ParamSpecs>; step: BlockStep } {
  const op = opById(use.op);
  const own = resolve(op.params, migrateParams(op, use.version, use.params), frame);
  // A path is in the shot's picture: the shape comes there first.
  const values = track
    ? scalePx(op.params, shapeAt(op.params, scalePx(op.params, own, 1, fit), track, frame), scale)
    : scalePx(op.params, own, scale, fit);
  const block = op.prepare(values, ctx);
  return { op, values, step: new Block(index.get(use.op)!, block) };
}

/** Noise reduction of that strength, as a key's own copy of the picture has it. */
const quietUse = (pct: number): OpUse => ({
  id: 'quiet',
  op: 'denoise',
  version: opById('denoise').version,
  on: true,
  params: { strengthPct: pct },
});
/** The same as a step for planes of that scale. */
export const quietStep = (pct: number, scale: number): BlockStep => toBlock(quietUse(pct), 0, scale, plainContext).step;

/**
 * Compiles corrections in order. `scale` is the size of the evaluated picture over the full one; lengths in pixels
 * follow it. Operations that are off or change nothing are left out. Throws a RangeError that names the correction.
 */
export function compile(
  corrections: readonly CorrectionSpec[],
  frame: number,
  scale: number,
  look: Look = { encoding: 'srgb' },
  table: (id: string) => Cube | null = () => null,
): Step[] {
  const source = resolveEncoding(look.encoding);
  const circle = circleOf(corrections);
  if (circle)
    throw new RangeError(
      `The regions of ${circle.map((c) => `"${c.name}"`).join(', ')} rest on each other in a circle: ` +
        'switch one of the links off',
    );
  const one = (c: CorrectionSpec, encoding: Encoding, beside: boolean): Step => {
    const ctx: OpContext = { encoding, source, table, frame };
    try {
      let matteHalo = 0;
      let quietHalo = 0;
      const quiet = (pct: number): BlockStep => {
        const { op, values, step } = toBlock(quietUse(pct), frame, scale, ctx);
        if (op.kind === 'area') quietHalo = Math.max(quietHalo, reach(op.haloPx(values)));
        return step;
      };
      const region = regionProgram(c.terms, quiet, (use, painted, track) => {
        const at = painted ? { ...ctx, strokes: strokesAt(painted, frame, scale, c.fit, track) } : ctx;
        // Of a part that grows its strokes have moved already; how wide they are stays.
        const moves = opById(use.op).kind === 'shape' ? track : undefined;
        const { op, step } = toBlock(use, frame, scale, at, c.fit, moves);
        if (op.kind !== 'key' && op.kind !== 'shape') throw new RangeError(`${op.id} is neither a key nor a shape`);
        const whole = op.kind === 'key' && op.area === 'frame';
        if (whole) matteHalo = Infinity;
        return { ...step, name: step.name, kind: op.kind, frame: whole };
      });
      // Where a block has moved from is looked for in the whole frame, and the light is that of all of it.
      if (region.some((t) => t.do === 'key' && (t.quietFrames > 0 || t.light))) matteHalo = Infinity;
      const tidy: TidyStep[] = [];
      let chainHalo = 0;
      for (const u of c.tidy) {
        if (!u.on || region.length === 0) continue;
        const { op, values, step } = toBlock(u, frame, scale, ctx, c.fit);
        if (op.kind !== 'tidy') throw new RangeError(`${op.id} is not a tidy step`);
        if (op.isNoOp(values)) continue;
        if (op.area) matteHalo += reach(op.haloPx(values));
        tidy.push({ ...step, name: step.name, frames: (op.area === 'frame' && op.frames?.(values)) || [] });
      }
      const chain: BlockStep[] = [];
      let unmix: BlockStep | null = null;
      let unmixHalo = 0;
      let light: Matrix3 | null = null;
      for (const u of c.adjustments) {
        if (!u.on) continue;
        const { op, values, step } = toBlock(u, frame, scale, ctx, c.fit);
        if (!isAdjustment(op)) throw new RangeError(`${op.id} is not an adjustment`);
        if (op.isNoOp(values)) continue;
        if (op.kind === 'area' && op.unmixes) {
          // The whole picture has no edge; of two the first counts.
          if (region.length === 0 || unmix) continue;
          unmix = step;
          unmixHalo = reach(op.haloPx(values));
          continue;
        }
        if (op.kind === 'area') {
          chainHalo += reach(op.haloPx(values));
          light = null;
          chain.push(step);
          continue;
        }
        // Neighbours that are matrices on the same light are one: what lies between would be encoded only to be
        // decoded again.
        const own = op.light;
        const m: Matrix3 | null = own?.matrix(values, ctx) ?? null;
        if (m && own && light) {
          light = multiply(m, light);
          const block = own.block(light, ctx);
          chain[chain.length - 1] = new Block(step.opIndex, block);
        } else {
          light = m;
          chain.push(step);
        }
      }
      const mix = valueAt(c.mixPct, frame) / 100;
      const on = c.on && mix > 0 && chain.length > 0;
      return {
        id: c.id,
        on,
        mix,
        beside,
        region,
        tidy,
        unmix,
        chain,
        // What is unmixed at a pixel rests on the matte about it.
        haloPx: Math.max(matteHalo + quietHalo + unmixHalo, chainHalo + unmixHalo),
        get chainKey() {
          return `${mix}*${chain.map(keyOf).join(';')}`;
        },
      };
    } catch (e) {
      // A table that has still to be given is no fault of the correction.
      if (!(e instanceof RangeError)) throw e;
      throw new RangeError(`Correction "${c.name}": ${(e as Error).message}`, { cause: e });
    }
  };
  const conversion = conversionStep(look, frame, table);
  const out = displayEncoding(look);
  const [camera, display] = sides(corrections);
  const all = (list: readonly CorrectionSpec[], e: Encoding): Step[] =>
    list.map((c, i) => one(c, e, i > 0 && c.start === 'beside'));
  return [...all(camera, source), ...(conversion ? [conversion] : []), ...all(display, out)];
}

const sides = (corrections: readonly CorrectionSpec[]): [CorrectionSpec[], CorrectionSpec[]] => [
  corrections.filter((c) => c.side === 'camera'),
  corrections.filter((c) => c.side !== 'camera'),
];
/**
 * The corrections as they would have to stand for the picture to come out as the named one is given it: what comes
 * after it is off, and so is what stands beside it. Regions that others rest on stay what they are.
 */
export function inputOf(corrections: readonly CorrectionSpec[], id: string): CorrectionSpec[] {
  const order = sides(corrections).flat();
  const c = order.find((x) => x.id === id);
  if (!c) throw new RangeError('There is no such correction in this shot');
  const list = order.filter((x) => (x.side === 'camera') === (c.side === 'camera'));
  let first = list.indexOf(c);
  while (first > 0 && list[first]!.start === 'beside') first--;
  const before = new Set(order.slice(0, order.indexOf(list[first]!)));
  return order.map((x) => (before.has(x) ? x : { ...x, on: false }));
}
/** The same with the first adjustments of the named correction on top, everywhere and in full. */
export const inputOfAdjustment = (corrections: readonly CorrectionSpec[], id: string, k: number): CorrectionSpec[] =>
  inputOf(corrections, id).map((c) =>
    c.id === id ? { ...c, on: true, mixPct: 100, terms: [], adjustments: c.adjustments.slice(0, k) } : c,
  );

/** The conversion as a step without a region, or null when the picture stays as it is. */
export function conversionStep(look: Look, frame: number, table: (id: string) => Cube | null): Step | null {
  if (!look.conversion?.on) return null;
  const ctx: OpContext = { ...plainContext, source: resolveEncoding(look.encoding), table };
  // A lookup table is a conversion of its own.
  const use: OpUse =
    typeof look.encoding === 'object' && 'table' in look.encoding
      ? { ...look.conversion, op: 'lut', version: 1, params: { table: look.encoding.table } }
      : look.conversion;
  if (use.op === 'lut' && !table(String(use.params['table']))) return null;
  const { step } = toBlock(use, frame, 1, ctx);
  return {
    id: CONVERSION_ID,
    on: true,
    mix: 1,
    beside: false,
    region: [],
    tidy: [],
    unmix: null,
    chain: [step],
    haloPx: 0,
    chainKey: `1*${keyOf(step)}`,
  };
}

/** What a correction's keys read: the camera's encoding (but for a table's, which is none), or the display's. */
export function encodingAt(look: Look, side: CorrectionSpec['side']): Encoding {
  const camera = side === 'camera' && !(typeof look.encoding === 'object' && 'table' in look.encoding);
  return camera ? resolveEncoding(look.encoding) : displayEncoding(look);
}
/** What the numbers mean after the conversion. */
export function displayEncoding(look: Look): Encoding {
  if (!look.conversion?.on) return resolveEncoding(look.encoding);
  if (typeof look.encoding === 'object' && 'table' in look.encoding) return resolveEncoding(look.encoding);
  const id = displayOf(String(look.conversion.params['display'] ?? 'bt1886'));
  return { id, ...encodings[id] };
}
