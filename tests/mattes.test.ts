/**
 * Mattes from a few strokes on open photographs with hand-made truth (tests/data/photos/README.md has sources and
 * licences), through the terminal: what a person would have as a file.
 */
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { describe, expect, it, vi } from 'vitest';
import { main } from '../src/cli/main';
import type { Health } from '../src/core/matte/health';
import { polygonMask } from '../src/core/math/polygon';

type Pt = [number, number];
interface Case {
  name: string;
  photo: string;
  size: Pt;
  truth: string;
  ignorePolygons: Pt[][];
  ignorePx: number;
  keep: Pt[][];
  leave: Pt[][];
  inside: Pt[];
}
const dir = join(import.meta.dirname, 'data/photos');
const { cases } = JSON.parse(readFileSync(join(dir, 'cases.json'), 'utf8')) as { cases: Case[] };
const text = (l: readonly Pt[]): string => l.map((p) => p.join(',')).join(' ');

interface Matte {
  m: Float32Array;
  said: string;
  coverage: number;
  health: Health;
}
async function matte(c: Case, args: string[]): Promise<Matte> {
  const out = join(mkdtempSync(join(tmpdir(), 'matte-')), 'm.png');
  const log = vi.spyOn(console, 'log').mockImplementation(() => {});
  try {
    expect(await main(['matte', join(dir, c.photo), ...args, '--out', out, '--json'])).toBe(0);
    const { data, depth } = decode(readFileSync(out));
    return {
      ...(JSON.parse(String(log.mock.calls[0]![0])) as Omit<Matte, 'm'>),
      m: Float32Array.from(data, (v) => v / (2 ** depth - 1)),
    };
  } finally {
    log.mockRestore();
  }
}
/** Bits of a 1-bit truth, and what is not judged: a band about its edge, and what was marked so. */
function truthOf(c: Case): { truth: Uint8Array; judged: Uint8Array; deep: Uint8Array } {
  const [w, h] = c.size;
  const png = decode(readFileSync(join(dir, c.truth)));
  const bit = (x: number, y: number): number => {
    const i = y * w + x;
    if (png.depth !== 1) return png.data[i * png.channels]! ? 1 : 0;
    const row = Math.ceil(w / 8);
    return (png.data[y * row + (x >> 3)]! >> (7 - (x & 7))) & 1;
  };
  const truth = Uint8Array.from({ length: w * h }, (_, i) => bit(i % w, Math.floor(i / w)));
  const judged = new Uint8Array(w * h).fill(1);
  for (const p of c.ignorePolygons) polygonMask(p, w, h).forEach((v, i) => v && (judged[i] = 0));
  const deep = truth.slice();
  const e = c.ignorePx;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if ((x + 1 >= w || truth[i] === truth[i + 1]) && (y + 1 >= h || truth[i] === truth[i + w])) continue;
      for (let v = Math.max(0, y - e); v <= Math.min(h - 1, y + e); v++)
        for (let u = Math.max(0, x - e); u <= Math.min(w - 1, x + e); u++)
          if ((u - x) ** 2 + (v - y) ** 2 <= e * e) judged[v * w + u] = deep[v * w + u] = 0;
    }
  return { truth, judged, deep };
}
function judge(c: Case, m: Float32Array): { iou: number; solid: number } {
  const { truth, judged, deep } = truthOf(c);
  let [both, either, full, inside] = [0, 0, 0, 0];
  m.forEach((v, i) => {
    if (!judged[i]) return;
    const on = v >= 0.5;
    if (on && truth[i]) both++;
    if (on || truth[i]) either++;
    if (deep[i]) inside++;
    if (deep[i] && v >= 0.98) full++;
  });
  expect(truth.reduce((a, v) => a + v, 0)).toBeGreaterThan(10_000);
  return { iou: both / either, solid: full / inside };
}
const strokes = (c: Case, keeps = 9): string[] => [
  ...c.keep.slice(0, keeps).flatMap((l) => ['--keep', text(l)]),
  ...(keeps < 9 ? [] : c.leave.flatMap((l) => ['--leave', text(l)])),
];

