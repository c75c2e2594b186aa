// @vitest-environment happy-dom
/** What a person does to regions, to corrections beside each other and to scenes. */
import { beforeEach, describe, expect, it } from 'vitest';
import { newUse } from '../core/graph/plan.defaults';
import { allTerms, isGroup, isLink, opTerms } from '../core/graph/region';
import { correctionsOf, isBeside, ownCorrectionsOf, scenesOf, specsOf } from '../document/records';
import type { AnyRecord, CorrectionRecord, MediaRecord, ShotRecord } from '../document/records';
import { parseProject, formatProject } from '../document/projectFile';
import * as act from './actions';
import { useNotices } from './notices';
import { pairOf } from './bench/Sides';
import { copyPart, pastePart } from './copyPart';
import * as region from './region';
import { inverse, refit, renameScene, setOwner, setScene } from './scenes';
import { useDoc, useSession } from './store';

const media = (id: 'a' | 'b', width: number, height: number): MediaRecord => ({
  type: 'media',
  id: `media:${id}`,
  kind: 'still',
  fileName: `${id}.png`,
  format: 'png',
  bits: 8,
  width,
  height,
  frames: 1,
  pixelAspect: [1, 1],
  sha256: id.repeat(64),
  source: { from: 'file' },
});
const shot = (id: 'a' | 'b'): ShotRecord => ({
  type: 'shot',
  id: `shot:${id}`,
  name: id.toUpperCase(),
  media: `media:${id}`,
  encoding: 'srgb',
  encodingGuessed: false,
  conversion: newUse('conversion', 'convert', {}, false),
  range: [0, 0],
  rate: [24, 1],
  timecode: { start: 0, drop: false },
  order: id === 'a' ? 1 : 2,
});
const base: AnyRecord[] = [
  { type: 'project', id: 'project:1', name: 'Test', skinLineDeg: 123 },
  media('a', 1600, 900),
  media('b', 800, 600),
  shot('a'),
  shot('b'),
];
const records = () => useDoc.getState().records;
const list = (s: 'shot:a' | 'shot:b' = 'shot:a') => correctionsOf(records(), s);
const undo = (): void => useDoc.getState().undo();
const at = (id: string): CorrectionRecord => records()[id] as CorrectionRecord;
const said = (): string =>
  useNotices
    .getState()
    .list.map((n) => n.text)
    .join(' | ');
let face: CorrectionRecord;
let lips: CorrectionRecord;

beforeEach(() => {
  useDoc.setState({ role: 'writer' });
  useDoc.getState().load(Object.fromEntries(base.map((r) => [r.id, r])));
  useNotices.setState({ list: [] });
  face = act.addCorrection('shot:a');
  lips = act.addCorrection('shot:a');
  region.addTerm(face.id, 'ellipse', { cxPx: 400, cyPx: 300 });
  region.addTerm(face.id, 'key', {});
});

