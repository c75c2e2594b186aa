// @vitest-environment happy-dom
/** A press that is looked for where the pointer rests is the press that is made there, and no other. */
import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { OpTerm } from '../core/graph/plan';
import type { MediaRecord, ShotRecord } from '../document/records';
import type { Requests } from '../protocol/messages';
import * as act from './actions';
import { useJobs } from './jobs';
import { leavePress, lookAhead, pressSkin, takePress, usePress } from './press';
import { useDoc, useSession } from './store';
import { shotRecord, stillRecord } from '../../testkit/records';

type Question = Requests['skinPress']['in'];
const asked: { q: Question; lane: string | undefined; signal: AbortSignal | undefined }[] = [];
let answer: (q: Question) => Promise<unknown>;
vi.mock('./engine', () => ({
  engine: () => ({
    request: (_: 'skinPress', q: Question, signal?: AbortSignal, lane?: string) => {
      asked.push({ q, lane, signal });
      return answer(q);
    },
    prefetch: () => undefined,
  }),
}));
const found = { patch: null, solved: null, fault: null, before: null, after: null, coverage: 0.1, said: [] };
const shot = (): ShotRecord => useDoc.getState().records['shot:a'] as ShotRecord;
const media = (): MediaRecord => useDoc.getState().records[shot().media] as MediaRecord;

beforeEach(() => {
  asked.length = 0;
  answer = () => Promise.resolve(found);
  const list = [stillRecord('a', 1600), shotRecord('a', 1)];
  useDoc.getState().load(Object.fromEntries(list.map((r) => [r.id, r])));
  leavePress();
  useSession.getState().set({ shot: 'shot:a', tool: 'skinPress', frame: 0 });
});

describe('a press looked for ahead', () => {
  it('is asked for behind everything else, and is the one that is shown: nothing is asked again', async () => {
    lookAhead(shot(), media(), { x: 400.02, y: 300 });
    expect(asked.map((a) => a.lane)).toEqual(['jobs']);
    expect(usePress.getState().press).toBeNull();
    await pressSkin(shot(), media(), { x: 400.04, y: 300 });
    expect(asked).toHaveLength(1);
    const { correction } = usePress.getState().press!;
    expect(correction.id).toBe(asked[0]!.q.correction);
    expect(correction.terms[0]).toMatchObject({ strokes: [{ keep: true, frame: 0, points: [[400, 300]] }] });
    // Used once: the same press again is a new one.
    leavePress();
    useSession.getState().set({ tool: 'skinPress' });
    await pressSkin(shot(), media(), { x: 400.04, y: 300 });
    expect(asked).toHaveLength(2);
    expect(asked[1]!.lane).toBeUndefined();
    expect(usePress.getState().press!.correction.id).toBe(asked[1]!.q.correction);
  });
  it.each([
    ['another place', () => {}, 401],
    ['another frame', () => useSession.getState().set({ frame: 3 }), 400],
    ['files of other bits', () => useSession.getState().set({ bits: useSession.getState().bits === 8 ? 16 : 8 }), 400],
    ['a document that has changed', () => void act.addCorrection('shot:a'), 400],
  ])('%s is asked for anew', async (_, change, x) => {
    lookAhead(shot(), media(), { x: 400, y: 300 });
    change();
    await pressSkin(shot(), media(), { x, y: 300 });
    expect(asked.map((a) => a.lane)).toEqual(['jobs', undefined]);
    expect(usePress.getState().press!.correction.id).toBe(asked[1]!.q.correction);
  });
  it('is ended once the pointer rests elsewhere or the tool is put away, and not once it is pressed', async () => {
    const gone = lookAhead(shot(), media(), { x: 400, y: 300 });
    const later = lookAhead(shot(), media(), { x: 500, y: 300 });
    expect(asked.map((a) => a.signal!.aborted)).toEqual([true, false]);
    gone();
    expect(asked[1]!.signal!.aborted).toBe(false);
    const pressed = pressSkin(shot(), media(), { x: 500, y: 300 });
    later();
    await pressed;
    expect(asked[1]!.signal!.aborted).toBe(false);
    expect(usePress.getState().press!.correction.id).toBe(asked[1]!.q.correction);
    const last = lookAhead(shot(), media(), { x: 10, y: 10 });
    last();
    expect(asked[2]!.signal!.aborted).toBe(true);
  });
  it('that fails is said by the press alone', async () => {
    answer = () => Promise.reject(new Error('no memory'));
    lookAhead(shot(), media(), { x: 400, y: 300 });
    await Promise.resolve();
    expect(usePress.getState()).toMatchObject({ press: null, asking: false });
    await pressSkin(shot(), media(), { x: 400, y: 300 });
    expect(asked).toHaveLength(1);
    expect(usePress.getState()).toMatchObject({ press: null, asking: false });
  });
});

describe('a press taken on a clip', () => {
  it('is held; its patch goes along with what is found, not with the press', async () => {
    const clip = { ...shotRecord('a', 1), range: [0, 3] as [number, number] };
    useDoc.getState().load(Object.fromEntries([stillRecord('a', 1600), clip].map((r) => [r.id, r])));
    useSession.getState().set({ frame: 1 });
    const begun: Requests['holdRegion']['in'][] = [];
    const by = (x: number): number[] => [1, 0, x, 0, 1, 0, 0, 0, 1];
    answer = (q) => {
      if (!('run' in q)) return Promise.resolve({ ...found, patch: { x: 40, y: 60, w: 10, h: 20 } });
      const ask = q as unknown as Requests['holdRegion']['in'];
      if (ask.begin) begun.push(ask);
      const { frame } = ask.shot;
      const rest = { quality: 1, lost: false, why: '', renewed: false, held: false, share: 0.1 };
      return Promise.resolve({ h: by(100 * (frame - 1)), along: by(frame - 1), ...rest });
    };
    await pressSkin(shot(), media(), { x: 400, y: 300 });
    takePress();
    await vi.waitFor(() => expect(useJobs.getState().jobs.filter((j) => j.state !== 'running')).toHaveLength(1));
    const records = Object.values(useDoc.getState().records);
    const corr = records.find((r) => r.type === 'correction')!;
    const patch = records.find((r) => r.type === 'patch')!;
    const goneBy = (t: { path: readonly { frame: number; h: readonly number[] }[] } | undefined): unknown =>
      t?.path.map((p) => [p.frame, p.h[2]]);
    expect(goneBy((corr.terms[0] as OpTerm).track)).toEqual([
      [0, -100],
      [2, 100],
      [3, 200],
    ]);
    expect(goneBy(patch.track)).toEqual([
      [0, -1],
      [2, 1],
      [3, 2],
    ]);
    // In both directions, about places spread over the patch.
    expect(begun).toHaveLength(2);
    for (const { goes } of begun) {
      expect(goes).toHaveLength(25);
      const [xs, ys] = [0, 1].map((k) => goes!.map((p) => p[k]!)) as [number[], number[]];
      expect([Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]).toEqual([41, 49, 62, 78]);
    }
  });
});
