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
import { polygonMask } from '../src/core/math/polygon';
import { curveOf } from '../src/core/ops/freeform/line';
import { Follower } from '../src/core/track/follow';
import { OutlineFollower } from '../src/core/track/outlineFollower';
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

/** With what lies within it: eyes and lips are no skin to the renderer. */
function filled(m: Uint8Array): Uint8Array {
  const out = new Uint8Array(m.length).fill(1);
  out[0] = 0;
  for (const todo = [0]; todo.length > 0;) {
    const i = todo.pop()!;
    for (const j of [i - 1, i + 1, i - W, i + W])
      if (out[j] === 1 && m[j] === 0) {
        out[j] = 0;
        todo.push(j);
      }
  }
  return out;
}

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
  const run = (kind: 'position' | 'similarity') => {
    const f = new Follower(greyOf(pictures[0]!), ellipse, kind, coloursAt(pictures[0]!));
    const steps = pictures.slice(1).map((p) => f.step(greyOf(p), coloursAt(p)));
    return { steps, worst: Math.min(...steps.map((s, n) => held(n + 1, s.h))) };
  };
  it.each(['position', 'similarity'] as const)('stays about it, by %s', (kind) => {
    const { steps, worst } = run(kind);
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
  it('a freeform drawn along it in twenty points is followed point by point: it has the form of what is seen', () => {
    const faces = new Map<number, Uint8Array>();
    const inFace = (frame: number): Uint8Array => {
      const known = faces.get(frame);
      if (known) return known;
      const m = Uint8Array.from(png.data.subarray(frame * W * H, (frame + 1) * W * H), (v) => (v > 127 ? 1 : 0));
      const face = filled(m);
      faces.set(frame, face);
      return face;
    };
    const first = inFace(0);
    const n = first.reduce((a, v) => a + v, 0);
    const [mx, my] = [0, 1].map(
      (c) => first.reduce((a, v, i) => a + v * ((c === 0 ? i % W : Math.floor(i / W)) + 0.5), 0) / n,
    ) as [number, number];
    // Along the face: from its middle outwards until it ends.
    const points = Array.from({ length: 20 }, (_, k): Point => {
      const [c, s] = [Math.cos((2 * Math.PI * k) / 20), Math.sin((2 * Math.PI * k) / 20)];
      let r = 0;
      for (let q = 0; q < 150; q += 0.25) if (first[Math.floor(my + q * s) * W + Math.floor(mx + q * c)] === 1) r = q;
      return [2 * (mx + r * c), 2 * (my + r * s)];
    });
    const curve = curveOf({ points: [], round: 1 });
    const overlap = (line: readonly Point[], frame: number): number => {
      const m = polygonMask(
        line.map(([x, y]) => [x / 2, y / 2] as const),
        W,
        H,
      );
      const t = inFace(frame);
      let [both, either] = [0, 0];
      m.forEach((v, i) => {
        both += v & t[i]!;
        either += v | t[i]!;
      });
      return both / either;
    };
    const f = new OutlineFollower(greyOf(pictures[0]!), points, curve, coloursAt(pictures[0]!));
    const steps = pictures.slice(1).map((p) => f.step(greyOf(p), coloursAt(p)));
    expect(steps.filter((s) => s.lost)).toHaveLength(0);
    const of = steps.map((s, k) => {
      const bent = points.map(([x, y], i): Point => [x + s.own[2 * i]!, y + s.own[2 * i + 1]!]);
      return overlap(
        curve(bent).map(([x, y]) => mapPoint(s.h, x, y)),
        k + 1,
      );
    });
    expect(overlap(curve(points), 0)).toBeLessThan(0.96);
    expect(Math.min(...of)).toBeGreaterThan(0.9);
    // All of it as one would not: it is another form.
    const asOne = steps.map((s, k) =>
      overlap(
        curve(points).map(([x, y]) => mapPoint(s.h, x, y)),
        k + 1,
      ),
    );
    expect(Math.min(...asOne)).toBeLessThan(0.75);
  });
  it('by features alone it would leave the face', () => {
    const f = new Follower(greyOf(pictures[0]!), ellipse, 'position');
    const left = pictures.slice(1).findIndex((p, n) => held(n + 1, f.step(greyOf(p)).h) < 0.8);
    expect(left).toBeGreaterThan(0);
  });
});
