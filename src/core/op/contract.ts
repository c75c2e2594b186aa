/**
 * The operation contract. An operation declares its parameters once, turns them into a plain block of numbers
 * (`prepare`, float64 in, float32 out) and works on planar float32 rows. The TypeScript kernel is the definition;
 * the fast twin in kernels/ reads the same block.
 *
 * Limiting by a matte, mixing and the bit-exact surround are not an operation's business: the engine does them.
 */
import { resolveEncoding } from '../color/encodings';
import type { Encoding } from '../color/encodings';
import type { Matrix3 } from '../color/matrix3';
import type { Cube } from '../formats/cube';
import type { AnyValues, ParamSpecs, StoredValues, Values } from './params';

/** A run of n pixels of a picture. Planes are signal values, usually 0..1, never clamped between steps. */
export interface PixelRun {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  n: number;
}
/** A run of n matte values, 0..1. */
export interface MatteRun {
  m: Float32Array;
  n: number;
}
/** A run of n matte values that lies in row y from column x0; the centre of pixel (x, y) is at (x + 0.5, y + 0.5). */
export interface ShapeRun extends MatteRun {
  x0: number;
  y: number;
}
/** A pass of an area step: reads any rows of src, writes rows y0..y1-1 of dst. Both planes are w by h. */
export interface AreaRun {
  src: Float32Array;
  dst: Float32Array;
  /** At least 4 (w + h) numbers of scratch, so that a pass allocates nothing. */
  scratch: Int32Array;
  w: number;
  h: number;
  y0: number;
  y1: number;
  /** Where the planes lie in the picture, in whole pixels, for a window of it. */
  left: number;
  top: number;
}

/**
 * A pass over whole planes: reads any rows of `src`, `picture` and of what earlier passes wrote, writes rows y0..y1-1
 * of `dst` and `work`. A pass never reads other rows of a plane that it writes itself.
 */
export interface FrameRun {
  /** What is given: a matte (of each frame asked for, this one first), or the three planes of a picture. */
  src: readonly Float32Array[];
  /** One plane of a matte, three of a picture. */
  dst: readonly Float32Array[];
  /** Spare planes; what a pass leaves there the next ones find. At first they hold anything. */
  work: readonly Float32Array[];
  /** For a tidy step that reads it: the picture its correction starts from, three planes for each frame; else empty. */
  picture: readonly Float32Array[];
  /** At least 4 (w + h) numbers of scratch; a twin has 28 (w + 8). */
  scratch: Int32Array;
  w: number;
  h: number;
  y0: number;
  y1: number;
}
/** `whole`: by one thread, all rows at once. */
export interface Pass {
  readonly name: string;
  readonly whole?: boolean;
  /**
   * So many pieces of work that know nothing of each other, in place of rows: `y0` to `y1 - 1` are those to do. Each
   * writes what no other one reads or writes.
   */
  readonly pieces?: number;
  /** Of a whole pass, or of one in pieces, that takes long however small the picture is: so many ms of silence. */
  readonly slowMs?: number;
}
/** What a pixel of the result may depend on: so many pixels around it, or the whole frame. */
export type Halo = number | 'all';

export interface Migration {
  /** Turns parameters of version `from` into version `from + 1`. */
  from: number;
  up(stored: StoredValues): StoredValues;
}

/** What a hand painted for a key: to keep, or to leave out. Places in pixels of the planes. */
export interface Stroke {
  readonly keep: boolean;
  readonly points: readonly (readonly [x: number, y: number])[];
}
/** Where an operation stands: what it may need to know beyond its own parameters. */
export interface OpContext {
  /** Of the numbers that it gets and gives. */
  readonly encoding: Encoding;
  /** The shot's own, before its conversion. */
  readonly source: Encoding;
  /** A lookup table by its id; null when it is not there. */
  table(id: string): Cube | null;
  /** Of a key that is painted for, at its frame. */
  readonly strokes?: readonly Stroke[];
  /** The frame of the media that is made; left out: 0. Whatever differs from frame to frame must come from it alone. */
  readonly frame?: number;
}
/** An sRGB picture without tables. */
export const plainContext: OpContext = {
  encoding: resolveEncoding('srgb'),
  source: resolveEncoding('srgb'),
  table: () => null,
};

