/**
 * Planes to the pixels of the view: sampling, view modes, wipe and side by side. Row by row, each plane sampled by a
 * kernel.
 */
import { selects, MASK_CELLS } from '../core/scopes/select';
import { clipColours, falseColours, falseIndex, FALSE_CELLS } from '../core/view/falseColour';
import type { Task } from './tasks';

export const viewModes = ['picture', 'cutout', 'matte', 'tint', 'change'] as const;
export type ViewMode = (typeof viewModes)[number];
export const compareModes = ['off', 'wipe', 'side'] as const;
export type CompareMode = (typeof compareModes)[number];

const NO_MASK = new Uint8Array(0);
/** Surround of a cut-out: neutral, about 18 % grey; and of the picture on the stage. */
const GREY = 0.435;
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
/** Rows of scratch that a view needs, each of the view's width: nine sampled, three column tables. */
export const VIEW_ROWS = 13;

/**
 * [viewW, viewH, rgba, mode, compare, wipeAt, srcW, srcH, scale, offX, offY, nearest,
 *  outR, outG, outB, beforeR, beforeG, beforeB, matte or 0, inputR, inputG, inputB,
 *  falseColour, table, selectCode, mask, lo, hi, selectBefore, skinLineDeg, shown or 0]
 * A view pixel (x, y) looks at source position ((x + 0.5) / scale + offX, (y + 0.5) / scale + offY), in pixels of the
 * planes. Change
 * compares out with the input of the correction.
 */
