import { expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { defaultsOf } from '../../op/params';
import { plainContext } from '../../op/contract';
import type { ShapeOp } from '../../op/contract';
import type { ParamSpecs, Values } from '../../op/params';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 2e-3, twinReason: 'float32 offsets of up to 4096 px over a one-pixel edge' });

it('drawn from border to border, it is one half where the hand began and ended', () => {
  const shape = op as ShapeOp;
  for (const [a, b] of [
    [
      [10.5, 20.5],
      [40.5, 60.5],
    ],
    [
      [40.5, 20.5],
      [10.5, 30.5],
    ],
    [
      [25.5, 50.5],
      [25.5, 10.5],
    ],
  ] as [[number, number], [number, number]][]) {
    const block = shape.prepare(
      { ...defaultsOf(shape.params), ...shape.fromLine!(a, b) } as Values<ParamSpecs>,
      plainContext,
    );
    for (const [x, y] of [a, b]) {
      const m = new Float32Array(1);
      shape.kernel(block, { m, n: 1, x0: Math.floor(x), y: Math.floor(y) });
      expect(Math.abs(m[0]! - 0.5)).toBeLessThan(0.02);
    }
  }
});
