import { expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { defaultsOf } from '../../op/params';
import { plainContext } from '../../op/contract';
import type { ShapeOp } from '../../op/contract';
import ellipse from '../ellipse/index';
import box from './index';
import { vectors } from './vectors';

opContract(box, vectors, { twinTolerance: 2e-3, twinReason: 'float32 offsets of up to 4096 px over a one-pixel edge' });

it('fully round, it is the ellipse within a hundredth near its outline', () => {
  const p = { cxPx: 50, cyPx: 40, rxPx: 30, ryPx: 18, angleDeg: 20, softInPx: 3, softOutPx: 3 };
  const rows = [box, ellipse].map((o) => {
    const op = o as ShapeOp;
    const block = op.prepare(
      { ...defaultsOf(op.params), ...p, ...(op.id === 'box' ? { roundPct: 100 } : {}) },
      plainContext,
    );
    return Array.from({ length: 80 }, (_, y) => {
      const m = new Float32Array(100);
      op.kernel(block, { m, n: 100, x0: 0, y });
      return [...m];
    }).flat();
  });
  expect(rows[0]!.filter((v) => v > 0 && v < 1).length).toBeGreaterThan(300);
  rows[0]!.forEach((v, i) => expect(Math.abs(v - rows[1]![i]!)).toBeLessThan(0.01));
});
