/** A shape that follows: where it stands at a frame, and what it is as it was drawn. */
import type { ParamSpecs, Value, Values } from '../op/params';
import { invertMap } from '../track/fit';
import { isPlaces, moveShape, stepAt } from './track';
import type { Track } from './track';

/** Places of a shape with what its points go by themselves, or without it; only where each point has its own way. */
function withOwn<S extends ParamSpecs>(
  specs: S,
  values: Values<S>,
  own: readonly number[] | undefined,
  sign: 1 | -1,
): Values<S> {
  if (!own) return values;
  const out: Record<string, Value> = { ...values };
  for (const [name, s] of Object.entries(specs)) {
    const l = values[name] as readonly number[];
    if (isPlaces(s) && l.length === own.length) out[name] = l.map((v, i) => v + sign * own[i]!);
  }
  return out as Values<S>;
}
/** A shape's values where it stands at a frame. */
export function shapeAt<S extends ParamSpecs>(specs: S, values: Values<S>, t: Track, frame: number): Values<S> {
  const step = stepAt(t, frame);
  return step ? moveShape(specs, withOwn(specs, values, step.own, 1), step.h) : values;
}
/** As it was drawn, from where it stands at a frame. */
export function drawnFrom<S extends ParamSpecs>(specs: S, values: Values<S>, t: Track, frame: number): Values<S> {
  const step = stepAt(t, frame);
  return step ? withOwn(specs, moveShape(specs, values, invertMap(step.h)), step.own, -1) : values;
}
