/**
 * OpenEXR out: what other readers find in the file (three.js's EXRLoader; oiiotool of OpenImageIO where it is
 * installed), and what the halves stand for.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { describe, expect, it } from 'vitest';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { halfTable, toHalf } from '../src/core/math/half';
import { rng } from '../src/core/math/rng';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import { decodeStill } from '../src/media/decode';
import { defaultDecode } from '../src/media/picture';
import type { DecodedPicture, Halves } from '../src/media/picture';
import { encodeExr } from '../src/media/exrWrite';
import type { ShotState } from '../src/protocol/messages';
import { wasmBytes } from '../testkit/bench';

const BT709 = [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329];
/** Odd in both ways: the last block is short. `noise` does not get smaller by packing. */
function frame(w: number, h: number, channels: 1 | 3 | 4, noise = false): Halves {
  const r = rng(w + channels);
  const data = Uint16Array.from({ length: w * h * channels }, (_, i) => {
    const c = i % channels;
    const x = Math.floor(i / channels) % w;
    if (noise) return Math.floor(r() * 0x7bff);
    return toHalf(c === 3 ? 0.5 + x / (2 * w) : (x / w) * (c + 1) - 0.1 + 0.01 * r());
  });
  return { width: w, height: h, channels, bits: 'half', data, chromaticities: channels === 1 ? null : BT709 };
}
/** Values as another reader gives them, rows from the top. */
function byThree(file: Uint8Array): { w: number; h: number; at: (x: number, y: number, c: number) => number } {
  const p = new EXRLoader().setDataType(FloatType).parse(file.slice().buffer) as unknown as {
    data: Float32Array;
    width: number;
    height: number;
  };
  const n = p.data.length / (p.width * p.height);
  return { w: p.width, h: p.height, at: (x, y, c) => p.data[((p.height - 1 - y) * p.width + x) * n + c]! };
}

describe('the file', () => {
  const t = halfTable();
  for (const [w, h, channels, noise] of [
    [37, 53, 3, false],
    [64, 16, 4, false],
    [5, 1, 3, false],
    [33, 17, 1, false],
    [31, 33, 3, true],
  ] as const)
    it(`${w} x ${h}, ${channels} channels${noise ? ', noise' : ''}: another reader finds every number`, () => {
      const f = frame(w, h, channels, noise);
      const p = byThree(encodeExr(f));
      expect([p.w, p.h]).toEqual([w, h]);
      let wrong = 0;
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++)
          for (let c = 0; c < channels; c++) if (p.at(x, y, c) !== t[f.data[(y * w + x) * channels + c]!]!) wrong++;
      expect(wrong).toBe(0);
    });

  const oiio = spawnSync('oiiotool', ['--version']).status === 0;
  if (!oiio)
    console.log('oiiotool is not installed: what it reads is not compared (apt-get install openimageio-tools)');
  it.skipIf(!oiio)('OpenImageIO finds channels, primaries and numbers', () => {
    const file = join(mkdtempSync(join(tmpdir(), 'rowanleaf-exr-')), 'out.exr');
    const f = frame(37, 53, 4);
    writeFileSync(file, encodeExr(f));
    const said = spawnSync('oiiotool', ['-v', '--info', file]).stdout.toString();
    expect(said).toMatch(/37 x\s+53, 4 channel, half openexr/);
    expect(said).toMatch(/channel list: R, G, B, A/);
    expect(said).toMatch(/compression: "zip"/);
    expect(said).toMatch(/chromaticities: 0\.64, 0\.33, 0\.3, 0\.6, 0\.15, 0\.06, 0\.3127, 0\.329/);
    const dump = spawnSync('oiiotool', ['--dumpdata', file], { maxBuffer: 1e8 }).stdout.toString();
    const numbers = [...dump.matchAll(/Pixel \(\d+, \d+\): (.+)/g)].flatMap((m) =>
      m[1]!.trim().split(/\s+/).map(Number),
    );
    const want = [...f.data].map((x) => t[x]!);
    expect(numbers.length).toBe(want.length);
    expect(Math.max(...numbers.map((x, i) => Math.abs(x - want[i]!)))).toBeLessThan(1e-6);
  });
});

