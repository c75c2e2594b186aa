/** Records of today in the form of version 2, for tests of migrations; only what that version could say. */
import { isOp } from '../src/core/graph/region';
import type { AnyRecord } from '../src/document/records';

export function asVersion2(r: AnyRecord): Record<string, unknown> {
  if (r.type === 'media') {
    const { pixelAspect: _, ...rest } = r;
    return rest;
  }
  if (r.type === 'shot') {
    const { rate, timecode: _t, scene: _s, ...rest } = r;
    return { ...rest, fps: rate[0] / rate[1] };
  }
  if (r.type !== 'correction') return { ...r };
  const { owner, start: _b, terms, ...rest } = r;
  return {
    ...rest,
    shot: owner,
    terms: terms.map((t) => {
      if (!isOp(t)) throw new Error('Version 2 knows no brackets and no links');
      const { id: _i, ...old } = t;
      return old;
    }),
  };
}
