import { around } from '../../../testkit/keys';
import { describe, expect, it } from 'vitest';
import { newUse } from '../../core/graph/plan.defaults';
import type { CorrectionRecord } from '../../document/records';
import type { Term } from '../../core/graph/plan';
import { allTerms } from '../../core/graph/region';
import { turnJoin, turnNot } from '../region';
import { useDoc } from '../store';
import { aloud, plain, sentence } from './sentence';

const c = (p: Partial<CorrectionRecord>): CorrectionRecord => ({
  type: 'correction',
  id: 'corr:1',
  owner: 'shot:1',
  name: 'Face',
  on: true,
  mixPct: 100,
  order: 1,
  terms: [],
  tidy: [],
  adjustments: [],
  ...p,
});
const key = newUse('k', 'key', {
  ...around({ hue: [5, 20], luma: [50, 56] }),
  satOn: false,
});
const ellipse = newUse('e', 'ellipse');

describe('the region sentence', () => {
  it('reads as a sentence', () => {
    expect(plain(sentence(c({})))).toBe('Face: on the whole picture; not corrected yet, mix 100 %');
    expect(
      plain(
        sentence(
          c({
            terms: [
              { id: 't1', join: 'and', not: false, name: 'Key 1', use: key },
              { id: 't2', join: 'and', not: false, name: 'Ellipse 1', use: ellipse },
              { id: 't3', join: 'or', not: true, name: 'Ellipse 2', use: ellipse },
            ],
            tidy: [newUse('fc', 'floorCeiling', { floorPct: 5 }), newUse('f', 'feather', { radiusPx: 6.5 })],
            adjustments: [
              newUse('w', 'wheels', { liftCr: 2, gainLevel: 1 }),
              newUse('h', 'hueTurn', { angleDeg: -6.2 }),
              newUse('b', 'balance', { cbPct: 3, crPct: 4 }),
            ],
            mixPct: 80,
            on: false,
          }),
        ),
      ),
    ).toBe(
      'Face: where hue is 355–15° and luma 22–78 % and inside Ellipse 1 or not inside Ellipse 2; tidied ' +
        'by floor 5 % and feather 6.5 px; corrected by lift, gain, hue turned −6.2° and ' +
        'balance 5.0 %, mix 80 % (off)',
    );
  });
  it('reads brackets, links and what a key reads aloud; a link by the name of today', () => {
    const head = { join: 'and' as const, not: false };
    const tree = c({
      start: 'beside',
      terms: [
        { id: 'k', ...head, name: 'Key 1', reads: 'base', use: newUse('k', 'key', { satOn: false, lumaOn: false }) },
        {
          id: 'g',
          ...head,
          not: true,
          name: 'Brackets 1',
          on: true,
          group: [
            { id: 'e', ...head, name: 'Ellipse 1', use: ellipse },
            { id: 'l', ...head, join: 'or', name: 'Old', of: 'corr:9', outside: true, on: true },
          ],
        },
        {
          id: 'o',
          ...head,
          name: 'Off',
          on: true,
          group: [{ id: 'x', ...head, name: 'x', use: { ...key, on: false } }],
        },
      ],
    });
    const named = (name: string) => ({ 'corr:9': { ...c({}), id: 'corr:9' as const, name } });
    expect(plain(sentence(tree, named('Lips')))).toBe(
      'Face, beside the one before: where, before any correction, hue is 108\u2013138\u00b0 and not (inside ' +
        'Ellipse 1 or outside the region of Lips); not corrected yet, mix 100 %',
    );
    expect(aloud(sentence(tree, named('Mouth')))).toMatch(
      /and not open bracket inside Ellipse 1 or outside the region of Mouth close bracket;/,
    );
    expect(plain(sentence(tree, {}))).toMatch(/region of a correction that is not there\)/);
  });
  it('leaves out what is off or does nothing', () => {
    const off = c({
      terms: [{ id: 't4', join: 'and', not: false, name: 'Key 1', use: { ...key, on: false } }],
      tidy: [newUse('f', 'feather', { radiusPx: 6 })],
      adjustments: [newUse('s', 'saturation'), { ...newUse('h', 'hueTurn', { angleDeg: 9 }), on: false }],
    });
    expect(plain(sentence(off))).toBe('Face: on the whole picture; not corrected yet, mix 100 %');
  });
  it('names the step and the operation behind every chip', () => {
    const chips = sentence(
      c({
        terms: [{ id: 't5', join: 'and', not: false, name: 'Ellipse 1', use: ellipse }],
        adjustments: [newUse('s', 'saturation', { amountPct: 90 })],
      }),
    ).filter((p) => typeof p !== 'string');
    expect(chips).toMatchObject([
      { text: 'inside', term: 't5', turn: { what: 'not', to: 'not inside' } },
      { step: 'isolate', term: 't5' },
      { step: 'correct', use: 's' },
      { step: 'correct', mix: true },
    ]);
  });
  it('says of every small word what it would be turned into, and turning says it', () => {
    const head = { join: 'and' as const, not: false };
    const terms: CorrectionRecord['terms'] = [
      { id: 'k', ...head, name: 'Key 1', reads: 'base', use: key },
      { id: 'l', ...head, join: 'or', name: '', of: 'corr:2', outside: false, on: true },
      {
        id: 'g',
        ...head,
        name: 'Part 1',
        on: true,
        not: true,
        group: [
          { id: 'e', ...head, name: 'Ellipse 1', use: ellipse },
          { id: 'f', ...head, join: 'or', name: 'Ellipse 2', use: ellipse },
        ],
      },
    ];
    const words = (list: CorrectionRecord['terms']): string[] =>
      sentence(c({ terms: list })).flatMap((p) =>
        typeof p !== 'string' && p.turn ? [`${p.term} ${p.text} > ${p.turn.to}`] : [],
      );
    expect(words(terms)).toEqual([
      'k where, before any correction, > not where, before any correction,',
      'l or > and',
      'l inside the region of > outside the region of',
      'g and > or',
      'g not > in',
      'e inside > not inside',
      'f or > and',
      'f inside > not inside',
    ]);
    useDoc.getState().load({ 'corr:1': c({ terms }), 'corr:2': { ...c({}), id: 'corr:2' } });
    const now = (): CorrectionRecord['terms'] => (useDoc.getState().records['corr:1'] as CorrectionRecord).terms;
    const all = (): Term[] => allTerms(now());
    for (const t of all()) turnNot('corr:1', t);
    for (const t of all().slice(1)) turnJoin('corr:1', t);
    expect(words(now())).toEqual([
      'k not where, before any correction, > where, before any correction,',
      'l and > or',
      'l outside the region of > inside the region of',
      'g or > and',
      'e not inside > inside',
      'f and > or',
      'f not inside > inside',
    ]);
  });
});
