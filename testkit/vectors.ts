/** Rows of input -> expected, each with its source. Parameters left out take their default. */
import type { OpContext } from '../src/core/op/contract';
import type { ParamSpecs, Values } from '../src/core/op/params';

interface Vector<S extends ParamSpecs> {
  params: Partial<Values<S>>;
  tol: number;
  /** Where the operation stands; an sRGB picture without tables otherwise. */
  context?: OpContext;
  source: string;
}
export interface PixelVector<S extends ParamSpecs> extends Vector<S> {
  in: [number, number, number];
  out: [number, number, number];
}
export interface KeyVector<S extends ParamSpecs> extends Vector<S> {
  in: [number, number, number];
  out: number;
}
export interface ShapeVector<S extends ParamSpecs> extends Vector<S> {
  /** Pixel column and row. */
  at: [number, number];
  out: number;
}
export interface MatteVector<S extends ParamSpecs> extends Vector<S> {
  in: number;
  out: number;
}
export type AnyVector =
  PixelVector<ParamSpecs> | KeyVector<ParamSpecs> | ShapeVector<ParamSpecs> | MatteVector<ParamSpecs>;
