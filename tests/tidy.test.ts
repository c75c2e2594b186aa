/** Tidy for me on mattes of the demo with faults put in: the faults go, the matte is never worse against its truth. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { describe, expect, it } from 'vitest';
import { rng } from '../src/core/math/rng';
import { health, tidyFor } from '../src/core/matte/health';
import { plainContext } from '../src/core/op/contract';
import { defaultsOf } from '../src/core/op/params';
import { opById } from '../src/core/graph/plan';

const W = 1600;
/** Every second pixel of a truth that the renderer made. */
function truthOf(name: string): { m: Float32Array; w: number; h: number } {
  const png = decode(readFileSync(join(import.meta.dirname, '../demo/stills', name)));
  const [w, h] = [png.width / 2, png.height / 2];
  const most = 2 ** png.depth - 1;
  expect(png.width).toBe(W);
  const at = (i: number): number => png.data[(2 * Math.floor(i / w) * W + 2 * (i % w)) * png.channels]! / most;
  return { m: Float32Array.from({ length: w * h }, (_, i) => at(i)), w, h };
}
/** Steps in their own order, by the definitions. */
function tidied(m: Float32Array, w: number, h: number, steps: ReturnType<typeof tidyFor>): Float32Array {
  let now: Float32Array = m.slice();
  const place = (id: string): number => (opById(id) as { place: number }).place;
  for (const { op: id, params } of [...steps].sort((a, b) => place(a.op) - place(b.op))) {
    const op = opById(id);
    if (op.kind !== 'tidy') throw new Error(id);
    const values = { ...defaultsOf(op.params), ...params };
    const block = op.prepare(values, plainContext);
    const plane = (): Float32Array => new Float32Array(w * h);
    if (op.area === false) op.kernel(block, { m: now, n: w * h });
    else if (op.area === true)
      for (const pass of op.passes(block)) {
        const dst = plane();
        op.kernels[pass]!(block, {
          ...{ src: now, dst, scratch: new Int32Array(4 * (w + h)), w, h },
          ...{ y0: 0, y1: h, left: 0, top: 0 },
        });
        now = dst;
      }
    else {
      const dst = plane();
      const work = Array.from({ length: op.workPlanes }, plane);
      const run = { src: [now], dst: [dst], work, picture: [], scratch: new Int32Array(4 * (w + h)), w, h };
      for (const { name } of op.passes(block)) op.kernels[name]!(block, { ...run, y0: 0, y1: h });
      now = dst;
    }
  }
  return now;
}
function iou(m: Float32Array, truth: Float32Array): number {
  let [both, either] = [0, 0];
  m.forEach((v, i) => {
    const [on, t] = [v >= 0.5, truth[i]! >= 0.5];
    if (on && t) both++;
    if (on || t) either++;
  });
  return both / either;
}

describe.each([
  'courier.truth-skin-courier.png',
  'courier.truth-rain-jacket.png',
  'cold-window.truth-skin-window-baker.png',
])('tidy for me, %s', (name) => {
  const { m: truth, w, h } = truthOf(name);
  const faulty = (seed: number, noise: number): Float32Array => {
    const r = rng(seed);
    const m = truth.slice();
    // Away from edges, so that what is put in is told from what the thing itself goes round, such as eyes.
    const alike = (x: number, y: number, size: number): boolean => {
      const v = truth[y * w + x]!;
      if (v > 0 && v < 1) return false;
      for (let j = Math.max(0, y - 6); j < Math.min(h, y + size + 6); j++)
        for (let k = Math.max(0, x - 6); k < Math.min(w, x + size + 6); k++) if (m[j * w + k] !== v) return false;
      return true;
    };
    for (let i = 0, n = 0; i < 200_000 && n < 300; i++) {
      const size = 1 + Math.floor(5 * r());
      const [x, y] = [Math.floor(r() * (w - 8)), Math.floor(r() * (h - 8))];
      const full = truth[y * w + x]! >= 1;
      // Half of them are holes.
      if ((n % 2 === 1) !== full || !alike(x, y, size)) continue;
      n++;
      const v = full ? 0.5 * r() : 0.4 + 0.6 * r();
      for (let j = y; j < y + size; j++) m.fill(v, j * w + x, j * w + x + size);
    }
    if (noise > 0) for (let i = 0; i < m.length; i++) m[i] = Math.min(1, Math.max(0, m[i]! + noise * (r() - 0.5)));
    return m;
  };
  it.each([0, 0.06, 0.2])('with noise of %s', (noise) => {
    const m = faulty(7, noise);
    const before = health(m, w, h, null);
    expect(before.specks.area + before.holes.area).toBeGreaterThan(300);
    const steps = tidyFor(before);
    expect(steps.length).toBeGreaterThan(0);
    const out = tidied(m, w, h, steps);
    const after = health(out, w, h, null);
    // What the thing itself goes round, such as eyes, is no fault and stays.
    const own = health(truth, w, h, null);
    for (const kind of ['specks', 'holes'] as const)
      expect(after[kind].area - own[kind].area).toBeLessThanOrEqual(0.2 * (before[kind].area - own[kind].area));
    expect(iou(out, truth)).toBeGreaterThanOrEqual(iou(m, truth));
    if (noise > 0) expect(after.noise!).toBeLessThan(before.noise!);
  });
  it('leaves a clean matte as it is, or as good', () => {
    const steps = tidyFor(health(truth, w, h, null));
    expect(iou(tidied(truth, w, h, steps), truth)).toBeGreaterThan(0.995);
  });
});