describe('a few strokes on a photograph', () => {
  const all: number[] = [];
  it.each(cases)('$name: with all strokes, with and without a rough freeform', async (c) => {
    for (const shape of [[], ['--inside', text(c.inside)]]) {
      const { m, said } = await matte(c, [...strokes(c), ...shape]);
      const { iou, solid } = judge(c, m);
      expect(said).toMatch(/^(Hue|Saturation|Luma|These two)/);
      expect(iou, `${c.name} ${shape.length ? 'with' : 'without'} the freeform`).toBeGreaterThan(0.92);
      expect(solid).toBeGreaterThan(0.9);
      all.push(iou);
    }
  });
  it('in the mean they reach 0.96', () => {
    expect(all).toHaveLength(6);
    expect(all.reduce((a, v) => a + v, 0) / 6).toBeGreaterThan(0.96);
  });
  it.each(cases)('$name: two keep strokes alone already hold most of it', async (c) => {
    expect(judge(c, (await matte(c, strokes(c, 2))).m).iou).toBeGreaterThan(0.8);
  });
  it.each(cases)('$name: a nearness key inside the freeform, with the health of what came out', async (c) => {
    const { m, health } = await matte(c, [...strokes(c), '--inside', text(c.inside), '--kind', 'nearness']);
    const { iou } = judge(c, m);
    // Measured: portrait 0.943, cup 0.861, flower 0.955; a spread from the same strokes holds more.
    expect(iou).toBeGreaterThan(0.8);
    expect(iou).toBeLessThan(0.999);
    expect(health.specks.count + health.apart.count).toBeLessThan(40);
    expect(health.coverage).toBeGreaterThan(0.02);
    expect(health.meant).toBeGreaterThan(0.6);
  });
  it('pieces apart: taken into a spread, said where there is none', async () => {
    const [portrait] = cases as [Case];
    const more = await matte(portrait, [...strokes(portrait, 1), '--inside', text(portrait.inside), '--apart']);
    const less = await matte(portrait, [...strokes(portrait, 1), '--inside', text(portrait.inside)]);
    expect(more.coverage).toBeGreaterThan(less.coverage);
    const said = vi.spyOn(process.stderr, 'write').mockImplementation(() => true);
    const args = ['matte', join(dir, portrait.photo), ...strokes(portrait), '--kind', 'range', '--apart', '--out', 'x'];
    expect(await main(args)).not.toBe(0);
    expect(String(said.mock.calls[0]![0])).toMatch(/--apart takes pieces that nothing joins into a spread/);
    said.mockRestore();
  });
  it('a plain range key takes far more or far less of the same picture', async () => {
    const [portrait] = cases as [Case];
    const range = judge(portrait, (await matte(portrait, [...strokes(portrait), '--kind', 'range'])).m).iou;
    expect(range).toBeLessThan(0.9);
  });
});