export const viewBand: Task = (ctx, y0, y1, args) => {
  const a = args as unknown as number[];
  const [vw, , rgba, mode, compare, wipeAt, sw, sh, scale, offX, offY, nearest] = a as unknown as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const [out, before, matte, input] = [
    [a[12]!, a[13]!, a[14]!],
    [a[15]!, a[16]!, a[17]!],
    a[18]!,
    [a[19]!, a[20]!, a[21]!],
  ] as const;
  const pitch = (Math.ceil(vw / 4) * 4 + 4) * 4;
  const row = (i: number): number => ctx.scratch + i * pitch;
  const f32 = (i: number): Float32Array => new Float32Array(ctx.memory.buffer, row(i), vw);
  const rows = Array.from({ length: 9 }, (_, i) => f32(i));
  const [R, G, B, M] = [rows[0]!, rows[1]!, rows[2]!, rows[6]!];
  const left = new Uint32Array(ctx.memory.buffer, row(9), vw);
  const right = new Uint32Array(ctx.memory.buffer, row(10), vw);
  const frac = f32(11);
  const side = compare === 2;
  const half = Math.floor(vw / 2);
  // Planes made for this view (a draft's) are shown pixel for pixel; so are enlarged ones and the map of change.
  const straight = Math.abs(scale - 1) < 0.003;
  const point = nearest || mode === 4 || straight;
  const { sampleRow, packRow, move } = ctx.kernels as Record<
    'sampleRow' | 'packRow' | 'move',
    (...x: number[]) => void
  >;

  // Columns once a band: which two source columns, and where the picture begins and ends. Side by side shows the same
  // part twice.
  const inside = new Uint8Array(vw);
  let showBefore = 0;
  for (let x = 0; x < vw; x++) {
    const sx = ((side && x >= half ? x - half : x) + 0.5) / scale + offX;
    inside[x] = sx >= 0 && sx < sw && !(side && x === half) ? 1 : 0;
    if (compare === 1 && sx < wipeAt) showBefore = x + 1;
    const at = point ? Math.floor(sx) : sx - 0.5;
    const x0 = Math.floor(at);
    frac[x] = point ? 0 : at - x0;
    left[x] = 4 * Math.min(sw - 1, Math.max(0, x0));
    right[x] = 4 * Math.min(sw - 1, Math.max(0, point ? x0 : x0 + 1));
  }
  if (side) showBefore = half;
  // With a straight view a row is one piece of the source's: from column `first` on, between the view's columns c0
  // and c1.
  const c0 = inside.indexOf(1);
  const c1 = inside.lastIndexOf(1) + 1;
  const piece = straight && !side && c0 >= 0 && left[c1 - 1]! - left[c0]! === 4 * (c1 - 1 - c0);
  const wantAfter = showBefore < vw;
  const kind = falseColours[a[22]!]!;
  const table =
    kind === 'off' || kind === 'clipped' ? null : new Float32Array(ctx.memory.buffer, a[23]!, 4 * FALSE_CELLS);
  const code = a[24]!;
  const mask = code === 1 || code === 2 ? new Uint8Array(ctx.memory.buffer, a[25]!, MASK_CELLS * MASK_CELLS) : NO_MASK;
  const [lo, hi, selectBefore, line] = [a[26]!, a[27]!, a[28]!, a[29]!];
  // Only what is a picture is shown in another light; mattes and maps are numbers.
  const shown =
    a[30] && (mode === 1 || mode === 3 || (mode === 0 && kind === 'off'))
      ? new Float32Array(ctx.memory.buffer, a[30], SHOWN_CELLS + 1)
      : null;
  const clip = Object.fromEntries(Object.entries(clipColours).map(([k, c]) => [k, c.map((v) => v / 255)])) as Record<
    keyof typeof clipColours,
    number[]
  >;

  for (let y = y0; y < y1; y++) {
    const sy = (y + 0.5) / scale + offY;
    if (sy < 0 || sy >= sh) {
      for (const p of [R, G, B]) p.fill(STAGE);
      packRow(row(0), row(1), row(2), vw, rgba + y * vw * 4);
      continue;
    }
    const at = point ? Math.floor(sy) : sy - 0.5;
    const top = Math.floor(at);
    const ya = Math.min(sh - 1, Math.max(0, top)) * sw * 4;
    const yb = Math.min(sh - 1, Math.max(0, point ? top : top + 1)) * sw * 4;
    const fy = point ? 0 : at - top;
    const sample = (plane: number, to: number): void =>
      piece
        ? move(row(to) + 4 * c0, plane + ya + left[c0]!, 4 * (c1 - c0))
        : sampleRow(plane + ya, plane + yb, fy, row(9), row(10), row(11), vw, row(to));
    if (matte && wantAfter && mode > 0) sample(matte, 6);
    if (mode === 2) {
      for (const p of [R, G, B]) {
        if (matte) p.set(M);
        else p.fill(1);
      }
    } else if (wantAfter) out.forEach((p, c) => sample(p, c));
    if (mode === 4 && wantAfter) {
      input.forEach((p, c) => sample(p, 3 + c));
      for (let x = 0; x < vw; x++) {
        const d = Math.max(
          Math.abs(R[x]! - rows[3]![x]!),
          Math.abs(G[x]! - rows[4]![x]!),
          Math.abs(B[x]! - rows[5]![x]!),
        );
        R[x] = G[x] = B[x] = changeGrey(d * 65535);
      }
    } else if (mode === 0 && kind !== 'off' && wantAfter)
      for (let x = 0; x < vw; x++) {
        const [r, g, b] = [R[x]!, G[x]!, B[x]!];
        const grey = 0.2126 * r + 0.7152 * g + 0.0722 * b;
        if (kind === 'clipped') {
          const low = r <= 0 || g <= 0 || b <= 0;
          const high = r >= 1 || g >= 1 || b >= 1;
          const c = low ? (high ? clip.both : clip.low) : high ? clip.high : null;
          R[x] = c ? c[0]! : 0.8 * grey;
          G[x] = c ? c[1]! : 0.8 * grey;
          B[x] = c ? c[2]! : 0.8 * grey;
          continue;
        }
        const i = 4 * falseIndex(kind, r, g, b, line);
        const on = i >= 0 && table![i + 3]! > 0;
        R[x] = on ? table![i]! : grey;
        G[x] = on ? table![i + 1]! : grey;
        B[x] = on ? table![i + 2]! : grey;
      }
    else if (mode === 0 && code && wantAfter) {
      const from = selectBefore ? [rows[3]!, rows[4]!, rows[5]!] : [R, G, B];
      if (selectBefore) before.forEach((p, c) => sample(p, 3 + c));
      for (let x = 0; x < vw; x++) {
        if (selects(code, mask, lo, hi, line, from[0]![x]!, from[1]![x]!, from[2]![x]!)) continue;
        R[x] = G[x] = B[x] = 0.04 + 0.2 * (0.2126 * R[x]! + 0.7152 * G[x]! + 0.0722 * B[x]!);
      }
    } else if (mode === 1 && matte)
      for (let x = 0; x < vw; x++) {
        const m = M[x]!;
        R[x] = GREY + m * (R[x]! - GREY);
        G[x] = GREY + m * (G[x]! - GREY);
        B[x] = GREY + m * (B[x]! - GREY);
      }
    else if (mode === 3 && matte)
      for (let x = 0; x < vw; x++) {
        // Tint: the surround as a dim blueprint of itself, so that edges stay readable on any region colour.
        const m = M[x]!;
        const Y = 0.2126 * R[x]! + 0.7152 * G[x]! + 0.0722 * B[x]!;
        R[x] = R[x]! * m + (0.08 + 0.3 * Y) * (1 - m);
        G[x] = G[x]! * m + (0.2 + 0.42 * Y) * (1 - m);
        B[x] = B[x]! * m + (0.36 + 0.5 * Y) * (1 - m);
      }
    if (showBefore > 0) {
      before.forEach((p, c) => sample(p, 3 + c));
      [R, G, B].forEach((p, c) => p.set(rows[3 + c]!.subarray(0, showBefore)));
    }
    if (shown)
      for (const p of [R, G, B])
        for (let x = 0; x < vw; x++) {
          const v = Math.min(1, Math.max(0, p[x]!)) * SHOWN_CELLS;
          const i = Math.min(SHOWN_CELLS - 1, Math.floor(v) || 0);
          p[x] = shown[i]! + (v - i) * (shown[i + 1]! - shown[i]!);
        }
    if (c0 !== 0 || c1 < vw || side) for (let x = 0; x < vw; x++) if (!inside[x]) R[x] = G[x] = B[x] = STAGE;
    packRow(row(0), row(1), row(2), vw, rgba + y * vw * 4);
  }
};
