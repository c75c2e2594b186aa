/** Soft edges of shapes: one half on the outline, a Hermite fall over a width of its own on either side. */
import { num } from './params';

/** An edge is drawn at least so wide on either side, so that it has no steps. */
const LEAST = 0.5;
/** 1 / twice the width of one side, as `edgeAt` wants it. */
export const invSoft = (softPx: number): number => 1 / (2 * Math.max(LEAST, softPx));

/** Matte at a signed distance from the outline, negative inside. */
export function edgeAt(d: number, invIn: number, invOut: number): number {
  const t = 0.5 - d * (d < 0 ? invIn : invOut);
  return t >= 1 ? 1 : t > 0 ? t * t * (3 - 2 * t) : 0;
}

const soft = (side: 'inside' | 'outside', usual: number) =>
  num({
    default: usual,
    min: 0,
    max: 10000,
    ui: [0, 200],
    step: 0.5,
    unit: 'px',
    label: side === 'inside' ? 'Soft inside' : 'Soft outside',
    doc: `How far the soft edge reaches ${side} the outline; it may lie beyond the picture.`,
  });
/** The two widths that every shape with an outline has. */
export const softness = (usual: number) => ({
  softInPx: soft('inside', usual),
  softOutPx: soft('outside', usual),
});
/** A place in the picture along one side. */
export const place = (axis: 'x' | 'y', label: string, doc: string, usual = 0) =>
  num({ default: usual, min: -100000, max: 100000, ui: [0, 4096], step: 1, unit: 'px', axis, label, doc });
/** Half a size along one of the axes of a shape. */
export const half = (label: string, doc: string) =>
  num({ default: 100, min: 0.5, max: 100000, ui: [1, 2048], step: 1, unit: 'px', label, doc });
export const turn = num({
  default: 0,
  min: -360,
  max: 360,
  ui: [-180, 180],
  step: 1,
  unit: 'deg',
  label: 'Turn',
  doc: 'Turn, counter-clockwise as seen.',
});
