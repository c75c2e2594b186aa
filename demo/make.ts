/**
 * Renders the demo stills: `npm run demo` (8 bit, 1600x900, with truth mattes, into demo/stills),
 * `npm run demo -- --bits 16 --out DIR`, `npm run demo -- --width 480 --samples 1 --only courier`; `npm run demo --
 * --hard` the scenes for tests at 800x450, as JPEG (a hard case of its own) with PNG truths, into tests/data/scenes.
 */
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { fork } from 'node:child_process';
import encodeJpeg, { init as jpegReady } from '@jsquash/jpeg/encode.js';
import { build } from 'esbuild';
import { rng } from '../src/core/math/rng';
import { encodePlanes } from '../src/media/encode';
import { BLOCK } from './band';
import type { BandRow } from './band';
import { classTruths } from './classTruths';
import { hardScenes } from './hardScenes';
import { develop, record } from './render';
import type { V3 } from './render';
import { scenes } from './scenes';

const arg = (name: string, or: string): string => {
  const i = process.argv.indexOf(`--${name}`);
  return i > 0 ? (process.argv[i + 1] ?? or) : or;
};
const here = dirname(fileURLToPath(import.meta.url));
const hard = process.argv.includes('--hard');
const width = Number(arg('width', hard ? '800' : '1600'));
const height = Math.round((width * 9) / 16);
const samples = Number(arg('samples', '4'));
const bits = Number(arg('bits', '8')) as 8 | 16;
const only = arg('only', '');
const out = arg('out', hard ? join(here, '../tests/data/scenes') : join(here, 'stills'));
const threads = Number(arg('threads', '2'));
mkdirSync(out, { recursive: true });

// Bundled for plain Node: what tsx adds to every inner function costs half of the time here.
const bundle = join(mkdtempSync(join(tmpdir(), 'rowanleaf-demo-')), 'band.mjs');
await build({
  entryPoints: [join(here, 'band.ts')],
  bundle: true,
  platform: 'node',
  format: 'esm',
  outfile: bundle,
  logLevel: 'error',
});

async function render(scene: number): Promise<{ light: Float32Array; tags: Map<string, Float32Array> }> {
  const light = new Float32Array(width * height * 3);
  const tags = new Map<string, Float32Array>();
  let next = 0;
  await Promise.all(
    Array.from(
      { length: threads },
      () =>
        new Promise<void>((done, fail) => {
          const w = fork(bundle, [JSON.stringify({ hard, scene, width, height, samples })], {
            serialization: 'advanced',
          });
          const more = (): void => {
            w.send(next < height ? next : -1);
            next += BLOCK;
          };
          w.on('message', (rows: BandRow[]) => {
            for (const row of rows) {
              light.set(row.light, row.y * width * 3);
              for (const [n, v] of Object.entries(row.tags)) {
                if (!tags.has(n)) tags.set(n, new Float32Array(width * height));
                tags.get(n)!.set(v, row.y * width);
              }
            }
            more();
          });
          w.on('error', fail);
          w.on('exit', () => done());
          more();
        }),
    ),
  );
  return { light, tags };
}

/** The quality of a scene's JPEG: one of them is as bad as what comes through a messenger. */
const qualityOf = (name: string): number => (name === 'wood-panels' ? 60 : 90);
async function jpeg(planes: Float32Array[], quality: number): Promise<Uint8Array> {
  const data = new Uint8ClampedArray(4 * width * height).fill(255);
  planes.forEach((p, c) => p.forEach((v, k) => (data[4 * k + c] = v * 255)));
  return new Uint8Array(await encodeJpeg({ data, width, height, colorSpace: 'srgb' }, { quality }));
}
await jpegReady(
  new WebAssembly.Module(readFileSync(join(here, '../node_modules/@jsquash/jpeg/codec/enc/mozjpeg_enc.wasm'))),
);

for (const [i, s] of (hard ? hardScenes() : scenes()).entries()) {
  if (only && s.name !== only) continue;
  const t0 = Date.now();
  const { light, tags } = await render(i);
  const n = width * height;
  const planes = [0, 1, 2].map(() => new Float32Array(n));
  const random = rng(s.seed);
  // Sensor noise: three uniform numbers make nearly a normal one; a little more in the shadows, as on footage.
  const gauss = (): number => (random() + random() + random() - 1.5) * 2;
  for (let k = 0; k < n; k++) {
    const v = (s.recorded ? record : develop)([light[3 * k]!, light[3 * k + 1]!, light[3 * k + 2]!] as V3, s.exposure);
    const grain = gauss() * 0.6;
    for (let c = 0; c < 3; c++) planes[c]![k] = v[c]! + s.noise * (1.15 - 0.75 * v[c]!) * (grain + 0.8 * gauss());
    // Ten bits, as a camera writes them, in sixteen.
    if (s.recorded)
      for (let c = 0; c < 3; c++)
        planes[c]![k] = (Math.min(1023, Math.max(0, Math.round(planes[c]![k]! * 1023))) * 64) / 65535;
  }
  if (hard) writeFileSync(join(out, `${s.name}.jpg`), await jpeg(planes, qualityOf(s.name)));
  else
    writeFileSync(
      join(out, `${s.name}${bits === 16 ? '-16' : ''}.png`),
      encodePlanes(planes, width, height, s.recorded ? 16 : bits),
    );
  if (hard) for (const [n, m] of classTruths(s, width, height)) tags.set(n, m);
  const wanted = (name: string): boolean =>
    name.startsWith('skin ') ||
    name === 'rain jacket' ||
    (hard ? ['eyes', 'lips'] : ['skin', 'bread', 'wood', 'garment']).includes(name);
  for (const [name, m] of tags)
    if (wanted(name))
      writeFileSync(join(out, `${s.name}.truth-${name.replaceAll(' ', '-')}.png`), encodePlanes([m], width, height, 8));
  console.log(`${s.name}: ${width}x${height}, ${((Date.now() - t0) / 1000).toFixed(0)} s`);
}
