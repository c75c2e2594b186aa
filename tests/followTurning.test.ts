/**
 * An ellipse about a face that turns through half a profile, followed over the demo's clip: its features go out of
 * sight one after the other, and it must stay about the face all the same, by the renderer's own truth.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { describe, expect, it } from 'vitest';
import { openFrames } from '../src/cli/frames';
import { coloursAt, greyOf } from '../src/cli/grey';
import { mapPoint } from '../src/core/graph/track';
import { invertMap } from '../src/core/track/fit';
import { Follower } from '../src/core/track/follow';
import type { Point } from '../src/core/track/points';
import { startTwins } from '../src/engine/twins';
import { nodeCodecs } from '../src/media/node';
import type { DecodedPicture } from '../src/media/picture';
import { wasmBytes } from '../testkit/bench';

const demo = join(import.meta.dirname, '../demo');
const ffmpeg = spawnSync('ffmpeg', ['-version']).status === 0;
if (!ffmpeg) console.log('ffmpeg is not installed: no shape is followed over a clip (apt-get install ffmpeg)');
/** Truth is half as wide as the clip. */
const [W, H, FRAMES] = [480, 270, 72];
const [cx, cy, rx, ry] = [428, 224, 112, 118];
const ellipse: Point[] = Array.from({ length: 24 }, (_, k) => {
  const t = (2 * Math.PI * k) / 24;
  return [cx + rx * Math.cos(t), cy + ry * Math.sin(t)];
});

describe.skipIf(!ffmpeg)('an ellipse about a face that turns', async () => {
  nodeCodecs();
  await startTwins(wasmBytes());
  const pictures: DecodedPicture[] = [];
  if (ffmpeg) {
    const frames = await openFrames(join(demo, 'stills/baker-turning.webm'));
    for await (const p of frames.read(0, FRAMES - 1)) pictures.push(p);
  }
  const png = decode(readFileSync(join(demo, 'clips/baker-turning.truth-skin-left-baker.png')));
  /** Of the face on a frame, how much lies in the ellipse and a tenth about it. */
  const held = (frame: number, h: readonly number[]): number => {
    const back = invertMap(h);
    let [all, within] = [0, 0];
    for (let i = 0; i < W * H; i++) {
      if (!(png.data[frame * W * H + i]! > 127)) continue;
      all++;
      const [x, y] = mapPoint(back, 2 * (i % W) + 1, 2 * Math.floor(i / W) + 1);
      if (((x - cx) / rx / 1.1) ** 2 + ((y - cy) / ry / 1.1) ** 2 < 1) within++;
    }
    return within / all;
  };
  const run = (kind: 'position' | 'similarity', colours: boolean) => {
    const at = (p: DecodedPicture) => (colours ? coloursAt(p) : undefined);
    const f = new Follower(greyOf(pictures[0]!), ellipse, kind, at(pictures[0]!));
    const steps = pictures.slice(1).map((p) => f.step(greyOf(p), at(p)));
    return { steps, worst: Math.min(...steps.map((s, n) => held(n + 1, s.h))) };
  };
  it.each(['position', 'similarity'] as const)('stays about it, by %s', (kind) => {
    const { steps, worst } = run(kind, true);
    expect(worst).toBeGreaterThan(0.95);
    expect(steps.filter((s) => s.lost)).toHaveLength(0);
    // Features agree with the first frame for a while: only then colours are asked.
    const first = steps.findIndex((s) => s.held);
    expect(first).toBeGreaterThan(5);
    expect(steps.findIndex((s) => s.renewed)).toBeLessThanOrEqual(first);
    // It glides: frame by frame no further than a face that turns goes.
    const places = steps.map((s) => mapPoint(s.h, cx, cy));
    for (let n = 1; n < places.length; n++)
      expect(Math.hypot(places[n]![0] - places[n - 1]![0], places[n]![1] - places[n - 1]![1])).toBeLessThan(4);
  });
  it('by features alone it would leave the face', () => {
    expect(run('position', false).worst).toBeLessThan(0.8);
  });
});