interface OpBase<S extends ParamSpecs> {
  readonly id: string;
  readonly title: string;
  readonly doc: string;
  readonly version: number;
  readonly params: S;
  /** Standards and publications, with section. */
  readonly refs: readonly string[];
  /** What NaN, infinity, negatives, values above 1 and zero radius do. */
  readonly edge: string;
  readonly migrations: readonly Migration[];
  prepare(p: Values<S>, ctx: OpContext): Float32Array;
  /**
   * How the sentence tells it, a chip each; left out: its title. A key tells its limits, none where it takes any
   * colour; a shape is told by its name.
   */
  say?(p: Values<S>): readonly string[];
  /** Its values alone, for a list; left out or null: nothing. */
  brief?(p: Values<S>): string | null;
}
export interface PixelOp<S extends ParamSpecs = ParamSpecs> extends OpBase<S> {
  readonly kind: 'pixel';
  /** `conversion`: the step between camera side and display side, never an adjustment. */
  readonly role?: 'conversion';
  kernel(block: Float32Array, run: PixelRun): void;
  /** True when the operation changes no pixel. */
  isNoOp(p: Values<S>): boolean;
  /** What it begins with when a person adds it: its defaults change nothing. */
  readonly added?: Partial<Values<S>>;
  /**
   * For an operation that is a matrix on linear light of the encoding it stands in: the matrix (null when its
   * parameters make it
   * something else), and a block of the operation for any matrix. Neighbours of this kind are run as one.
   */
  readonly light?: {
    matrix(p: Values<S>, ctx: OpContext): Matrix3 | null;
    block(m: Matrix3, ctx: OpContext): Float32Array;
  };
}
export interface KeyPointOp<S extends ParamSpecs = ParamSpecs> extends OpBase<S> {
  readonly kind: 'key';
  readonly area: false;
  kernel(block: Float32Array, run: PixelRun & MatteRun): void;
}
/**
 * A key that looks at the whole picture and at what was painted for it. Of its run, `picture` is what it reads, `src`
 * the shapes that it is joined with by *and*: it need not look beyond them.
 */
export interface KeyFrameOp<S extends ParamSpecs = ParamSpecs> extends OpBase<S> {
  readonly kind: 'key';
  readonly area: 'frame';
  /** Spare planes that its passes need, for planes of so many pixels. */
  workPlanes(w: number, h: number): number;
  passes(block: Float32Array): readonly Pass[];
  kernels: Readonly<Record<string, (block: Float32Array, run: FrameRun) => void>>;
  /** No SIMD twin: the definition runs everywhere. */
  readonly plain?: boolean;
}
export type KeyOp<S extends ParamSpecs = ParamSpecs> = KeyPointOp<S> | KeyFrameOp<S>;
/** What a hand drew, in picture pixels: corners of a box, in order of their size. */
export interface DrawnBox {
  x: number;
  y: number;
  w: number;
  h: number;
}
export interface ShapeOp<S extends ParamSpecs = ParamSpecs> extends OpBase<S> {
  readonly kind: 'shape';
  /** The shape that a drawn box means; values in picture pixels. Left out: it is added with its defaults. */
  fromBox?(box: DrawnBox): Partial<Values<S>>;
  /** The same of corners that were set one by one. */
  fromCorners?(points: readonly (readonly [number, number])[]): Partial<Values<S>>;
  /** The same of where a straight drag began and ended. */
  fromLine?(from: readonly [number, number], to: readonly [number, number]): Partial<Values<S>>;
  /** What is drawn while the hand draws. */
  readonly drawnAs?: 'ellipse' | 'box' | 'corners' | 'line';
  kernel(block: Float32Array, run: ShapeRun): void;
}
export interface TidyPointOp<S extends ParamSpecs = ParamSpecs> extends OpBase<S> {
  readonly kind: 'tidy';
  readonly area: false;
  /** Where it stands among other tidy steps when it is added. */
  readonly place: number;
  /** Every new correction has it. */
  readonly standing?: boolean;
  /** What it begins with when a person adds it: its defaults change nothing. */
  readonly added?: Partial<Values<S>>;
  kernel(block: Float32Array, run: MatteRun): void;
  isNoOp(p: Values<S>): boolean;
}
export interface TidyAreaOp<S extends ParamSpecs = ParamSpecs> extends OpBase<S> {
  readonly kind: 'tidy';
  readonly area: true;
  /** As of a point step. */
  readonly place: number;
  readonly standing?: boolean;
  readonly added?: Partial<Values<S>>;
  /** How far a pixel reaches, in pixels. */
  haloPx(p: Values<S>): number;
  /** Passes run one after the other, each over the whole plane; the planes swap between them. */
  passes(block: Float32Array): readonly string[];
  kernels: Readonly<Record<string, (block: Float32Array, run: AreaRun) => void>>;
  isNoOp(p: Values<S>): boolean;
}
/** Passes over whole planes; their twins are `frame_<id>_<pass>(block, table of planes, scratch, w, h, y0, y1)`. */
interface FramePasses<S extends ParamSpecs> {
  haloPx(p: Values<S>): Halo;
  /** Spare planes that the passes need. */
  readonly workPlanes: number;
  passes(block: Float32Array): readonly Pass[];
  kernels: Readonly<Record<string, (block: Float32Array, run: FrameRun) => void>>;
  isNoOp(p: Values<S>): boolean;
}
/** A tidy step with temporaries of its own, that may read the picture, the whole frame, and other frames. */
export interface TidyFrameOp<S extends ParamSpecs = ParamSpecs> extends OpBase<S>, FramePasses<S> {
  readonly kind: 'tidy';
  readonly area: 'frame';
  readonly place: number;
  readonly standing?: boolean;
  readonly added?: Partial<Values<S>>;
  readonly readsPicture?: boolean;
  /** Frames beside the present one whose matte (and picture) it reads, as offsets; where there are none, this one. */
  frames?(p: Values<S>): readonly number[];
}
/** An adjustment that reads neighbours. It may stand anywhere in a chain. */
export interface AreaOp<S extends ParamSpecs = ParamSpecs> extends OpBase<S>, FramePasses<S> {
  readonly kind: 'area';
  /**
   * It makes what the correction begins with and what its changes are counted from: it stands before all others, reads
   * the matte (of its run `picture` is that), and without a region it does nothing. A fourth plane that it writes is
   * the matte that the changes are limited by, nowhere more than the one it reads.
   */
  readonly unmixes?: boolean;
  /** What it begins with when a person adds it: its defaults change nothing. */
  readonly added?: Partial<Values<S>>;
}
export type TidyOp<S extends ParamSpecs = ParamSpecs> = TidyPointOp<S> | TidyAreaOp<S> | TidyFrameOp<S>;
/** What may stand in a chain of adjustments. */
export type AdjustmentOp<S extends ParamSpecs = ParamSpecs> = PixelOp<S> | AreaOp<S>;
export type AnyOp = PixelOp | AreaOp | KeyOp | ShapeOp | TidyOp;
export const isAdjustment = (op: AnyOp): op is AdjustmentOp =>
  op.kind === 'area' || (op.kind === 'pixel' && op.role !== 'conversion');

