/** Edge colour in a correction: a thing that is recoloured leaves no fringe, and nothing behind it changes. */
import { beforeAll, describe, expect, it } from 'vitest';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec, OpUse } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/picture';
import type { ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const [W, H] = [160, 100];
const N = W * H;
const r = rng(12);
const grain = (): number => 0.02 * (r() - 0.5);
const thing = Float32Array.from(
  { length: 3 * N },
  (_, i) => [0.2, 0.45, 0.25][i % 3]! * (1 + 0.2 * Math.sin(i / 90)) + grain(),
);
const ground = Float32Array.from({ length: 3 * N }, (_, i) => [0.7, 0.66, 0.6][i % 3]! + grain());
const picture = (rgb: Float32Array): DecodedPicture =>
  ({
    ...{ width: W, height: H, bits: 32, format: 'exr', encoding: 'srgb', rgb, notes: [], alpha: false },
  }) as unknown as DecodedPicture;

const correction = (adjustments: OpUse[], more: Partial<CorrectionSpec> = {}): CorrectionSpec => ({
  ...{ id: 'c', name: 'c', on: true, mixPct: 100, tidy: [], adjustments },
  terms: [
    {
      ...{ join: 'and', not: false, id: 'e', name: 'e' },
      use: newUse('e', 'ellipse', { cxPx: 80, cyPx: 50, rxPx: 40, ryPx: 30, softInPx: 4, softOutPx: 4 }),
    },
  ],
  ...more,
});
const shot = (media: string, c: CorrectionSpec): ShotState => ({ media, frame: 0, encoding: 'srgb', corrections: [c] });
const turn = newUse('t', 'hueTurn', { angleDeg: 150 });
const edge = newUse('u', 'edgeColour', { amountPct: 100, reachPx: 14 });

let s: Session;
let m: Float32Array;
const out = async (media: string, c: CorrectionSpec): Promise<Uint16Array> =>
  (await s.pictureCodes(shot(media, c), 16)).data as Uint16Array;
beforeAll(async () => {
  s = await soloSession({ wasm: wasmBytes() });
  s.open('thing', picture(thing));
  s.open('ground', picture(ground));
  const codes = await s.matteCodes(shot('thing', correction([turn])), 'c', 16);
  m = Float32Array.from(codes.data, (v) => v / 65535);
  s.open('mixed', picture(thing.map((v, i) => m[Math.floor(i / 3)]! * v + (1 - m[Math.floor(i / 3)]!) * ground[i]!)));
});
const fringe = (): number[] => [...m.keys()].filter((i) => m[i]! > 0.05 && m[i]! < 0.95);
const apart = (a: ArrayLike<number>, b: ArrayLike<number>, at: readonly number[]): number =>
  Math.sqrt(
    at.reduce((q, i) => q + [0, 1, 2].reduce((p, c) => p + (a[3 * i + c]! - b[3 * i + c]!) ** 2, 0), 0) / at.length,
  );

describe('edge colour in a correction', () => {
  it('the fringe is what the recoloured thing before its ground would be', async () => {
    // The truth: all of the thing recoloured, and then laid over the ground by the same matte.
    const recoloured = await out('thing', { ...correction([turn]), terms: [] });
    const g = await out('ground', correction([]));
    const truth = Float64Array.from(
      recoloured,
      (v, i) => m[Math.floor(i / 3)]! * v + (1 - m[Math.floor(i / 3)]!) * g[i]!,
    );
    const plain = apart(await out('mixed', correction([turn])), truth, fringe());
    const clean = apart(await out('mixed', correction([turn, edge])), truth, fringe());
    expect(fringe().length).toBeGreaterThan(500);
    expect(clean).toBeLessThan(0.4 * plain);
  });
  it('acts first wherever it stands, at any mix; where the matte is 0 or 1 it changes not a bit', async () => {
    const first = await out('mixed', correction([edge, turn]));
    expect(
      Buffer.compare(Buffer.from(first.buffer), Buffer.from((await out('mixed', correction([turn, edge]))).buffer)),
    ).toBe(0);
    for (const mixPct of [100, 35]) {
      const plain = await out('mixed', correction([turn], { mixPct }));
      const clean = await out('mixed', correction([edge, turn], { mixPct }));
      const moved = [...m.keys()].filter((i) => [0, 1, 2].some((c) => clean[3 * i + c] !== plain[3 * i + c]));
      expect(moved.length).toBeGreaterThan(400);
      // What a 16-bit code of the matte rounds to an end may lie just within.
      const whole = (i: number): boolean =>
        (m[i] === 0 || m[i] === 1) && [1, -1, W, -W].every((d) => m[i + d] === undefined || m[i + d] === m[i]);
      expect([...m.keys()].filter(whole).length).toBeGreaterThan(10_000);
      expect(moved.filter(whole)).toEqual([]);
    }
  });
  it('alone, off, or without a region it does nothing', async () => {
    const bytes = async (c: CorrectionSpec): Promise<string> =>
      Buffer.from((await out('mixed', c)).buffer).toString('hex');
    expect(await bytes(correction([edge]))).toBe(await bytes(correction([])));
    expect(await bytes(correction([{ ...edge, on: false }, turn]))).toBe(await bytes(correction([turn])));
    expect(await bytes(correction([edge, turn], { terms: [] }))).toBe(await bytes(correction([turn], { terms: [] })));
  });
});
