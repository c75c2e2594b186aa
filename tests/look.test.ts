/**
 * Looking through the engine's front door: false colours, marks, what clips, ghosts, kept transparency, lookup
 * tables, zones' input.
 */
import { hueWidth } from '../src/core/ops/key/index';
import { decode } from 'fast-png';
import { beforeAll, describe, expect, it } from 'vitest';
import { identityCube } from '../testkit/cubes';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { clipColours } from '../src/core/view/falseColour';
import { soloSession } from '../src/engine/node';
import { MissingTable } from '../src/engine/session';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/decode';
import type { RenderRequest, ScopeRequest, ShotState, View } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const W = 96;
const H = 64;
/** Four quarters: skin-like, blue, black that clips, white that clips. */
const QUARTERS = [
  [190, 140, 112],
  [50, 90, 170],
  [0, 0, 0],
  [255, 255, 255],
] as const;
const picture: DecodedPicture = {
  width: W,
  height: H,
  bits: 8,
  format: 'png',
  notes: [],
  encoding: 'srgb',
  alpha: true,
  rgb: Uint8Array.from(
    { length: W * H * 3 },
    (_, i) => QUARTERS[(Math.floor(i / 3) % W < W / 2 ? 0 : 1) + (Math.floor(i / 3 / W) < H / 2 ? 0 : 2)]![i % 3]!,
  ),
  alphaPlane: Uint8Array.from({ length: W * H }, (_, i) => (i % W) * 2),
};
const shot = (...corrections: CorrectionSpec[]): ShotState => ({
  media: 'p',
  encoding: 'srgb',
  frame: 0,
  corrections,
});
const whole = (id: string, ...adjustments: CorrectionSpec['adjustments']): CorrectionSpec => ({
  id,
  name: id,
  on: true,
  mixPct: 100,
  terms: [],
  tidy: [],
  adjustments,
});
const ask = (o: Partial<ScopeRequest>): ScopeRequest => ({
  kind: 'luma',
  over: 'whole',
  when: 'after',
  zoom: 1,
  px: [100, 100],
  ...o,
});

