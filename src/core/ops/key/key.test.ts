import { plainContext } from '../../op/contract';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { naiveKey } from '../../../../testkit/naive';
import { defaultsOf } from '../../op/params';
import { rng } from '../../math/rng';
import type { KeyOp } from '../../op/contract';
import op from './index';
import { params } from './params';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 2e-3, twinReason: 'a softness near 0 turns a float32 rounding of the hue (2e-5 degrees) into a step of the matte' });

describe('key against a float64 twin', () => {
  it('agrees within 1e-5 over -0.2..1.2 with usual softness', () => {
    const p = { ...defaultsOf(params), hueCentreDeg: 350, hueWidthDeg: 40, hueSoftDeg: 12 };
    const block = op.prepare(p as never, plainContext);
    const random = rng(9);
    const n = 4000;
    const [r, g, b] = [0, 1, 2].map(() => Float32Array.from({ length: n }, () => random() * 1.4 - 0.2)) as [Float32Array, Float32Array, Float32Array];
    const m = new Float32Array(n);
    (op as KeyOp).kernel(block, { r, g, b, m, n });
    let partial = 0;
    for (let i = 0; i < n; i++) {
      const want = naiveKey([r[i]!, g[i]!, b[i]!], {
        hue: { centre: 350, width: 40, soft: 12 }, sat: { centre: p.satCentrePct, width: p.satWidthPct, soft: p.satSoftPct }, luma: { centre: p.lumaCentrePct, width: p.lumaWidthPct, soft: p.lumaSoftPct }, neutralPct: p.neutralPct,
      });
      if (want > 0 && want < 1) partial++;
      expect(Math.abs(m[i]! - want)).toBeLessThan(1e-5);
    }
    expect(partial).toBeGreaterThan(20);
  });
});
