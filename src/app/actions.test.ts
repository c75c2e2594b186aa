// @vitest-environment happy-dom
/** What a person can do to the document, as steps that go back. */
import { beforeEach, describe, expect, it } from 'vitest';
import { newUse } from '../core/graph/plan.defaults';
import { parseProject, formatProject } from '../document/projectFile';
import { chartOf, correctionsOf, patchesOf } from '../document/records';
import type { AnyRecord, CorrectionRecord, ShotRecord } from '../document/records';
import { ycbcrToRgb } from '../core/color/ycbcr';
import { opTerms } from '../core/graph/region';
import { resolveEncoding } from '../core/color/encodings';
import { fitKey } from '../core/skin/fitKey';
import { LIGHT_CELLS } from '../core/matte/keyLight';
import type { Sampled } from '../protocol/messages';
import { useNotices } from './notices';
import * as act from './actions';
import { addBase, addCorrection, correction, needsConversion } from './actions';
import { addTerm, editTerm } from './region';
import { useDoc, useSession } from './store';

const shotRecord: ShotRecord = {
  type: 'shot',
  id: 'shot:a',
  name: 'A',
  media: 'media:a',
  encoding: 'srgb',
  encodingGuessed: true,
  conversion: newUse('conversion', 'convert', {}, false),
  range: [0, 0],
  rate: [24, 1],
  timecode: { start: 0, drop: false },
  order: 1,
};
const base: AnyRecord[] = [
  { type: 'project', id: 'project:1', name: 'Test', skinLineDeg: 123 },
  {
    type: 'media',
    id: 'media:a',
    kind: 'still',
    fileName: 'a.tif',
    format: 'tiff',
    bits: 16,
    width: 100,
    height: 80,
    frames: 1,
    pixelAspect: [1, 1],
    sha256: 'b'.repeat(64),
    source: { from: 'file' },
    decode: { alpha: 'keep', profile: 'assume' },
  },
  shotRecord,
  { ...shotRecord, id: 'shot:b', name: 'B', order: 2 },
];
const records = () => useDoc.getState().records;
const list = (shot: 'shot:a' | 'shot:b' = 'shot:a') => correctionsOf(records(), shot);
const names = (c: CorrectionRecord): string[] => c.adjustments.map((u) => u.op);
const undo = (): void => useDoc.getState().undo();

beforeEach(() => useDoc.getState().load(Object.fromEntries(base.map((r) => [r.id, r]))));

describe('corrections', () => {
  it('a base stands first and opens its adjustments; a new one stands last and opens its region', () => {
    const a = addCorrection('shot:a');
    const b = addBase('shot:a');
    expect(list().map((c) => c.name)).toEqual(['Base', 'Correction 1']);
    expect(names(b)).toContain('exposure');
    expect(useSession.getState()).toMatchObject({ correction: b.id, step: 'correct', conversionOpen: false });
    expect(addBase('shot:a').name).toBe('Base 1');
    expect(correction(a.id)?.terms).toEqual([]);
  });
  it('goes to the camera side, before those of the display side, and back in one step', () => {
    const a = addCorrection('shot:a');
    const b = addCorrection('shot:a');
    act.setSide(b.id, 'camera');
    expect(list().map((c) => c.id)).toEqual([b.id, a.id]);
    undo();
    expect(list().map((c) => c.id)).toEqual([a.id, b.id]);
  });
  it('is copied to another shot with ids of its own, and reset without losing its region', () => {
    const a = addCorrection('shot:a');
    addTerm(a.id, 'ellipse', { cxPx: 5 });
    act.setParams(a.id, list()[0]!.adjustments[0]!.id, { angleDeg: 20 });
    act.copyCorrection(a.id);
    act.pasteCorrection('shot:b');
    const copy = list('shot:b')[0]!;
    expect(copy.terms).toHaveLength(1);
    expect(opTerms(copy.terms)[0]!.use.id).not.toBe(opTerms(list()[0]!.terms)[0]!.use.id);
    expect(copy.adjustments[0]!.params).toEqual({ angleDeg: 20 });
    act.resetCorrection(copy.id);
    expect(list('shot:b')[0]!.adjustments[0]!.params).toEqual({});
    expect(list('shot:b')[0]!.terms).toHaveLength(1);
    expect(list()[0]!.adjustments[0]!.params).toEqual({ angleDeg: 20 });
  });
});

