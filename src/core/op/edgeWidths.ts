/** Before version 2 a shape told the whole width of its edge, half of it inside. */
import { mapNumber } from './params';
import type { StoredValues } from './params';

export function halvesOfSoftness({ softPx, ...rest }: StoredValues): StoredValues {
  if (softPx === undefined) return rest;
  const half = mapNumber(softPx, (x) => x / 2);
  return { ...rest, softInPx: half, softOutPx: half };
}
