/** What the view shows, pixel by pixel, in every mode and both kernels. */
import { beforeAll, describe, expect, it } from 'vitest';
import { pieceOf } from '../src/app/bench/geometry';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import { changeGrey } from '../src/engine/tasks/view';
import type { DecodedPicture } from '../src/media/decode';
import type { View } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const W = 120;
const H = 80;
/** Left half is one colour, right half another. */
const A = [200, 120, 80] as const;
const B = [40, 90, 160] as const;
const picture: DecodedPicture = {
  width: W,
  height: H,
  bits: 8,
  format: 'png',
  notes: [],
  encoding: 'srgb',
  alpha: false,
  rgb: Uint8Array.from({ length: W * H * 3 }, (_, i) => (Math.floor(i / 3) % W < W / 2 ? A : B)[i % 3]!),
};
// Saturation 0 inside a hard disc in the middle.
const corr: CorrectionSpec = {
  id: 'c',
  name: 'C',
  on: true,
  mixPct: 100,
  tidy: [],
  terms: [
    {
      id: 't1',
      join: 'and',
      not: false,
      name: 'e',
      use: newUse('e', 'ellipse', { cxPx: 60, cyPx: 40, rxPx: 20, ryPx: 20, softInPx: 0, softOutPx: 0 }),
    },
  ],
  adjustments: [newUse('s', 'saturation', { amountPct: 0 })],
};
const WIDE = { cxPx: 60, cyPx: 40, rxPx: 20, ryPx: 20, softInPx: 6, softOutPx: 6 };
const grey = (c: readonly number[]): number => Math.round(0.2126 * c[0]! + 0.7152 * c[1]! + 0.0722 * c[2]!);