describe('adjustments', () => {
  it('are added open, moved, copied, renamed, switched and reset, each as one step', () => {
    const c = addCorrection('shot:a');
    act.addAdjustment(c.id, 'curves');
    const curves = list()[0]!.adjustments.at(-1)!;
    expect(useSession.getState().folds[curves.id]).toBe(false);
    act.moveAdjustment(c.id, curves.id, -2);
    expect(names(list()[0]!)).toEqual(['hueTurn', 'curves', 'saturation', 'wheels']);
    act.moveAdjustment(c.id, curves.id, -9);
    expect(names(list()[0]!)[0]).toBe('curves');
    act.copyAdjustment(c.id, curves.id);
    act.pasteAdjustment(c.id, 2);
    expect(names(list()[0]!)).toEqual(['curves', 'hueTurn', 'curves', 'saturation', 'wheels']);
    act.renameUse(c.id, curves.id, 'Tone');
    act.setParams(c.id, curves.id, { luma: [0, 0, 0.5, 0.6, 1, 1] });
    act.setUseOn(c.id, curves.id, false);
    expect(list()[0]!.adjustments[0]).toMatchObject({
      name: 'Tone',
      on: false,
      params: { luma: [0, 0, 0.5, 0.6, 1, 1] },
    });
    act.resetUse(c.id, curves.id);
    expect(list()[0]!.adjustments[0]).toMatchObject({ name: 'Tone', on: false, params: {} });
    for (let i = 0; i < 8; i++) undo();
    expect(names(list()[0]!)).toEqual(['hueTurn', 'saturation', 'wheels']);
  });
});

describe('shots', () => {
  it(
    'an encoding that needs a conversion switches it on, one that does not switches it off; a guess is ' +
      'confirmed by it',
    () => {
      act.setEncoding('shot:a', 'acescct');
      expect(records()['shot:a']).toMatchObject({
        encoding: 'acescct',
        encodingGuessed: false,
        conversion: { on: true },
      });
      act.setConversion('shot:a', { greyPct: 40 });
      act.setEncoding('shot:a', 'bt1886');
      expect(records()['shot:a']).toMatchObject({ conversion: { on: false, params: { greyPct: 40 } } });
      undo();
      undo();
      expect(records()['shot:a']).toMatchObject({ encoding: 'acescct', conversion: { on: true, params: {} } });
      expect([needsConversion('srgb'), needsConversion('p3'), needsConversion({ table: 'table:x' })]).toEqual([
        false,
        true,
        true,
      ]);
    },
  );
  it('patches, charts and log curves are kept in the project file', () => {
    act.addPatch('shot:a', { x: 1, y: 2, w: 3, h: 4 }, [
      [1, 2],
      [4, 2],
      [2, 6],
    ]);
    act.placeChart('shot:a', [
      [1, 1],
      [9, 1],
      [9, 8],
      [1, 8],
    ]);
    act.placeChart('shot:a', [
      [2, 1],
      [9, 1],
      [9, 8],
      [1, 8],
    ]);
    const chart = chartOf(records(), 'shot:a')!;
    act.editChart(chart.id, 'Change', { kind: 'strip', greyStep: 2 });
    act.setEncoding('shot:b', {
      name: 'Ours',
      primaries: 'bt2020',
      log: {
        base: 10,
        logSideSlope: 0.25,
        logSideOffset: 0.38,
        linSideSlope: 5.5,
        linSideOffset: 0.05,
        linSideBreak: 0.01,
      },
    });
    const back = parseProject(formatProject(records())).records;
    expect(back).toEqual(records());
    expect(chartOf(back, 'shot:a')).toMatchObject({
      kind: 'strip',
      greyStep: 2,
      corners: [
        [2, 1],
        [9, 1],
        [9, 8],
        [1, 8],
      ],
    });
    expect(patchesOf(back, 'shot:a')[0]!.points).toHaveLength(3);
    // A shot that goes takes what belongs to it along.
    act.removeShot('shot:a');
    expect(chartOf(records(), 'shot:a')).toBeUndefined();
    expect(patchesOf(records(), 'shot:a')).toEqual([]);
  });
});

