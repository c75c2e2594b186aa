/**
 * A press on a bearded face in hard sun (tests/data/scenes, with the renderer's own truth): the hair beside the ear is
 * dark and lies within the same edge; before version 6 of the operation it was taken with the face.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { beforeAll, describe, expect, it } from 'vitest';
import { pressed } from '../src/cli/region';
import type { CorrectionSpec, OpTerm } from '../src/core/graph/plan';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import { decodeStill } from '../src/media/decode';
import { nodeCodecs } from '../src/media/node';
import type { DecodedPicture } from '../src/media/picture';
import { wasmBytes } from '../testkit/bench';

const of = (name: string): Buffer => readFileSync(join(import.meta.dirname, 'data/scenes', name));
let s: Session;
let p: DecodedPicture;
beforeAll(async () => {
  nodeCodecs();
  s = await soloSession({ wasm: wasmBytes() });
  p = await decodeStill(new Uint8Array(of('hard-sun.jpg')));
  s.open('sun', p);
});
/** What of the truth's skin and of the rest is in; its soft edge, eyes and lips are nobody's. */
async function found(x: number, y: number, way?: string): Promise<{ iou: number; over: number }> {
  const c: CorrectionSpec = pressed(p, [[x, y]], {});
  const { use } = c.terms[0] as OpTerm;
  if (way !== undefined) use.params = { ...use.params, found: way };
  const m = (await s.matteCodes({ media: 'sun', encoding: p.encoding, frame: 0, corrections: [c] }, c.id, 16)).data;
  const [truth, eyes, lips] = ['skin-face', 'eyes', 'lips'].map((part) => decode(of(`hard-sun.truth-${part}.png`))) as [
    ReturnType<typeof decode>,
    ReturnType<typeof decode>,
    ReturnType<typeof decode>,
  ];
  let [both, any, over, all] = [0, 0, 0, 0];
  for (let i = 0; i < m.length; i++) {
    const t = truth.data[i * truth.channels]! / 255;
    if ((t > 0.02 && t < 0.98) || eyes.data[i * eyes.channels]! > 5 || lips.data[i * lips.channels]! > 5) continue;
    const [a, b] = [m[i]! >= 32768, t > 0.5];
    both += a && b ? 1 : 0;
    any += a || b ? 1 : 0;
    over += a && !b ? 1 : 0;
    all += b ? 1 : 0;
  }
  return { iou: both / any, over: over / all };
}

describe('hair beside a face in hard sun', () => {
  it.each([
    [415, 110],
    [412, 106],
    [405, 110],
  ])('pressed at %i, %i', async (x, y) => {
    const [before, now] = [await found(x, y, 'compared'), await found(x, y)];
    expect(before.over).toBeGreaterThan(0.08);
    expect(now.over).toBeLessThan(0.02);
    expect(now.iou).toBeGreaterThan(0.94);
  });
});