describe.each(['wasm', 'ts'] as const)('view with %s kernels', (kernels) => {
  let s: Session;
  beforeAll(async () => {
    s = await soloSession(kernels === 'wasm' ? { wasm: wasmBytes() } : {});
    s.open('p', picture);
  });
  const at = async (
    view: Partial<View>,
    x: number,
    y: number,
    quality: 'draft' | 'final' = 'final',
  ): Promise<number[]> => {
    const v: View = { w: W, h: H, scale: 1, offX: 0, offY: 0, mode: 'picture', compare: 'off', wipeX: 0, ...view };
    const r = await s.render({
      shot: { media: 'p', encoding: 'srgb', frame: 0, corrections: [corr] },
      focus: 'c',
      view: v,
      quality,
      scopes: [],
      patches: [],
      skinLineDeg: 123,
      bits: 16,
    });
    expect(r.rgba[4 * (y * v.w + x) + 3]).toBe(255);
    return Array.from(r.rgba.slice(4 * (y * v.w + x), 4 * (y * v.w + x) + 3));
  };
  const near = (got: number[], want: readonly number[], by = 1): void =>
    got.forEach((v, i) => expect(Math.abs(v - want[i]!), `${got} for ${want}`).toBeLessThanOrEqual(by));

  it('Picture: the surround is the file to the code, the region is corrected', async () => {
    expect(await at({}, 5, 5)).toEqual([...A]);
    expect(await at({}, 115, 75)).toEqual([...B]);
    near(await at({}, 50, 40), [grey(A), grey(A), grey(A)]);
  });
  it('light: an sRGB page shows the light of a BT.1886 display, mattes and maps stay numbers', async () => {
    const shot = { media: 'p', encoding: 'bt1886', frame: 0, corrections: [corr] } as const;
    const view = { w: W, h: H, scale: 1, offX: 0, offY: 0, compare: 'off', wipeX: 0 } as const;
    const of = async (
      mode: View['mode'],
      shown: 'numbers' | 'light',
      encoding: 'bt1886' | 'srgb',
    ): Promise<number[]> => {
      const q = { focus: 'c', quality: 'final' as const, scopes: [], patches: [], skinLineDeg: 123, bits: 16 as const };
      const r = await s.render({
        ...q,
        shot: { ...shot, encoding, corrections: [corr] },
        view: { ...view, mode, shown },
      });
      const at = 4 * (5 * W + 5);
      return Array.from(r.rgba.slice(at, at + 3));
    };
    expect(await of('picture', 'numbers', 'bt1886')).toEqual([...A]);
    // ITU-R BT.1886 with black at 0 is a power of 2.4; IEC 61966-2-1 gives the page's code of that light.
    const page = (v: number): number => {
      const l = (v / 255) ** 2.4;
      return 255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055);
    };
    near(await of('picture', 'light', 'bt1886'), A.map(page));
    expect(Math.abs(page(80) - 80)).toBeGreaterThan(3);
    // A picture that is sRGB is what the page means already.
    expect(await of('picture', 'light', 'srgb')).toEqual([...A]);
    expect(await of('matte', 'light', 'bt1886')).toEqual([0, 0, 0]);
    expect(await of('change', 'light', 'bt1886')).toEqual([0, 0, 0]);
  });
  it('Matte, Cut-out, Tint', async () => {
    expect(await at({ mode: 'matte' }, 60, 40)).toEqual([255, 255, 255]);
    expect(await at({ mode: 'matte' }, 5, 5)).toEqual([0, 0, 0]);
    near(await at({ mode: 'cutout' }, 5, 5), [111, 111, 111]);
    near(await at({ mode: 'cutout' }, 70, 40), [grey(B), grey(B), grey(B)]);
    const t = await at({ mode: 'tint' }, 5, 5);
    expect(t[2]).toBeGreaterThan(t[0]!);
    near(await at({ mode: 'tint' }, 70, 40), [grey(B), grey(B), grey(B)]);
  });
  it('a cut-out lies on grey, black or squares; Edge shows what is partly in alone', async () => {
    near(await at({ mode: 'cutout', ground: 'black' }, 5, 5), [0, 0, 0]);
    const squares = [5, 21].map((x) => at({ mode: 'cutout', ground: 'checker' }, x, 5));
    const [one, other] = await Promise.all(squares);
    near(one!, [92, 92, 92]);
    near(other!, [130, 130, 130]);
    near(await at({ mode: 'cutout', ground: 'checker' }, 70, 40), [grey(B), grey(B), grey(B)]);
    // The ellipse is a pixel soft: its rightmost pixel is partly in.
    const [out, full] = [await at({ mode: 'edge' }, 5, 5), await at({ mode: 'edge' }, 60, 40)];
    near(out, Array(3).fill(255 * (0.03 + (0.12 * grey(A)) / 255)), 2);
    near(full, Array(3).fill(255 * (0.3 + (0.25 * grey(B)) / 255)), 2);
    const soft = { ...corr, terms: corr.terms.map((t) => ({ ...t, use: newUse('e', 'ellipse', WIDE) })) };
    const view: View = { w: W, h: H, scale: 1, offX: 0, offY: 0, mode: 'edge', compare: 'off', wipeX: 0 };
    const r = await s.render({
      shot: { media: 'p', encoding: 'srgb', frame: 0, corrections: [{ ...soft, adjustments: [] }] },
      focus: 'c',
      view,
      quality: 'final',
      scopes: [],
      patches: [],
      skinLineDeg: 123,
      bits: 16,
    });
    // On the outline the picture itself is seen.
    expect(Array.from(r.rgba.slice(4 * (40 * W + 80), 4 * (40 * W + 80) + 3))).toEqual([...B]);
  });
  it('Change: black where nothing moved, grey by the logarithm of the codes', async () => {
    expect(await at({ mode: 'change' }, 5, 5)).toEqual([0, 0, 0]);
    const moved = Math.max(...A.map((v) => Math.abs(v - (0.2126 * A[0] + 0.7152 * A[1] + 0.0722 * A[2])))) * 257;
    near(
      await at({ mode: 'change' }, 50, 40),
      Array.from({ length: 3 }, () => changeGrey(moved) * 255),
    );
    expect(changeGrey(0)).toBe(0);
    expect(changeGrey(1)).toBeGreaterThan(0.1);
    expect(changeGrey(65535)).toBeCloseTo(1, 2);
  });
  it('wipe and side by side show the original on the left', async () => {
    expect(await at({ compare: 'wipe', wipeX: 60 }, 50, 40)).toEqual([...A]);
    near(await at({ compare: 'wipe', wipeX: 60 }, 70, 40), [grey(B), grey(B), grey(B)]);
    const side = { compare: 'side' as const, scale: 0.5 };
    near(await at(side, 25, 20), A, 2);
    near(await at(side, 85, 20), [grey(A), grey(A), grey(A)], 2);
  });
  it('a wipe is turned about a point: before lies on the side that it was turned to', async () => {
    const g = [grey(A), grey(A), grey(A)];
    const about = { compare: 'wipe' as const, wipeX: 50.5, wipeY: 40.5 };
    // Right, below, left, above the point; turned clockwise before goes from the left to the top, the right, the foot.
    const around = [
      [54, 40],
      [50, 44],
      [46, 40],
      [50, 36],
    ] as const;
    for (const [deg, before] of [
      [0, [2]],
      [45, [2, 3]],
      [90, [3]],
      [135, [3, 0]],
      [180, [0]],
      [-90, [1]],
      [-45, [1, 2]],
    ] as const)
      for (const [i, [x, y]] of around.entries()) {
        const on = (before as readonly number[]).includes(i);
        // What lies on the edge itself is after.
        if (!on && deg % 90 === 0 && (before as readonly number[]).some((b) => (b + i) % 2 === 1)) continue;
        near(await at({ ...about, wipeDeg: deg }, x, y), on ? A : g);
      }
    // In halves of the size, and where the view does not begin at the picture's corner.
    near(await at({ ...about, wipeDeg: 90, scale: 0.5 }, 25, 18), A, 2);
    near(await at({ ...about, wipeDeg: 90, scale: 0.5 }, 25, 22), g, 2);
    near(await at({ ...about, wipeDeg: 90, offX: 30, offY: 20 }, 20, 16), A);
    near(await at({ ...about, wipeDeg: 90, offX: 30, offY: 20 }, 20, 24), g);
  });
  it('outside the picture lies the stage', async () => {
    expect(await at({ offX: -50 }, 10, 10)).toEqual([110, 110, 110]);
    expect(await at({ offY: -20 }, 10, 5)).toEqual([110, 110, 110]);
    expect(await at({ offX: -50 }, 55, 10)).toEqual([...A]);
  });
  it('enlarged, pixels are squares; reduced, nothing is skipped', async () => {
    expect(await at({ scale: 8, offX: 58, offY: 0 }, 15, 5)).toEqual([...A]);
    expect(await at({ scale: 8, offX: 58, offY: 0 }, 16, 5)).toEqual([...B]);
    const mid = await at({ w: 15, h: 10, scale: 0.125, mode: 'matte' }, 7, 5);
    expect(mid[0]).toBeGreaterThan(200);
  });
  it('a draft shows the same within rounding away from edges', async () => {
    expect(await at({}, 5, 5, 'draft')).toEqual([...A]);
    near(await at({ w: 60, h: 40, scale: 0.5 }, 25, 20, 'draft'), [grey(A), grey(A), grey(A)], 2);
  });
});

