/**
 * A clip of a few frames in a session: what one frame tells of itself and of the one before, and a matte held still.
 */
import { beforeAll, describe, expect, it } from 'vitest';
import { newUse } from '../src/core/graph/plan.defaults';
import { framesAround } from '../src/core/graph/plan';
import type { CorrectionSpec, OpTerm } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/picture';
import type { ShotState } from '../src/protocol/messages';
import { around } from '../testkit/keys';
import { wasmBytes } from '../testkit/bench';

const [W, H, N] = [128, 96, 7];
/**
 * A reddish square on grey that slides two pixels a frame from the middle frame on; the noise is another each frame.
 */
const left = (f: number): number => 40 + 2 * Math.max(0, f - 3);
const inSquare = (f: number, x: number, y: number): boolean => x >= left(f) && x < left(f) + 40 && y >= 30 && y < 70;
function frame(f: number): DecodedPicture {
  const r = rng(f + 1);
  const rgb = new Uint16Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const inside = inSquare(f, i % W, Math.floor(i / W));
    for (let c = 0; c < 3; c++)
      rgb[3 * i + c] = 65535 * ((inside ? [0.62, 0.45, 0.36][c]! : 0.42) + 0.03 * (r() - 0.5));
  }
  return { width: W, height: H, bits: 16, format: 'png', encoding: 'srgb', rgb, notes: [], alpha: false };
}
const region = (steady: boolean): CorrectionSpec => ({
  id: 'c',
  name: 'c',
  on: true,
  mixPct: 100,
  terms: [
    // Its border cuts through the noise: the matte breathes.
    { join: 'and', not: false, id: 'k', name: 'k', use: newUse('k', 'key', around({ luma: [47, 2, 2] })) },
  ],
  tidy: steady ? [newUse('s', 'steady', { reachFrames: 2 })] : [],
  adjustments: [newUse('a', 'saturation', { amountPct: 40 })],
});
let s: Session;
beforeAll(async () => {
  s = await soloSession({ wasm: wasmBytes() });
  for (let f = 0; f < N; f++) s.open('clip', frame(f), f, N);
});
const shot = (f: number, steady = false): ShotState => ({
  media: 'clip',
  encoding: 'srgb',
  frame: f,
  corrections: [region(steady)],
});
const ask = (f: number, steady = false) =>
  s.moment({
    shot: shot(f, steady),
    before: f > 0 ? f - 1 : null,
    correction: 'c',
    skinLineDeg: 123,
    bits: 16,
    patches: [
      {
        id: 'p',
        box: { x: 44, y: 36, w: 20, h: 20 },
        track: { at: 3, path: [4, 5, 6].map((k) => ({ frame: k, h: [1, 0, 2 * (k - 3), 0, 1, 0, 0, 0, 1] })) },
      },
    ],
  });

