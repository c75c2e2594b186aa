/**
 * Clips and the outside: what files made by ffmpeg say of themselves, and frames as ffmpeg's decoders give them. The
 * browser's decoders are held to the same sums in tests/browser/time.spec.ts.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, openAsBlob, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { decode, encode } from 'fast-png';
import { clipDir, clipSums } from '../testkit/clipData';
import { main } from '../src/cli/main';
import { NotRead, openFrames } from '../src/cli/frames';
import { soloSession } from '../src/engine/node';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { wasmBytes } from '../testkit/bench';
import { around } from '../testkit/keys';
import { shotRecord, stillRecord } from '../testkit/records';
import { Clip } from '../src/media/clip';
import { encodeTiff } from '../src/media/tiffWrite';
import { decodeStill } from '../src/media/decode';

const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-clips-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const expected = JSON.parse(readFileSync(join(clipDir, 'expected.json'), 'utf8')) as Record<
  string,
  { frames: number; sums: string[] } | { refused: string }
>;
const ffmpeg = spawnSync('ffmpeg', ['-version']).status === 0;
if (!ffmpeg) console.log('ffmpeg is not installed: its decoders are not compared with (apt-get install ffmpeg)');

const info = async (name: string): Promise<Clip['info']> => {
  const c = await Clip.open(await openAsBlob(join(clipDir, name)), false);
  c.close();
  return c.info;
};

describe('what a clip says of itself', () => {
  const hd = { matrix: 'bt709', full: false, siting: 'left' };
  it.each([
    ['vp9.webm', 'VP9', 8, hd, ['siting']],
    ['vp9-10.webm', 'VP9', 10, hd, ['siting']],
    ['vp9-alpha.webm', 'VP9', 8, hd, ['siting']],
    ['vp8.webm', 'VP8', 8, { ...hd, matrix: 'bt601' }, ['matrix', 'range', 'siting', 'primaries', 'transfer']],
    ['h264-b.mp4', 'H.264', 8, hd, ['siting']],
    ['h264-10.mp4', 'H.264', 10, hd, ['siting']],
    ['h264-601-full.mp4', 'H.264', 8, { ...hd, matrix: 'bt601', full: true }, ['siting']],
    ['h264-untagged.mp4', 'H.264', 8, { ...hd, matrix: 'bt601' }, ['matrix', 'siting', 'primaries', 'transfer']],
    ['av1.mp4', 'AV1', 8, hd, ['siting']],
    ['av1-10.mp4', 'AV1', 10, hd, ['siting']],
  ] as const)('%s', async (name, codec, bits, meaning, guessed) => {
    const i = await info(name);
    expect(i).toMatchObject({ codec, bits, meaning, guessed, frames: 12, rate: [24, 1], width: 96, height: 64 });
    // What is guessed is said.
    expect(i.notes.join()).toContain('does not say');
  });
  it('turned, of variable rate, with sound: said', async () => {
    expect(await info('h264-turned.mp4')).toMatchObject({ width: 64, height: 96 });
    expect((await info('h264-vfr.mp4')).notes.join()).toContain('unequally long');
    const wide = await info('h264-wide.mp4');
    expect(wide).toMatchObject({ width: 96, height: 64, pixelAspect: [2, 1] });
    expect(wide.notes.join()).toContain('2:1 wide and are shown so');
    expect((await info('vp9-alpha.webm')).notes.join()).toContain('transparency is left out');
    // A sample of chroma at every pixel lies nowhere else.
    expect(await info('vp9-444.webm')).toMatchObject({ meaning: hd, guessed: [], notes: [] });
    expect((await info('with-sound.webm')).audio).toEqual({ codec: 'opus' });
  });
  it.each([
    ['h264-interlaced.mp4', /interlaced.*Make it progressive/],
    ['sound.webm', /sound and no picture/],
    ['mpeg4.mp4', /does not decode.*Convert/],
    ['h264-ycgco.mp4', /colour matrix is of the kind 8.*Convert/],
  ])('%s is refused with a remedy', async (name, said) => {
    const warn = vi.spyOn(console, 'warn').mockImplementation(() => {});
    await expect(openFrames(join(clipDir, name))).rejects.toThrow(said);
    warn.mockRestore();
  });
  it("cut short at any place: an answer or words, never the machine's own", async () => {
    const warn = vi.spyOn(console, 'warn').mockImplementation(() => {});
    for (const name of ['h264-b.mp4', 'vp9.webm']) {
      const all = readFileSync(join(clipDir, name));
      for (let n = 0; n < all.length; n += 331) {
        const file = join(dir, `cut-${name}`);
        writeFileSync(file, all.subarray(0, n));
        const r = await openFrames(file).catch((e: unknown) => e);
        if (r instanceof Error) {
          expect(r, `${name} ${n}`).toBeInstanceOf(NotRead);
          expect(r.message).toMatch(/cut-.*: .*\. [A-Z].*\.$/);
        }
      }
    }
    warn.mockRestore();
  });
});

describe.skipIf(!ffmpeg)("frames as ffmpeg's decoders give them", () => {
  const read = Object.entries(expected).filter(([, x]) => 'sums' in x);
  it.each(read)('%s', async (name, want) => {
    expect(await clipSums(join(clipDir, name))).toEqual(want);
  });
  it('a turned clip is turned as ffmpeg turns it', async () => {
    const file = join(clipDir, 'h264-turned.mp4');
    const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-']);
    const size = (64 * 96 * 3) / 2;
    let n = 0;
    for await (const p of (await openFrames(file)).read(0, 11)) {
      const at = n++ * size;
      expect(Buffer.from(p.yuv!.planes.y).equals(raw.subarray(at, at + 64 * 96))).toBe(true);
      expect(Buffer.from(p.yuv!.planes.u).equals(raw.subarray(at + 64 * 96, at + 64 * 96 * 1.25))).toBe(true);
    }
    expect(n).toBe(12);
  });
  it("R'G'B' is that of the standard, in float64, within a code of 16 bits (ITU-T H.273)", async () => {
    const [f] = [await openFrames(join(clipDir, 'vp9-444.webm'))];
    const wasm = new Uint8Array(readFileSync(join(import.meta.dirname, '../build/kernels.wasm')));
    const s = await soloSession({ wasm });
    for await (const p of f.read(3, 3)) {
      s.open('c', p, 0, 1);
      const { data } = await s.pictureCodes({ media: 'c', frame: 0, encoding: 'bt1886', corrections: [] }, 16);
      const { y, u, v } = p.yuv!.planes;
      for (let i = 0; i < y.length; i++) {
        const [l, pb, pr] = [(y[i]! - 16) / 219, (u[i]! - 128) / 224, (v[i]! - 128) / 224];
        const [r, b] = [l + 1.5748 * pr, l + 1.8556 * pb];
        [r, (l - 0.2126 * r - 0.0722 * b) / 0.7152, b].forEach((x, c) => {
          const code = 65535 * Math.min(1, Math.max(0, x));
          expect(Math.abs(data[3 * i + c]! - code)).toBeLessThan(0.55);
        });
      }
    }
  });
});

describe('numbered pictures from the terminal', () => {
  const folder = mkdtempSync(join(dir, 'seq'));
  for (let f = 0; f < 6; f++)
    writeFileSync(
      join(folder, `s_${f + 8}.png`),
      encode({ width: 8, height: 4, channels: 3, data: new Uint8Array(96).fill(20 * f + 9) }),
    );
  writeFileSync(join(folder, 'other.png'), 'x');
  const run = async (...args: string[]): Promise<{ code: number; err: string }> => {
    const log = vi.spyOn(console, 'log').mockImplementation(() => {});
    const err = vi.spyOn(process.stderr, 'write').mockImplementation(() => true);
    try {
      return { code: await main(args), err: '' };
    } finally {
      log.mockRestore();
      err.mockRestore();
    }
  };
  const project = join(dir, 'p.rowanleaf.json');
  writeFileSync(
    project,
    JSON.stringify({
      format: 'rowanleaf-project',
      version: 4,
      records: [
        { type: 'project', id: 'project:p', name: 'P', skinLineDeg: 123 },
        {
          type: 'media',
          id: 'media:s',
          kind: 'sequence',
          fileName: 's_[8-13].png',
          format: 'png',
          bits: 8,
          width: 8,
          height: 4,
          frames: 6,
          pixelAspect: [1, 1],
          sha256: 'a'.repeat(64),
          files: Array.from({ length: 6 }, (_, f) => ({ name: `s_${f + 8}.png`, sha256: 'b'.repeat(64) })),
          source: { from: 'file' },
        },
        {
          type: 'shot',
          id: 'shot:s',
          name: 'S',
          media: 'media:s',
          encoding: 'srgb',
          encodingGuessed: false,
          conversion: { id: 'conversion', op: 'convert', version: 1, on: false, params: {} },
          range: [1, 4],
          rate: [24, 1],
          timecode: { start: 0, drop: false },
          order: 1,
        },
        {
          type: 'correction',
          id: 'corr:c',
          owner: 'shot:s',
          name: 'Fade',
          on: true,
          order: 1,
          mixPct: {
            keys: [
              { frame: 1, value: 0, ease: 'linear' },
              { frame: 3, value: 100, ease: 'linear' },
            ],
          },
          terms: [],
          tidy: [],
          adjustments: [{ id: 'e', op: 'exposure', version: 1, on: true, params: { stops: 1 } }],
        },
      ],
    }),
  );
  it("the shot's own range when nothing is asked for; keyframes count; what does nothing keeps its bits", async () => {
    const out = join(dir, 'o1');
    expect((await run('render', project, '--shot', 'S', '--input', folder, '--bits', '8', '--out', out)).code).toBe(0);
    expect(readdirSync(out).sort()).toEqual([1, 2, 3, 4].map((f) => `s.corrected.000${f}.png`));
    const of = (f: number): number => decode(readFileSync(join(out, `s.corrected.000${f}.png`))).data[5]!;
    expect(of(1)).toBe(29);
    // One stop up on the sRGB curve at 100 %, half of that change at 50 %.
    const up = (v: number): number => {
      const s = v / 255;
      const l = 2 * (s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4);
      return 255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055);
    };
    expect(Math.abs(of(3) - up(69))).toBeLessThanOrEqual(0.51);
    expect(Math.abs(of(2) - (49 + up(49)) / 2)).toBeLessThanOrEqual(0.51);
    expect(Math.abs(of(4) - up(89))).toBeLessThanOrEqual(0.51);
  });
  it('a range as asked for; one that is not there is refused', async () => {
    const out = join(dir, 'o2');
    const args = ['render', project, '--shot', 'S', '--input', folder, '--out', out];
    expect((await run(...args, '--frames', '5')).code).toBe(0);
    expect(readdirSync(out)).toEqual(['s.corrected.0005.png']);
    for (const bad of ['4-9', '3-1', 'x', '-1']) expect((await run(...args, `--frames=${bad}`)).code, bad).toBe(2);
    expect((await run('render', project, '--shot', 'S', '--input', join(dir, 'none'), '--out', out)).code).toBe(2);
  });
});

describe('a matte that leans on other frames, from the terminal', () => {
  it('has the bits it has where every frame is there, at the ends of what is asked for too', async () => {
    const [w, h, count] = [48, 32, 8];
    const folder = mkdtempSync(join(dir, 'steady'));
    const s = await soloSession({ wasm: wasmBytes() });
    const random = rng(3);
    for (let f = 0; f < count; f++) {
      const data = Uint8Array.from({ length: 3 * w * h }, () => 110 + 20 * random());
      const file = join(folder, `n_${f}.png`);
      writeFileSync(file, encode({ width: w, height: h, channels: 3, data }));
      s.open('n', await decodeStill(new Uint8Array(readFileSync(file))), f, count);
    }
    const correction = {
      ...{ type: 'correction', id: 'corr:c', owner: 'shot:s', name: 'Held', on: true, order: 1, mixPct: 100 },
      terms: [{ id: 'k', join: 'and', not: false, name: 'k', use: newUse('k', 'key', around({ luma: [47, 2, 2] })) }],
      tidy: [newUse('t', 'steady', { reachFrames: 2 })],
      adjustments: [newUse('e', 'exposure', { stops: 1 })],
    };
    const file = join(dir, 'held.rowanleaf.json');
    const media = { ...stillRecord('n', w), height: h, kind: 'sequence', fileName: 'n_[0-7].png', frames: count };
    const files = Array.from({ length: count }, (_, f) => ({ name: `n_${f}.png`, sha256: 'b'.repeat(64) }));
    writeFileSync(
      file,
      JSON.stringify({
        format: 'rowanleaf-project',
        version: 4,
        records: [
          { type: 'project', id: 'project:p', name: 'P', skinLineDeg: 123 },
          { ...media, sha256: 'a'.repeat(64), files },
          { ...shotRecord('s', 1), name: 'S', media: 'media:n', range: [0, count - 1] },
          correction,
        ],
      }),
    );
    const out = join(dir, 'held');
    const log = vi.spyOn(console, 'log').mockImplementation(() => {});
    const args = ['render', file, '--shot', 'S', '--input', folder, '--what', 'matte', '--bits', '16', '--out', out];
    expect(await main([...args, '--frames', '0-2'])).toBe(0);
    expect(await main([...args, '--frames', '6-7'])).toBe(0);
    log.mockRestore();
    const spec = { ...correction, tidy: correction.tidy } as unknown as CorrectionSpec;
    const codes = async (f: number, c: CorrectionSpec): Promise<Uint16Array> => {
      const shot = { media: 'n', encoding: 'srgb', frame: f, corrections: [c] } as const;
      return (await s.matteCodes({ ...shot, corrections: [...shot.corrections] }, c.id, 16)).data as Uint16Array;
    };
    for (const f of [0, 1, 2, 6, 7]) {
      const got = decode(readFileSync(join(out, `n.matte-held.000${f}.png`))).data as Uint16Array;
      expect([...got]).toEqual([...(await codes(f, spec))]);
      // It does lean on them.
      expect([...got]).not.toEqual([...(await codes(f, { ...spec, tidy: [] }))]);
    }
  });
});

describe('TIFF files that are written', () => {
  it.each([
    [3, 16],
    [1, 16],
    [3, 8],
    [4, 8],
  ] as const)('%i channels, %i bits: read back by another library as they were', async (channels, bits) => {
    const [width, height] = [7, 5];
    const n = width * height * channels;
    const data = (bits === 16 ? new Uint16Array(n) : new Uint8Array(n)).map((_, i) => (i * 7919) % 2 ** bits);
    const codes = { width, height, channels, bits, data: data as Uint16Array<ArrayBuffer> };
    const p = await decodeStill(encodeTiff(codes), { alpha: 'keep', profile: 'refuse' });
    expect([p.width, p.height, p.bits]).toEqual([width, height, bits]);
    for (let i = 0; i < width * height; i++)
      for (let c = 0; c < 3; c++) expect(p.rgb[3 * i + c]).toBe(data[i * channels + (channels === 1 ? 0 : c)]);
    if (channels === 4) for (let i = 0; i < width * height; i++) expect(p.alphaPlane![i]).toBe(data[4 * i + 3]);
  });
});