/** What a drag over colours about a hue tells. */
const sampled = (hue: number): Sampled => {
  const n = 60;
  const dots = Array.from({ length: n }, (_, i) => {
    const w = ((hue + (i % 9) - 4) * Math.PI) / 180;
    return [0.15 * Math.cos(w), 0.15 * Math.sin(w), 0.5];
  }).flat();
  const rgb = Array.from({ length: n }, (_, i) => ycbcrToRgb(dots[3 * i + 2]!, dots[3 * i]!, dots[3 * i + 1]!)).flat();
  const lab = [0.6, 0.1 * Math.cos(hue / 57.3), 0.1 * Math.sin(hue / 57.3)];
  return {
    fit: fitKey(rgb),
    encoding: resolveEncoding('srgb'),
    neutralPct: 3.3,
    lab: Array.from({ length: 12 }, () => lab).flat(),
    dots,
    held: rgb,
    light: Array.from({ length: LIGHT_CELLS }, () => hue / 360),
  };
};

describe('values', () => {
  it('that are of the wrong kind or out of range are refused in words, and the document stays as it is', () => {
    const a = addCorrection('shot:a');
    addTerm(a.id, 'key', {});
    const key = opTerms(list()[0]!.terms)[0]!.use;
    const before = records();
    act.setParams(a.id, key.id, { hueOn: 1, hueFromDeg: 20 });
    act.setParams(a.id, list()[0]!.adjustments[0]!.id, { angleDeg: NaN });
    act.setParams(a.id, list()[0]!.adjustments[0]!.id, { angleDeg: 1e9 });
    expect(correction(a.id)).toEqual(before[a.id]);
    expect(useNotices.getState().list.map((n) => n.text)).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/hueOn must be true or false/),
        expect.stringMatching(/angleDeg must/),
      ]),
    );
  });
  it('a key is widened and narrowed by samples, with values of their own kind', () => {
    const a = addCorrection('shot:a');
    const params = () => opTerms(correction(a.id)!.terms)[0]!.use.params;
    act.applyKeyFit(a.id, sampled(120), 'again');
    const narrow = params();
    expect(narrow['neutralPct']).toBe(3.3);
    act.applyKeyFit(a.id, sampled(160), 'add');
    expect(params()).toMatchObject({ hueOn: true, hueFromDeg: narrow['hueFromDeg'] });
    expect(params()['hueToDeg'] as number).toBeGreaterThan(155);
    act.applyKeyFit(a.id, { ...sampled(160), held: sampled(120).held }, 'take');
    expect(params()['hueToDeg'] as number).toBeLessThan(156);
    expect(params()['hueFromDeg']).toBe(narrow['hueFromDeg']);
    expect(() => act.applyKeyFit(a.id, sampled(300), 'take')).toThrow(/holds nothing of what you touched/);
    undo();
    expect(params()['hueToDeg'] as number).toBeGreaterThan(155);
    // A still is lit as it is lit.
    expect(opTerms(correction(a.id)!.terms)[0]!.light).toBeUndefined();
  });

  it('a key on a moving shot keeps the light that it was made in; none where that was declined', () => {
    const a = act.addCorrection('shot:a');
    const shot = useDoc.getState().records['shot:a'] as ShotRecord;
    useDoc.getState().change('A longer shot', (r) => ({ ...r, [shot.id]: { ...shot, range: [0, 5] } }));
    useSession.getState().set({ shot: shot.id });
    const light = () => opTerms(correction(a.id)!.terms)[0]!.light;
    const lit = (v: number): Sampled => ({ ...sampled(120), light: Array.from({ length: LIGHT_CELLS }, () => v) });
    act.applyKeyFit(a.id, lit(0.4), 'again');
    expect(light()).toEqual(lit(0.4).light);
    expect(act.readAs(opTerms(correction(a.id)!.terms)[0]!, 'add').light).toEqual(light());
    expect(act.readAs(opTerms(correction(a.id)!.terms)[0]!, 'again').light).toBeUndefined();
    act.applyKeyFit(a.id, lit(0.5), 'add');
    expect(light()).toEqual(lit(0.4).light);
    act.applyKeyFit(a.id, lit(0.6), 'again');
    expect(light()).toEqual(lit(0.6).light);
    editTerm(a.id, opTerms(correction(a.id)!.terms)[0]!.id, { light: [] });
    act.applyKeyFit(a.id, lit(0.7), 'again');
    expect(light()).toEqual([]);
  });
});
