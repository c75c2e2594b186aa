/** Drawing and handles of shapes on the picture: the file `<id>.tsx` here is a shape's, where it has any. */
import type { ComponentType } from 'react';
import type { OpTerm } from '../../../core/graph/plan';
import type { CorrectionRecord } from '../../../document/records';
import type { Placing } from '../geometry';

export interface ShapeHandlesProps {
  corr: CorrectionRecord;
  term: OpTerm;
  /** Of the frame that the correction's lengths are in. */
  place: Placing;
  chosen: boolean;
}
const files = import.meta.glob<{ default: ComponentType<ShapeHandlesProps> }>('./*.tsx', { eager: true });
const byId = new Map(Object.entries(files).map(([path, m]) => [/([^/]+)\.tsx$/.exec(path)![1]!, m.default]));
/** Null for a shape without handles: it is set by its sliders alone. */
export const handlesOf = (op: string): ComponentType<ShapeHandlesProps> | null => byId.get(op) ?? null;
