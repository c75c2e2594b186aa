// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest';
import type { OpTerm } from '../core/graph/plan';
import { newUse } from '../core/graph/plan.defaults';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../document/records';
import { valueAt } from '../core/op/params';
import { setMix, setParams } from './actions';
import { setRange, splitShot } from './cut';
import { joined } from './following';
import { addPoint, removePoint } from './freeformPoints';
import { runJob, useJobs } from './jobs';
import {
  allLanes,
  keyFrames,
  keyHere,
  lanesOf,
  nearKey,
  removeKeys,
  repeatKeys,
  setEase,
  shiftKeys,
  toggleKey,
} from './keying';
import { outlineOf } from './outline';
import { setShape, shapeValues } from './shapeValues';
import { useDoc, useSession } from './store';

const media: MediaRecord = {
  type: 'media',
  id: 'media:m',
  kind: 'clip',
  fileName: 'm.webm',
  format: 'webm',
  bits: 8,
  width: 200,
  height: 100,
  frames: 40,
  pixelAspect: [1, 1],
  sha256: 'a'.repeat(64),
  yuv: { matrix: 'bt709', full: false, siting: 'left', guessed: false },
  source: { from: 'file' },
};
const shot: ShotRecord = {
  type: 'shot',
  id: 'shot:s',
  name: 'S',
  media: media.id,
  encoding: 'bt1886',
  encodingGuessed: false,
  conversion: newUse('conversion', 'convert', {}, false),
  range: [0, 39],
  rate: [24, 1],
  timecode: { start: 0, drop: false },
  order: 1,
};
const corr: CorrectionRecord = {
  type: 'correction',
  id: 'corr:c',
  owner: shot.id,
  name: 'C',
  on: true,
  mixPct: 100,
  order: 1,
  terms: [
    {
      id: 't',
      join: 'and',
      not: false,
      name: 'E',
      use: newUse('e', 'ellipse', { cxPx: 50, cyPx: 40, rxPx: 20, ryPx: 10 }),
    },
  ],
  tidy: [],
  adjustments: [newUse('x', 'exposure', { stops: 0.5 })],
};
const now = (): CorrectionRecord => useDoc.getState().records[corr.id] as CorrectionRecord;
const lane = (id: string) => allLanes(now()).find((l) => l.id === id)!;
const frameTo = (frame: number): void => {
  useSession.setState({ frame, shot: shot.id, term: 't' });
};
const steps = (): number => useDoc.getState().past.length;
const param = (name: string): unknown =>
  (now().terms[0] as { use: { params: Record<string, unknown> } }).use.params[name];

beforeEach(() => {
  useDoc
    .getState()
    .load(
      Object.fromEntries(
        [{ type: 'project' as const, id: 'project:p' as const, name: 'P', skinLineDeg: 123 }, media, shot, corr].map(
          (r) => [r.id, r],
        ),
      ),
    );
  useDoc.setState({ role: 'writer' });
  frameTo(0);
});

