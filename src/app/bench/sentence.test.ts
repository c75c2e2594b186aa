import { describe, expect, it } from 'vitest';
import { newUse } from '../../core/graph/plan.defaults';
import type { CorrectionRecord } from '../../document/records';
import { plain, sentence } from './sentence';

const c = (p: Partial<CorrectionRecord>): CorrectionRecord => ({ type: 'correction', id: 'corr:1', shot: 'shot:1', name: 'Face', on: true, mixPct: 100, order: 1, terms: [], tidy: [], adjustments: [], ...p });
const key = newUse('k', 'key', { hueCentreDeg: 5, hueWidthDeg: 20, satOn: false, lumaCentrePct: 50, lumaWidthPct: 56 });
const ellipse = newUse('e', 'ellipse');

describe('the region sentence', () => {
  it('reads as a sentence', () => {
    expect(plain(sentence(c({})))).toBe('Face: on the whole picture; not corrected yet, mix 100 %');
    expect(
      plain(sentence(c({
        terms: [{ join: 'and', not: false, name: 'Key 1', use: key }, { join: 'and', not: false, name: 'Ellipse 1', use: ellipse }, { join: 'or', not: true, name: 'Ellipse 2', use: ellipse }],
        tidy: [newUse('fc', 'floorCeiling', { floorPct: 5 }), newUse('f', 'feather', { radiusPx: 6.5 })],
        adjustments: [newUse('w', 'wheels', { liftCr: 2, gainLevel: 1 }), newUse('h', 'hueTurn', { angleDeg: -6.2 }), newUse('b', 'balance', { cbPct: 3, crPct: 4 })],
        mixPct: 80, on: false,
      }))),
    ).toBe('Face: where hue is 355–15° and luma 22–78 % and inside Ellipse 1 or not inside Ellipse 2; tidied by floor 5 % and feather 6.5 px; corrected by lift, gain, hue turned −6.2° and balance 5.0 %, mix 80 % (off)');
  });
  it('leaves out what is off or does nothing', () => {
    const off = c({ terms: [{ join: 'and', not: false, name: 'Key 1', use: { ...key, on: false } }], tidy: [newUse('f', 'feather', { radiusPx: 6 })], adjustments: [newUse('s', 'saturation'), { ...newUse('h', 'hueTurn', { angleDeg: 9 }), on: false }] });
    expect(plain(sentence(off))).toBe('Face: on the whole picture; not corrected yet, mix 100 %');
  });
  it('names the step and the operation behind every chip', () => {
    const chips = sentence(c({ terms: [{ join: 'and', not: false, name: 'Ellipse 1', use: ellipse }], adjustments: [newUse('s', 'saturation', { amountPct: 90 })] })).filter((p) => typeof p !== 'string');
    expect(chips).toMatchObject([{ step: 'isolate', use: 'e' }, { step: 'correct', use: 's' }, { step: 'correct' }]);
  });
});
