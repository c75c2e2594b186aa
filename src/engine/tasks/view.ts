/**
 * Planes to the pixels of the view: sampling, view modes, wipe and side by side. Row by row, each plane sampled by a
 * kernel.
 */
import { selects, MASK_CELLS } from '../../core/scopes/select';
import { clipColours, falseColours, falseIndex, FALSE_CELLS } from '../../core/view/falseColour';
import type { FalseColour } from '../../core/view/falseColour';
import type { CompareMode, Ground, ViewMode } from '../../protocol/messages';
import type { Plane } from '../memory';
import { fields, task } from './task';
import type { Rgb, TaskContext } from './task';

export const viewModes = [
  'picture',
  'cutout',
  'matte',
  'tint',
  'change',
  'edge',
] as const satisfies readonly ViewMode[];
export const compareModes = ['off', 'wipe', 'side'] as const satisfies readonly CompareMode[];

const NO_MASK = new Uint8Array(0);
export const grounds = ['grey', 'black', 'checker'] as const satisfies readonly Ground[];
/** Surround of a cut-out: neutral, about 18 % grey, black, or both sides of it in squares; and of the picture. */
const GREY = 0.435;
const CHECKER = [0.36, 0.51] as const;
const SQUARE = 4;
const STAGE = 0x6e / 255;

/**
 * Change as a grey: nothing is black; one 16-bit code value is 12 %, each doubling adds 5.5 %, full scale white.
 * `codes` may be a fraction.
 */
export function changeGrey(codes: number): number {
  return codes < 0.5 ? 0 : Math.min(1, 0.12 + 0.055 * Math.log2(Math.max(codes, 1)));
}

/** Steps of the table from a display's signal to the page's. */
export const SHOWN_CELLS = 1024;

/** Of the mark in a scope: what stays bright. */
export interface Mark {
  code: number;
  /** MASK_CELLS squared bytes; null for a band. */
  mask: Plane | null;
  lo: number;
  hi: number;
  before: boolean;
}
export interface ViewCommand {
  /** Pixels of the view, four bytes each. */
  to: Plane;
  w: number;
  h: number;
  mode: ViewMode;
  ground: Ground;
  compare: CompareMode;
  /** Size of the planes. */
  sw: number;
  sh: number;
  /**
   * A view pixel (x, y) looks at ((x + 0.5) / scale + offX, (y + 0.5) / scale + offY), in pixels of the planes; the
   * wipe's edge lies there too.
   */
  scale: number;
  offX: number;
  offY: number;
  wipeX: number;
  wipeY: number;
  wipeDeg: number;
  out: Rgb;
  before: Rgb;
  matte: Plane | null;
  /** Of the correction: the change view compares out with it. */
  input: Rgb;
  falseColour: FalseColour;
  /** Four floats for each of its cells. */
  table: Plane | null;
  mark: Mark | null;
  skinLineDeg: number;
  /** From the display's signal to the page's; null: as it is. */
  shown: Plane | null;
}
const viewFields = fields(
  ...(['to', 'w', 'h', 'mode', 'compare', 'sw', 'sh', 'scale', 'offX', 'offY', 'matte', 'ground'] as const),
  ...(['wipeX', 'wipeY', 'wipeCos', 'wipeSin'] as const),
  ...(['outR', 'outG', 'outB', 'beforeR', 'beforeG', 'beforeB', 'inR', 'inG', 'inB'] as const),
  ...(['falseColour', 'table', 'code', 'mask', 'lo', 'hi', 'markBefore', 'line', 'shown'] as const),
);
type Packed = ReturnType<typeof viewFields.unpack>;

/** Rows of this thread's scratch: R G B of the result, R G B of another picture, the matte, columns. */
class Rows {
  readonly all: Float32Array[];
  readonly left: Uint32Array;
  readonly right: Uint32Array;
  readonly frac: Float32Array;
  private readonly pitch: number;
  constructor(
    private readonly ctx: TaskContext,
    n: number,
  ) {
    this.pitch = (Math.ceil(n / 4) * 4 + 4) * 4;
    this.all = Array.from({ length: 9 }, (_, i) => new Float32Array(ctx.memory.buffer, this.at(i), n));
    this.left = new Uint32Array(ctx.memory.buffer, this.at(9), n);
    this.right = new Uint32Array(ctx.memory.buffer, this.at(10), n);
    this.frac = new Float32Array(ctx.memory.buffer, this.at(11), n);
  }
  at(i: number): number {
    return this.ctx.scratch + i * this.pitch;
  }
}
const [OUT, OTHER, MATTE] = [0, 3, 6];

