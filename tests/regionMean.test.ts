/** What a region's mean is asked for: the level that a contrast turns about, and how even its colour is. */
import { beforeAll, describe, expect, it } from 'vitest';
import { ycbcrToRgb } from '../src/core/color/ycbcr';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec, OpUse } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/picture';
import type { ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const [W, H] = [160, 90];
const HUE = 118;
/** Blotched skin in a box, its luma 0.3 on the left half and 0.5 on the right; green around it. */
function picture(): DecodedPicture {
  const r = rng(4);
  const rgb = new Uint16Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const skin = x >= 40 && x < 120 && y >= 20 && y < 70;
    const l = x < 80 ? 0.3 : 0.5;
    const hue = ((HUE + 16 * (r() - 0.5)) * Math.PI) / 180;
    const c = 0.28 * l * (0.8 + 0.4 * r());
    const px = skin ? ycbcrToRgb(l, c * Math.cos(hue), c * Math.sin(hue)) : [0.2, 0.5, 0.2];
    for (let k = 0; k < 3; k++) rgb[3 * i + k] = Math.round(65535 * px[k]!);
  }
  return { width: W, height: H, bits: 16, format: 'png', encoding: 'srgb', rgb, notes: [], alpha: false };
}
const correction = (...adjustments: OpUse[]): CorrectionSpec => ({
  id: 'c',
  name: 'c',
  on: true,
  mixPct: 100,
  terms: [
    {
      ...{ join: 'and', not: false, id: 'b', name: 'b' },
      use: newUse('b', 'box', { cxPx: 80, cyPx: 45, rxPx: 38, ryPx: 23, softInPx: 0, softOutPx: 0 }),
    },
  ],
  tidy: [],
  adjustments,
});
let s: Session;
beforeAll(async () => {
  s = await soloSession({ wasm: wasmBytes() });
  s.open('p', picture());
});
const shot = (...adjustments: OpUse[]): ShotState => ({
  media: 'p',
  encoding: 'srgb',
  frame: 0,
  corrections: [correction(...adjustments)],
});
const q = { correction: 'c', bits: 16 } as const;

