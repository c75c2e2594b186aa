/**
 * Presses on the turning head, each held over the frames of its clip by what is found of it: intersection over union
 * with the truth on each third frame, whether it stays where it was made or is held.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { openFrames } from '../src/cli/frames';
import { pressed } from '../src/cli/region';
import type { CorrectionSpec, OpTerm } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/picture';
import type { ShotState } from '../src/protocol/messages';

const [W, H, FRAMES] = [960, 540, 72];
const BAR = 0.85;
/** Of each third frame the matte is compared. */
const THIRD = 3;

/** Prints the table; answers with what lies below the bar. */
export async function heldPresses(s: Session, presses: number): Promise<string[]> {
  const demo = join(import.meta.dirname, '../demo');
  const frames = await openFrames(join(demo, 'stills/baker-turning.webm'));
  const pictures: DecodedPicture[] = [];
  for await (const p of frames.read(0, FRAMES - 1)) pictures.push(p);
  const png = decode(readFileSync(join(demo, 'clips/baker-turning.truth-skin-left-baker.png')));
  const half = (W / 2) * (H / 2);
  const truth = (f: number, i: number): number =>
    png.data[f * half + (Math.floor(i / W) >> 1) * (W / 2) + ((i % W) >> 1)]! / 255;
  const { encoding } = pictures[0]!;
  const shot = (frame: number, c: CorrectionSpec): ShotState => {
    // Frames do not stay with the session for long.
    s.open('head', pictures[frame]!, frame, FRAMES);
    return { media: 'head', encoding, frame, corrections: [c] };
  };
  const overlap = async (frame: number, c: CorrectionSpec): Promise<number> => {
    const m = await s.matteCodes(shot(frame, c), c.id, 8);
    let [both, any] = [0, 0];
    for (let i = 0; i < W * H; i++) {
      const t = truth(frame, i);
      if (t > 0.02 && t < 0.98) continue;
      const on = m.data[i]! > 127;
      if (on && t > 0.5) both++;
      if (on || t > 0.5) any++;
    }
    return both / any;
  };
  const below: string[] = [];
  console.log('\nPresses on the turning head, held over its 72 frames.\n');
  console.log('| frame, place | IoU held, mean | worst | lost | where it was made, worst | ms a frame |');
  console.log('|---|---:|---:|---:|---:|---:|');
  for (let k = 1; k <= presses; k++) {
    const at = k % 2 === 1 ? 36 : 0;
    const r = 12;
    const deep: number[] = [];
    for (let y = r; y < H - r; y++)
      for (let x = r; x < W - r; x++)
        if ([0, r, -r, r * W, -r * W].every((d) => truth(at, y * W + x + d) > 0.98)) deep.push(y * W + x);
    const i = deep[Math.floor(rng(700 + k)() * deep.length)]!;
    const one = pressed(pictures[at]!, [[i % W, Math.floor(i / W)]], {});
    const terms = one.terms.map((t) => {
      const term = t as OpTerm;
      return { ...term, strokes: term.strokes!.map((x) => ({ ...x, frame: at })) };
    });
    let made: CorrectionSpec = { ...one, terms };
    const stays: number[] = [];
    for (let f = 0; f < FRAMES; f += THIRD) stays.push(await overlap(f, made));
    const path: NonNullable<OpTerm['track']>['path'][number][] = [];
    const t0 = performance.now();
    for (const step of [1, -1]) {
      const q = { run: `${k} ${step}`, correction: made.id, term: 'key' };
      const first = await s.holdRegion({ ...q, shot: shot(at, made), begin: true });
      const params = { sharePct: Math.round(1e5 * first.share) / 1e3 };
      made = {
        ...made,
        terms: terms.map((t) => ({ ...t, use: { ...t.use, params: { ...t.use.params, ...params } } })),
      };
      for (let f = at + step; f >= 0 && f < FRAMES; f += step) {
        const x = await s.holdRegion({ ...q, shot: shot(f, made), begin: false });
        path.push({ frame: f, h: x.h, quality: x.quality, lost: x.lost });
      }
    }
    const ms = (performance.now() - t0) / (FRAMES - 1);
    path.sort((a, b) => a.frame - b.frame);
    const held = { ...made, terms: made.terms.map((t) => ({ ...(t as OpTerm), track: { at, path } })) };
    const got: number[] = [];
    for (let f = 0; f < FRAMES; f += THIRD) got.push(await overlap(f, held));
    const worst = Math.min(...got);
    const name = `${at}, ${i % W} ${Math.floor(i / W)}`;
    console.log(
      `| ${name} | ${(got.reduce((a, b) => a + b, 0) / got.length).toFixed(3)} | ${worst.toFixed(3)} | ` +
        `${path.filter((p) => p.lost).length} | ${Math.min(...stays).toFixed(3)} | ${ms.toFixed(0)} |`,
    );
    if (!(worst >= BAR))
      below.push(`head clip, press ${name}: intersection over union ${worst.toFixed(3)}, asked ${BAR}`);
  }
  return below;
}