const [W, H] = [90, 41];
async function session(encoding: DecodedPicture['encoding'], alpha = false): Promise<Session> {
  const s = await soloSession({ wasm: wasmBytes() });
  const r = rng(7);
  const rgb = Uint16Array.from({ length: W * H * 3 }, () => Math.floor(r() * 65536));
  const alphaPlane = Uint16Array.from({ length: W * H }, (_, i) => (i % 4) * 21845);
  s.open('p', {
    width: W,
    height: H,
    bits: 16,
    format: 'png',
    rgb,
    notes: [],
    encoding,
    alpha,
    ...(alpha ? { alphaPlane } : {}),
  });
  return s;
}
const brighter: CorrectionSpec = {
  id: 'c',
  name: 'Half',
  on: true,
  mixPct: 100,
  terms: [
    {
      id: 'b',
      join: 'and',
      not: false,
      name: 'Box 1',
      use: newUse('b', 'box', { cxPx: 20, cyPx: 20, rxPx: 15, ryPx: 15, softInPx: 0, softOutPx: 0 }),
    },
  ],
  tidy: [],
  adjustments: [newUse('e', 'exposure', { stops: 2 })],
};
const shot = (encoding: ShotState['encoding'], ...corrections: CorrectionSpec[]): ShotState => ({
  media: 'p',
  encoding,
  frame: 0,
  corrections,
});

describe('what the halves stand for', () => {
  it('is linear light of what the numbers mean (IEC 61966-2-1; ITU-R BT.1886 Annex 1)', async () => {
    for (const [id, decode] of [
      ['srgb', (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)],
      ['bt1886', (v: number) => v ** 2.4],
    ] as const) {
      const s = await session(id);
      const f = await s.halves(shot(id), null);
      const codes = await s.pictureCodes(shot(id), 16);
      expect(f.chromaticities).toEqual(BT709);
      const t = halfTable();
      let worst = 0;
      for (let i = 0; i < f.data.length; i++) {
        const want = decode(codes.data[i]! / 65535);
        // Half a step of a half: 2^-11 of the value, 2^-25 where it is tiny.
        worst = Math.max(worst, Math.abs(t[f.data[i]!]! - want) / Math.max(want * 2 ** -11, 2 ** -25));
      }
      expect(worst).toBeLessThan(1.02);
      expect(worst).toBeGreaterThan(0.5);
    }
  });

  it('keeps the surround to the bit, and what is brighter than white', async () => {
    const s = await session('srgb');
    const before = await s.halves(shot('srgb'), null);
    const after = await s.halves(shot('srgb', brighter), null);
    const matte = await s.halves(shot('srgb', brighter), 'c');
    expect([matte.channels, matte.chromaticities]).toEqual([1, null]);
    const [one, t] = [toHalf(1), halfTable()];
    let [out, moved, over] = [0, 0, 0];
    for (let i = 0; i < W * H; i++)
      for (let c = 0; c < 3; c++) {
        const same = before.data[3 * i + c] === after.data[3 * i + c];
        if (matte.data[i] === 0) {
          out++;
          if (!same) expect.fail(`pixel ${i} is outside and differs`);
        } else if (matte.data[i] === one && !same) moved++;
        if (t[after.data[3 * i + c]!]! > 1) over++;
      }
    expect(out).toBeGreaterThan(3 * (W * H - 32 * 32));
    expect(moved).toBeGreaterThan(2000);
    expect(over).toBeGreaterThan(500);
  });

  it('multiplies transparency in, as the format wants it, and our own reader takes it out again', async () => {
    const s = await session('srgb', true);
    const f = await s.halves(shot('srgb'), null);
    expect(f.channels).toBe(4);
    const t = halfTable();
    const codes = await s.pictureCodes(shot('srgb'), 16);
    for (let i = 0; i < 40; i++) {
      const a = (i % 4) / 3;
      expect(t[f.data[4 * i + 3]!]!).toBeCloseTo(a, 3);
      const v = codes.data[4 * i]! / 65535;
      const want = a * (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
      expect(Math.abs(t[f.data[4 * i]!]! - want)).toBeLessThanOrEqual(want * 2 ** -11 + 2 ** -24);
    }
    const back = await decodeStill(encodeExr(f), { ...defaultDecode, alpha: 'keep' });
    expect([back.width, back.height, back.bits, back.alpha, back.encoding]).toEqual([W, H, 32, true, 'linear709']);
  });
});