// The generic parameter types an operation in its own folder; the registry holds it with the parameter type
// forgotten, since callers there only pass values that `resolve` made from the same declaration.
export const definePixelOp = <S extends ParamSpecs>(op: Omit<PixelOp<S>, 'kind'>): PixelOp =>
  ({ ...op, kind: 'pixel' }) as unknown as PixelOp;
export const defineKeyOp = <S extends ParamSpecs>(op: Omit<KeyPointOp<S>, 'kind' | 'area'>): KeyPointOp =>
  ({ ...op, kind: 'key', area: false }) as unknown as KeyPointOp;
export const defineKeyFrameOp = <S extends ParamSpecs>(op: Omit<KeyFrameOp<S>, 'kind' | 'area'>): KeyFrameOp =>
  ({ ...op, kind: 'key', area: 'frame' }) as unknown as KeyFrameOp;
export const defineShapeOp = <S extends ParamSpecs>(op: Omit<ShapeOp<S>, 'kind'>): ShapeOp =>
  ({ ...op, kind: 'shape' }) as unknown as ShapeOp;
export const defineTidyPointOp = <S extends ParamSpecs>(op: Omit<TidyPointOp<S>, 'kind' | 'area'>): TidyPointOp =>
  ({ ...op, kind: 'tidy', area: false }) as unknown as TidyPointOp;
export const defineTidyAreaOp = <S extends ParamSpecs>(op: Omit<TidyAreaOp<S>, 'kind' | 'area'>): TidyAreaOp =>
  ({ ...op, kind: 'tidy', area: true }) as unknown as TidyAreaOp;

export const defineTidyFrameOp = <S extends ParamSpecs>(op: Omit<TidyFrameOp<S>, 'kind' | 'area'>): TidyFrameOp =>
  ({ ...op, kind: 'tidy', area: 'frame' }) as unknown as TidyFrameOp;
export const defineAreaOp = <S extends ParamSpecs>(op: Omit<AreaOp<S>, 'kind'>): AreaOp =>
  ({ ...op, kind: 'area' }) as unknown as AreaOp;

/** Brings stored parameters of an older version of an operation up to the current one. */
export function migrateParams(
  op: Pick<AnyOp, 'id' | 'version' | 'migrations'>,
  version: number,
  stored: StoredValues,
): StoredValues {
  if (version > op.version)
    throw new RangeError(
      `${op.id} has version ${version}, this application knows up to ${op.version}: open it with a newer one`,
    );
  let s = stored;
  for (let v = version; v < op.version; v++) {
    const m = op.migrations.find((x) => x.from === v);
    if (!m) throw new RangeError(`${op.id} has no migration from version ${v}`);
    s = m.up(s);
  }
  return s;
}

export type { AnyValues };