describe('the outside as well', () => {
  it('is a correction behind it whose region is the outside; there is one, and one undo takes it back', () => {
    const before = records();
    act.addCompanion(face.id);
    const made = act.correction(useSession.getState().correction)!;
    expect(made).toMatchObject({ owner: 'shot:a', name: 'Correction 1, outside', on: true });
    expect(made.terms).toMatchObject([{ of: face.id, outside: true, on: true, not: false }]);
    expect(act.companionOf(made)).toBe(face.id);
    expect(correctionsOf(records(), 'shot:a').map((c) => c.id)).toEqual([face.id, made.id, lips.id]);
    expect(pairOf(at(face.id), correctionsOf(records(), 'shot:a'))).toBe(face.id);
    expect(pairOf(made, correctionsOf(records(), 'shot:a'))).toBe(face.id);
    expect(pairOf(at(lips.id), correctionsOf(records(), 'shot:a'))).toBeNull();
    // Asked for again it is the one that is there.
    useSession.getState().set({ correction: face.id, step: 'isolate' });
    act.addCompanion(face.id);
    expect(useSession.getState()).toMatchObject({ correction: made.id, step: 'correct' });
    expect(correctionsOf(records(), 'shot:a')).toHaveLength(3);
    undo();
    expect(records()).toEqual(before);
    // Turned round, or joined with more, it is no companion any more.
    region.addLink(lips.id, face.id, true);
    expect(act.companionOf(at(lips.id))).toBe(face.id);
    region.turnNot(lips.id, at(lips.id).terms[0]!);
    expect(act.companionOf(at(lips.id))).toBeNull();
  });
});
describe('a link', () => {
  it('leads to corrections of the same owner that do not lead back', () => {
    const third = act.addCorrection('shot:a');
    act.addCorrection('shot:b');
    region.addLink(lips.id, face.id, false);
    expect(region.linkable(records(), at(face.id)).map((c) => c.id)).toEqual([third.id]);
    expect(region.linkable(records(), at(third.id)).map((c) => c.id)).toEqual([face.id, lips.id]);
  });
  it('stays when its correction is switched off, moved or renamed; gives way to a copy when that is removed', () => {
    region.addLink(lips.id, face.id, true);
    act.editCorrection(face.id, 'off', (c) => ({ ...c, on: false }));
    act.moveCorrection(face.id, 1);
    expect(isLink(at(lips.id).terms[0]!)).toBe(true);
    act.removeCorrection(face.id);
    const [t] = at(lips.id).terms;
    expect(t).toMatchObject({ not: true, name: face.name, group: [{ name: 'Ellipse 1' }, { name: 'Key 1' }] });
    expect(said()).toMatch(/rested on "Correction 1".*not its tidying/);
    undo();
    expect(at(lips.id).terms).toMatchObject([{ of: face.id, outside: true }]);
    expect(at(face.id).terms).toHaveLength(2);
    // Of the whole picture a copy is any colour.
    const whole = act.addCorrection('shot:a');
    region.addLink(lips.id, whole.id, false);
    act.removeCorrection(whole.id);
    expect(at(lips.id).terms[1]).toMatchObject({
      group: [{ use: { op: 'key', params: { hueOn: false, satOn: false, lumaOn: false } } }],
    });
  });
  it('is taken along as a copy into another shot, and kept in its own', () => {
    region.addLink(lips.id, face.id, false);
    act.copyCorrection(lips.id);
    act.pasteCorrection('shot:b');
    act.pasteCorrection('shot:a');
    expect(list('shot:b')[0]!.terms).toMatchObject([{ group: [{ name: 'Ellipse 1' }, { name: 'Key 1' }] }]);
    expect(list().at(-1)!.terms).toMatchObject([{ of: face.id }]);
    const ids = allTerms(list().flatMap((c) => c.terms)).map((t) => t.id);
    expect(new Set(ids).size).toBe(ids.length);
  });
});

describe('a matte from outside', () => {
  const matteTerm = {
    join: 'and',
    not: false,
    name: 'm',
    matte: 'media:m',
    channel: 'luma',
    from: 0,
    on: true,
  } as const;
  const withMatte = (corr: string): void =>
    useDoc.getState().change('Add', (r) => {
      const c = r[corr] as CorrectionRecord;
      const m: MediaRecord = { ...media('a', 1600, 900), id: 'media:m', sha256: 'c'.repeat(64) };
      return { ...r, [m.id]: m, [corr]: { ...c, terms: [...c.terms, { ...matteTerm, id: 'm1' }] } };
    });
  const there = (): boolean => useDoc.getState().records['media:m'] !== undefined;
  it('takes its picture along when the last part goes, and brings it back when a copy is pasted; each one step', () => {
    const { id } = act.addCorrection('shot:a');
    withMatte(id);
    copyPart(id, 'm1');
    region.removeTerm(id, 'm1');
    expect(there()).toBe(false);
    useDoc.getState().undo();
    expect(there()).toBe(true);
    useDoc.getState().redo();
    const steps = useDoc.getState().past.length;
    pastePart(id);
    expect(there()).toBe(true);
    expect((useDoc.getState().records[id] as CorrectionRecord).terms).toMatchObject([{ matte: 'media:m' }]);
    expect(useDoc.getState().past).toHaveLength(steps + 1);
    useDoc.getState().undo();
    expect(there()).toBe(false);
  });
  it('keeps its picture while another part rests on it', () => {
    const [a, b] = [act.addCorrection('shot:a'), act.addCorrection('shot:a')];
    withMatte(a.id);
    withMatte(b.id);
    region.removeTerm(a.id, 'm1');
    expect(there()).toBe(true);
    region.removeTerm(b.id, 'm1');
    expect(there()).toBe(false);
  });
});

