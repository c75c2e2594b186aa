import { expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { migrateParams } from '../../op/contract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 2e-3, twinReason: 'float32 offsets of up to 4096 px over a one-pixel edge' });

it('takes the whole width of version 1 as two halves, keyframes included', () => {
  expect(migrateParams(op, 1, { cxPx: 5, softPx: 9 })).toEqual({ cxPx: 5, softInPx: 4.5, softOutPx: 4.5 });
  const keys = (value: number) => ({ keys: [{ frame: 3, value, ease: 'hold' as const }] });
  expect(migrateParams(op, 1, { softPx: keys(8) })).toEqual({ softInPx: keys(4), softOutPx: keys(4) });
  expect(migrateParams(op, 1, {})).toEqual({});
});
