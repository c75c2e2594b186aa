/** Skin under two lights: seen in the region, divided by hue, each side brought to the line by itself. */
import { beforeAll, describe, expect, it } from 'vitest';
import { ycbcrToRgb } from '../src/core/color/ycbcr';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec, Term } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { lightKey } from '../src/core/skin/lightKey';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/picture';
import type { ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const [W, H] = [160, 100];
/** A face whose left side lies at 112 degrees, the right at 140, with grain, before grey. */
function picture(left: number, right: number): DecodedPicture {
  const r = rng(21);
  const rgb = new Uint16Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const face = (x - 80) ** 2 / 50 ** 2 + (y - 50) ** 2 / 40 ** 2 < 1;
    const a = ((x < 76 ? left : right) * Math.PI) / 180;
    const px = face
      ? ycbcrToRgb(0.5 + 0.1 * Math.sin(y / 12), 0.12 * Math.cos(a), 0.12 * Math.sin(a))
      : [0.4, 0.4, 0.4];
    for (let k = 0; k < 3; k++) rgb[3 * i + k] = Math.round(65535 * (px[k]! + 0.02 * (r() - 0.5)));
  }
  return { width: W, height: H, bits: 16, format: 'png', encoding: 'srgb', rgb, notes: [], alpha: false };
}
const face: Term = {
  ...{ join: 'and', not: false, id: 'e', name: 'e' },
  use: newUse('e', 'ellipse', { cxPx: 80, cyPx: 50, rxPx: 48, ryPx: 38, softInPx: 1, softOutPx: 1 }),
};
const correction = (id: string, terms: Term[], adjustments: CorrectionSpec['adjustments'] = []): CorrectionSpec => ({
  ...{ id, name: id, on: true, mixPct: 100, tidy: [], terms, adjustments },
});
const shot = (media: string, ...corrections: CorrectionSpec[]): ShotState => ({
  ...{ media, frame: 0, encoding: 'srgb', corrections },
});
let s: Session;
beforeAll(async () => {
  s = await soloSession({ wasm: wasmBytes() });
  s.open('two', picture(112, 140));
  s.open('one', picture(130, 130));
});
const ask = { skinLineDeg: 123, bits: 16 as const };
const reads = (q: ShotState, correction: string) => s.regionReads({ shot: q, correction, ...ask });

describe('skin under two lights', () => {
  it('is seen in the whole of a region; one light is not', async () => {
    const { before, after } = await reads(shot('two', correction('c', [face])), 'c');
    expect(after!.offLineDeg).toBeCloseTo(before!.offLineDeg!, 1);
    const { two, hueDeg } = before!;
    expect(Math.abs(hueDeg! + two!.low - 112)).toBeLessThan(2);
    expect(Math.abs(hueDeg! + two!.high - 140)).toBeLessThan(2);
    expect((await reads(shot('one', correction('c', [face])), 'c')).before!.two).toBeNull();
    const none = correction('c', [{ ...face, not: true }, face]);
    expect(await reads(shot('two', none), 'c')).toEqual({ before: null, after: null });
  });

  it('divided by the key between them each side comes to the line; together they are the region', async () => {
    const { before } = await reads(shot('two', correction('c', [face])), 'c');
    const key = lightKey('k', before!.hueDeg!, before!.two!);
    const a = correction('a', [face, key]);
    const b = correction('b', [face, { ...key, not: true }]);
    const whole = (await s.matteCodes(shot('two', correction('c', [face])), 'c', 16)).data as Uint16Array;
    const [ma, mb] = [
      (await s.matteCodes(shot('two', a, b), 'a', 16)).data as Uint16Array,
      (await s.matteCodes(shot('two', a, b), 'b', 16)).data as Uint16Array,
    ];
    const full = [...whole.keys()].filter((i) => whole[i] === 65535);
    expect(full.length).toBeGreaterThan(3000);
    for (const i of full) expect(Math.abs(ma[i]! + mb[i]! - 65535)).toBeLessThanOrEqual(2);
    // The yellower side lies on the right.
    const share = (m: Uint16Array, right: boolean): number => {
      const at = full.filter((i) => (right ? i % W > 82 : i % W < 70));
      return at.reduce((q, i) => q + m[i]! / 65535, 0) / at.length;
    };
    expect(share(ma, true)).toBeGreaterThan(0.98);
    expect(share(ma, false)).toBeLessThan(0.02);
    const press = async (q: ShotState, id: string) =>
      s.skinPress({ shot: q, correction: id, kind: 'balance', strength: 1, ...ask });
    const pa = await press(shot('two', a, b), 'a');
    const a2 = { ...a, adjustments: pa.solved!.adjustments };
    const pb = await press(shot('two', a2, b), 'b');
    const b2 = { ...b, adjustments: pb.solved!.adjustments };
    const { after } = await reads(shot('two', correction('c', [face]), a2, b2), 'c');
    expect(Math.abs(after!.offLineDeg!)).toBeLessThan(0.5);
    expect(after!.two).toBeNull();
    // 28 degrees apart before; grain alone is left.
    expect(after!.hueSpreadDeg!).toBeLessThan(4);
    for (const id of ['a', 'b']) {
      const side = (await reads(shot('two', a2, b2), id)).after!;
      expect(Math.abs(side.offLineDeg!), id).toBeLessThan(0.5);
    }
  });
});
