// @vitest-environment happy-dom
/** The scopes column without its drawing: requests, marks by hand and by keys, where values lie. */
import { beforeEach, describe, expect, it } from 'vitest';
import type { PatchRecord } from '../../document/records';
import {
  histogramField,
  histogramLevel,
  histogramX,
  levelAt,
  onScale,
  stripX,
  stripY,
  vectorGeometry,
  waveFields,
  waveX,
  waveY,
} from '../../ui/scopes/draw';
import { useSession } from '../store';
import { marking, selectSaid } from './scopePaint';
import { byKey, defaultSlots, kindNames, scopeRequests, slotOf } from './scopeSlots';

const patch: PatchRecord = {
  type: 'patch',
  id: 'patch:1',
  shot: 'shot:a',
  name: 'Cheek',
  kind: 'skin',
  box: { x: 4, y: 5, w: 6, h: 7 },
  points: [
    [4, 5],
    [10, 5],
    [7, 12],
  ],
  order: 1,
};
const px = { 0: [270, 270], 1: [260, 130], 2: [240, 150] } as const;

describe('requests', () => {
  it('are one for each slot that has a size, and one more for a ghost of before', () => {
    const slots = [
      { ...slotOf('vector'), zoom: 4 },
      { ...slotOf('parade'), ghost: 'before', over: 'region' },
      slotOf('luma'),
    ];
    const { keys, list } = scopeRequests(slots, { 0: px[0], 1: px[1] }, []);
    expect(keys).toEqual(['0', '1', '1ghost']);
    expect(list.map((r) => [r.kind, r.when, r.zoom, r.over])).toEqual([
      ['vector', 'after', 4, 'whole'],
      ['parade', 'after', 1, 'region'],
      ['parade', 'before', 1, 'region'],
    ]);
    expect(
      Object.keys(
        byKey(
          keys,
          list.map(() => ({ planes: [] })),
        ),
      ),
    ).toEqual(keys);
  });
  it('look at a patch by its outline, and at the whole picture where it is gone', () => {
    const slots = [{ ...slotOf('histogram'), over: 'patch:1' }];
    expect(scopeRequests(slots, px, [patch]).list[0]!.over).toEqual({
      id: 'patch:1',
      box: patch.box,
      points: patch.points,
    });
    expect(scopeRequests(slots, px, []).list[0]!.over).toBe('whole');
  });
  it('ask for no ghost of before while before itself is shown', () => {
    expect(scopeRequests([{ ...slotOf('luma'), when: 'before', ghost: 'before' }], px, []).keys).toEqual(['0']);
    expect(defaultSlots.map((s) => kindNames[s.kind])).toEqual(['Vectorscope', 'Skin strip', 'Waveform, luma']);
  });
});

describe('where values lie', () => {
  it('goes both ways, in fields of any size', () => {
    for (const [w, h] of [
      [280, 160],
      [600, 90],
    ] as const) {
      for (const f of waveFields(w, h, 3))
        for (const v of [-0.05, 0, 0.4, 1]) expect(levelAt(waveY(v, f), f)).toBeCloseTo(v, 9);
      const f = histogramField(w, h);
      for (const v of [0, 0.18, 1]) expect(histogramLevel(histogramX(v, f), f)).toBeCloseTo(v, 9);
      const parts = waveFields(w, h, 3);
      expect(parts[0]!.x + parts[0]!.w).toBeLessThan(parts[1]!.x);
      expect(waveX(1, parts[2]!)).toBeLessThanOrEqual(w);
      expect(stripX(0, w)).toBe(w / 2);
      expect(stripY(1, h)).toBeLessThan(stripY(0, h));
    }
    // The vectorscope is square and centred; a zoom spreads it about neutral.
    const [a, b] = [vectorGeometry(300, 280), vectorGeometry(300, 280, 4)];
    expect([a.x, a.y, b.k / a.k]).toEqual([150, 140, 4]);
  });
  it('scales say codes as they are written', () => {
    expect([
      onScale(1, 'pct'),
      onScale(1, 'full8'),
      onScale(0.5, 'full10'),
      onScale(0, 'narrow10'),
      onScale(1, 'narrow10'),
    ]).toEqual([100, 255, 511.5, 64, 940]);
  });
});