/** Which columns of the planes each column of the view looks at, and where the picture begins and ends. */
function layColumns(v: Packed, rows: Rows, point: boolean) {
  const { w, sw, scale, offX } = v;
  const side = v.compare === 2;
  const half = Math.floor(w / 2);
  const inside = new Uint8Array(w);
  const looks = new Float64Array(w);
  // Of a turned edge the columns are another row by row.
  const turned = v.compare === 1 && v.wipeSin !== 0;
  let showBefore = 0;
  // Side by side shows the same part twice.
  for (let x = 0; x < w; x++) {
    const sx = ((side && x >= half ? x - half : x) + 0.5) / scale + offX;
    inside[x] = sx >= 0 && sx < sw && !(side && x === half) ? 1 : 0;
    looks[x] = sx;
    if (v.compare === 1 && (v.wipeCos < 0 ? sx >= v.wipeX : sx < v.wipeX)) showBefore++;
    const at = point ? Math.floor(sx) : sx - 0.5;
    const x0 = Math.floor(at);
    rows.frac[x] = point ? 0 : at - x0;
    rows.left[x] = 4 * Math.min(sw - 1, Math.max(0, x0));
    rows.right[x] = 4 * Math.min(sw - 1, Math.max(0, point ? x0 : x0 + 1));
  }
  if (side) showBefore = half;
  const all = { from: v.compare === 1 && v.wipeCos < 0 ? w - showBefore : 0, count: showBefore };
  /** Columns that show what was before, in the row of the picture that a row of the view looks at. */
  const beforeOf = (sy: number): { from: number; count: number } => {
    if (!turned) return all;
    let [from, count] = [0, 0];
    for (let x = 0; x < w; x++)
      if ((looks[x]! - v.wipeX) * v.wipeCos + (sy - v.wipeY) * v.wipeSin < 0 && count++ === 0) from = x;
    return { from, count };
  };
  return { inside, beforeOf, first: inside.indexOf(1), end: inside.lastIndexOf(1) + 1, side };
}

/** Turns the rows that were sampled into what a mode shows. */
type Paint = (
  R: Float32Array,
  G: Float32Array,
  B: Float32Array,
  other: Float32Array[],
  M: Float32Array,
  y: number,
) => void;
const luma = (r: number, g: number, b: number): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

const change: Paint = (R, G, B, other) => {
  for (let x = 0; x < R.length; x++) {
    const d = Math.max(
      Math.abs(R[x]! - other[0]![x]!),
      Math.abs(G[x]! - other[1]![x]!),
      Math.abs(B[x]! - other[2]![x]!),
    );
    R[x] = G[x] = B[x] = changeGrey(d * 65535);
  }
};
/** Squares of 2^SQUARE pixels of the view. */
const groundAt = (ground: Ground, x: number, y: number): number =>
  ground === 'grey' ? GREY : ground === 'black' ? 0 : CHECKER[((x >> SQUARE) + (y >> SQUARE)) & 1]!;
const cutout =
  (ground: Ground): Paint =>
  (R, G, B, _, M, y) => {
    for (const p of [R, G, B])
      for (let x = 0; x < p.length; x++) {
        const under = groundAt(ground, x, y);
        p[x] = under + M[x]! * (p[x]! - under);
      }
  };
/** The soft edge alone in its colours: what is out is dark, what is full a lighter grey. */
const edge: Paint = (R, G, B, _, M) => {
  for (let x = 0; x < R.length; x++) {
    const m = M[x]!;
    if (m > 0 && m < 1) continue;
    const Y = luma(R[x]!, G[x]!, B[x]!);
    R[x] = G[x] = B[x] = m >= 1 ? 0.3 + 0.25 * Y : 0.03 + 0.12 * Y;
  }
};
/** The surround as a dim blueprint of itself, so that edges stay readable on any region colour. */
const tint: Paint = (R, G, B, _, M) => {
  for (let x = 0; x < R.length; x++) {
    const m = M[x]!;
    const Y = luma(R[x]!, G[x]!, B[x]!);
    R[x] = R[x]! * m + (0.08 + 0.3 * Y) * (1 - m);
    G[x] = G[x]! * m + (0.2 + 0.42 * Y) * (1 - m);
    B[x] = B[x]! * m + (0.36 + 0.5 * Y) * (1 - m);
  }
};
const CLIP = Object.fromEntries(Object.entries(clipColours).map(([k, c]) => [k, c.map((v) => v / 255)])) as Record<
  keyof typeof clipColours,
  number[]
