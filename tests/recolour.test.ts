/** Recolouring through the engine, on the demo's jacket: measured on the file's codes, by another library. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { converter, differenceCiede2000 } from 'culori';
import { beforeAll, describe, expect, it } from 'vitest';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { newUse } from '../src/core/graph/plan.defaults';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import { decodeStill } from '../src/media/decode';
import { wasmBytes } from '../testkit/bench';

const dir = join(import.meta.dirname, '../demo/stills');
const [W, H] = [1600, 900];
const box = { cxPx: 930, cyPx: 540, rxPx: 140, ryPx: 60 };
const spec = (params: object): CorrectionSpec => ({
  id: 'c',
  name: 'c',
  on: true,
  mixPct: 100,
  terms: [
    { id: 'b', join: 'and', not: false, name: 'b', use: newUse('b', 'box', { ...box, softInPx: 1, softOutPx: 1 }) },
  ],
  tidy: [],
  adjustments: [{ ...newUse('r', 'recolour'), params: params as never }],
});
const inside = (i: number): boolean =>
  Math.abs((i % W) + 0.5 - box.cxPx) < box.rxPx - 2 && Math.abs(Math.floor(i / W) + 0.5 - box.cyPx) < box.ryPx - 2;
const oklab = converter('oklab');
/** By culori 4.0.2, of the mean of the codes. */
function mean(data: ArrayLike<number>): [number, number, number] {
  const sum = [0, 0, 0, 0];
  for (let i = 0; i < W * H; i++) {
    if (!inside(i)) continue;
    const v = oklab({
      mode: 'rgb',
      r: data[3 * i]! / 65535,
      g: data[3 * i + 1]! / 65535,
      b: data[3 * i + 2]! / 65535,
    })!;
    [v.l, v.a, v.b].forEach((x, c) => (sum[c]! += x));
    sum[3]!++;
  }
  return [sum[0]! / sum[3]!, sum[1]! / sum[3]!, sum[2]! / sum[3]!];
}
const rgbOf = (hex: string): [number, number, number] =>
  [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255) as [number, number, number];
const labOf = (hex: string): [number, number, number] => {
  const v = oklab({ mode: 'rgb', r: rgbOf(hex)[0], g: rgbOf(hex)[1], b: rgbOf(hex)[2] })!;
  return [v.l, v.a, v.b];
};

describe('recolouring the jacket', () => {
  let s: Session;
  const shot = (c: CorrectionSpec[]) => ({ media: 'm', encoding: 'srgb' as const, frame: 0, corrections: c });
  let plain: ArrayLike<number>;
  beforeAll(async () => {
    s = await soloSession({ wasm: wasmBytes() });
    s.open('m', await decodeStill(new Uint8Array(readFileSync(join(dir, 'courier.png')))));
    plain = (await s.pictureCodes(shot([]), 16)).data;
  });
  it.each(['#7a1f2b', '#2f5d50', '#34507d', '#6f6a64'])('%s: the mean of the codes is there', async (hex) => {
    const r = await s.recolour({ shot: shot([spec({})]), correction: 'c', use: 'r', to: labOf(hex), bits: 16 });
    const { data } = await s.pictureCodes(shot([spec(r.params!)]), 16);
    const got = mean(data);
    const apart = differenceCiede2000()(
      { mode: 'oklab', l: got[0], a: got[1], b: got[2] },
      { mode: 'oklab', l: labOf(hex)[0], a: labOf(hex)[1], b: labOf(hex)[2] },
    );
    expect(apart).toBeLessThan(1);
    // What is said is what another library measures on the file.
    expect(Math.abs(apart - r.apart)).toBeLessThan(0.3);
    expect(r.clippedAfter - r.clippedBefore).toBeLessThanOrEqual(0.005);
    const before = mean(plain);
    r.was.forEach((v, c) => expect(Math.abs(v - before[c]!)).toBeLessThan(0.004));
    // Nothing outside the box moved by a bit.
    let moved = 0;
    for (let i = 0; i < W * H; i++) {
      const [x, y] = [(i % W) + 0.5, Math.floor(i / W) + 0.5];
      if (Math.abs(x - box.cxPx) < box.rxPx + 2 && Math.abs(y - box.cyPx) < box.ryPx + 2) continue;
      if ([0, 1, 2].some((c) => data[3 * i + c] !== plain[3 * i + c])) moved++;
    }
    expect(moved).toBe(0);
  });
  it('at half the mix it does not arrive, and it is told that the adjustment itself does', async () => {
    const half = { ...spec({}), mixPct: 50 };
    const r = await s.recolour({ shot: shot([half]), correction: 'c', use: 'r', to: labOf('#7a1f2b'), bits: 16 });
    expect(r.apart).toBeGreaterThan(5);
    expect(r.givesApart).toBeLessThan(1);
    // The same when what was taken is measured.
    const taken = { ...half, adjustments: [{ ...newUse('r', 'recolour'), params: r.params as never }] };
    const m = await s.recolour({ shot: shot([taken]), correction: 'c', use: 'r', bits: 16 });
    expect(m.givesApart).toBeCloseTo(r.givesApart, 6);
    expect(m.apart).toBeCloseTo(r.apart, 6);
  });
  it('without a colour what is there is measured; nothing in the region is said with what to do', async () => {
    const r = await s.recolour({ shot: shot([spec({})]), correction: 'c', use: 'r', bits: 8 });
    expect(r.params).toBeNull();
    r.is.forEach((v, c) => expect(v).toBe(r.was[c]));
    const away = spec({});
    away.terms = [{ ...away.terms[0]!, use: newUse('b', 'box', { ...box, cxPx: -900 }) }] as never;
    await expect(
      s.recolour({ shot: shot([away]), correction: 'c', use: 'r', to: [0.5, 0, 0], bits: 8 }),
    ).rejects.toThrow(/Almost nothing is in the region/);
  });
});