describe('keys of a correction', () => {
  it('nothing moves before the first; a shape is one lane, its geometry goes together', () => {
    expect(lanesOf(now())).toEqual([]);
    keyHere(corr.id);
    expect(lanesOf(now()).map((l) => l.title)).toEqual(['E']);
    frameTo(10);
    setParams(corr.id, 'e', { cxPx: 90 });
    // What is not touched has its key there as well: it stands where it stood.
    expect(lane('e').frames).toEqual([0, 10]);
    expect(param('cyPx')).toMatchObject({
      keys: [
        { frame: 0, value: 40 },
        { frame: 10, value: 40 },
      ],
    });
    frameTo(5);
    expect(shapeValues(now().terms[0] as never, 5)['cxPx']).toBeCloseTo(70, 9);
    expect(keyFrames(now())).toEqual([0, 10]);
    expect([nearKey(now(), 5, 1), nearKey(now(), 5, -1), nearKey(now(), 0, -1)]).toEqual([10, 0, null]);
  });
  it('one gesture is one step: set, moved, copied, eased, removed', () => {
    toggleKey(corr.id, 'x/stops');
    toggleKey(corr.id, 'mix');
    expect(steps()).toBe(2);
    const both = () => [lane('x/stops'), lane('mix')].map((l) => ({ lane: l, frames: new Set(l.frames) }));
    shiftKeys(corr.id, both(), 7);
    expect([lane('x/stops').frames, lane('mix').frames]).toEqual([[7], [7]]);
    expect(steps()).toBe(3);
    repeatKeys(corr.id, both(), 12);
    expect(lane('mix').frames).toEqual([7, 19]);
    setEase(corr.id, both(), 'hold');
    expect(lane('x/stops').eases).toEqual({ 7: 'hold', 19: 'hold' });
    removeKeys(corr.id, both());
    // Without keys it stands still where the first one held it.
    expect(now().mixPct).toBe(100);
    expect(lanesOf(now())).toEqual([]);
    expect(steps()).toBe(6);
    useDoc.getState().undo();
    expect(lane('mix').frames).toEqual([7, 19]);
  });
  it('a mix that moves gets a key where it is changed, and keeps the others', () => {
    toggleKey(corr.id, 'mix');
    useSession.getState().set({ frame: 12 });
    setMix(corr.id, 40);
    expect(lane('mix').frames).toEqual([0, 12]);
    expect([0, 12].map((f) => valueAt(now().mixPct, f))).toEqual([100, 40]);
    useSession.getState().set({ frame: 0 });
  });
  it('a key is set and taken away at one place; with none chosen it says what to do', () => {
    toggleKey(corr.id, 'x/stops');
    toggleKey(corr.id, 'x/stops');
    expect(lanesOf(now())).toEqual([]);
    useSession.setState({ term: null });
    keyHere(corr.id);
    expect(lanesOf(now())).toEqual([]);
  });
});

describe('a shape that follows', () => {
  const track = { at: 0, path: [{ frame: 4, h: [1, 0, 30, 0, 1, -5, 0, 0, 1] }] };
  it('a hand moves it where it stands; what is stored is where it was drawn', () => {
    useDoc
      .getState()
      .change('x', (r) => ({ ...r, [corr.id]: { ...corr, terms: [{ ...corr.terms[0]!, track }] } }) as never);
    frameTo(4);
    const t = now().terms[0] as never;
    expect(shapeValues(t, 4)).toMatchObject({ cxPx: 80, cyPx: 35, rxPx: 20 });
    setShape(corr.id, t, { cxPx: 85 }, 'Move');
    expect(param('cxPx')).toBe(55);
    expect(param('cyPx')).toBe(40);
    expect(shapeValues(now().terms[0] as never, 4)['cxPx']).toBe(85);
  });
  it('points that move by themselves: a hand moves one where it stands, one comes in on the line, one goes', () => {
    const own = [5, 0, -5, 10, 0, 20, 0, 0];
    const bent = { at: 0, path: [{ frame: 4, h: [1, 0, 30, 0, 1, -5, 0, 0, 1], own }] };
    const use = newUse('e', 'freeform', { points: [100, 100, 200, 100, 200, 200, 100, 200] });
    const drawn = { ...corr.terms[0]!, use, track: bent };
    useDoc.getState().change('x', (r) => ({ ...r, [corr.id]: { ...corr, terms: [drawn] } }) as never);
    frameTo(4);
    const term = () => now().terms[0] as typeof drawn as never as OpTerm;
    const stands = (): readonly number[] => shapeValues(term(), 4)['points'] as readonly number[];
    expect(stands()).toEqual([135, 95, 225, 105, 230, 215, 130, 195]);
    expect(shapeValues(term(), 0)['points']).toEqual([100, 100, 200, 100, 200, 200, 100, 200]);
    setShape(corr.id, term(), { points: [135, 95, 240, 110, 230, 215, 130, 195] }, 'Change the freeform');
    expect(term().use.params['points']).toEqual([100, 100, 215, 105, 200, 200, 100, 200]);
    expect(stands().slice(2, 4)).toEqual([240, 110]);
    const before = useDoc.getState().past.length;
    addPoint(corr.id, term(), 4, 1);
    // Half-way between where its neighbours stand on that frame; one step to undo.
    expect(stands().slice(4, 6)).toEqual([235, 162.5]);
    expect(stands().slice(2, 4)).toEqual([240, 110]);
    expect(useDoc.getState().past.length).toBe(before + 1);
    removePoint(corr.id, term(), 4, 0);
    expect(stands()).toEqual([240, 110, 235, 162.5, 230, 215, 130, 195]);
    useDoc.getState().undo();
    useDoc.getState().undo();
    expect(stands()).toEqual([135, 95, 240, 110, 230, 215, 130, 195]);
  });
  it('a run from another frame goes on from where the path was', () => {
    const more = joined(track, 4, [{ frame: 5, h: [1, 0, 2, 0, 1, 1, 0, 0, 1], quality: 0.9, lost: false }]);
    expect(more.at).toBe(0);
    expect(more.path.map((p) => p.frame)).toEqual([4, 5]);
    expect(more.path[1]!.h.slice(0, 6)).toEqual([1, 0, 32, 0, 1, -4]);
    expect(joined(undefined, 7, []).at).toBe(7);
  });
  it('outlines lie on the shape; a ramp has none', () => {
    const v = { cxPx: 50, cyPx: 40, rxPx: 20, ryPx: 10, angleDeg: 90 };
    const box = outlineOf('box', v, 200, 100)!;
    // Turned by a quarter: as high as it was wide.
    expect(Math.max(...box.map((p) => p[1]))).toBeCloseTo(60, 9);
    expect(Math.max(...box.map((p) => p[0]))).toBeCloseTo(60, 9);
    for (const [x, y] of outlineOf('ellipse', v, 200, 100)!)
      expect(((x - 50) / 10) ** 2 + ((y - 40) / 20) ** 2).toBeCloseTo(1, 9);
    expect(outlineOf('freeform', { points: [0, 0, 10, 0, 10, 10], roundPct: 0 }, 9, 9)!.length).toBeGreaterThanOrEqual(
      3,
    );
    expect(outlineOf('ramp', {}, 9, 9)).toBeNull();
  });
});

