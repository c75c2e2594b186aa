/**
 * The main job on the demo stills, from the command line to the written file and back; judged by the renderer's truth
 * mattes.
 */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { decode } from 'fast-png';
import { main } from '../src/cli/main';
import { parseCube } from '../src/core/formats/cube';
import { readPatch } from '../src/core/skin/reading';
import { parseProject } from '../src/document/projectFile';
import { decodeStill } from '../src/media/decode';
import { defaultDecode } from '../src/media/picture';

const stills = join(import.meta.dirname, '../demo/stills');
const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-test-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

async function cli(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  const out = vi.spyOn(console, 'log').mockImplementation(() => {});
  const err = vi.spyOn(process.stderr, 'write').mockImplementation(() => true);
  try {
    const code = await main(args);
    return { code, out: out.mock.calls.flat().join('\n'), err: err.mock.calls.map((c) => String(c[0])).join('') };
  } finally {
    out.mockRestore();
    err.mockRestore();
  }
}
/** Mean of a truth matte inside a box: 1 when all of it is that thing. */
function truthIn(name: string, box: string): number {
  const p = decode(readFileSync(join(stills, `${name}.png`)));
  const [x, y, w, h] = box.split(',').map(Number) as [number, number, number, number];
  let s = 0;
  for (let j = y; j < y + h; j++) for (let i = x; i < x + w; i++) s += p.data[j * p.width + i]!;
  return s / (255 * w * h);
}

// The main faces of the film: file, box on clean skin, ellipse round the face, truth matte; by which pushes.
const faces = [
  ['proofing-table', '488,375,40,32', '432,340,175,200', 'left-baker', ['balance', 'turn']],
  ['proofing-table', '1196,305,36,38', '1146,325,165,190', 'right-baker', ['turn']],
  ['oven-mouth', '600,398,42,36', '536,378,208,262', 'oven-baker', ['balance']],
  ['oven-mouth', '437,410,38,36', '536,378,208,262', 'oven-baker', ['turn']],
  ['courier', '938,262,36,30', '888,270,150,165', 'courier', ['balance']],
] as const;

describe.each(faces)('%s, %s', (file, box, ellipse, truth, methods) => {
  it.each(methods)('comes to the line by %s; the surround stays byte for byte', async (method) => {
    expect(truthIn(`${file}.truth-skin-${truth}`, box)).toBeGreaterThan(0.99);
    const [out, matte] = [join(dir, 'o.png'), join(dir, 'm.png')];
    const r = await cli(
      'skin',
      join(stills, `${file}.png`),
      '--box',
      box,
      '--ellipse',
      ellipse,
      '--feather',
      '8',
      '--method',
      method,
      '--strength',
      '100',
      '--out',
      out,
      '--matte',
      matte,
      '--bits',
      '16',
      '--json',
    );
    expect(r.err).toBe('');
    const j = JSON.parse(r.out) as {
      before: Record<string, number>;
      after: Record<string, number>;
      surround: Record<string, number>;
    };
    const src = await decodeStill(readFileSync(join(stills, `${file}.png`)));
    const got = await decodeStill(readFileSync(out));
    const m = decode(readFileSync(matte)).data;
    expect([got.bits, got.width, got.height]).toEqual([16, src.width, src.height]);
    // Read back from the written file, not from the engine.
    const [x, y, w, h] = box.split(',').map(Number) as [number, number, number, number];
    const plane = (c: number): Float32Array => {
      const p = new Float32Array(got.width * got.height);
      for (let i = 0; i < p.length; i++) p[i] = got.rgb[3 * i + c]! / 65535;
      return p;
    };
    const after = readPatch(plane(0), plane(1), plane(2), got.width, { x, y, w, h })!;
    expect(Math.abs(after.offLineDeg!)).toBeLessThanOrEqual(0.5);
    // The figure that was said is the one the file has.
    expect(Math.abs(after.offLineDeg! - j.after['offLineDeg']!)).toBeLessThan(1e-4);
    expect(Math.abs(after.lumaPct - j.before['lumaPct']!)).toBeLessThanOrEqual(0.5);
    expect(Math.abs(after.chromaPct / j.before['chromaPct']! - 1)).toBeLessThanOrEqual(0.1);
    expect(Math.abs(j.before['offLineDeg']!)).toBeGreaterThan(3);
    expect([j.surround['surroundMaxCodes'], j.surround['surroundMeanCodes']]).toEqual([0, 0]);
    // The matte's own zeros, a code away from any rounding: every byte there is the source's, times 257.
    let zeros = 0;
    let wrong = 0;
    const around = [0, -1, 1, -src.width, src.width];
    const near = (i: number): boolean => around.every((d) => m[i + d] === 0);
    for (let i = src.width; i < m.length - src.width; i++) {
      if (!near(i)) continue;
      zeros++;
      for (let c = 0; c < 3; c++) if (got.rgb[3 * i + c] !== src.rgb[3 * i + c]! * 257) wrong++;
    }
    expect(zeros / m.length).toBeGreaterThan(0.6);
    expect(wrong).toBe(0);
    // Hardly any of the matte lies outside the person's skin and what the ellipse cannot tell from it.
    const t = decode(readFileSync(join(stills, `${file}.truth-skin.png`))).data;
    let inside = 0;
    let all = 0;
    for (let i = 0; i < m.length; i++) {
      all += m[i]! / 65535;
      inside += (m[i]! / 65535) * (t[i]! / 255);
    }
    expect(inside / all).toBeGreaterThan(0.8);
  });
});

