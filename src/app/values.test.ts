import { describe, expect, it } from 'vitest';
import { newUse } from '../core/graph/plan.defaults';
import { opById } from '../core/graph/plan';
import { listOf } from './values';

describe('a list of an operation at a frame', () => {
  const keys = {
    keys: [
      { frame: 0, value: [0, 0, 180, 10], ease: 'linear' as const },
      { frame: 10, value: [0, 0, 180, 30], ease: 'linear' as const },
    ],
  };
  it('is the keyframed one as it stands there, or the default', () => {
    const moving = newUse('h', 'byHue', { turn: keys });
    expect(listOf(moving, 'turn', 5)).toEqual([0, 0, 180, 20]);
    expect(listOf(moving, 'turn', 99)).toEqual([0, 0, 180, 30]);
    expect(listOf(moving, 'sat', 5)).toEqual(opById('byHue').params['sat']!.default);
    expect(listOf(newUse('h', 'byHue', { turn: [7, 3] }), 'turn', 5)).toEqual([7, 3]);
  });
});
