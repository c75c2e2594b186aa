/**
 * Gives the courier's clip its sound: `npm run demo:sound`. Made up from numbers (rain, a bicycle's freewheel that
 * passes, steps, the shop's bell), coded as Opus by ffmpeg, and laid beside the pictures, which are copied as they are.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, openAsBlob, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  BlobSource,
  BufferTarget,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  Input,
  OGG,
  Output,
  WEBM,
  WebMOutputFormat,
} from 'mediabunny';
import { rng } from '../src/core/math/rng';

const RATE = 48_000;
const SECONDS = 3;
const clip = join(dirname(fileURLToPath(import.meta.url)), 'stills/courier-crossing.webm');

/** Two channels, -1..1. */
function made(): [Float32Array, Float32Array] {
  const n = RATE * SECONDS;
  const r = rng(4711);
  const white = (): number => 2 * r() - 1;
  const [left, right] = [new Float32Array(n), new Float32Array(n)];
  let [a, b, low] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    // Rain: noise without its lows, each side its own; now and then a drop on metal.
    const [p, q] = [white(), white()];
    a += 0.25 * (p - a);
    b += 0.25 * (q - b);
    low += 0.002 * (white() - low);
    left[i] = 0.035 * (p - a) + 0.6 * low;
    right[i] = 0.035 * (q - b) + 0.6 * low;
  }
  const hit = (at: number, pan: number, loud: number, make: (t: number) => number, length: number): void => {
    const from = Math.round(at * RATE);
    for (let i = 0; i < length * RATE && from + i < n; i++) {
      const v = loud * make(i / RATE);
      left[from + i]! += v * Math.cos((pan * Math.PI) / 2);
      right[from + i]! += v * Math.sin((pan * Math.PI) / 2);
    }
  };
  const bell = (t: number): number =>
    Math.exp(-4 * t) *
    (Math.sin(2 * Math.PI * 1870 * t) +
      0.6 * Math.sin(2 * Math.PI * 2790 * t) +
      0.3 * Math.sin(2 * Math.PI * 4420 * t));
  const step = (t: number): number => Math.exp(-45 * t) * (white() * 0.5 + Math.sin(2 * Math.PI * 95 * t));
  const tick = (t: number): number => Math.exp(-600 * t) * white();
  // Left to right with the picture.
  for (let t = 0.05; t < 2.9; t += 0.052) hit(t, t / 3, 0.12, tick, 0.01);
  for (let k = 0; k < 6; k++) hit(0.25 + 0.46 * k, (0.25 + 0.46 * k) / 3, 0.22, step, 0.12);
  hit(0.6, 0.15, 0.1, bell, 1);
  hit(0.82, 0.15, 0.08, bell, 1);
  return [left, right];
}
function wav([left, right]: readonly [Float32Array, Float32Array]): Buffer {
  const data = Buffer.alloc(44 + 4 * left.length);
  data.write('RIFF', 0);
  data.writeUInt32LE(data.length - 8, 4);
  data.write('WAVEfmt ', 8);
  data.writeUInt32LE(16, 16);
  data.writeUInt16LE(1, 20);
  data.writeUInt16LE(2, 22);
  data.writeUInt32LE(RATE, 24);
  data.writeUInt32LE(4 * RATE, 28);
  data.writeUInt16LE(4, 32);
  data.writeUInt16LE(16, 34);
  data.write('data', 36);
  data.writeUInt32LE(4 * left.length, 40);
  left.forEach((v, i) => {
    data.writeInt16LE(Math.round(32767 * Math.max(-1, Math.min(1, v))), 44 + 4 * i);
    data.writeInt16LE(Math.round(32767 * Math.max(-1, Math.min(1, right[i]!))), 46 + 4 * i);
  });
  return data;
}

const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-sound-'));
try {
  const [plain, coded] = [join(dir, 'sound.wav'), join(dir, 'sound.ogg')];
  writeFileSync(plain, wav(made()));
  const ffmpeg = spawnSync('ffmpeg', ['-y', '-v', 'error', '-i', plain, '-c:a', 'libopus', '-b:a', '64k', coded]);
  if (ffmpeg.status !== 0) throw new Error(`ffmpeg does not code it: ${String(ffmpeg.stderr ?? ffmpeg.error)}`);
  const pictures = new Input({ formats: [WEBM], source: new BlobSource(await openAsBlob(clip)) });
  const sound = new Input({ formats: [OGG], source: new BlobSource(await openAsBlob(coded)) });
  const [v, s] = [(await pictures.getPrimaryVideoTrack())!, (await sound.getPrimaryAudioTrack())!];
  const target = new BufferTarget();
  const out = new Output({ format: new WebMOutputFormat(), target });
  const [vs, ss] = [new EncodedVideoPacketSource('vp9'), new EncodedAudioPacketSource('opus')];
  out.addVideoTrack(vs, { frameRate: 24 });
  out.addAudioTrack(ss);
  await out.start();
  const [config, audio] = [(await v.getDecoderConfig())!, (await s.getDecoderConfig())!];
  const copy = async <T>(list: AsyncGenerator<T>, add: (p: T) => Promise<void>): Promise<void> => {
    for await (const p of list) await add(p);
  };
  await Promise.all([
    copy(new EncodedPacketSink(v).packets(), (p) => vs.add(p, { decoderConfig: config })),
    copy(new EncodedPacketSink(s).packets(), async (p) => {
      if (p.timestamp < SECONDS)
        await ss.add(p.clone({ timestamp: Math.max(0, p.timestamp) }), { decoderConfig: audio });
    }),
  ]);
  await out.finalize();
  writeFileSync(`${clip}.new`, Buffer.from(target.buffer!));
  renameSync(`${clip}.new`, clip);
  console.log(`${clip}: ${(readFileSync(clip).length / 1e6).toFixed(2)} MB`);
} finally {
  rmSync(dir, { recursive: true, force: true });
}
