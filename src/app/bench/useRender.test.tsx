// @vitest-environment happy-dom
/** When the engine is asked for the picture, and for what. */
import { act, useRef } from 'react';
import { createRoot } from 'react-dom/client';
import type { Root } from 'react-dom/client';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { newUse } from '../../core/graph/plan.defaults';
import { put } from '../../document/history';
import { correctionsOf } from '../../document/records';
import type { AnyRecord, MediaRecord, ShotRecord } from '../../document/records';
import type { RenderRequest } from '../../protocol/messages';
import { addCorrection } from '../actions';
import { useDoc } from '../store';
import { atFrame, requestOf } from './request';
import type { Looking } from './request';
import { useRender } from './useRender';

const asked: RenderRequest[] = [];
vi.mock('../engine', () => ({
  engine: () => ({
    render: (r: RenderRequest) => {
      asked.push(r);
      return Promise.resolve(null);
    },
  }),
}));

const media: MediaRecord = {
  type: 'media',
  id: 'media:a',
  kind: 'still',
  fileName: 'a.png',
  format: 'png',
  bits: 8,
  width: 1600,
  height: 900,
  frames: 1,
  pixelAspect: [1, 1],
  sha256: 'a'.repeat(64),
  source: { from: 'file' },
};
const shot: ShotRecord = {
  type: 'shot',
  id: 'shot:a',
  name: 'A',
  media: 'media:a',
  encoding: 'srgb',
  encodingGuessed: false,
  conversion: newUse('conversion', 'convert', {}, false),
  range: [0, 0],
  rate: [24, 1],
  timecode: { start: 0, drop: false },
} as unknown as ShotRecord;
const look = (more: Partial<Looking> = {}): Looking => ({
  shot: 'shot:a',
  correction: null,
  alone: null,
  bypass: false,
  preview: null,
  view: {
    w: 1200,
    h: 700,
    scale: 0.75,
    offX: 0,
    offY: 0,
    mode: 'picture',
    ground: 'grey',
    compare: 'off',
    wipeX: 0,
    falseColour: 'off',
    shown: 'numbers',
    select: null,
    zonesOf: null,
  },
  slots: [],
  px: {},
  bits: 16,
  ...more,
});

let root: Root;
let looking: Looking;
let drawings = 0;
function Picture() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const records = useDoc((s) => s.records);
  const dragging = useDoc((s) => s.mark !== null);
  drawings++;
  useRender(canvas, { records, look: looking, frame: 0, asked: requestOf(records, looking) }, dragging);
  return null;
}
const mixOf = (r: RenderRequest): unknown => r.shot.corrections[0]!.mixPct;
const setMix = (mixPct: number): void =>
  useDoc.getState().change('Mix', (r) => {
    const c = correctionsOf(r, shot.id)[0]!;
    return put({ ...c, mixPct })(r);
  });

beforeEach(() => {
  globalThis.IS_REACT_ACT_ENVIRONMENT = true;
  vi.useFakeTimers();
  useDoc.getState().load(Object.fromEntries([media, shot].map((r) => [r.id, r as AnyRecord])));
  addCorrection('shot:a');
  looking = look();
  root = createRoot(document.createElement('div'));
  act(() => root.render(<Picture />));
  asked.length = 0;
  drawings = 0;
});
afterEach(() => {
  act(() => root.unmount());
  vi.useRealTimers();
});

test('a step of a drag is asked for before the interface is drawn for it, once and coarsely', () => {
  act(() => useDoc.getState().begin('Mix'));
  asked.length = 0;
  drawings = 0;
  act(() => {
    setMix(40);
    expect(drawings).toBe(0);
    expect(asked.map((r) => [r.quality, mixOf(r), r.view.w])).toEqual([['draft', 40, 600]]);
  });
  expect(drawings).toBeGreaterThan(0);
  expect(asked).toHaveLength(1);
  act(() => setMix(41));
  expect(asked.map(mixOf)).toEqual([40, 41]);
});

test('when the hand lets go the draft is fine, then comes the final', async () => {
  act(() => useDoc.getState().begin('Mix'));
  act(() => setMix(40));
  asked.length = 0;
  act(() => useDoc.getState().end());
  expect(asked.map((r) => [r.quality, mixOf(r), r.view.w])).toEqual([['draft', 40, 1200]]);
  await act(() => vi.advanceTimersByTimeAsync(200));
  expect(asked.map((r) => r.quality)).toEqual(['draft', 'final']);
  expect(mixOf(asked[1]!)).toBe(40);
});

test('what changes without a hand is asked for once, with all of it', () => {
  act(() => {
    setMix(10);
    setMix(20);
    expect(asked).toHaveLength(0);
  });
  expect(asked.map(mixOf)).toEqual([20]);
});

test('a view that changed meanwhile is asked for again', () => {
  act(() => useDoc.getState().begin('Mix'));
  asked.length = 0;
  act(() => {
    setMix(40);
    looking = look({ bypass: true });
  });
  expect(asked.map((r) => r.shot.corrections[0]!.on)).toEqual([true, false]);
});

test('a request is made of the document and of how it is looked at', () => {
  const { records } = useDoc.getState();
  const c = correctionsOf(records, shot.id)[0]!;
  const ellipse = { id: 't1', name: 'Ellipse 1', join: 'and', invert: false, use: newUse('t1', 'ellipse') } as never;
  const key = { id: 't2', name: 'Key 1', join: 'and', invert: false, use: newUse('t2', 'key') } as never;
  const there = put({ ...c, terms: [ellipse, key], tidy: [newUse('d', 'feather')] })(records);
  const terms = (l: Looking): string[][] | undefined =>
    requestOf(there, l)?.request.shot.corrections.map((x) => x.terms.map((t) => t.id));
  expect(terms(look())).toEqual([['t1', 't2']]);
  expect(terms(look({ correction: c.id, alone: 't2' }))).toEqual([['t2']]);
  expect(requestOf(there, look({ correction: c.id, alone: 't2' }))!.request.shot.corrections[0]!.tidy).toEqual([]);
  expect(terms(look({ correction: c.id, alone: 'gone' }))).toEqual([['t1', 't2']]);
  const preview = { correction: null, term: ellipse };
  expect(terms(look({ preview }))).toEqual([['t1', 't2'], ['t1']]);
  expect(requestOf(there, look({ preview }))!.request.focus).toBe('preview');
  expect(terms(look({ preview: { correction: c.id, term: key } }))).toEqual([['t1', 't2']]);
  expect(requestOf(there, look({ shot: 'shot:gone' }))).toBeNull();
  expect(requestOf(there, look({ view: { ...look().view, w: 1 } }))).toBeNull();
  expect(atFrame(requestOf(there, look())!, 7).shot.frame).toBe(7);
});
