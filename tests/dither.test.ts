/** Dither of what leaves in 8 bits: where a correction reaches, and nowhere else. */
import { beforeAll, describe, expect, it } from 'vitest';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { toYuv420 } from '../src/core/color/yuv';
import { soloSession } from '../src/engine/node';
import type { Codes } from '../src/media/picture';
import type { Session } from '../src/engine/session';
import type { ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const [W, H] = [512, 96];
const same = (a: Codes, b: Codes): boolean =>
  Buffer.compare(Buffer.from(a.data.buffer), Buffer.from(b.data.buffer)) === 0;
const box = (adjustments: CorrectionSpec['adjustments']): CorrectionSpec => ({
  id: 'c',
  name: 'Box',
  on: true,
  mixPct: 100,
  terms: [
    {
      id: 'b',
      join: 'and',
      not: false,
      name: 'Box 1',
      use: newUse('b', 'box', { cxPx: 256, cyPx: 48, rxPx: 200, ryPx: 40, softInPx: 0, softOutPx: 20 }),
    },
  ],
  tidy: [],
  adjustments,
});
const shot = (frame: number, ...corrections: CorrectionSpec[]): ShotState => ({
  media: 'p',
  encoding: 'srgb',
  frame,
  corrections,
});
/** A ramp over six codes of 8 bits, in 16. */
let s: Session;
beforeAll(async () => {
  s = await soloSession({ wasm: wasmBytes() });
  const rgb = Uint16Array.from({ length: W * H * 3 }, (_, i) => {
    const x = Math.floor(i / 3) % W;
    return Math.round(257 * (100 + (6 * x) / W + 20 * (i % 3)));
  });
  for (const f of [0, 1])
    s.open(
      'p',
      { width: W, height: H, bits: 16, format: 'png', rgb: rgb.slice(), notes: [], encoding: 'srgb', alpha: false },
      f,
      2,
    );
});
const calm = box([newUse('e', 'exposure', { stops: -0.2 })]);

describe('codes of 8 bits', () => {
  it('outside they are the same codes, inside their mean is the value and no step is seen', async () => {
    const plain = await s.pictureCodes(shot(0, calm), 8);
    const fine = await s.pictureCodes(shot(0, calm), 16);
    const noisy = await s.pictureCodes(shot(0, calm), 8, true);
    const matte = await s.halves(shot(0, calm), 'c');
    let [outside, changed, worst, banding] = [0, 0, 0, 0];
    for (let i = 0; i < W * H; i++)
      for (let c = 0; c < 3; c++) {
        const [a, b] = [plain.data[3 * i + c]!, noisy.data[3 * i + c]!];
        if (matte.data[i] === 0) {
          outside++;
          if (a !== b) expect.fail(`pixel ${i} is outside and differs`);
        } else if (a !== b) changed++;
        worst = Math.max(worst, Math.abs(b - fine.data[3 * i + c]! / 257));
      }
    expect(outside).toBeGreaterThan(3000);
    expect(changed).toBeGreaterThan(10_000);
    // Half a step of rounding and one of noise, never more.
    expect(worst).toBeLessThan(1.502);
    // Columns of the middle, 60 rows by 8: their mean against the value.
    let error = 0;
    for (let x = 80; x < 430; x += 8) {
      let [n, d, p] = [0, 0, 0];
      for (let y = 18; y < 78; y++)
        for (let k = 0; k < 8; k++) {
          const i = 3 * (y * W + x + k);
          d += noisy.data[i]! - fine.data[i]! / 257;
          p += plain.data[i]! - fine.data[i]! / 257;
          n++;
        }
      error = Math.max(error, Math.abs(d / n));
      banding = Math.max(banding, Math.abs(p / n));
    }
    expect(banding).toBeGreaterThan(0.4);
    expect(error).toBeLessThan(0.12);
  });

  it('is the same again, and another in the next frame; without a correction there is none', async () => {
    const one = await s.pictureCodes(shot(0, calm), 8, true);
    const again = await s.pictureCodes(shot(0, calm), 8, true);
    const next = await s.pictureCodes(shot(1, calm), 8, true);
    expect(same(one, again)).toBe(true);
    expect(same(one, next)).toBe(false);
    const off = await s.pictureCodes(shot(0), 8);
    expect(same(await s.pictureCodes(shot(0), 8, true), off)).toBe(true);
    // A correction that is off, or does nothing, reaches nowhere.
    expect(same(await s.pictureCodes(shot(0, { ...calm, on: false }), 8, true), off)).toBe(true);
    expect(same(await s.pictureCodes(shot(0, box([])), 8, true), off)).toBe(true);
  });

  it('16 bits stay what they are and say where a clip may have noise', async () => {
    const plain = await s.pictureCodes(shot(0, calm), 16);
    const said = await s.pictureCodes(shot(0, calm), 16, true);
    expect(plain.reached).toBeUndefined();
    expect(same(plain, said)).toBe(true);
    // In halves: a matte of a millionth is no code of 16 bits, but it reaches.
    const matte = await s.halves(shot(0, calm), 'c');
    expect([...said.reached!].filter((r, i) => (r === 1) !== (matte.data[i] ?? 0) > 0)).toHaveLength(0);
    const [a, b] = [null, { where: said.reached!, frame: 0 }].map((d) =>
      toYuv420(said.data as Uint16Array, W, H, 'bt709', d),
    );
    let [inside, out] = [0, 0];
    for (let i = 0; i < W * H; i++)
      if (a!.y[i] !== b!.y[i]) {
        if (said.reached![i]) inside++;
        else out++;
      }
    for (let i = 0; i < a!.u.length; i++) {
      const [x, y] = [2 * (i % (W / 2)), 2 * Math.floor(i / (W / 2))];
      const near = [0, 1, W, W + 1].some((k) => said.reached![y * W + x + k]);
      if (a!.u[i] !== b!.u[i] || a!.v[i] !== b!.v[i]) {
        if (near) inside++;
        else out++;
      }
    }
    expect(out).toBe(0);
    expect(inside).toBeGreaterThan(10_000);
  });
});