describe('what lies beyond the range', () => {
  it('is told of what gamut care is given and gives, in the region alone', async () => {
    // Twice the saturation and a stop more drive skin over 1; the green around it is no part of the region.
    const strong = [newUse('s', 'saturation', { amountPct: 300 }), newUse('e', 'exposure', { stops: 1 })];
    const at = (...more: OpUse[]) =>
      s.beyond({ shot: shot(...strong, ...more), correction: 'c', use: more.at(-1)!.id });
    const { given, gives } = await at(newUse('g', 'gamutCare', { amountPct: 100 }));
    expect(given.share).toBeGreaterThan(0.3);
    expect(given.furthest).toBeGreaterThan(0.2);
    expect(gives).toEqual({ share: 0, furthest: 0 });
    const half = await at(newUse('g', 'gamutCare', { amountPct: 50 }));
    expect(half.given).toEqual(given);
    expect(half.gives.furthest).toBeGreaterThan(0.4 * given.furthest);
    expect(half.gives.furthest).toBeLessThan(0.6 * given.furthest);
    // Off, or before anything left the range: nothing changes, nothing is beyond.
    const off = await at({ ...newUse('g', 'gamutCare', { amountPct: 100 }), on: false });
    expect(off.gives).toEqual(off.given);
    const calm = await s.beyond({
      shot: shot(newUse('g', 'gamutCare', { amountPct: 100 })),
      correction: 'c',
      use: 'g',
    });
    expect(calm.given).toEqual({ share: 0, furthest: 0 });
    await expect(s.beyond({ shot: shot(), correction: 'c', use: 'g' })).rejects.toThrow(/no such adjustment/);
  });
});
describe('the mean of a region', () => {
  const levels = (use: string, ...a: OpUse[]) => s.levelsGiven({ shot: shot(...a), correction: 'c', use });
  it('is that of what the adjustment is given, not of the picture', async () => {
    expect((await levels('k', newUse('k', 'contrast'))).mean).toBeCloseTo(0.4, 2);
    // Half the signal before it: half the mean.
    const half = newUse('cdl', 'cdl', { slopeR: 0.5, slopeG: 0.5, slopeB: 0.5 });
    expect((await levels('k', half, newUse('k', 'contrast'))).mean).toBeCloseTo(0.2, 2);
    expect((await levels('k', newUse('k', 'contrast'), half)).mean).toBeCloseTo(0.4, 2);
  });

  it('its ends are what wheels act between: each moves one and leaves the other', async () => {
    const { low, high } = await levels('w', newUse('w', 'wheels'));
    expect(low).toBeLessThan(0.4);
    expect(high).toBeGreaterThan(0.4);
    const range = { fromPct: 100 * low, toPct: 100 * high };
    const after = (p: Record<string, number>) =>
      levels('z', newUse('w', 'wheels', { ...range, ...p }), newUse('z', 'exposure'));
    const lifted = await after({ liftLevel: 20 });
    expect(lifted.low - low).toBeCloseTo(0.2 * (high - low), 2);
    expect(Math.abs(lifted.high - high)).toBeLessThan(0.005);
    const gained = await after({ gainLevel: 20 });
    expect(gained.high - high).toBeCloseTo(0.2 * (high - low), 2);
    expect(Math.abs(gained.low - low)).toBeLessThan(0.005);
  });

  it('a contrast about it keeps the level of the region', async () => {
    const level = async (...a: OpUse[]): Promise<number> =>
      (await levels('last', ...a, newUse('last', 'exposure'))).mean;
    const turned = newUse('k', 'contrast', { amountPct: 160, greyPivot: false, pivotPct: 40 });
    const grey = newUse('k', 'contrast', { amountPct: 160 });
    expect(Math.abs((await level(turned)) - 0.4)).toBeLessThan(0.005);
    expect(Math.abs((await level(grey)) - 0.4)).toBeGreaterThan(0.01);
  });

  it('evenness reads the mean hue and chroma, and its strength takes the spread of what leaves down', async () => {
    const none = await s.evenness({ ...q, shot: shot(), use: null });
    expect(none.given.hueDeg).toBeCloseTo(HUE, 0);
    expect(none.given.perLumaPct).toBeGreaterThan(26);
    expect(none.given.perLumaPct).toBeLessThan(30);
    // Evenly spread over 16 degrees: a deviation of 16 / sqrt(12).
    expect(none.given.hueSpreadDeg).toBeCloseTo(16 / Math.sqrt(12), 0);
    expect(none.leaves!.hueSpreadDeg).toBeCloseTo(none.given.hueSpreadDeg, 1);
    const use = newUse('e', 'evenness', {
      strengthPct: 100,
      hueDeg: none.given.hueDeg,
      perLumaPct: none.given.perLumaPct,
    });
    const full = await s.evenness({ ...q, shot: shot(use), use: 'e' });
    expect(full.given.hueSpreadDeg).toBeCloseTo(none.given.hueSpreadDeg, 6);
    expect(full.leaves!.hueSpreadDeg / full.given.hueSpreadDeg).toBeLessThan(0.3);
    expect(full.leaves!.hueDeg).toBeCloseTo(none.given.hueDeg, 0);
  });

  it('says where there is nothing to read', async () => {
    const grey: DecodedPicture = { ...picture(), rgb: new Uint16Array(3 * W * H).fill(30000) };
    s.open('grey', grey);
    await expect(s.evenness({ ...q, shot: { ...shot(), media: 'grey' }, use: null })).rejects.toThrow(
      'hardly a colour',
    );
    await expect(s.levelsGiven({ shot: shot(), correction: 'gone', use: 'k' })).rejects.toThrow('no such correction');
  });
});
