/** The tools on the picture by their names; a shape that is an operation has one by itself. */
import { ops } from '../../../core/ops/registry.gen';
import type { ShapeOp } from '../../../core/op/contract';
import { bandDrag } from './bandDrag';
import { chart } from './chart';
import { curvePoint } from './curvePoint';
import { hueBend } from './hueBend';
import { key } from './key';
import { patch, patchFree } from './patch';
import { pullColour } from './pullColour';
import { recolourPick } from './recolour';
import { shapeTool } from './shape';
import { skinPress } from './skinPress';
import { keepStroke, leaveStroke } from './strokes';
import type { Tool } from './tool';

export type { Hand, Point, Tool } from './tool';

/** The usual ones first, others behind them. */
const USUAL = ['ellipse', 'box', 'freeform', 'ramp', 'band'];
const rank = (o: ShapeOp): number => (USUAL.includes(o.id) ? USUAL.indexOf(o.id) : USUAL.length);
/** Shapes in the order in which they are offered. */
export const shapes = ops.filter((o): o is ShapeOp => o.kind === 'shape').sort((a, b) => rank(a) - rank(b));
const tools: Readonly<Record<string, Tool>> = {
  key,
  skinPress,
  keepStroke,
  leaveStroke,
  patch,
  patchFree,
  chart,
  curvePoint,
  hueBend,
  bandDrag,
  pullColour,
  recolourPick,
  ...Object.fromEntries(shapes.map((o) => [`shape:${o.id}`, shapeTool(o)])),
};
export const toolOf = (name: string): Tool | null => tools[name] ?? null;