describe('brackets', () => {
  const names = (id: string): unknown =>
    (function of(terms: CorrectionRecord['terms']): unknown[] {
      return terms.map((t) => (isGroup(t) ? of(t.group) : t.name));
    })(at(id).terms);
  it('take in the part before, are taken away, and let a part out, each as one step', () => {
    region.addTerm(face.id, 'ellipse', {});
    const [e, k, e2] = at(face.id).terms;
    region.editTerm(face.id, k!.id, { join: 'or' });
    region.bracketTerm(face.id, e2!.id);
    expect(names(face.id)).toEqual(['Ellipse 1', ['Key 1', 'Ellipse 2']]);
    // The brackets stand where their first part stood, joined as it was.
    expect(at(face.id).terms[1]).toMatchObject({ join: 'or', name: 'Brackets 1' });
    region.moveTerm(face.id, e2!.id, -1);
    expect(names(face.id)).toEqual(['Ellipse 1', ['Ellipse 2', 'Key 1']]);
    region.unbracketTerm(face.id, e2!.id);
    expect(names(face.id)).toEqual(['Ellipse 1', ['Key 1'], 'Ellipse 2']);
    undo();
    region.unbracketTerm(face.id, at(face.id).terms[1]!.id);
    expect(names(face.id)).toEqual(['Ellipse 1', 'Ellipse 2', 'Key 1']);
    region.bracketTerm(face.id, e!.id);
    expect(names(face.id)).toEqual(['Ellipse 1', 'Ellipse 2', 'Key 1']);
    region.removeTerm(face.id, e2!.id);
    region.bracketTerm(face.id, k!.id);
    region.removeTerm(face.id, k!.id);
    region.removeTerm(face.id, e!.id);
    expect(at(face.id).terms).toEqual([]);
  });
  it('stand only as deep as files hold', () => {
    for (let i = 0; i < 12; i++) {
      region.addTerm(face.id, 'ellipse', {});
      const last = at(face.id).terms.at(-1)!;
      region.bracketTerm(face.id, last.id);
      const group = at(face.id).terms[0]!;
      region.addTerm(face.id, 'ellipse', {});
      region.moveTerm(face.id, at(face.id).terms.at(-1)!.id, -9);
      region.bracketTerm(face.id, group.id);
    }
    expect(said()).toMatch(/more than 6 deep/);
    expect(parseProject(formatProject(records())).records).toEqual(records());
  });
  it('what a key reads is chosen and taken back', () => {
    const k = opTerms(at(face.id).terms)[1]!;
    region.editTerm(face.id, k.id, { reads: 'base' });
    expect(opTerms(at(face.id).terms)[1]!.reads).toBe('base');
    region.editTerm(face.id, k.id, { reads: null });
    expect(at(face.id).terms[1]).toEqual(k);
  });
});

describe('beside', () => {
  const beside = (): boolean[] => list().map((c, i, l) => isBeside(c, l[i - 1]));
  it('needs one before it on its side; who comes to stand first stands alone', () => {
    act.setStart(face.id, 'beside');
    expect(said()).toMatch(/has none before it/);
    act.setStart(lips.id, 'beside');
    expect(beside()).toEqual([false, true]);
    act.removeCorrection(face.id);
    expect(at(lips.id).start).toBeUndefined();
    undo();
    expect(beside()).toEqual([false, true]);
    act.setSide(lips.id, 'camera');
    expect(at(lips.id).start).toBeUndefined();
    undo();
    act.moveCorrection(lips.id, 0, 'beside');
    expect([list()[0]!.id, at(lips.id).start]).toEqual([lips.id, undefined]);
    act.moveCorrection(lips.id, 1, 'beside');
    expect(beside()).toEqual([false, true]);
    act.setStart(lips.id, 'after');
    expect(beside()).toEqual([false, false]);
  });
});

describe('a move to the same place', () => {
  it('is no step', () => {
    const steps = (): number => useDoc.getState().past.length;
    const before = steps();
    act.moveCorrection(lips.id, 1);
    act.moveCorrection(lips.id, 1, 'after');
    act.moveAdjustmentTo(face.id, at(face.id).adjustments[1]!.id, 1);
    expect(steps()).toBe(before);
    act.moveCorrection(lips.id, 0);
    act.moveAdjustmentTo(face.id, at(face.id).adjustments[1]!.id, 0);
    expect(steps()).toBe(before + 2);
  });
});

