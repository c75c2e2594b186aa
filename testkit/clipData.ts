/**
 * What the clips of tests/data/clips are, frame by frame: `npx tsx testkit/clipData.ts` writes expected.json anew. The
 * planes come from ffmpeg's decoders, not from a browser's; their conversion is this project's own core, which
 * src/core/color/yuv.test.ts checks against ITU-T H.273.
 */
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { NotRead, openFrames } from '../src/cli/frames';
import { soloSession } from '../src/engine/node';

export const clipDir = join(import.meta.dirname, '../tests/data/clips');
export interface ExpectedClip {
  frames: number;
  /** SHA-256 of each frame's 16-bit R'G'B' codes. */
  sums: string[];
}
/** What a clip's frames are, or why it is not read. */
export async function clipSums(file: string): Promise<ExpectedClip | { refused: string }> {
  const wasm = new Uint8Array(readFileSync(join(import.meta.dirname, '../build/kernels.wasm')));
  try {
    const f = await openFrames(file);
    const s = await soloSession({ wasm });
    const sums: string[] = [];
    for await (const p of f.read(0, f.count - 1)) {
      const frame = sums.length;
      s.open('clip', p, frame, f.count);
      const codes = await s.pictureCodes({ media: 'clip', frame, encoding: 'bt1886', corrections: [] }, 16);
      sums.push(createHash('sha256').update(new Uint8Array(codes.data.buffer)).digest('hex'));
    }
    return { frames: f.count, sums };
  } catch (e) {
    if (e instanceof NotRead) return { refused: e.message };
    throw e;
  }
}

if (process.argv[1] === import.meta.filename) {
  const out: Record<string, unknown> = {};
  for (const name of readdirSync(clipDir).sort())
    if (/\.(mp4|webm)$/.test(name)) out[name] = await clipSums(join(clipDir, name));
  writeFileSync(join(clipDir, 'expected.json'), `${JSON.stringify(out, null, 1)}\n`);
}