>;
const clipped: Paint = (R, G, B) => {
  for (let x = 0; x < R.length; x++) {
    const [r, g, b] = [R[x]!, G[x]!, B[x]!];
    const low = r <= 0 || g <= 0 || b <= 0;
    const high = r >= 1 || g >= 1 || b >= 1;
    const c = low ? (high ? CLIP.both : CLIP.low) : high ? CLIP.high : null;
    const grey = 0.8 * luma(r, g, b);
    [R, G, B].forEach((p, i) => (p[x] = c ? c[i]! : grey));
  }
};
const falseColour =
  (kind: FalseColour, table: Float32Array, line: number): Paint =>
  (R, G, B) => {
    for (let x = 0; x < R.length; x++) {
      const [r, g, b] = [R[x]!, G[x]!, B[x]!];
      const grey = luma(r, g, b);
      const i = 4 * falseIndex(kind, r, g, b, line);
      const on = i >= 0 && table[i + 3]! > 0;
      R[x] = on ? table[i]! : grey;
      G[x] = on ? table[i + 1]! : grey;
      B[x] = on ? table[i + 2]! : grey;
    }
  };
/** What is marked in a scope stays; the rest is dim. */
const marked =
  (v: Packed, mask: Uint8Array): Paint =>
  (R, G, B, other) => {
    const from = v.markBefore ? other : [R, G, B];
    for (let x = 0; x < R.length; x++) {
      if (selects(v.code, mask, v.lo, v.hi, v.line, from[0]![x]!, from[1]![x]!, from[2]![x]!)) continue;
      R[x] = G[x] = B[x] = 0.04 + 0.2 * luma(R[x]!, G[x]!, B[x]!);
    }
  };
/** How the mode paints, and which second picture it needs for that. */
function paintOf(ctx: TaskContext, v: Packed): { paint: Paint | null; needs: 'input' | 'before' | null } {
  const mode = viewModes[v.mode]!;
  if (mode === 'change') return { paint: change, needs: 'input' };
  if (mode === 'cutout') return { paint: v.matte ? cutout(grounds[v.ground]!) : null, needs: null };
  if (mode === 'edge') return { paint: v.matte ? edge : null, needs: null };
  if (mode === 'tint') return { paint: v.matte ? tint : null, needs: null };
  if (mode === 'matte') return { paint: null, needs: null };
  const kind = falseColours[v.falseColour]!;
  if (kind === 'clipped') return { paint: clipped, needs: null };
  if (kind !== 'off') {
    const table = new Float32Array(ctx.memory.buffer, v.table, 4 * FALSE_CELLS);
    return { paint: falseColour(kind, table, v.line), needs: null };
  }
  if (!v.code) return { paint: null, needs: null };
  const mask = v.mask ? new Uint8Array(ctx.memory.buffer, v.mask, MASK_CELLS * MASK_CELLS) : NO_MASK;
  return { paint: marked(v, mask), needs: v.markBefore ? 'before' : null };
}

