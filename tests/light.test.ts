/** The light of the picture through the engine: what it sets makes a grey thing that nobody measured nearly neutral. */
import { describe, expect, it } from 'vitest';
import { encode, encodings } from '../src/core/color/encodings';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { soloSession } from '../src/engine/node';
import type { DecodedPicture } from '../src/media/picture';
import type { ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const [W, H] = [480, 320];
/** Patches of random reflectances under a light, one of them grey; the noise of a camera. */
function picture(light: readonly number[]): DecodedPicture {
  const r = rng(11);
  const cells = Array.from({ length: 12 * 8 }, () => [r(), r(), r()]);
  cells[30] = [0.4, 0.4, 0.4];
  const rgb = new Uint16Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const cell = cells[Math.floor((i % W) / 40) + 12 * Math.floor(Math.floor(i / W) / 40)]!;
    for (let c = 0; c < 3; c++)
      rgb[3 * i + c] =
        65535 * Math.min(1, Math.max(0, encode(encodings.srgb, 0.6 * cell[c]! * light[c]!) + 0.01 * (r() - 0.5)));
  }
  return { width: W, height: H, bits: 16, format: 'png', encoding: 'srgb', rgb, notes: [], alpha: false };
}
const base: CorrectionSpec = { id: 'base', name: 'b', on: true, mixPct: 100, terms: [], tidy: [], adjustments: [] };
const shot: ShotState = { media: 'p', encoding: 'srgb', frame: 0, corrections: [base] };
// The grey cell: column 6, row 2.
const patch = { id: 'grey', box: { x: 6 * 40 + 10, y: 2 * 40 + 10, w: 20, h: 20 } };

describe('light of the picture', () => {
  it.each([
    ['warm', [1.3, 1, 0.6]],
    ['green', [0.85, 1.15, 0.85]],
    ['cold', [0.75, 0.95, 1.4]],
  ] as const)('%s', async (_, light) => {
    const s = await soloSession({ wasm: wasmBytes() });
    s.open('p', picture(light));
    const chroma = async (adjustments: CorrectionSpec['adjustments']): Promise<number> => {
      const m = await s.moment({
        shot: { ...shot, corrections: [{ ...base, adjustments: [...adjustments] }] },
        ...{ before: null, correction: null, patches: [patch], skinLineDeg: 123, bits: 16 },
      });
      return m.patches[0]!.after!.chromaPct;
    };
    const was = await chroma([]);
    expect(was).toBeGreaterThan(5);
    const all = await s.helper({ shot, correction: 'base', strength: 1, task: { kind: 'light' } });
    expect((await chroma(all.adjustments)) / was).toBeLessThan(0.3);
    expect(all.sure).toMatch(/^(Sure|Fairly sure): four estimates lie \d\.\d degrees apart/);
    const half = await s.helper({ shot, correction: 'base', strength: 0.5, task: { kind: 'light' } });
    expect((await chroma(half.adjustments)) / was).toBeGreaterThan(0.3);
    expect((await chroma(half.adjustments)) / was).toBeLessThan(0.8);
  });

  it('refuses a picture that says nothing of its light, in words', async () => {
    const s = await soloSession({ wasm: wasmBytes() });
    s.open('p', { ...picture([1, 1, 1]), rgb: new Uint16Array(3 * W * H) });
    await expect(s.helper({ shot, correction: 'base', strength: 1, task: { kind: 'light' } })).rejects.toThrow(
      'Next to nothing of the picture can be asked for its light',
    );
    const region = {
      ...base,
      terms: [{ id: 't', name: 't', join: 'and', not: false, use: newUse('e', 'ellipse', {}) }],
    };
    await expect(
      s.helper({
        shot: { ...shot, corrections: [region as CorrectionSpec] },
        ...{ correction: 'base', strength: 1, task: { kind: 'light' } },
      }),
    ).rejects.toThrow('the whole picture');
  });
});
