import { describe, expect, it } from 'vitest';
import { encodingIds } from '../color/encodings';
import { evaluateColours } from './evaluate';
import { compile } from './plan';
import type { CorrectionSpec } from './plan';
import { newUse } from './plan.defaults';

const spec = (adjustments: CorrectionSpec['adjustments']): CorrectionSpec => ({
  id: 'a',
  name: 'A',
  on: true,
  mixPct: 100,
  terms: [],
  tidy: [],
  adjustments,
});
const light = [
  newUse('e', 'exposure', { stops: 0.6 }),
  newUse('t', 'temperature', { mired: 20, tint: -4 }),
  newUse('u', 'exposure', { stops: -0.2 }),
];
const colours = [
  [0.2, 0.5, 0.7],
  [0.9, 0.3, 0.1],
  [0.45, 0.45, 0.45],
] as const;

describe('plan', () => {
  it('runs neighbours on the same light as one step, with the same result', () => {
    for (const encoding of encodingIds) {
      const one = compile([spec(light)], 0, 1, { encoding });
      expect(one[0]!.chain).toHaveLength(1);
      const apart = light.flatMap((u) => compile([spec([u])], 0, 1, { encoding }));
      expect(apart).toHaveLength(3);
      const [a, b] = [evaluateColours(one, colours), evaluateColours(apart, colours)];
      a.forEach((v, i) => v.forEach((x, c) => expect(Math.abs(x - b[i]![c]!), encoding).toBeLessThan(2e-6)));
    }
  });
  it('keeps them apart where something else stands between, or where one is even', () => {
    expect(
      compile([spec([light[0]!, newUse('s', 'saturation', { amountPct: 90 }), light[1]!])], 0, 1)[0]!.chain,
    ).toHaveLength(3);
    expect(
      compile([spec([light[0]!, newUse('t', 'temperature', { mired: 20, how: 'even' }), light[2]!])], 0, 1)[0]!.chain,
    ).toHaveLength(3);
  });
  it('gives equal steps equal keys, and other numbers other keys, long blocks too', () => {
    const key = (stops: number): string => compile([spec([newUse('e', 'exposure', { stops })])], 0, 1)[0]!.chainKey;
    expect(key(0.5)).toBe(key(0.5));
    expect(new Set([0.1, 0.2, 0.3, 0.3001].map(key)).size).toBe(4);
  });
  it('puts corrections of the camera side before the conversion, the others behind', () => {
    const conversion = newUse('c', 'convert', {}, true);
    const list = compile(
      [
        { ...spec([light[0]!]), id: 'd' },
        { ...spec([light[1]!]), id: 'c', side: 'camera' },
      ],
      0,
      1,
      { encoding: 'acescct', conversion },
    );
    expect(list.map((s) => s.id)).toEqual(['c', 'conversion', 'd']);
  });
});
