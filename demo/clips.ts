/**
 * Traces the demo clips: `npm run demo:clips -- --out DIR` writes numbered PNG files of 8 bits, and into demo/clips the
 * truth mattes (half the size, all frames below each other) and the path of what is rigid (`--paths`: that alone).
 * `npm run demo:encode` makes the clips of the files. `--hard` traces those for tests in their place: all frames below
 * each other in one JPEG (a hard case of its own), and their paths, into tests/data/moving.
 */
import { fork } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import encodeJpeg, { init as jpegReady } from '@jsquash/jpeg/encode.js';
import { build } from 'esbuild';
import { rng } from '../src/core/math/rng';
import { encodePlanes } from '../src/media/encode';
import type { FrameResult } from './clipFrame';
import { clipScenes } from './clipScenes';
import { develop } from './render';
import type { V3 } from './render';

const arg = (name: string, or: string): string => {
  const i = process.argv.indexOf(`--${name}`);
  return i > 0 ? (process.argv[i + 1] ?? or) : or;
};
const here = dirname(fileURLToPath(import.meta.url));
const out = arg('out', join(tmpdir(), 'rowanleaf-clips'));
const only = arg('only', '');
const threads = Number(arg('threads', '2'));
const hard = process.argv.includes('--hard');
const frames = arg('frames', '');
const bundle = join(mkdtempSync(join(tmpdir(), 'rowanleaf-demo-')), 'frame.mjs');
await build({
  entryPoints: [join(here, 'clipFrame.ts')],
  bundle: true,
  platform: 'node',
  format: 'esm',
  outfile: bundle,
  logLevel: 'error',
});
await jpegReady(
  new WebAssembly.Module(readFileSync(join(here, '../node_modules/@jsquash/jpeg/codec/enc/mozjpeg_enc.wasm'))),
);
/** Half the size, by the mean of four. */
function half(m: Float32Array, w: number, h: number): Float32Array {
  const [hw, hh] = [w / 2, h / 2];
  const to = new Float32Array(hw * hh);
  for (let y = 0; y < hh; y++)
    for (let x = 0; x < hw; x++) {
      const i = 2 * y * w + 2 * x;
      to[y * hw + x] = (m[i]! + m[i + 1]! + m[i + w]! + m[i + w + 1]!) / 4;
    }
  return to;
}

for (const clip of clipScenes()) {
  if ((only && clip.name !== only) || clip.forTests !== hard) continue;
  const [w, h] = clip.size;
  const last = Number(frames || clip.frames);
  const into = hard ? join(here, '../tests/data/moving') : join(here, 'clips');
  mkdirSync(into, { recursive: true });
  if (clip.places) {
    const at = Array.from({ length: last }, (_, f) => clip.places!(f).map((p) => p.map((x) => +x.toFixed(3))));
    const path = { quads: at.map((p) => p.slice(0, 4)), centres: at.map((p) => p[4]) };
    writeFileSync(join(into, `${clip.name}.path.json`), `${JSON.stringify(path)}\n`);
  }
  if (process.argv.includes('--paths')) continue;
  const t0 = Date.now();
  const dir = join(out, clip.name);
  if (!hard) mkdirSync(dir, { recursive: true });
  const sheet = new Uint8ClampedArray(hard ? 4 * w * h * last : 0).fill(255);
  const truth = new Map(clip.truth.map((n) => [n, new Float32Array((w / 2) * (h / 2) * last)]));
  let traced = 0;
  const done = (r: FrameResult): void => {
    traced += r.traced / last;
    const random = rng(1000 * clip.still.seed + r.frame);
    const gauss = (): number => (random() + random() + random() - 1.5) * 2;
    const k = clip.light(r.frame);
    const planes = [0, 1, 2].map(() => new Float32Array(w * h));
    for (let i = 0; i < w * h; i++) {
      const rgb = [0, 1, 2].map((c) => r.light[3 * i + c]! * k[c]!) as V3;
      const v = develop(rgb, clip.still.exposure);
      const grain = gauss() * 0.6;
      for (let c = 0; c < 3; c++)
        planes[c]![i] = v[c]! + clip.still.noise * (1.15 - 0.75 * v[c]!) * (grain + 0.8 * gauss());
    }
    if (hard)
      for (let i = 0; i < w * h; i++)
        for (let c = 0; c < 3; c++) sheet[4 * (r.frame * w * h + i) + c] = 255 * planes[c]![i]!;
    else writeFileSync(join(dir, `${String(r.frame).padStart(4, '0')}.png`), encodePlanes(planes, w, h, 8));
    for (const [n, m] of truth) if (r.truth[n]) m.set(half(r.truth[n], w, h), r.frame * (w / 2) * (h / 2));
  };
  await Promise.all(
    Array.from(
      { length: threads },
      (_, t) =>
        new Promise<void>((ok, fail) => {
          const mine = Array.from({ length: last }, (__, i) => i).filter((i) => i % threads === t);
          const p = fork(bundle, [JSON.stringify({ clip: clip.name, frames: mine })], { serialization: 'advanced' });
          p.on('message', (r: FrameResult) => done(r));
          p.on('error', fail);
          p.on('exit', (code) => (code === 0 ? ok() : fail(new Error(`a process ended with ${code}`))));
        }),
    ),
  );
  if (hard) {
    const jpeg = await encodeJpeg({ data: sheet, width: w, height: h * last } as ImageData, { quality: 85 });
    writeFileSync(join(into, `${clip.name}.jpg`), new Uint8Array(jpeg));
  }
  for (const [n, m] of truth)
    writeFileSync(
      join(into, `${clip.name}.truth-${n.replaceAll(' ', '-')}.png`),
      encodePlanes([m], w / 2, (h / 2) * last, 8),
    );
  console.log(
    `${clip.name}: ${last} frames of ${w}x${h}, ${((Date.now() - t0) / 1000).toFixed(0)} s, ` +
      `${(100 * traced).toFixed(0)} % of each traced again`,
  );
}