export const view = task<ViewCommand>({
  rows: (c) => c.h,
  width: (c) => c.w,
  pack: ({ out, before, input, mark, wipeDeg, ...c }) =>
    viewFields.pack({
      wipeCos: Math.cos((wipeDeg * Math.PI) / 180),
      // Of half a turn exactly none: then every row is alike.
      wipeSin: wipeDeg % 180 === 0 ? 0 : Math.sin((wipeDeg * Math.PI) / 180),
      ...c,
      mode: viewModes.indexOf(c.mode),
      compare: compareModes.indexOf(c.compare),
      ground: grounds.indexOf(c.ground),
      falseColour: falseColours.indexOf(c.falseColour),
      matte: c.matte ?? 0,
      outR: out.r,
      outG: out.g,
      outB: out.b,
      beforeR: before.r,
      beforeG: before.g,
      beforeB: before.b,
      inR: input.r,
      inG: input.g,
      inB: input.b,
      table: c.table ?? 0,
      code: mark?.code ?? 0,
      mask: mark?.mask ?? 0,
      lo: mark?.lo ?? 0,
      hi: mark?.hi ?? 0,
      markBefore: mark?.before ? 1 : 0,
      line: c.skinLineDeg,
      shown: c.shown ?? 0,
    }),
  band(ctx, y0, y1, args) {
    const v = viewFields.unpack(args);
    const { w, sw, sh, scale, matte } = v;
    const mode = viewModes[v.mode]!;
    const rows = new Rows(ctx, w);
    const [R, G, B] = rows.all.slice(OUT, OUT + 3) as [Float32Array, Float32Array, Float32Array];
    const other = rows.all.slice(OTHER, OTHER + 3);
    const M = rows.all[MATTE]!;
    // Planes made for this view (a draft's) are shown pixel for pixel; so are enlarged ones and the map of change.
    const straight = Math.abs(scale - 1) < 0.003;
    const point = scale >= 2 || mode === 'change' || mode === 'edge' || straight;
    const { inside, beforeOf, first, end, side } = layColumns(v, rows, point);
    // With a straight view a row is one piece of the source's: from column `first` on, up to `end`.
    const piece = straight && !side && first >= 0 && rows.left[end - 1]! - rows.left[first]! === 4 * (end - 1 - first);
    const { paint, needs } = paintOf(ctx, v);
    const kind = falseColours[v.falseColour]!;
    // Only what is a picture is shown in another light; mattes and maps are numbers.
    const shown =
      v.shown && (mode === 'cutout' || mode === 'tint' || mode === 'edge' || (mode === 'picture' && kind === 'off'))
        ? new Float32Array(ctx.memory.buffer, v.shown, SHOWN_CELLS + 1)
        : null;
    const outside = first !== 0 || end < w || side;
    const { sampleRow, packRow, move } = ctx.kernels as Record<
      'sampleRow' | 'packRow' | 'move',
      (...x: number[]) => void
    >;

    for (let y = y0; y < y1; y++) {
      const to = v.to + y * w * 4;
      const sy = (y + 0.5) / scale + v.offY;
      if (sy < 0 || sy >= sh) {
        for (const p of [R, G, B]) p.fill(STAGE);
        packRow(rows.at(0), rows.at(1), rows.at(2), w, to);
        continue;
      }
      const at = point ? Math.floor(sy) : sy - 0.5;
      const top = Math.floor(at);
      const ya = Math.min(sh - 1, Math.max(0, top)) * sw * 4;
      const yb = Math.min(sh - 1, Math.max(0, point ? top : top + 1)) * sw * 4;
      const fy = point ? 0 : at - top;
      const sample = (plane: number, row: number): void =>
        piece
          ? move(rows.at(row) + 4 * first, plane + ya + rows.left[first]!, 4 * (end - first))
          : sampleRow(plane + ya, plane + yb, fy, rows.at(9), rows.at(10), rows.at(11), w, rows.at(row));
      const sample3 = (planes: readonly number[], row: number): void => planes.forEach((p, c) => sample(p, row + c));
      const before = beforeOf(sy);
      if (before.count < w) {
        if (matte && mode !== 'picture') sample(matte, MATTE);
        if (mode === 'matte') for (const p of [R, G, B]) p.set(matte ? M : M.fill(1));
        else sample3([v.outR, v.outG, v.outB], OUT);
        if (needs === 'input') sample3([v.inR, v.inG, v.inB], OTHER);
        else if (needs === 'before') sample3([v.beforeR, v.beforeG, v.beforeB], OTHER);
        paint?.(R, G, B, other, M, y);
      }
      if (before.count > 0) {
        sample3([v.beforeR, v.beforeG, v.beforeB], OTHER);
        const { from, count } = before;
        [R, G, B].forEach((p, c) => p.set(other[c]!.subarray(from, from + count), from));
      }
      if (shown)
        for (const p of [R, G, B])
          for (let x = 0; x < w; x++) {
            const s = Math.min(1, Math.max(0, p[x]!)) * SHOWN_CELLS;
            const i = Math.min(SHOWN_CELLS - 1, Math.floor(s) || 0);
            p[x] = shown[i]! + (s - i) * (shown[i + 1]! - shown[i]!);
          }
      if (outside) for (let x = 0; x < w; x++) if (!inside[x]) R[x] = G[x] = B[x] = STAGE;
      packRow(rows.at(0), rows.at(1), rows.at(2), w, to);
    }
  },
});
