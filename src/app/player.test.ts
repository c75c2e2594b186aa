/** In which order frames are asked of the decoder while a shot plays slower than it should. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { FrameRef, RenderReply, RenderRequest } from '../protocol/messages';

const held = new Set<number>();
/** Of the decoder, in order. */
const asked: number[] = [];
const recycled: ArrayBuffer[] = [];
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
    recycle: (b: ArrayBuffer) => recycled.push(b),
  }),
}));
vi.mock('./sound', () => ({ sound: { start: () => {}, stop: () => {} } }));
const { player, usePlay } = await import('./player');
const { useSession } = await import('./store');

const FRAMES = 600;
beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] });
  vi.stubGlobal('requestAnimationFrame', (f: () => void) => setTimeout(f, 16));
  vi.stubGlobal('cancelAnimationFrame', clearTimeout);
  held.clear();
  asked.length = 0;
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
