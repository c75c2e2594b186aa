// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest';
import { correctionsOf } from '../document/records';
import type { AnyRecord, CorrectionRecord } from '../document/records';
import { formatProject, parseProject } from '../document/projectFile';
import * as act from './actions';
import { cannotCarry, carried, carryCorrection } from './carry';
import { useNotices } from './notices';
import * as region from './region';
import { useDoc, useSession } from './store';
import { shotRecord, stillRecord } from '../../testkit/records';

const records = () => useDoc.getState().records;
const of = (id: string): readonly CorrectionRecord[] => correctionsOf(records(), `shot:${id}`);
const [B, C] = [shotRecord('b', 2), shotRecord('c', 3)];
let face: CorrectionRecord;

beforeEach(() => {
  const list: AnyRecord[] = [
    stillRecord('a', 1600),
    stillRecord('b', 800),
    stillRecord('c', 1600),
    shotRecord('a', 1),
    B,
    C,
  ];
  useDoc.getState().load(Object.fromEntries(list.map((r) => [r.id, r])));
  const first = act.addCorrection('shot:a');
  act.addCorrection('shot:a');
  face = act.correction(useSession.getState().correction)!;
  region.addTerm(face.id, 'ellipse', { cxPx: 800, cyPx: 450, rxPx: 100, ryPx: 80 });
  region.addLink(face.id, first.id, true);
  act.setParams(face.id, face.adjustments[0]!.id, { angleDeg: 12 });
  act.setMix(face.id, 70);
  act.editCorrection(face.id, 'Rename', (c) => ({ ...c, name: 'Face' }));
  face = act.correction(face.id)!;
});

describe('a correction carried to other shots', () => {
  it('is a further one there, told for their size, with what links led to; one undo takes all back', () => {
    const before = records();
    carryCorrection(face.id, [B, C], 'whole');
    const [b] = of('b');
    const [c] = of('c');
    expect([b!.name, b!.mixPct, c!.name]).toEqual(['Face', 70, 'Face']);
    expect(b!.terms[0]).toMatchObject({ use: { params: { cxPx: 400, cyPx: 225, rxPx: 50, ryPx: 40 } } });
    expect(c!.terms[0]).toMatchObject({ use: { params: { cxPx: 800, rxPx: 100 } } });
    // The link's correction is not there: what it was stands in its place.
    expect(JSON.stringify(b!.terms)).not.toContain(face.terms[1]!.id);
    expect(b!.terms).toHaveLength(2);
    expect(b!.adjustments[0]!.params).toEqual({ angleDeg: 12 });
    const ids = [face, b!, c!].flatMap((x) => [...x.adjustments, ...x.tidy].map((u) => u.id));
    expect(new Set(ids).size).toBe(ids.length);
    expect(of('a')).toEqual(correctionsOf(before, 'shot:a'));
    // What is in the document can be written and read.
    expect(() => parseProject(formatProject(records()))).not.toThrow();
    useDoc.getState().undo();
    expect(records()).toEqual(before);
  });
  it('again beside one of its name it gets a name of its own', () => {
    carryCorrection(face.id, [B], 'whole');
    carryCorrection(face.id, [B], 'whole');
    expect(of('b').map((x) => x.name)).toEqual(['Face', 'Face 1']);
  });
  it('its adjustments alone go into the one of its name, whose region stays', () => {
    carryCorrection(face.id, [B], 'whole');
    const there = of('b')[0]!;
    act.setParams(face.id, face.adjustments[0]!.id, { angleDeg: -5 });
    act.setMix(face.id, 40);
    const now = act.correction(face.id)!;
    expect(cannotCarry(records(), now, 'shot:b', 'values')).toBeNull();
    expect(cannotCarry(records(), now, 'shot:c', 'values')).toBe('has no correction named "Face"');
    carryCorrection(face.id, [B, C], 'values');
    expect(of('c')).toHaveLength(0);
    const [b] = of('b');
    expect(b).toMatchObject({ id: there.id, mixPct: 40, terms: there.terms, tidy: there.tidy });
    expect(b!.adjustments[0]!.params).toEqual({ angleDeg: -5 });
  });
  it('does not go where it acts already, and says nothing where another tab writes', () => {
    const before = records();
    expect(cannotCarry(before, face, 'shot:a', 'whole')).toBe('has it already');
    expect(carried(before, face, 'shot:a', 'whole')).toBe(before);
    const said = useNotices.getState();
    useDoc.setState({ role: 'follower' });
    carryCorrection(face.id, [B], 'whole');
    useDoc.setState({ role: 'none' });
    expect(records()).toBe(before);
    expect(useNotices.getState()).toEqual(said);
  });
  it('leaves a path that was followed behind', () => {
    const r = records();
    const [t] = face.terms;
    const followed = { ...face, terms: [{ ...t!, track: { kind: 'position', from: 0, to: 0, h: [] } as never }] };
    const there = correctionsOf(carried(r, followed as never, 'shot:c', 'whole'), 'shot:c')[0]!;
    expect(there.terms[0]).not.toHaveProperty('track');
    expect(there.terms[0]).toMatchObject({ name: t!.name });
  });
});