describe('skin from strokes', () => {
  const [portrait] = cases as [Case];
  const box = '205,250,28,24';
  async function skin(args: string[]) {
    const folder = mkdtempSync(join(tmpdir(), 'skin-'));
    const [out, m] = [join(folder, 'o.png'), join(folder, 'm.png')];
    const log = vi.spyOn(console, 'log').mockImplementation(() => {});
    try {
      const all = ['skin', join(dir, portrait.photo), '--box', box, ...args, '--out', out, '--matte', m, '--json'];
      expect(await main(all)).toBe(0);
      const said = JSON.parse(String(log.mock.calls[0]![0])) as {
        before: { offLineDeg: number };
        after: { offLineDeg: number };
        surround: { surroundChanged: number };
        coverage: number;
        full: number;
        health: Health;
      };
      const { data, depth } = decode(readFileSync(m));
      return { ...said, m: Float32Array.from(data, (v) => v / (2 ** depth - 1)) };
    } finally {
      log.mockRestore();
    }
  }
  it('the whole face comes to the line, the rest keeps its bits, and how much is reached is said', async () => {
    const r = await skin([...strokes(portrait), '--inside', text(portrait.inside)]);
    expect(judge(portrait, r.m).iou).toBeGreaterThan(0.92);
    expect(Math.abs(r.before.offLineDeg)).toBeGreaterThan(1);
    // At 8 bits a code is worth some tenths of a degree.
    expect(Math.abs(r.after.offLineDeg)).toBeLessThan(0.6);
    expect(r.surround.surroundChanged).toBe(0);
    expect(r.coverage).toBeCloseTo(r.m.reduce((a, v) => a + (v >= 0.5 ? 1 : 0), 0) / r.m.length, 3);
    expect(r.full).toBeGreaterThan(0.8 * r.coverage);
    expect(r.health.meant).toBeGreaterThan(0.9);
  });
  it('the edge of the ellipse is as wide as it is told to be', async () => {
    const around = ['--ellipse', '219,262,90,110', ...strokes(portrait), '--tidy', 'none'];
    const [hard, soft] = [await skin([...around, '--softness', '1']), await skin([...around, '--softness', '60'])];
    const between = (m: Float32Array): number => m.reduce((a, v) => a + (v > 0.02 && v < 0.98 ? 1 : 0), 0);
    expect(between(soft.m)).toBeGreaterThan(2 * between(hard.m));
  });
  it('what goes with nothing is told', async () => {
    const err = vi.spyOn(process.stderr, 'write').mockImplementation(() => true);
    const photo = join(dir, portrait.photo);
    for (const [args, why] of [
      [['--ellipse', '219,262,90,110', '--leave', '5,5'], /--leave goes with strokes/],
      [['--keep', '219,262', '--softness', '9'], /--softness is the width of an edge of --ellipse/],
      [[], /--ellipse is missing/],
    ] as const) {
      err.mockClear();
      expect(await main(['skin', photo, '--box', box, ...args, '--out', 'x.png'])).not.toBe(0);
      expect(String(err.mock.calls[0]![0])).toMatch(why);
    }
    err.mockRestore();
  });
});