describe('what the demo promises', () => {
  it.each([
    ['proofing-table', '488,375,40,32'],
    ['proofing-table', '1196,305,36,38'],
    ['oven-mouth', '437,410,38,36'],
    ['courier', '938,262,36,30'],
  ])('skin hue spreads 2 to 5 degrees within a cheek (%s %s)', async (file, box) => {
    const r = JSON.parse((await cli('measure', join(stills, `${file}.png`), '--box', box, '--json')).out) as {
      hueSpreadDeg: number;
    };
    expect(r.hueSpreadDeg).toBeGreaterThanOrEqual(2);
    expect(r.hueSpreadDeg).toBeLessThanOrEqual(5);
  });
  it(
    'bread and wood at the oven lie within 10 degrees of the skin of the forehead, so that hue alone ' +
      'cannot isolate it',
    async () => {
      const hue = async (box: string): Promise<number> => {
        const v = (
          JSON.parse((await cli('measure', join(stills, 'oven-mouth.png'), '--box', box, '--json')).out) as {
            offLineDeg: number | null;
          }
        ).offLineDeg;
        expect(v, box).not.toBeNull();
        return v!;
      };
      const [skin, bread, wood] = ['540,252,70,20', '1075,675,75,50', '1000,850,200,16'] as const;
      expect(truthIn('oven-mouth.truth-skin', skin)).toBeGreaterThan(0.99);
      expect(truthIn('oven-mouth.truth-bread', bread)).toBeGreaterThan(0.99);
      expect(truthIn('oven-mouth.truth-wood', wood)).toBeGreaterThan(0.99);
      for (const box of [bread, wood]) expect(Math.abs((await hue(box)) - (await hue(skin)))).toBeLessThan(10);
    },
  );
  it('keeps every file under 4 MB and all under 40', async () => {
    const { readdirSync, statSync } = await import('node:fs');
    const sizes = readdirSync(stills).map((f) => statSync(join(stills, f)).size);
    expect(Math.max(...sizes)).toBeLessThan(4 * 2 ** 20);
    expect(sizes.reduce((a, b) => a + b, 0)).toBeLessThan(40 * 2 ** 20);
  });
});

