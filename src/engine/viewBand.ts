/** Planes to the pixels of the view: sampling, view modes, wipe and side by side. */
import type { Task } from './tasks';

export const viewModes = ['picture', 'cutout', 'matte', 'tint', 'change'] as const;
export type ViewMode = (typeof viewModes)[number];
export const compareModes = ['off', 'wipe', 'side'] as const;
export type CompareMode = (typeof compareModes)[number];

/** Surround of the picture and of a cut-out: neutral, 18 % grey in sRGB is 46 %. */
const GREY = 0.435;
const CLEAR = 0x6e;

/**
 * Change as a grey: nothing is black; one 16-bit code value is 12 %, each doubling adds 5.5 %, full scale white.
 * `codes` may be a fraction.
 */
export function changeGrey(codes: number): number {
  return codes < 0.5 ? 0 : Math.min(1, 0.12 + 0.055 * Math.log2(Math.max(codes, 1)));
}

/**
 * [viewW, viewH, rgba, mode, compare, wipeAt, srcW, srcH, scale, offX, offY, nearest,
 *  outR, outG, outB, beforeR, beforeG, beforeB, matte or 0, linesR, linesG, linesB]
 * A view pixel (x, y) looks at source position ((x + 0.5) / scale + offX, (y + 0.5) / scale + offY), in pixels of the planes. Change
 * compares out with the input of the correction (lines*).
 */
export const viewBand: Task = (ctx, y0, y1, a) => {
  const [vw, , rgba, mode, compare, wipeAt, sw, sh, scale, offX, offY, nearest] = a as unknown as number[];
  const n = sw! * sh!;
  const f = (i: number): Float32Array => new Float32Array(ctx.memory.buffer, a[i]!, n);
  const out = [f(12), f(13), f(14)] as const;
  const before = [f(15), f(16), f(17)] as const;
  const matte = a[18] ? f(18) : null;
  const input = [f(19), f(20), f(21)] as const;
  const px = new Uint8ClampedArray(ctx.memory.buffer, rgba!, vw! * a[1]! * 4);
  const side = compare === 2;
  const half = Math.floor(vw! / 2);
  const bilinear = !nearest;
  let i00 = 0;
  let i10 = 0;
  let i01 = 0;
  let i11 = 0;
  let fx = 0;
  let fy = 0;
  const at = (p: Float32Array): number =>
    bilinear ? (p[i00]! * (1 - fx) + p[i10]! * fx) * (1 - fy) + (p[i01]! * (1 - fx) + p[i11]! * fx) * fy : p[i00]!;
  for (let y = y0; y < y1; y++) {
    const sy = (y + 0.5) / scale! + offY!;
    let o = y * vw! * 4;
    for (let x = 0; x < vw!; x++, o += 4) {
      // Side by side shows the same part twice, each half the view.
      const xx = side && x >= half ? x - half : x;
      const sx = (xx + 0.5) / scale! + offX!;
      px[o + 3] = 255;
      if (sx < 0 || sy < 0 || sx >= sw! || sy >= sh! || (side && x === half)) {
        px[o] = px[o + 1] = px[o + 2] = CLEAR;
        continue;
      }
      if (bilinear) {
        const bx = sx - 0.5;
        const by = sy - 0.5;
        let x0 = Math.floor(bx);
        let yy0 = Math.floor(by);
        fx = bx - x0;
        fy = by - yy0;
        let x1 = x0 + 1;
        let yy1 = yy0 + 1;
        if (x0 < 0) x0 = 0;
        if (yy0 < 0) yy0 = 0;
        if (x1 >= sw!) x1 = sw! - 1;
        if (yy1 >= sh!) yy1 = sh! - 1;
        i00 = yy0 * sw! + x0;
        i10 = yy0 * sw! + x1;
        i01 = yy1 * sw! + x0;
        i11 = yy1 * sw! + x1;
      } else i00 = Math.floor(sy) * sw! + Math.floor(sx);
      const showBefore = (side && x < half) || (compare === 1 && sx < wipeAt!);
      if (showBefore) {
        px[o] = at(before[0]) * 255;
        px[o + 1] = at(before[1]) * 255;
        px[o + 2] = at(before[2]) * 255;
        continue;
      }
      if (mode === 2) {
        px[o] = px[o + 1] = px[o + 2] = (matte ? at(matte) : 1) * 255;
        continue;
      }
      if (mode === 4) {
        // Nearest only: between pixels there is no change to speak of.
        const j = Math.min(sh! - 1, Math.floor(sy)) * sw! + Math.min(sw! - 1, Math.floor(sx));
        const d = Math.max(Math.abs(out[0][j]! - input[0][j]!), Math.abs(out[1][j]! - input[1][j]!), Math.abs(out[2][j]! - input[2][j]!));
        px[o] = px[o + 1] = px[o + 2] = changeGrey(d * 65535) * 255;
        continue;
      }
      const R = at(out[0]);
      const G = at(out[1]);
      const B = at(out[2]);
      if (mode === 0 || !matte) {
        px[o] = R * 255;
        px[o + 1] = G * 255;
        px[o + 2] = B * 255;
        continue;
      }
      const m = at(matte);
      if (mode === 1) {
        px[o] = (R * m + GREY * (1 - m)) * 255;
        px[o + 1] = (G * m + GREY * (1 - m)) * 255;
        px[o + 2] = (B * m + GREY * (1 - m)) * 255;
      } else {
        // Tint: the surround as a dim blueprint of itself, so that edges stay readable on any region colour.
        const Y = 0.2126 * R + 0.7152 * G + 0.0722 * B;
        px[o] = (R * m + (0.08 + 0.3 * Y) * (1 - m)) * 255;
        px[o + 1] = (G * m + (0.2 + 0.42 * Y) * (1 - m)) * 255;
        px[o + 2] = (B * m + (0.36 + 0.5 * Y) * (1 - m)) * 255;
      }
    }
  }
};