/** A surface with texture everywhere, too large for a draft at full resolution. */
const LARGE = { w: 1400, h: 1000 };
const textured: DecodedPicture = {
  ...picture,
  width: LARGE.w,
  height: LARGE.h,
  rgb: Uint8Array.from({ length: LARGE.w * LARGE.h * 3 }, (_, i) => {
    const [x, y] = [Math.floor(i / 3) % LARGE.w, Math.floor(i / 3 / LARGE.w)];
    const n = ((x * 73856093) ^ (y * 19349663)) & 31;
    return [150 + n + 30 * Math.sin(x / 40), 110 + n, 90 + 40 * Math.cos(y / 60)][i % 3]!;
  }),
};
/** A small soft shape and a key, joined and feathered. */
const soft: CorrectionSpec = {
  ...corr,
  tidy: [newUse('n', 'noise', { radiusPx: 2 }), newUse('f', 'feather', { radiusPx: 3 })],
  terms: [
    {
      id: 't1',
      join: 'and',
      not: false,
      name: 'e',
      use: newUse('e', 'ellipse', {
        cxPx: 703,
        cyPx: 501,
        rxPx: 23,
        ryPx: 14,
        softInPx: 5,
        softOutPx: 7,
        angleDeg: 20,
      }),
    },
    {
      id: 't2',
      join: 'and',
      not: false,
      name: 'k',
      use: newUse('k', 'key', { hueOn: false, satOn: false, lumaFromPct: 48 }),
    },
  ],
};

describe.each(['wasm', 'ts'] as const)('a piece of a view with %s kernels', (kernels) => {
  let s: Session;
  beforeAll(async () => {
    s = await soloSession(kernels === 'wasm' ? { wasm: wasmBytes() } : {});
    s.open('p', picture);
  });
  const render = (view: View, into?: ArrayBuffer) =>
    s.render(
      {
        shot: { media: 'p', encoding: 'srgb', frame: 0, corrections: [corr] },
        focus: 'c',
        view,
        quality: 'draft',
        scopes: [],
        patches: [],
        skinLineDeg: 123,
        bits: 16,
      },
      into,
    );
  const whole: View = {
    w: 300,
    h: 250,
    scale: 2,
    offX: -13,
    offY: -21.5,
    mode: 'picture',
    compare: 'off',
    wipeX: 50,
  };
  it.each([
    ['about all of it', {}],
    ['of its matte', { mode: 'matte' }],
    ['in false colours', { falseColour: 'levels' }],
    ['under a turned wipe', { compare: 'wipe', wipeY: 30, wipeDeg: 25 }],
    ['reaching beyond two sides', { offX: 31.5, offY: 40 }],
    ['smaller', { scale: 0.75 }],
  ] as const)('is what the view shows there, and round it lies one grey: %s', async (_, how) => {
    const v = { ...whole, ...how } as View;
    const p = pieceOf(v, W, H);
    expect(p.view.w * p.view.h).toBeLessThan(0.9 * v.w * v.h);
    const [all, piece] = [await render(v), await render(p.view)];
    expect([piece.w, piece.h]).toEqual([p.view.w, p.view.h]);
    let off = 0;
    for (let y = 0, i = 0; y < v.h; y++)
      for (let x = 0; x < v.w; x++, i += 4) {
        const [px, py] = [x - p.x, y - p.y];
        const inside = px >= 0 && py >= 0 && px < piece.w && py < piece.h;
        for (let c = 0; c < 3; c++)
          if (all.rgba[i + c] !== (inside ? piece.rgba[4 * (py * piece.w + px) + c] : 0x6e)) off++;
      }
    expect(off).toBe(0);
  });
  it('side by side, cut out, and where nothing of the picture is in view, it is all of the view', () => {
    for (const how of [{ compare: 'side' }, { mode: 'cutout' }] as const) {
      const view = { ...whole, ...how };
      expect(pieceOf(view, W, H)).toEqual({ view, x: 0, y: 0 });
    }
    const beside = { ...whole, offX: 500 };
    expect(pieceOf(beside, W, H).view.w).toBe(whole.w);
  });
  it('is written into pixels that are handed over, where they are as many', async () => {
    const plain = await render(whole);
    const into = new ArrayBuffer(whole.w * whole.h * 4);
    new Uint8Array(into).fill(7);
    const again = await render(whole, into);
    expect(again.rgba.buffer).toBe(into);
    expect(again.rgba).toEqual(plain.rgba);
    const other = new ArrayBuffer(12);
    const third = await render(whole, other);
    expect(third.rgba).toEqual(plain.rgba);
    expect([...new Uint8Array(other)]).toEqual(new Array(12).fill(0));
  });
});

