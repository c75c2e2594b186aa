/** Mattes from outside: another picture's numbers, or the picture's own transparency, as part of a region. */
import { beforeAll, describe, expect, it } from 'vitest';
import type { CorrectionSpec, MatteTerm } from '../src/core/graph/plan';
import { newUse } from '../src/core/graph/plan.defaults';
import { checkRecords } from '../src/document/check';
import { PROJECT_VERSION } from '../src/document/schema';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import { MissingPicture } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/decode';
import type { ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const [W, H] = [120, 80];
const bytes = { width: W, height: H, bits: 8, format: 'png', notes: [], encoding: 'srgb', alpha: false } as const;
const picture: DecodedPicture = {
  ...bytes,
  notes: [],
  rgb: Uint8Array.from({ length: W * H * 3 }, (_, i) => (i * 7 + (i >> 4) * 13) & 255),
};
/** 16 bit, every code different from its neighbours', the whole range. */
const ramp = (w = W, h = H): Uint16Array =>
  Uint16Array.from({ length: w * h }, (_, i) => Math.min(65535, Math.max(0, (i * 2749) % 70000)));
const grey = (codes: Uint16Array, w = W, h = H): DecodedPicture => ({
  ...bytes,
  notes: [],
  width: w,
  height: h,
  bits: 16,
  rgb: Uint16Array.from({ length: w * h * 3 }, (_, i) => codes[Math.floor(i / 3)]!),
});
const term = (more: Partial<MatteTerm> = {}): MatteTerm => ({
  id: 'm',
  join: 'and',
  not: false,
  name: 'hero.png',
  matte: 'matte',
  channel: 'luma',
  from: 0,
  on: true,
  ...more,
});
const corr = (terms: CorrectionSpec['terms']): CorrectionSpec => ({
  id: 'c',
  name: 'C',
  on: true,
  mixPct: 100,
  terms,
  tidy: [],
  adjustments: [newUse('s', 'saturation', { amountPct: 0 })],
});
const shot = (terms: CorrectionSpec['terms'], more: Partial<ShotState> = {}): ShotState => ({
  media: 'p',
  encoding: 'srgb',
  frame: 0,
  corrections: [corr(terms)],
  ...more,
});

describe.each(['wasm', 'ts'] as const)('a matte from outside with %s kernels', (kernels) => {
  let s: Session;
  beforeAll(async () => {
    s = await soloSession(kernels === 'wasm' ? { wasm: wasmBytes() } : {});
    s.open('p', picture);
    s.open('matte', grey(ramp()));
  });
  const codes = async (terms: CorrectionSpec['terms'], more: Partial<ShotState> = {}): Promise<Uint16Array> =>
    Uint16Array.from((await s.matteCodes(shot(terms, more), 'c', 16)).data);

  it('is its file, number for number; turned round, its complement', async () => {
    expect(await codes([term()])).toEqual(ramp());
    expect(await codes([term({ not: true })])).toEqual(ramp().map((x) => 65535 - x));
  });
  it('where it is 0 the picture keeps its bits', async () => {
    const out = (await s.pictureCodes(shot([term()]), 8)).data;
    const m = ramp();
    let [kept, changed] = [0, 0];
    for (let i = 0; i < W * H; i++) {
      const same = [0, 1, 2].every((c) => out[3 * i + c] === picture.rgb[3 * i + c]);
      if (m[i] === 0) {
        expect(same).toBe(true);
        kept++;
      } else if (!same) changed++;
    }
    expect(kept).toBeGreaterThan(0);
    expect(changed).toBeGreaterThan(W * H * 0.8);
  });
  it('is joined with keys and shapes as any part', async () => {
    const disc = { cxPx: 60, cyPx: 40, rxPx: 20, ryPx: 20, softInPx: 0, softOutPx: 0 };
    const e = { id: 'e', join: 'and', not: false, name: 'e', use: newUse('e', 'ellipse', disc) } as const;
    const both = await codes([e, term()]);
    const alone = await codes([e]);
    ramp().forEach((m, i) => expect(both[i]).toBe(Math.min(m, alone[i]!)));
  });
  it('of colour counts by its luma; numbers beyond 0 to 1, and none at all, are held to it', async () => {
    const rgb = Float32Array.from({ length: W * H * 3 }, (_, i) => [1, 0, 0][i % 3]!);
    rgb.set([2, 2, 2, -1, -1, -1, NaN, NaN, NaN], 3);
    s.open('exr', { ...bytes, notes: [], bits: 32, format: 'exr', rgb });
    const m = await codes([term({ matte: 'exr' })]);
    expect(m[0]).toBe(Math.round(0.2126 * 65535));
    expect([...m.subarray(1, 4)]).toEqual([65535, 0, 0]);
  });
  it('of another size is brought to the picture; of another form it is refused in words', async () => {
    const flat = (w: number, h: number): DecodedPicture => grey(new Uint16Array(w * h).fill(30000), w, h);
    for (const [w, h] of [
      [W / 2, H / 2],
      [W * 2, H * 2],
      [W * 3 + 1, H * 3],
      [90, 60],
    ] as const) {
      s.open(`m${w}`, flat(w, h));
      expect(new Set(await codes([term({ matte: `m${w}` })]))).toEqual(new Set([30000]));
    }
    // Left half white: the border lies where it lay.
    const half = grey(
      Uint16Array.from({ length: 60 * 40 }, (_, i) => (i % 60 < 30 ? 65535 : 0)),
      60,
      40,
    );
    s.open('half', half);
    const m = await codes([term({ matte: 'half' })]);
    expect([m[10], m[57], m[62], m[110]]).toEqual([65535, 65535, 0, 0]);
    s.open('tall', flat(80, 120));
    await expect(codes([term({ matte: 'tall' })])).rejects.toThrow(
      /80 x 120 pixels, the picture 120 x 80.*another form/,
    );
  });
  it('by transparency: of a file, of the picture itself; where there is none, how to get it is said', async () => {
    const alphaPlane = Uint8Array.from({ length: W * H }, (_, i) => i & 255);
    const want = Uint16Array.from(alphaPlane, (a) => a * 257);
    s.open('rgba', { ...picture, alpha: true, alphaPlane });
    expect(await codes([term({ matte: 'rgba', channel: 'alpha' })])).toEqual(want);
    const own = term({ matte: 'shot', channel: 'alpha' });
    expect(await codes([own], { media: 'rgba' })).toEqual(want);
    await expect(codes([own])).rejects.toThrow(/import it with transparency kept/);
  });
  it('one that is not here yet is asked for by its name and frame', async () => {
    const e = await codes([term({ matte: 'later' })]).catch((x: unknown) => x);
    expect(e).toBeInstanceOf(MissingPicture);
    expect((e as MissingPicture).ref).toEqual({ media: 'later', frame: 0 });
  });
  it('that moves gives each frame its own, from where it begins, and its ends beyond', async () => {
    for (let f = 0; f < 8; f++) s.open('moving', picture, f, 8);
    for (let f = 0; f < 4; f++) s.open('mm', grey(new Uint16Array(W * H).fill(1000 * (f + 1))), f, 4);
    const at = async (frame: number): Promise<number> =>
      (await codes([term({ matte: 'mm', from: 2 })], { media: 'moving', frame }))[5]!;
    expect([await at(0), await at(2), await at(3), await at(5), await at(7)]).toEqual([1000, 1000, 2000, 4000, 4000]);
  });
  it('a draft of the part in view is the final; a small one shows the same', async () => {
    const [w, h] = [1400, 1000];
    const big = Uint16Array.from(
      { length: w * h },
      (_, i) => 32768 + 20000 * Math.sin((i % w) / 30) * Math.cos(i / w / 40),
    );
    s.open('large', { ...picture, width: w, height: h, rgb: new Uint8Array(w * h * 3).fill(120) });
    s.open('largeMatte', grey(big, w, h));
    const render = (quality: 'draft' | 'final', scale: number) =>
      s.render({
        shot: shot([term({ matte: 'largeMatte' })], { media: 'large' }),
        focus: 'c',
        view: { w: 160, h: 120, scale, offX: 601, offY: 333, mode: 'matte', compare: 'off', wipeX: 0 },
        quality,
        scopes: [],
        patches: [],
        skinLineDeg: 123,
        bits: 16,
      });
    expect((await render('draft', 1)).rgba).toEqual((await render('final', 1)).rgba);
    const [d, f] = [(await render('draft', 0.3)).rgba, (await render('final', 0.3)).rgba];
    expect(new Set(f).size).toBeGreaterThan(20);
    d.forEach((x, i) => expect(Math.abs(x - f[i]!)).toBeLessThanOrEqual(2));
  });
  it('a table leaves it out, and says so', async () => {
    const r = await s.lut(shot([term()]), 17, 't');
    expect(r.leftOut.join()).toContain('hero.png');
  });
});

describe('a matte from outside in a project file', () => {
  const media = {
    type: 'media',
    id: 'media:m',
    kind: 'still',
    fileName: 'hero.png',
    format: 'png',
    bits: 16,
    width: W,
    height: H,
    frames: 1,
    pixelAspect: [1, 1],
    sha256: '0'.repeat(64),
    source: { from: 'file' },
  };
  const shotRecord = {
    type: 'shot',
    id: 'shot:s',
    name: 'S',
    media: 'media:m',
    encoding: 'srgb',
    encodingGuessed: false,
    conversion: { ...newUse('conversion', 'convert', {}), on: false },
    range: [0, 0],
    rate: [24, 1],
    timecode: { start: 0, drop: false },
    order: 1,
  };
  const project = { type: 'project', id: 'project:p', name: 'P', skinLineDeg: 123 };
  const record = (t: object): object => ({
    ...corr([]),
    type: 'correction',
    id: 'corr:c',
    owner: 'shot:s',
    order: 1,
    terms: [t],
  });
  it('is read as it was written', () => {
    const t = term({ matte: 'media:m' });
    const { records, said } = checkRecords(PROJECT_VERSION, [project, media, shotRecord, record(t)], 'file');
    expect(said).toEqual([]);
    expect((records['corr:c'] as CorrectionSpec).terms).toEqual([t]);
  });
  it('without its picture it is left out, the correction is off, and both are said', () => {
    const list = [media, shotRecord, record(term({ matte: 'media:gone' }))];
    const { records, said } = checkRecords(PROJECT_VERSION, list, 'file');
    expect(said.join()).toMatch(/matte in the region of "C" is left out/);
    expect(records['corr:c']).toMatchObject({ terms: [], on: false });
  });
  it.each([{ channel: 'red' }, { from: -1 }, { matte: 'corr:c' }])('what it cannot be is refused: %o', (bad) => {
    expect(() => checkRecords(PROJECT_VERSION, [media, shotRecord, record({ ...term(), ...bad })], 'file')).toThrow();
  });
});
