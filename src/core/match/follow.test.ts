/** Pushes that follow the hand, by the real operations. */
import { describe, expect, it } from 'vitest';
import { rgbToYcbcr, ycbcrToRgb } from '../color/ycbcr';
import { evaluateColours } from '../graph/evaluate';
import { compile } from '../graph/plan';
import { newUse } from '../graph/plan.defaults';
import { followPush } from './follow';
import type { Pair } from './follow';

const shownBy =
  (
    rgb: readonly [number, number, number],
    op: string,
    names: [string, string],
    more = [] as ReturnType<typeof newUse>[],
  ) =>
  (push: Pair): Pair => {
    const adjustments = [newUse('w', op, { [names[0]]: push[0], [names[1]]: push[1] }), ...more];
    const spec = { id: 'c', name: 'c', on: true, mixPct: 100, terms: [], tidy: [], adjustments };
    const [, cb, cr] = rgbToYcbcr(...evaluateColours(compile([spec], 0, 1), [rgb])[0]!);
    return [cb, cr];
  };
const skin = ycbcrToRgb(0.5, -0.08, 0.11) as [number, number, number];
const dark = ycbcrToRgb(0.12, -0.02, 0.03) as [number, number, number];

describe('a push that follows the hand', () => {
  it.each([
    ['gain', 'wheels', 'gainCb', 'gainCr', skin],
    ['gamma', 'wheels', 'gammaCb', 'gammaCr', skin],
    ['offset', 'wheels', 'offsetCb', 'offsetCr', skin],
    ['lift of something dark', 'wheels', 'liftCb', 'liftCr', dark],
    ['balance', 'balance', 'cbPct', 'crPct', skin],
  ] as const)('%s lands where it is wanted, within a thousandth of a percent of chroma', (_, op, a, b, rgb) => {
    const shown = shownBy(rgb, op, [a, b]);
    const now = shown([0, 0]);
    for (const [x, y] of [
      [0.01, 0],
      [-0.02, 0.015],
      [0.004, -0.03],
    ] as const) {
      const { push, miss } = followPush(shown, [0, 0], [now[0] + x, now[1] + y], 200);
      expect(miss).toBeLessThan(5e-6);
      const got = shown(push);
      expect([got[0] - now[0], got[1] - now[1]]).toEqual([expect.closeTo(x, 5), expect.closeTo(y, 5)]);
    }
  });
  it('what comes behind it is reckoned with: a saturation of half takes twice the push', () => {
    const half = [newUse('s', 'saturation', { amountPct: 50 })];
    const [plain, halved] = [
      shownBy(skin, 'balance', ['cbPct', 'crPct']),
      shownBy(skin, 'balance', ['cbPct', 'crPct'], half),
    ];
    const to = (f: (p: Pair) => Pair): number => {
      const [b, r] = f([0, 0]);
      return followPush(f, [0, 0], [b + 0.01, r], 200).push[0];
    };
    expect(to(halved) / to(plain)).toBeCloseTo(2, 2);
  });
  it('where a wheel does not reach, it stays within its limits and says what is missing', () => {
    const still = (): Pair => [0.02, 0.03];
    expect(followPush(still, [3, -4], [0.1, 0.1], 200)).toEqual({ push: [3, -4], miss: expect.closeTo(0.1063, 4) });
    // White stays under lift: a bright colour is hardly moved.
    const shown = shownBy(ycbcrToRgb(0.98, 0.001, 0.001) as [number, number, number], 'wheels', ['liftCb', 'liftCr']);
    const r = followPush(shown, [0, 0], [0.2, 0.2], 200);
    expect(Math.max(...r.push.map(Math.abs))).toBeLessThanOrEqual(200);
    expect(r.miss).toBeGreaterThan(0.01);
  });
});
