// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { parseProject, formatProject } from '../document/projectFile';
import { ownCorrectionsOf } from '../document/records';
import type { EncodingRef } from '../core/color/encodings';
import type { AnyRecord, VersionRecord } from '../document/records';
import { looseSchemas, PROJECT_VERSION } from '../document/schema';
import * as act from './actions';
import { atFrame, requestOf } from './bench/request';
import type { Looking } from './bench/request';
import { useNotices } from './notices';
import { holdReference } from './reference';
import { useDoc } from './store';
import { goBack, keepVersion, recordsWith, removeVersion, versionsOf } from './versions';
import { shotRecord, stillRecord } from '../../testkit/records';

const records = () => useDoc.getState().records;
const own = () => ownCorrectionsOf(records(), 'shot:a');
const shot = () => records()['shot:a'] as ReturnType<typeof shotRecord>;
const project: AnyRecord = { type: 'project', id: 'project:p', name: 'P', skinLineDeg: 123 };
const last = () => versionsOf(records(), 'shot:a').at(-1)!;

beforeEach(() => {
  const list: AnyRecord[] = [project, stillRecord('a', 1600), shotRecord('a', 1)];
  useDoc.getState().load(Object.fromEntries(list.map((r) => [r.id, r])));
  useNotices.setState({ list: [] });
});

