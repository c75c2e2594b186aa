/** In which order frames are asked of the decoder while a shot plays slower than it should. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { FrameRef, RenderReply, RenderRequest } from '../protocol/messages';

const held = new Set<number>();
/** Of the decoder, in order. */
const asked: number[] = [];
const recycled: ArrayBuffer[] = [];
/** Made at rest, in order. */
const prepared: number[] = [];
let broken = -1;
let makesMs = 0;
const decode = (frame: number): void => {
  if (held.has(frame)) return;
  held.add(frame);
  asked.push(frame);
};
vi.mock('./engine', () => ({
  engine: () => ({
    holds: (r: FrameRef) => held.has(r.frame),
    prefetch: (r: FrameRef) => decode(r.frame),
    play: async (q: RenderRequest) => {
      decode(q.shot.frame);
      await new Promise((done) => setTimeout(done, makesMs));
      return { rgba: new Uint8ClampedArray(2 ** 20), quality: 'draft' } as unknown as RenderReply;
    },
    prepare: async (q: RenderRequest, signal: AbortSignal) => {
      await new Promise((done) => setTimeout(done, 20));
      signal.throwIfAborted();
      if (q.shot.frame === broken) throw new Error('broken');
      prepared.push(q.shot.frame);
      return { rgba: new Uint8ClampedArray(2 ** 20), quality: 'draft' } as unknown as RenderReply;
    },
    recycle: (b: ArrayBuffer) => recycled.push(b),
  }),
}));
vi.mock('./sound', () => ({ sound: { start: () => {}, stop: () => {} } }));
const { player, usePlay } = await import('./player');
const { useNotices } = await import('./notices');
const { useSession } = await import('./store');

const FRAMES = 600;
beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] });
  vi.stubGlobal('requestAnimationFrame', (f: () => void) => setTimeout(f, 16));
  vi.stubGlobal('cancelAnimationFrame', clearTimeout);
  held.clear();
  asked.length = 0;
  prepared.length = 0;
  broken = -1;
  useSession.getState().set({ frame: 0 });
  player.attach(player, {
    base: {},
    request: (frame) => ({ shot: { media: 'm', frame }, scopes: [] }) as never,
    fps: 24,
    range: { first: 0, last: FRAMES - 1 },
    media: {} as never,
    draw: () => {},
  });
});
afterEach(() => {
  player.stop();
  player.attach(player, null);
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test.each([
  ['in time', 20],
  ['hardly', 60],
  ['at a third of the rate', 125],
  ['once in a second', 1000],
])('one after the other, never back, when frames are made %s', async (_, ms) => {
  makesMs = ms;
  player.play();
  // Slow once, quick afterwards: what was left out then is not gone back for.
  await vi.advanceTimersByTimeAsync(3000);
  makesMs = 15;
  await vi.advanceTimersByTimeAsync(3000);
  expect(asked.length).toBeGreaterThan(50);
  expect(asked).toEqual([...asked].sort((a, b) => a - b));
  expect(usePlay.getState().shown).toBeGreaterThan(30);
});

test('pixels of frames that make room are handed back', async () => {
  makesMs = 5;
  recycled.length = 0;
  player.play();
  await vi.advanceTimersByTimeAsync(7000);
  // 112 MB of one each.
  expect(recycled.length).toBeGreaterThan(20);
  expect(new Set(recycled).size).toBe(recycled.length);
});

test('at rest the frames after it are made, and playing begins with them', async () => {
  await vi.advanceTimersByTimeAsync(600);
  expect(prepared).toEqual([]);
  await vi.advanceTimersByTimeAsync(2000);
  expect(prepared).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]);
  // None of those is asked for again, however slowly the others come.
  makesMs = 200;
  player.play();
  await vi.advanceTimersByTimeAsync(500);
  expect(usePlay.getState().dropped).toBe(0);
  expect(usePlay.getState().shown).toBeGreaterThanOrEqual(12);
  expect(Math.min(...asked)).toBeGreaterThan(12);
});

test('what changes ends that, and it begins from where it rests then; what is broken is not said', async () => {
  broken = 43;
  await vi.advanceTimersByTimeAsync(760);
  player.go(40);
  await vi.advanceTimersByTimeAsync(690);
  const before = prepared.length;
  expect(before).toBeLessThan(4);
  await vi.advanceTimersByTimeAsync(2000);
  expect(prepared.slice(before)).toEqual([40, 41, 42]);
  expect(useNotices.getState().list).toEqual([]);
  // While it plays nothing is prepared.
  player.play();
  await vi.advanceTimersByTimeAsync(1500);
  expect(prepared).toHaveLength(before + 3);
});