describe('marking in a scope', () => {
  beforeEach(() => useSession.setState({ select: null, mode: 'matte', falseColour: 'levels' }));
  const select = () => useSession.getState().select;
  it('a lasso in the vectorscope becomes corners in Cb and Cr, and the picture is shown', () => {
    const hand = marking(0, slotOf('vector'), 123);
    const g = vectorGeometry(280, 280);
    hand.down(g.x + 0.1 * g.k, g.y - 0.1 * g.k, 280, 280);
    for (const [x, y] of [
      [0.2, 0.1],
      [0.2, 0.2],
      [0.1, 0.2],
    ] as const)
      hand.move(g.x + x * g.k, g.y - y * g.k, 280, 280);
    hand.up();
    const s = select()!;
    expect(s.slot).toBe(0);
    if (s.what.kind !== 'vector') throw new Error('a lasso');
    expect(s.what.points).toHaveLength(4);
    s.what.points[2]!.forEach((v) => expect(v).toBeCloseTo(0.2, 9));
    expect([useSession.getState().mode, useSession.getState().falseColour]).toEqual(['picture', 'off']);
    expect(selectSaid(s.what)).toMatch(/vectorscope/);
  });
  it('a press without a drag clears', () => {
    const hand = marking(0, slotOf('vector'), 123);
    useSession.setState({
      select: {
        slot: 0,
        when: 'after',
        what: {
          kind: 'vector',
          points: [
            [0, 0],
            [1, 0],
            [1, 1],
          ],
        },
      },
    });
    hand.down(100, 100, 280, 280);
    hand.up();
    expect(select()).toBeNull();
  });
  it('a band in a parade belongs to the part that was pressed, Cb and Cr without their shift', () => {
    const hand = marking(2, slotOf('ycbcr'), 123);
    const f = waveFields(300, 200, 3)[1]!;
    hand.down(f.x + 5, waveY(0.4, f), 300, 200);
    hand.move(f.x + 9, waveY(0.6, f), 300, 200);
    const what = select()!.what;
    if (what.kind !== 'band') throw new Error('a band');
    expect(what.channel).toBe('cb');
    expect(what.lo).toBeCloseTo(-0.1, 9);
    expect(what.hi).toBeCloseTo(0.1, 9);
    expect(selectSaid(what)).toBe('Cb -10 to 10 %');
  });
  it('a histogram is marked across, the strip by angle and luma', () => {
    const f = histogramField(300, 150);
    const h = marking(1, slotOf('histogram'), 123);
    h.down(histogramX(0.2, f), 30, 300, 150);
    h.move(histogramX(0.3, f), 35, 300, 150);
    expect(select()!.what).toMatchObject({
      kind: 'band',
      channel: 'y',
      lo: expect.closeTo(0.2, 6) as number,
      hi: expect.closeTo(0.3, 6) as number,
    });
    const s = marking(1, slotOf('strip'), 123);
    s.down(stripX(-10, 300), stripY(0.7, 150), 300, 150);
    for (const [d, y] of [
      [10, 0.7],
      [10, 0.4],
      [-10, 0.4],
    ] as const)
      s.move(stripX(d, 300), stripY(y, 150), 300, 150);
    const what = select()!.what;
    if (what.kind !== 'strip') throw new Error('a strip');
    expect(what.points[1]![0]).toBeCloseTo(10, 6);
    expect(what.points[3]![1]).toBeCloseTo(0.4, 6);
  });
  it('keys mark, move, widen and clear; other keys are left alone', () => {
    const hand = marking(0, { ...slotOf('luma'), when: 'before' }, 123);
    expect(hand.key('ArrowUp', false, 280, 160)).toBe(true);
    const first = select()!;
    expect(first.when).toBe('before');
    hand.key('ArrowUp', true, 280, 160);
    const [a, b] = [first.what, select()!.what];
    if (a.kind !== 'band' || b.kind !== 'band') throw new Error('bands');
    expect(b.hi - b.lo).toBeGreaterThan(a.hi - a.lo);
    expect(hand.key('k', false, 280, 160)).toBe(false);
    expect(hand.key('Escape', false, 280, 160)).toBe(true);
    expect(select()).toBeNull();
    const disc = marking(0, slotOf('vector'), 123);
    disc.key('ArrowRight', false, 280, 280);
    expect(select()!.what.kind).toBe('vector');
  });
});