describe('parts of a clip', () => {
  it('in and out stay in order', () => {
    setRange(shot, 'in', 6);
    const s = (): ShotRecord => useDoc.getState().records[shot.id] as ShotRecord;
    setRange(s(), 'out', 20);
    expect(s().range).toEqual([6, 20]);
    setRange(s(), 'in', 30);
    expect(s().range).toEqual([6, 20]);
  });
  it('a cut gives each part its own corrections, in one step', () => {
    const next = splitShot(shot, [10, 25])!;
    const all = Object.values(useDoc.getState().records);
    const shots = all.filter((r): r is ShotRecord => r.type === 'shot').sort((a, b) => a.order - b.order);
    expect(shots.map((s) => s.range)).toEqual([
      [0, 9],
      [10, 24],
      [25, 39],
    ]);
    expect(shots[1]!.id).toBe(next);
    const copies = all.filter((r): r is CorrectionRecord => r.type === 'correction');
    expect(new Set(copies.map((c) => c.owner)).size).toBe(3);
    expect(new Set(copies.flatMap((c) => c.terms.map((t) => t.id))).size).toBe(3);
    expect(steps()).toBe(1);
    expect(splitShot(shots[1]!, [10])).toBeNull();
  });
});

describe('jobs', () => {
  it('tell their steps, which only rise, and end as done, failed or cancelled', async () => {
    const seen: number[] = [];
    const off = useJobs.subscribe((s) => seen.push(s.jobs.at(-1)?.done ?? 0));
    expect(
      await runJob('a', 4, async (run) => {
        for (const n of [1, 3, 2, 4]) run.at(n);
        return 'yes';
      }),
    ).toBe('yes');
    off();
    expect(seen).toEqual([...seen].sort((a, b) => a - b));
    expect(useJobs.getState().jobs.at(-1)).toMatchObject({ state: 'done', done: 4 });
    expect(await runJob('b', 2, () => Promise.reject(new Error('x')))).toBeNull();
    expect(useJobs.getState().jobs.at(-1)!.state).toBe('failed');
    const c = runJob('c', 2, async (run) => {
      useJobs.getState().jobs.at(-1)!.abort.abort();
      run.check();
    });
    expect(await c).toBeNull();
    expect(useJobs.getState().jobs.at(-1)!.state).toBe('cancelled');
  });
});