describe('what one frame tells', () => {
  it('reads a patch where it has moved to', async () => {
    const [a, b] = [await ask(2), await ask(6)];
    // Without its path it would read the ground from the last frames.
    expect(b.patches[0]!.before!.lumaPct).toBeCloseTo(a.patches[0]!.before!.lumaPct, 0);
    expect(b.patches[0]!.before!.chromaPct).toBeGreaterThan(5);
    expect(a.patches[0]!.after!.chromaPct).toBeLessThan(a.patches[0]!.before!.chromaPct);
  });

  it('tells the share of the picture that is in, and the level of what leaves', async () => {
    const m = await ask(2);
    expect(m.coverage!).toBeGreaterThan(0.03);
    expect(m.coverage!).toBeLessThan((40 * 40) / (W * H));
    expect(m.levelPct).toBeGreaterThan(41);
    expect(m.levelPct).toBeLessThan(46);
  });

  it('tells what of the matte lies away from what is meant', async () => {
    const box = (id: string, cxPx: number, side: number) => ({
      ...{ join: 'or' as const, not: false, id, name: id },
      use: newUse(id, 'box', { cxPx, cyPx: 48, rxPx: side / 2, ryPx: side / 2, softInPx: 0, softOutPx: 0 }),
    });
    const leaks = async (...terms: CorrectionSpec['terms']) =>
      (
        await s.moment({
          ...{ before: null, correction: 'c', skinLineDeg: 123, bits: 16, patches: [] },
          shot: { ...shot(2), corrections: [{ ...region(false), terms }] },
        })
      ).leaks;
    expect(await leaks(box('a', 60, 40))).toBe(0);
    expect(await leaks(box('a', 60, 40), box('b', 110, 10))).toBeCloseTo(100 / (W * H), 4);
    const none = await s.moment({
      ...{ before: null, correction: null, skinLineDeg: 123, bits: 16, patches: [] },
      shot: shot(2),
    });
    expect([none.leaks, none.coverage]).toEqual([null, null]);
  });

  it('sees the matte breathe, and steady hold it by more than half', async () => {
    const [plain, held] = [await ask(2), await ask(2, true)];
    expect(plain.flicker!.still).toBeGreaterThan(0.8);
    expect(plain.flicker!.change).toBeGreaterThan(0.03);
    expect(held.flicker!.change / plain.flicker!.change).toBeLessThan(0.5);
    expect((await ask(0)).flicker).toBeNull();
  });

  it('a key that reads a copy made quieter over frames breathes less than one of its own frame', async () => {
    const change = async (more: Partial<OpTerm>): Promise<number> => {
      const c = region(false);
      const terms = c.terms.map((t) => ({ ...t, ...more }) as OpTerm);
      const m = await s.moment({
        ...{ before: 1, correction: 'c', skinLineDeg: 123, bits: 16, patches: [] },
        shot: { ...shot(2), corrections: [{ ...c, terms }] },
      });
      return m.flicker!.change;
    };
    // At a strength at which the copy of the frame itself still breathes.
    const [own, around] = [await change({ quietPct: 5 }), await change({ quietPct: 5, quietFrames: 2 })];
    expect(own).toBeGreaterThan(0.005);
    expect(around).toBeLessThan(0.7 * own);
    // The frames are asked for by what renders: five in all.
    const spec = {
      ...region(false),
      terms: region(false).terms.map((t) => ({ ...t, quietPct: 5, quietFrames: 2 }) as OpTerm),
    };
    expect(framesAround(s.steps({ ...shot(2), corrections: [spec] }, 1))).toBe(2);
    expect(framesAround(s.steps(shot(2), 1))).toBe(0);
    // On a still the frames are not there, and nothing is missing.
    s.open('still', frame(2));
    const still = { ...shot(0), media: 'still', corrections: [spec] };
    const alone = {
      ...still,
      corrections: [{ ...spec, terms: spec.terms.map((t) => ({ ...t, quietFrames: 0 }) as OpTerm) }],
    };
    expect(await s.matteCodes(still, 'c', 16)).toEqual(await s.matteCodes(alone, 'c', 16));
  });

  it('a key that reads every frame in the light that it was made in holds the same as lamps flicker', async () => {
    const lit = [1, 1.06, 0.95, 1.04];
    lit.forEach((k, f) => {
      const p = frame(0);
      s.open('lamps', { ...p, rgb: p.rgb.map((v, i) => Math.min(65535, v * (i % 3 === 2 ? k * k : k))) }, f, 4);
    });
    const key = { ...(region(false).terms[0] as OpTerm), use: newUse('k', 'key', around({ luma: [47, 2, 2] })) };
    const at = (f: number, more: Partial<OpTerm> = {}): ShotState => ({
      ...shot(f),
      media: 'lamps',
      corrections: [{ ...region(false), terms: [{ ...key, ...more }] }],
    });
    const q = { correction: 'c', term: 'k' };
    const { light, told } = await s.keyLight({ ...q, shot: at(0) });
    // As it is lit, until somebody says otherwise.
    expect(told).toBe(0);
    const matte = async (f: number, more?: Partial<OpTerm>): Promise<Uint16Array> =>
      (await s.matteCodes(at(f, more), 'c', 16)).data as Uint16Array;
    const first = await matte(0);
    expect(await matte(0, { light })).toEqual(first);
    const change = (m: Uint16Array): number => m.reduce((a, v, i) => a + Math.abs(v - first[i]!), 0) / 65535;
    const within = first.reduce((a, v) => a + v, 0) / 65535;
    for (const f of [1, 2, 3]) {
      expect(change(await matte(f)), `${f}`).toBeGreaterThan(0.3 * within);
      expect(change(await matte(f, { light })), `${f}`).toBeLessThan(0.02 * within);
      expect(await matte(f, { light: [] })).toEqual(await matte(f));
      const here = await s.keyLight({ ...q, shot: at(f, { light }) });
      expect(here.told).toBe(1);
      [1, 1, 2].forEach((n, c) => expect(Math.abs(here.gains[c]! * lit[f]! ** n - 1)).toBeLessThan(0.003));
    }
    // Nothing else sees that light: outside the key's matte, bit for bit.
    const [plain, corrected] = await Promise.all(
      [{ ...at(2), corrections: [] }, at(2, { light })].map((x) => s.pictureCodes(x, 16)),
    );
    const m = await matte(2, { light });
    expect(m.filter((v) => v === 0).length).toBeGreaterThan((W * H) / 2);
    m.forEach((v, i) => {
      if (v === 0) for (let c = 0; c < 3; c++) expect(corrected!.data[3 * i + c]).toBe(plain!.data[3 * i + c]);
    });
    // What is sampled and painted on another frame is read in that light as well.
    const area = { points: [{ x: 60, y: 50 }], radiusPx: 6 };
    const as = { base: false, quietPct: 0, space: 'scope' as const };
    const sampled = async (f: number, more = {}): Promise<number[]> => {
      const r = await s.fitKey(at(f), 'c', area, { ...as, ...more });
      return [r.fit.lumaFromPct, r.fit.lumaToPct];
    };
    const [home, away, read] = [await sampled(0), await sampled(1), await sampled(1, { light })];
    expect(away[0]! - home[0]!).toBeGreaterThan(1);
    expect(Math.abs(read[0]! - home[0]!)).toBeLessThan(0.3);
    const strokes = [
      {
        keep: true,
        frame: 1,
        points: [
          [60, 50],
          [66, 50],
        ] as [number, number][],
      },
    ];
    const painted = (more: Partial<OpTerm>) =>
      s.strokeFit({ ...q, shot: at(1, more), strokes, brushPx: 8, space: 'scope' });
    const [one, other] = [await painted({ light }), await painted({})];
    // Lightness in OKLab.
    expect(other.near.near[0]! - one.near.near[0]!).toBeGreaterThan(0.02);
    expect(other.light).toEqual(one.light);
    expect(one.light).not.toEqual(light);
  });

  it('a steady matte stands on its own frame: at the ends, and where the square has moved on', async () => {
    const codes = async (f: number, steady: boolean): Promise<Uint16Array> =>
      (await s.matteCodes(shot(f, steady), 'c', 16)).data as Uint16Array;
    for (const f of [0, 5, N - 1]) {
      const [own, held] = [await codes(f, false), await codes(f, true)];
      expect(held).not.toEqual(own);
      held.forEach((v, i) => {
        if (own[i] === 0) expect(v).toBe(0);
      });
    }
    // The columns that the square has just come to or left are not mixed with frames on which they were ground.
    const held = await codes(5, true);
    const own = await codes(5, false);
    let [was, is] = [0, 0];
    for (let y = 32; y < 68; y++)
      for (const x of [left(5) + 38, left(5) + 39]) {
        was += own[y * W + x]!;
        is += held[y * W + x]!;
      }
    // Three of the four other frames have nothing there: a plain mean would leave less than half.
    expect(is / was).toBeGreaterThan(0.9);
  });
});