describe('command line', () => {
  const project = join(stills, 'small-hours.rowanleaf.json');
  const oven = join(stills, 'oven-mouth.png');
  beforeAll(() => void parseProject(readFileSync(project, 'utf8')));
  it('measures in the agreed form', async () => {
    const r = await cli('measure', oven, '--box', '600,398,42,36', '--json');
    expect(r.code).toBe(0);
    expect(Object.keys(JSON.parse(r.out) as object).sort()).toEqual([
      'chromaPct',
      'hueDeg',
      'hueSpreadDeg',
      'lumaPct',
      'offLineDeg',
      'outlierShare',
      'pixels',
      'second',
    ]);
  });
  it('says in words what makes a reading doubtful, and nothing of skin that is fine', async () => {
    const night = await cli('measure', join(stills, 'night-rack.png'), '--box', '570,362,38,32');
    expect(night.out).toMatch(/\nToo dark: at luma 11 % its hue spreads by 16\u00b0/);
    expect((await cli('measure', oven, '--box', '600,398,42,36')).out.trim()).not.toContain('\n');
  });
  it('renders a project and bakes its table', async () => {
    const r = await cli(
      'render',
      project,
      '--shot',
      'Oven mouth',
      '--input',
      oven,
      '--out',
      dir,
      '--what',
      'picture,matte',
      '--bits',
      '8',
    );
    expect(r).toMatchObject({ code: 0, err: '' });
    const [picture, matte] = r.out.split('\n');
    expect(decode(readFileSync(picture!)).depth).toBe(8);
    expect(decode(readFileSync(matte!)).channels).toBe(1);
    const half = await cli(
      'render',
      project,
      '--shot',
      'Oven mouth',
      '--input',
      oven,
      '--out',
      dir,
      '--what',
      'picture,matte',
      '--bits',
      'half',
    );
    const [exr, exrMatte] = half.out.trim().split('\n');
    expect([exr, exrMatte].map((n) => n!.replace(/^.*\./, ''))).toEqual(['exr', 'exr']);
    const light = await decodeStill(readFileSync(exr!), defaultDecode);
    expect([light.width, light.height, light.bits, light.encoding]).toEqual([1600, 900, 32, 'linear709']);
    // The same as the numbers of the PNG, decoded: to half a step of a half and of 8 bits.
    const png = decode(readFileSync(picture!));
    let most = 0;
    for (let i = 0; i < png.data.length; i += 997) {
      const v = light.rgb[i]!;
      const back = v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055;
      most = Math.max(most, Math.abs(255 * Math.min(1, Math.max(0, back)) - png.data[i]!));
    }
    expect(most).toBeGreaterThan(0.3);
    expect(most).toBeLessThan(0.6);
    const l = await cli(
      'lut',
      project,
      '--shot',
      'Oven mouth',
      '--size',
      '33',
      '--out',
      join(dir, 'x.cube'),
      '--input',
      oven,
    );
    expect(l.out).toMatch(/Ellipse 1 left out/);
    expect(parseCube(readFileSync(join(dir, 'x.cube'), 'utf8')).size).toBe(33);
  });
  writeFileSync(join(dir, 'bad.png'), 'no picture');
  it.each<[string[], number, RegExp]>([
    [['measure', '/nowhere.png', '--box', '1,1,1,1'], 2, /cannot be read: check the path/],
    [['measure', join(dir, 'bad.png'), '--box', '1,1,1,1'], 2, /bad\.png: it is neither a picture nor a clip.*PNG/],
    [['measure', oven, '--box', '1,2,3'], 2, /--box needs 4 numbers/],
    [['measure', oven, '--box', '1,2,3,x'], 2, /--box needs 4 numbers/],
    [['measure', oven, '--box', '1,2,0,4'], 2, /above 0/],
    [['measure', oven, '--box', '9000,2,5,5'], 2, /outside the picture/],
    [['measure', oven], 2, /--box is missing/],
    [
      ['skin', oven, '--box', '600,398,42,36', '--ellipse', '536,378,208,262', '--method', 'magic', '--out', 'x'],
      2,
      /--method must be balance, .* or pulls/,
    ],
    [
      ['skin', oven, '--box', '600,398,42,36', '--ellipse', '536,378,208,262', '--strength', '200', '--out', 'x'],
      2,
      /0 to 100/,
    ],
    [
      ['skin', oven, '--box', '600,398,42,36', '--ellipse', '1400,800,20,20', '--out', 'x'],
      1,
      /does not reach the patch/,
    ],
    [['render', project, '--shot', 'Nothing', '--input', oven, '--out', dir], 2, /no shot "Nothing".*"Oven mouth"/],
    [
      ['render', project, '--shot', 'Oven mouth', '--input', oven, '--out', dir, '--bits', 'half', '--dither'],
      2,
      /--dither is of codes of 8 bits.*--bits 8/,
    ],
    [
      ['render', project, '--shot', 'Oven mouth', '--input', oven, '--out', dir, '--bits', '12'],
      2,
      /--bits must be 8, 16 or half/,
    ],
    [['render', oven, '--shot', 'x', '--input', oven, '--out', dir], 1, /not JSON/],
    [['lut', project, '--shot', 'Courier', '--size', '1', '--out', 'x'], 2, /2 to 129/],
    [['fly', 'x'], 2, /not a command/],
    [['measure', oven, '--boxx', '1'], 2, /boxx/],
  ])('%j ends with %d and one clear line', async (args, code, why) => {
    const r = await cli(...args);
    expect(r.code).toBe(code);
    expect(r.err).toMatch(why);
    expect(r.err.trim().split('\n')).toHaveLength(1);
  });
});
