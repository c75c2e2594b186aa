/** A 24-patch chart or a grey strip in a picture: where its patches lie, what they should be. */
import type { Corner } from '../math/polygon';
import { CHART_COLUMNS, CHART_ROWS, chart24 } from '../color/chart';

export interface ChartPlace {
  /** `chart24`: six columns of four; `strip`: greys beside each other. */
  kind: 'chart24' | 'strip';
  /** Outer corners of the field of patches: left top, right top, right bottom, left bottom, in picture pixels. */
  corners: readonly [Corner, Corner, Corner, Corner];
  /** Greys of a strip, and which of them is the 18 % card (from 0); null: only their balance is known. */
  steps: number;
  greyStep: number | null;
}
export interface ChartCell {
  name: string;
  /** The middle of the patch: half its width and height. */
  polygon: Corner[];
  /** Its middle in the chart, 0..1. */
  at: Corner;
  /** Linear BT.709 of the reference; null where only "neutral" is known. */
  linear: readonly [number, number, number] | null;
}

/**
 * (u, v) of the unit square -> the quad: P. Heckbert, "Fundamentals of Texture Mapping and Image Warping", 1989,
 * section 2.2.3.
 */
export function quadMap(q: readonly [Corner, Corner, Corner, Corner]): (u: number, v: number) => Corner {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = q;
  const [dx1, dx2, dx3] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, dy3] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (dx3 * dy2 - dx2 * dy3) / det;
  const h = (dx1 * dy3 - dx3 * dy1) / det;
  const [a, b] = [x1 - x0 + g * x1, x3 - x0 + h * x3];
  const [d, e] = [y1 - y0 + g * y1, y3 - y0 + h * y3];
  return (u, v) => {
    const w = g * u + h * v + 1;
    return [(a * u + b * v + x0) / w, (d * u + e * v + y0) / w];
  };
}
/** Corners that make a convex quad in the order they should have; else what is wrong. */
export function quadFault(q: readonly Corner[]): string | null {
  if (q.length !== 4) return 'a chart has four corners';
  for (let i = 0; i < 4; i++) {
    const [a, b, c] = [q[i]!, q[(i + 1) % 4]!, q[(i + 2) % 4]!];
    if (!((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]) > 1))
      return 'its corners cross or lie on a line: pull them apart, beginning with the left top patch';
  }
  return null;
}
export function chartCells(p: ChartPlace): ChartCell[] {
  const map = quadMap(p.corners);
  const [cols, rows] = p.kind === 'chart24' ? [CHART_COLUMNS, CHART_ROWS] : [p.steps, 1];
  return Array.from({ length: cols * rows }, (_, i) => {
    const [x, y] = [i % cols, Math.floor(i / cols)];
    const at = (dx: number, dy: number): Corner => map((x + dx) / cols, (y + dy) / rows);
    const grey = p.greyStep === i ? 0.18 : null;
    return {
      name: p.kind === 'chart24' ? chart24[i]!.name : `grey ${i + 1}`,
      at: [(x + 0.5) / cols, (y + 0.5) / rows],
      polygon: [at(0.25, 0.25), at(0.75, 0.25), at(0.75, 0.75), at(0.25, 0.75)],
      linear: p.kind === 'chart24' ? chart24[i]!.linear : grey === null ? null : [grey, grey, grey],
    };
  });
}
