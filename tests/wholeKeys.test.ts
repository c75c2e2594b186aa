/** Keys that look at the whole frame are found once, on the picture itself, however small a copy is looked at. */
import { beforeAll, describe, expect, it } from 'vitest';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec, OpTerm } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/decode';
import type { RenderRequest, ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const [W, H] = [900, 600];
/** A disc before a wall, both with grain: what grows over a smaller copy of it ends elsewhere. */
function picture(): DecodedPicture {
  const r = rng(4);
  const rgb = new Uint16Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [(i % W) - 420, Math.floor(i / W) - 300];
    const c = Math.hypot(x, 1.3 * y) < 170 + 25 * Math.sin(5 * Math.atan2(y, x)) ? [0.7, 0.45, 0.36] : [0.45, 0.5, 0.5];
    for (let k = 0; k < 3; k++) rgb[3 * i + k] = 65535 * (c[k]! + 0.05 * (r() - 0.5));
  }
  return { width: W, height: H, bits: 16, format: 'png', encoding: 'srgb', rgb, notes: [], alpha: false };
}
const term = (op: 'skin' | 'spread', reads: 'base' | 'start' = 'start', x = 420): OpTerm => ({
  ...{ id: `t-${op}`, name: op, join: 'and', not: false },
  use: newUse(op, op, { brushPx: 24 }),
  strokes: [{ keep: true, frame: 0, points: [[x, 300]] }],
  ...(reads === 'base' ? { reads } : {}),
});
const correction = (id: string, o: Partial<CorrectionSpec>): CorrectionSpec => ({
  ...{ id, name: id, on: true, mixPct: 100, terms: [], tidy: [], adjustments: [] },
  ...o,
});
const exposed = (stops: number): CorrectionSpec =>
  correction('before', { adjustments: [newUse('e', 'exposure', { stops })] });
const shot = (...corrections: CorrectionSpec[]): ShotState => ({
  ...{ media: 'p', encoding: 'srgb', frame: 0, corrections },
});
const looks = (s: ShotState, scale: number, quality: 'draft' | 'final' = 'draft'): RenderRequest => ({
  ...{ shot: s, quality, bits: 16, scopes: [], patches: [], skinLineDeg: 123, focus: 'c' },
  view: {
    ...{ scale, offX: 0, offY: 0, w: Math.round(scale * W), h: Math.round(scale * H), mode: 'matte' },
    ...{ compare: 'off', wipeX: 0, marks: false },
  } as RenderRequest['view'],
});
let s: Session;
beforeAll(async () => {
  s = await soloSession({ wasm: wasmBytes() });
  s.open('p', picture());
});
/** The matte at full size, in means of blocks of so many pixels. */
async function means(of: ShotState, k: number): Promise<number[]> {
  const m = (await s.matteCodes(of, 'c', 16)).data;
  const out = new Array<number>((W / k) * (H / k)).fill(0);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) out[Math.floor(y / k) * (W / k) + Math.floor(x / k)]! += m[y * W + x]! / 65535 / k / k;
  return out;
}

describe('a key that looks at the whole frame', () => {
  it.each([
    ['skin', 'base', [exposed(0.3)], 420],
    ['skin', 'start', [exposed(0.3)], 420],
    ['spread', 'start', [], 420],
    ['spread', 'base', [exposed(-0.4)], 430],
  ] as const)(
    '%s, reading its %s: a draft shows what the file will have, and finds it no second time',
    async (...q) => {
      const [op, reads, before, x] = q;
      const of = shot(...before, correction('c', { terms: [term(op, reads, x)] }));
      const draft = await s.render(looks(of, 0.5));
      expect(draft.computed).toContain('key');
      const want = await means(of, 2);
      expect(want.filter((v) => v > 0.99).length).toBeGreaterThan(10_000);
      expect(want.filter((v) => v < 0.01).length).toBeGreaterThan(20_000);
      let [most, changing] = [0, 0];
      want.forEach((v, i) => {
        most = Math.max(most, Math.abs(draft.rgba[4 * i]! / 255 - v));
        if (v > 0.02 && v < 0.98) changing++;
      });
      expect(changing).toBeGreaterThan(100);
      // A code of what is shown, and rounding.
      expect(most).toBeLessThan(1.1 / 255);
      // Other sizes, and the final, take it from there.
      for (const scale of [0.31, 0.2, 0.77]) expect((await s.render(looks(of, scale))).computed).not.toContain('key');
      expect((await s.render(looks(of, 0.5, 'final'))).computed).not.toContain('key');
    },
  );

  it('of no correction before it where it reads none of them; of all where it does', async () => {
    const at = (reads: 'base' | 'start', stops: number): RenderRequest =>
      looks(shot(exposed(stops), correction('c', { terms: [term('spread', reads)] })), 0.4);
    await s.render(at('base', 0.1));
    const base = (await s.render(at('base', 0.15))).computed;
    expect(base).not.toContain('key');
    // The correction itself and what comes after, at the draft's size: not at full size as well.
    const outs = base.filter((c) => c === 'out').length;
    await s.render(at('start', 0.1));
    const start = (await s.render(at('start', 0.17))).computed;
    expect(start).toContain('key');
    expect(start.filter((c) => c === 'out').length).toBe(outs + 1);
  });

  it('joined with shapes, linked and inverted, at a draft as at full size', async () => {
    const ellipse: OpTerm = {
      ...{ id: 'e', name: 'e', join: 'and', not: false },
      use: newUse('e', 'ellipse', { cxPx: 450, cyPx: 300, rxPx: 220, ryPx: 150, softInPx: 10, softOutPx: 10 }),
    };
    const own = correction('a', { terms: [term('spread'), ellipse], tidy: [newUse('g', 'grow', { byPx: 6 })] });
    const linked = correction('c', {
      terms: [{ id: 'l', name: 'l', join: 'and', not: false, of: 'a', outside: true, on: true }],
    });
    const of = shot(own, linked);
    const draft = await s.render(looks(of, 0.5));
    const want = await means(of, 2);
    let [sum, most] = [0, 0];
    want.forEach((v, i) => {
      const d = Math.abs(draft.rgba[4 * i]! / 255 - v);
      sum += d;
      most = Math.max(most, d);
    });
    expect(want.filter((v) => v < 0.01).length).toBeGreaterThan(5_000);
    expect(sum / want.length).toBeLessThan(0.002);
    expect(most).toBeLessThan(0.5);
  });
});