describe('skin from one press, through the terminal', () => {
  interface Pressed {
    region: { before: { offLineDeg: number }; after: { offLineDeg: number } };
    patch: { box: { x: number; y: number; w: number; h: number }; after: { offLineDeg: number } };
    surround: { surroundChanged: number };
    said: string[];
    coverage: number;
  }
  async function pressOn(photo: string, args: string[]): Promise<{ m: Float32Array; out: string } & Pressed> {
    const at = mkdtempSync(join(tmpdir(), 'press-'));
    const [out, file] = [join(at, 'o.png'), join(at, 'm.png')];
    const log = vi.spyOn(console, 'log').mockImplementation(() => {});
    try {
      const given = ['skin', photo, ...args, '--out', out, '--matte', file, '--bits', '16', '--json'];
      expect(await main(given)).toBe(0);
      const { data, depth } = decode(readFileSync(file));
      const m = Float32Array.from(data, (v) => v / (2 ** depth - 1));
      return { ...(JSON.parse(String(log.mock.calls[0]![0])) as Pressed), m, out };
    } finally {
      log.mockRestore();
    }
  }
  const portrait = cases[0]!;
  const still = (name: string): string => join(import.meta.dirname, '../demo/stills', name);
  it('on a photograph holds most of a face, and more with a rough freeform', async () => {
    const photo = join(dir, portrait.photo);
    const [x, y] = portrait.keep[0]![0]!;
    const alone = await pressOn(photo, ['--at', `${x},${y}`]);
    expect(judge(portrait, alone.m).iou).toBeGreaterThan(0.74);
    const within = await pressOn(photo, ['--at', `${x},${y}`, '--inside', text(portrait.inside)]);
    expect(judge(portrait, within.m).iou).toBeGreaterThan(0.85);
    expect(Math.abs(within.region.after.offLineDeg)).toBeLessThan(0.2);
  });
  it.each([
    ['chart-call', 'skin-assistant', '1050,345', 0.97],
    ['cold-window', 'skin-window-baker', '900,330', 0.85],
    ['courier', 'skin-courier', '892,267', 0.9],
  ] as const)('%s: the face of %s, its push, and nothing else', async (shot, truth, at, least) => {
    const r = await pressOn(still(`${shot}.png`), ['--at', at]);
    const t = decode(readFileSync(still(`${shot}.truth-${truth}.png`)));
    let [both, either] = [0, 0];
    r.m.forEach((v, i) => {
      const on = t.data[i * t.channels]! > 127;
      if (v >= 0.5 && on) both++;
      if (v >= 0.5 || on) either++;
    });
    expect(both / either).toBeGreaterThan(least);
    expect(Math.abs(r.region.after.offLineDeg)).toBeLessThan(0.2);
    expect(Math.abs(r.patch.after.offLineDeg)).toBeLessThan(6);
    expect(r.surround.surroundChanged).toBe(0);
    expect(Math.abs(r.region.before.offLineDeg)).toBeGreaterThan(Math.abs(r.region.after.offLineDeg));
  });
  it('a press on a wall says that there is more of its colour', async () => {
    const r = await pressOn(still('cold-window.png'), ['--at', '1500,700']);
    expect(r.coverage).toBeGreaterThan(0.1);
    expect(r.said.join(' ')).toMatch(/Other things have this colour/);
  });
  it('what does not go together is told', async () => {
    const err = vi.spyOn(process.stderr, 'write').mockImplementation(() => true);
    for (const [args, why] of [
      [['skin', '--at', '9999,5', '--out', 'x.png'], /--at 9999,5 lies outside the picture/],
      [['skin', '--at', '5', '--out', 'x.png'], /--at needs 2 numbers/],
      [['skin', '--at', '5,5', '--box', '1,1,5,5', '--out', 'x.png'], /--box does not go with --at/],
      [['matte', '--keep', '5,5', '--space', 'oklch', '--out', 'x.png'], /--space says what the ranges/],
      [
        ['matte', '--keep', '5,5', '--kind', 'range', '--space', 'lab', '--out', 'x.png'],
        /--space must be scope or oklch/,
      ],
      [['matte', '--keep', '5,5', '--quiet', '101', '--out', 'x.png'], /--quiet must lie in 0 to 100/],
    ] as const) {
      err.mockClear();
      const [command, ...rest] = args;
      expect(await main([command, join(dir, portrait.photo), ...rest])).not.toBe(0);
      expect(String(err.mock.calls[0]![0])).toMatch(why);
    }
    err.mockRestore();
  });
  it('a range key in OKLCh, and one that reads a quieter copy, hold the face as well', async () => {
    const range = ['--kind', 'range', '--inside', text(portrait.inside)];
    for (const more of [
      ['--space', 'oklch'],
      ['--quiet', '25'],
    ]) {
      const { iou } = judge(portrait, (await matte(portrait, [...strokes(portrait), ...range, ...more])).m);
      expect(iou, more.join(' ')).toBeGreaterThan(0.85);
    }
  });
});

describe('the command', () => {
  it('says what is missing or wrong in one line', async () => {
    const [c] = cases as [Case];
    const err = vi.spyOn(process.stderr, 'write').mockImplementation(() => true);
    for (const [args, why] of [
      [[], /--keep is missing/],
      [['--keep', '1,2 3'], /--keep needs 2 numbers/],
      [['--keep', '5,5', '--inside', '1,1 2,2'], /--inside needs at least 3 points/],
      [['--keep', '5,5', '--kind', 'magic'], /--kind must be/],
      [['--keep', '5,5'], /--out is missing/],
    ] as const) {
      err.mockClear();
      expect(await main(['matte', join(dir, c.photo), ...args])).not.toBe(0);
      expect(String(err.mock.calls[0]![0])).toMatch(why);
    }
    err.mockRestore();
  });
});