describe('scenes', () => {
  it('act on all their shots after the shots\u2019 own, per side, scaled into each frame', () => {
    setScene('shot:a', 'new');
    const scene = scenesOf(records())[0]!;
    expect(scene).toMatchObject({ name: 'Scene 1', width: 1600, height: 900 });
    setScene('shot:b', scene.id);
    renameScene(scene.id, 'Kitchen');
    act.setSide(lips.id, 'camera');
    const own = act.addCorrection('shot:a');
    setOwner(face.id, 'shot:a', 'scene');
    expect(list().map((c) => c.id)).toEqual([lips.id, own.id, face.id]);
    expect(list('shot:b').map((c) => c.id)).toEqual([face.id]);
    const [a] = specsOf(records(), records()['shot:a'] as ShotRecord).slice(-1);
    const [b] = specsOf(records(), records()['shot:b'] as ShotRecord);
    expect(a!.fit).toBeUndefined();
    // 1600x900 fits into 800x600 by half, in the middle.
    expect(b!.fit).toEqual({ s: 0.5, dx: 0, dy: 75 });
    // One that is first of the scene's stands beside nobody of the shot's.
    act.editCorrection(face.id, 'x', (c) => ({ ...c, start: 'beside' }));
    expect(specsOf(records(), records()['shot:a'] as ShotRecord).at(-1)!.start).toBe('after');
  });
  it('taken back to a shot of another size a correction keeps its place there', () => {
    setScene('shot:a', 'new');
    const scene = scenesOf(records())[0]!;
    setScene('shot:b', scene.id);
    setOwner(face.id, 'shot:a', 'scene');
    expect(opTerms(at(face.id).terms)[0]!.use.params).toMatchObject({ cxPx: 400, cyPx: 300 });
    setOwner(face.id, 'shot:b', 'shot');
    expect(at(face.id).owner).toBe('shot:b');
    // Softness stood at its default of 40 px: half of that in this frame.
    expect(opTerms(at(face.id).terms)[0]!.use.params).toMatchObject({
      cxPx: 200,
      cyPx: 225,
      rxPx: 50,
      softInPx: 10,
      softOutPx: 10,
    });
    expect(list()).toHaveLength(1);
  });
  it('there and back gives the same numbers, keyframes included', () => {
    const fit = { s: 0.5, dx: 12, dy: 75 };
    const keyed = newUse('e', 'ellipse', {
      cxPx: { keys: [{ frame: 3, value: 100, ease: 'smooth' }] },
      cyPx: 50,
      rxPx: 80,
      ryPx: 60,
      softInPx: 2,
      softOutPx: 2,
    });
    const there = refit(keyed, fit);
    expect(there.params['cxPx']).toEqual({ keys: [{ frame: 3, value: 62, ease: 'smooth' }] });
    expect(refit(there, inverse(fit))).toEqual(keyed);
  });
  it('a part is copied to a correction of a shot of another size, in its own place there, and renamed', () => {
    region.renameTerm(face.id, at(face.id).terms[0]!.id, 'Face');
    copyPart(face.id, at(face.id).terms[0]!.id);
    const other = act.addCorrection('shot:b');
    pastePart(other.id);
    const [pasted] = opTerms(at(other.id).terms);
    expect(pasted!.use.params).toMatchObject({ cxPx: 200, cyPx: 225, rxPx: 50, softInPx: 10 });
    expect([pasted!.name, pasted!.join]).toEqual(['Face', 'and']);
    expect(pasted!.id).not.toBe(at(face.id).terms[0]!.id);
    undo();
    expect(at(other.id).terms).toEqual([]);
  });
  it('links between owners give way to copies; an empty scene goes', () => {
    region.addLink(lips.id, face.id, false);
    setScene('shot:a', 'new');
    setOwner(face.id, 'shot:a', 'scene');
    expect(isGroup(at(lips.id).terms[0]!)).toBe(true);
    undo();
    expect(isLink(at(lips.id).terms[0]!)).toBe(true);
    setScene('shot:a', null);
    expect(scenesOf(records())).toEqual([]);
    setOwner(face.id, 'shot:a', 'scene');
    expect(said()).toMatch(/belongs to no scene/);
    expect(ownCorrectionsOf(records(), 'shot:a')).toHaveLength(2);
    useSession.getState().set({ term: null });
  });
});