describe('look', () => {
  let s: Session;
  beforeAll(async () => {
    s = await soloSession({ wasm: wasmBytes() });
    s.open('p', picture);
  });
  const request = (st: ShotState, view: Partial<View> = {}, scopes: ScopeRequest[] = []): RenderRequest => ({
    shot: st,
    focus: null,
    view: { w: W, h: H, scale: 1, offX: 0, offY: 0, mode: 'picture', compare: 'off', wipeX: 0, ...view },
    quality: 'final',
    scopes,
    patches: [],
    skinLineDeg: 123,
    bits: 16,
  });
  const at = async (view: Partial<View>, x: number, y: number, st = shot()): Promise<number[]> =>
    Array.from((await s.render(request(st, view))).rgba.slice(4 * (y * W + x), 4 * (y * W + x) + 3));

  it('false colours: what clips, off-line angle, levels, chroma', async () => {
    expect(await at({ falseColour: 'clipped' }, 10, 50)).toEqual([...clipColours.low]);
    expect(await at({ falseColour: 'clipped' }, 80, 50)).toEqual([...clipColours.high]);
    const [r, g, b] = await at({ falseColour: 'clipped' }, 10, 10);
    expect(r === g && g === b).toBe(true);
    // The skin lies near the line: nearly white. Blue is far off: its own grey.
    expect(Math.min(...(await at({ falseColour: 'offLine' }, 10, 10)))).toBeGreaterThan(140);
    const blue = await at({ falseColour: 'offLine' }, 80, 10);
    expect(blue[0]).toBe(blue[2]);
    expect(await at({ falseColour: 'levels' }, 10, 10)).toEqual([226, 160, 62]);
    expect(await at({ falseColour: 'levels' }, 80, 50)).toEqual([196, 0, 106]);
    expect(await at({ falseColour: 'chroma' }, 10, 50)).not.toEqual(await at({ falseColour: 'chroma' }, 80, 10));
    // Matte views are not touched by them.
    expect(await at({ falseColour: 'levels', mode: 'matte' }, 10, 10)).toEqual([255, 255, 255]);
  });
  it('a wipe shows the same shot with other corrections beside it, drafts and finals alike', async () => {
    const [calm, strong] = [20, 180].map((amountPct) => shot(whole('c', newUse('s', 'saturation', { amountPct }))));
    const draw = async (st: ShotState, view: Partial<View>, more: Partial<RenderRequest> = {}) =>
      (await s.render({ ...request(st, view), ...more })).rgba;
    for (const quality of ['final', 'draft'] as const) {
      const plain = await draw(calm!, {}, { quality });
      const wiped = await draw(strong!, { compare: 'wipe', wipeX: W }, { quality, against: calm! });
      expect(Buffer.compare(Buffer.from(wiped), Buffer.from(plain))).toBe(0);
      const right = await draw(strong!, { compare: 'wipe', wipeX: 0 }, { quality, against: calm! });
      expect(Buffer.compare(Buffer.from(right), Buffer.from(await draw(strong!, {}, { quality })))).toBe(0);
      expect(Buffer.compare(Buffer.from(right), Buffer.from(plain))).not.toBe(0);
    }
    // Without a comparison it has no say.
    const off = await draw(strong!, {}, { against: calm! });
    expect(Buffer.compare(Buffer.from(off), Buffer.from(await draw(strong!, {})))).toBe(0);
  });
  it('another picture is fitted into the frame, whole, by the shape of its pixels, black about it', async () => {
    // Half as wide as high: as high as the frame, a third of its width, in the middle.
    const flat = (width: number, height: number, to: readonly number[]): DecodedPicture => {
      const { alphaPlane: _, ...rest } = picture;
      const rgb = Uint8Array.from({ length: 3 * width * height }, (_x, i) => to[i % 3]!);
      return { ...rest, width, height, alpha: false, rgb };
    };
    s.open('tall', flat(64, 128, [200, 100, 50]));
    s.open('tiny', flat(6, 4, [10, 60, 110]));
    const other = (media: string): ShotState => ({ ...shot(), media });
    for (const quality of ['final', 'draft'] as const) {
      const draw = async (against: ShotState, more: Partial<RenderRequest> = {}) => {
        const q = { ...request(shot(), { compare: 'wipe', wipeX: W }), against, quality, ...more };
        const { rgba } = await s.render(q);
        return (x: number, y: number): number[] => Array.from(rgba.slice(4 * (y * W + x), 4 * (y * W + x) + 3));
      };
      const tall = await draw(other('tall'));
      const lit = Array.from({ length: W }, (_, x) => x).filter((x) => tall(x, 32)[0] !== 0);
      expect([lit[0], lit.at(-1), lit.length]).toEqual([32, 63, 32]);
      for (const y of [0, 63]) expect(tall(48, y)).toEqual([200, 100, 50]);
      const wide = await draw(other('tall'), { againstAspect: 2 });
      expect([16, 79].map((x) => wide(x, 32)[0])).toEqual([200, 200]);
      expect([15, 80].map((x) => wide(x, 32)[0])).toEqual([0, 0]);
      // As large as it takes, and with its own corrections.
      const tiny = await draw(other('tiny'));
      for (const [x, y] of [
        [0, 0],
        [95, 63],
        [48, 32],
      ] as const)
        expect(tiny(x, y)).toEqual([10, 60, 110]);
      const grey = await draw({
        ...other('tiny'),
        corrections: [whole('c', newUse('s', 'saturation', { amountPct: 0 }))],
      });
      expect(new Set(grey(48, 32)).size).toBe(1);
      // On the far side of the edge it is the picture itself, to the byte.
      const own = await draw(other('tiny'), { view: { ...request(shot()).view, compare: 'wipe', wipeX: 0 } });
      for (const [x, y] of [
        [10, 10],
        [80, 50],
      ] as const)
        expect(own(x, y)).toEqual(await at({}, x, y));
    }
  });
  it('a mark keeps what it means and dims the rest, of the picture before or after', async () => {
    const band = { kind: 'band', channel: 'y', lo: 0.5, hi: 0.7 } as const;
    expect(await at({ select: { ...band, when: 'after' } }, 10, 10)).toEqual([190, 140, 112]);
    const dim = await at({ select: { ...band, when: 'after' } }, 80, 10);
    expect(dim[0] === dim[1] && dim[0]! < 40).toBe(true);
    // Darkened by two stops the skin leaves the band, but the picture before has it still.
    const dark = shot(whole('d', newUse('e', 'exposure', { stops: -2 })));
    expect((await at({ select: { ...band, when: 'after' } }, 10, 10, dark))[0]!).toBeLessThan(40);
    expect((await at({ select: { ...band, when: 'before' } }, 10, 10, dark))[0]!).toBeGreaterThan(80);
  });
  it('a key can be fitted to a mark; a mark of nothing says so', async () => {
    const select = { kind: 'band', channel: 'b', lo: 0.6, hi: 0.7 } as const;
    const { fit } = await s.fitKey(shot(), null, { select, skinLineDeg: 123 });
    expect(Math.abs(fit.hueFromDeg + hueWidth(fit.hueFromDeg, fit.hueToDeg) / 2 - 340)).toBeLessThan(25);
    await expect(() =>
      s.fitKey(shot(), null, { select: { kind: 'band', channel: 'b', lo: 0.95, hi: 0.96 }, skinLineDeg: 123 }),
    ).rejects.toThrow(/mark more of the trace/);
  });
  it('the zones are shown over what the operation is given, not over what comes of it', async () => {
    const c = whole('z', newUse('e', 'exposure', { stops: -3 }), newUse('zones', 'zones', { middleLevel: 20 }));
    const view = { falseColour: 'zones', zonesOf: { correction: 'z', use: 'zones' } } as const;
    // Three stops down the skin is deep or low; without the exposure it is middle.
    expect(await at(view, 10, 10, shot(c))).not.toEqual(await at(view, 10, 10, shot(whole('z', c.adjustments[1]!))));
  });
  it('counts what clips, and looks at the same pixels once for all scopes that do', async () => {
    const kinds = (['vector', 'strip', 'luma', 'overlay', 'parade', 'ycbcr', 'histogram'] as const).map((kind) =>
      ask({ kind }),
    );
    const r = await s.render(request(shot(), {}, kinds));
    expect(r.clipped).toEqual({ low: (W * H) / 4, high: (W * H) / 4, pixels: W * H });
    expect(r.computed.filter((c) => c === 'scopes')).toHaveLength(1);
    expect(r.scopes!.map((x) => x.planes.length)).toEqual([1, 1, 1, 3, 3, 3, 4]);
    expect(r.contrast!.distancePct).toBeGreaterThan(20);
    const two = await s.render(
      request(shot(whole('a', newUse('e', 'exposure', { stops: 0.2 }))), {}, [ask({}), ask({ when: 'before' })]),
    );
    expect(two.computed.filter((c) => c === 'scopes').length).toBeLessThanOrEqual(2);
    // Found again, nothing is counted.
    expect((await s.render(request(shot(), {}, kinds))).computed).not.toContain('scopes');
  });
  it('ghosts of another shot are counted without rendering its view', async () => {
    const [g] = await s.scopes({
      shot: shot(whole('a', newUse('e', 'exposure', { stops: -1 }))),
      focus: null,
      skinLineDeg: 123,
      scopes: [ask({ kind: 'vector' })],
    });
    expect(g!.planes[0]!.counts.reduce((a, b) => a + b, 0)).toBe(W * H);
  });
  it('kept transparency goes through to the written picture untouched', async () => {
    const out = decode(await s.exportPicture(shot(whole('a', newUse('e', 'exposure', { stops: 1 }))), 8));
    expect(out.channels).toBe(4);
    for (const x of [0, 17, 95]) expect(out.data[4 * x + 3]).toBe(2 * x);
    expect(out.data[0]).toBeGreaterThan(200);
  });
  it('a lookup table that is not there is asked for by name; with it a shot is converted', async () => {
    const st: ShotState = { ...shot(), encoding: { table: 'table:x' }, conversion: newUse('c', 'convert') };
    await expect(() => s.render(request(st))).rejects.toThrow(MissingTable);
    const used = shot(whole('l', newUse('l', 'lut', { table: 'table:y' })));
    await expect(() => s.render(request(used))).rejects.toThrow(MissingTable);
    const cube = identityCube(5);
    cube.data.forEach((v, i) => (cube.data[i] = 1 - v));
    s.putTable('table:x', cube);
    s.putTable('table:y', cube);
    expect(await at({}, 10, 10, used)).toEqual([255 - 190, 255 - 140, 255 - 112]);
    expect(await at({}, 10, 10, st)).toEqual([255 - 190, 255 - 140, 255 - 112]);
  });
});