describe.each(['wasm', 'ts'] as const)('a draft of the part in view with %s kernels', (kernels) => {
  let s: Session;
  beforeAll(async () => {
    s = await soloSession(kernels === 'wasm' ? { wasm: wasmBytes() } : {});
    s.open('large', textured);
  });
  const render = (v: Partial<View>, quality: 'draft' | 'final', more: Partial<CorrectionSpec> = {}) =>
    s.render({
      shot: { media: 'large', encoding: 'srgb', frame: 0, corrections: [{ ...soft, ...more }] },
      focus: 'c',
      view: { w: 161, h: 121, scale: 1, offX: 637, offY: 447, mode: 'picture', compare: 'off', wipeX: 0, ...v },
      quality,
      scopes: [],
      patches: [{ id: 'p', box: { x: 20, y: 20, w: 40, h: 40 } }],
      skinLineDeg: 123,
      bits: 16,
    });
  it.each([
    ['1:1', {}],
    ['1:1, matte', { mode: 'matte' }],
    ['enlarged', { scale: 3, offX: 690.3, offY: 480.7 }],
    ['enlarged, matte', { scale: 3, offX: 690.3, offY: 480.7, mode: 'matte' }],
    ['wipe', { compare: 'wipe', wipeX: 700 }],
    ['turned wipe', { compare: 'wipe', wipeX: 700, wipeY: 500, wipeDeg: 30 }],
    ["at the picture's corner", { offX: -40, offY: 930, mode: 'matte' }],
  ] as const)('is the final, bit for bit: %s', async (_, v) => {
    const [d, f] = [await render(v, 'draft'), await render(v, 'final')];
    expect(new Set(d.rgba).size).toBeGreaterThan(1);
    expect(d.rgba).toEqual(f.rgba);
    // Of the whole picture, which this draft did not make.
    expect(d.readings).toBeNull();
    expect(f.readings).toHaveLength(1);
  });
  it.each([
    [{ scale: 0.5, offX: 560, offY: 400 }, 3],
    [{ scale: 0.29, offX: 560, offY: 400 }, 3],
    // All of the picture, at the resolution of the view.
    [{ scale: 0.45, offX: 0, offY: 0, w: 630, h: 450 }, 3],
    [{ scale: 0.29, offX: 0, offY: 0, w: 406, h: 290 }, 3],
  ])('a small soft shape and a feather look the same in %o', async (where, most) => {
    // A key is left out: that of a mean is not the mean of keys.
    const shape = { terms: soft.terms.slice(0, 1), tidy: soft.tidy.slice(1) };
    const v = { ...where, mode: 'matte' } as const;
    const [d, f] = [(await render(v, 'draft', shape)).rgba, (await render(v, 'final', shape)).rgba];
    let [worst, n] = [0, 0];
    for (let i = 0; i < d.length; i += 4) {
      worst = Math.max(worst, Math.abs(d[i]! - f[i]!));
      if (f[i]! > 0 && f[i]! < 255) n++;
    }
    expect(n).toBeGreaterThan(60);
    expect(worst).toBeLessThanOrEqual(most);
  });
  it('where a step needs all of the picture, all of it is made', async () => {
    const whole = { tidy: [newUse('s', 'specks', { sizePx: 8 })] };
    const d = await render({}, 'draft', whole);
    expect(d.readings).toHaveLength(1);
  });
});