describe('versions of a shot', () => {
  it('brings back corrections, encoding and conversion, in one undo', () => {
    const c = act.addCorrection('shot:a');
    act.addAdjustment(c.id, 'saturation');
    keepVersion(shot(), 'warm');
    const kept = own();
    act.setMix(c.id, 30);
    const d = act.addCorrection('shot:a');
    act.editShot('shot:a', 'x', (s) => ({ ...s, encoding: 'linear' as EncodingRef }));
    const now = records();
    goBack(last());
    expect(own()).toEqual(kept);
    expect(shot().encoding).toBe('srgb');
    expect(records()[d.id]).toBeUndefined();
    useDoc.getState().undo();
    expect(records()).toEqual(now);
    useDoc.getState().redo();
    expect(own()).toEqual(kept);
  });

  it('brings back what was removed meanwhile', () => {
    const c = act.addCorrection('shot:a');
    keepVersion(shot(), '');
    expect(last().name).toBe('Version 1');
    act.removeCorrection(c.id);
    goBack(last());
    expect(own().map((x) => x.id)).toEqual([c.id]);
  });

  it('asks for another name where there is one of it, and goes with the project and with its shot', () => {
    keepVersion(shot(), 'one');
    keepVersion(shot(), 'one');
    expect(versionsOf(records(), 'shot:a')).toHaveLength(1);
    expect(useNotices.getState().list.at(-1)!.text).toContain('"one" already');
    const back = parseProject(formatProject(records()));
    expect(back.said).toEqual([]);
    expect(versionsOf(back.records, 'shot:a')).toEqual(versionsOf(records(), 'shot:a'));
    act.removeShot('shot:a');
    expect(Object.values(records()).some((r) => r.type === 'version')).toBe(false);
    useDoc.getState().undo();
    removeVersion(last().id);
    expect(versionsOf(records(), 'shot:a')).toEqual([]);
  });

  it('is migrated when somebody goes back: a feather of its first version keeps its boxes', () => {
    const c = act.addCorrection('shot:a');
    act.addTidy(c.id, 'feather', { radiusPx: 40 });
    keepVersion(shot(), 'old');
    const v = last();
    const old = (v.corrections as { tidy: { op: string; version: number; params: object }[] }[]).map((x) => ({
      ...x,
      tidy: x.tidy.map((u) => (u.op === 'feather' ? { ...u, version: 1 } : u)),
    }));
    const { records: then } = recordsWith(records(), { ...v, corrections: old });
    const feathers = ownCorrectionsOf(then, 'shot:a').flatMap((x) => x.tidy.filter((u) => u.op === 'feather'));
    expect(feathers.length).toBeGreaterThan(0);
    expect(feathers.every((u) => u.version === 2 && u.params['kernel'] === 'boxes')).toBe(true);
    // A later form of the format must be one that is known, or versions could not be read any more.
    expect(looseSchemas.length - 1).toBe(PROJECT_VERSION);
  });

  it('says what it had to leave out, and leaves what is damaged out', () => {
    const c = act.addCorrection('shot:a');
    act.addAdjustment(c.id, 'lut', { table: 'table:gone' });
    keepVersion(shot(), 'with a table');
    const v: VersionRecord = {
      ...last(),
      corrections: [...last().corrections, { type: 'correction', id: 'corr:bad' }],
    };
    const { records: then, said } = recordsWith(records(), v);
    expect(ownCorrectionsOf(then, 'shot:a').map((x) => x.id)).toEqual([c.id]);
    expect(said.join(' ')).toContain('A lookup table of');
    expect(said.length).toBeGreaterThan(1);
  });

  it('is what a wipe is compared with, at the same frame', () => {
    const c = act.addCorrection('shot:a');
    keepVersion(shot(), 'plain');
    act.setMix(c.id, 10);
    const view = { w: 64, h: 36, scale: 0.04, offX: 0, offY: 0, mode: 'picture', compare: 'wipe', wipeX: 800 } as const;
    const look: Looking = {
      ...{ shot: 'shot:a', correction: c.id, alone: null, bypass: false, preview: null, slots: [], px: {}, bits: 16 },
      view,
    };
    const ask = (against: string) => requestOf(records(), { ...look, against })!.request;
    expect(ask('converted').against).toBeUndefined();
    expect(ask('came').against!.corrections).toEqual([]);
    expect(ask('without').against!.corrections[0]!.on).toBe(false);
    expect(ask(last().id).against!.corrections[0]!.mixPct).toBe(100);
    expect(ask(last().id).shot.corrections[0]!.mixPct).toBe(10);
    expect(
      requestOf(records(), { ...look, view: { ...view, compare: 'off' }, against: last().id })!.request.against,
    ).toBe(undefined);
  });

  it('beside it stand a frame that is held, at its own frame, and another shot; one that is gone is none', () => {
    const b2: AnyRecord[] = [{ ...stillRecord('b', 800), pixelAspect: [2, 1] }, shotRecord('b', 2)];
    useDoc.getState().load({ ...records(), ...Object.fromEntries(b2.map((r) => [r.id, r])) });
    const c = act.addCorrection('shot:a');
    act.setMix(c.id, 30);
    const held = holdReference(shot());
    act.setMix(c.id, 80);
    const view = { w: 64, h: 36, scale: 0.04, offX: 0, offY: 0, mode: 'picture', compare: 'side', wipeX: 0 } as const;
    const look: Looking = {
      ...{ shot: 'shot:a', correction: c.id, alone: null, bypass: false, preview: null, slots: [], px: {}, bits: 16 },
      view,
      held,
    };
    const ask = (against: string, more: Partial<Looking> = {}) => requestOf(records(), { ...look, against, ...more })!;
    const asked = ask('held');
    expect(asked.request.against!.corrections[0]!.mixPct).toBe(30);
    expect(asked.request.shot.corrections[0]!.mixPct).toBe(80);
    expect(asked.request.againstAspect).toBe(1);
    // The picture goes on, what is held does not.
    expect(atFrame(asked, 9).shot.frame).toBe(9);
    expect(atFrame(asked, 9).against!.frame).toBe(held.state.frame);
    expect(ask('held', { held: null }).request.against).toBeUndefined();
    const gone = { ...held, state: { ...held.state, media: 'media:gone' } };
    expect(ask('held', { held: gone }).request.against).toBeUndefined();
    // The shot itself is no other one.
    expect(ask('shot:a').request.against).toBeUndefined();
    const b = ask('shot:b').request;
    expect(b.against).toMatchObject({ media: 'media:b', corrections: [] });
    // Its pixels are twice as wide as the shot's own.
    expect(b.againstAspect).toBe(2);
    expect(ask('held', { view: { ...view, compare: 'off' } }).request.against).toBeUndefined();
  });
});
