/** Checks against the outside: published standards, charts and other libraries. Each names its source. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { ciede2000, linearToLab } from '../src/core/color/lab';
import { bt1886, srgb } from '../src/core/color/transfer';
import { barTargets, hueDeg, rgbToYcbcr, SKIN_LINE_DEG, ycbcrToNarrowCodes, ycbcrToRgb } from '../src/core/color/ycbcr';
import { formatCube, parseCube, sampleCube } from '../src/core/formats/cube';
import { wrap180 } from '../src/core/math/angle';
import { rng } from '../src/core/math/rng';
import {
  addScopes,
  ALL_GROUPS,
  groupOf,
  histogramOf,
  SCOPE_SIZE,
  STRIP_COLUMNS,
  vectorCell,
  VECTOR_CELLS,
  VECTOR_RANGE,
  WAVE_COLUMNS,
  WAVE_LEVELS,
} from '../src/core/scopes/reduce';
import type { WaveName } from '../src/core/scopes/reduce';
import { readPatch } from '../src/core/skin/reading';

const data = (f: string) => JSON.parse(readFileSync(join(import.meta.dirname, 'data', f), 'utf8'));

interface Bar {
  name: string;
  rgb: [number, number, number];
  code8: number[];
  code10: number[];
  angle_deg: number | null;
  radius: number;
}
describe(
  'BT.709 colour bars (ITU-R BT.709-6 items 3.2, 3.3, 4.6; SMPTE RP 219 codes from memory; Debian ' +
    'ffmpeg 5.1.9 smptehdbars)',
  () => {
    const bars = data('colour_bars.json');
    it.each([...bars.bt709.bars_100, ...bars.bt709.bars_75] as Bar[])('$name $rgb', (b) => {
      const [y, cb, cr] = rgbToYcbcr(...b.rgb);
      expect(ycbcrToNarrowCodes(y, cb, cr, 10)).toEqual(b.code10);
      expect(ycbcrToNarrowCodes(y, cb, cr, 8)).toEqual(b.code8);
      expect(Math.hypot(cb, cr)).toBeCloseTo(b.radius, 5);
      if (b.angle_deg !== null) expect(Math.abs(wrap180(hueDeg(cb, cr) - b.angle_deg))).toBeLessThan(0.002);
      ycbcrToRgb(y, cb, cr).forEach((v, i) => expect(v).toBeCloseTo(b.rgb[i]!, 12));
    });
    it('75 % codes are those of RP 219', () => {
      for (const [name, codes] of Object.entries(bars.rp219_from_memory_10bit_75.values as Record<string, number[]>)) {
        const b = (bars.bt709.bars_75 as Bar[]).find((x) => x.name === name)!;
        expect(ycbcrToNarrowCodes(...rgbToYcbcr(...b.rgb), 10)).toEqual(codes);
      }
    });
    it('vectorscope targets lie where the bars do, within a tenth of a percent', () => {
      for (const t of barTargets(0.75)) {
        const name = { R: 'red', Mg: 'magenta', B: 'blue', Cy: 'cyan', G: 'green', Yl: 'yellow' }[t.name]!;
        const b = (bars.bt709.bars_75 as Bar[]).find((x) => x.name === name)!;
        expect(Math.abs(t.chromaPct / 200 / b.radius - 1)).toBeLessThan(1e-3);
        expect(Math.abs(wrap180(t.hueDeg - b.angle_deg!))).toBeLessThan(0.01);
      }
    });
    it('the reduced scope puts bars into the cells of their targets', () => {
      const all = bars.bt709.bars_75 as Bar[];
      const planes = [0, 1, 2].map((c) => Float32Array.from(all, (b) => b.rgb[c]!)) as [
        Float32Array,
        Float32Array,
        Float32Array,
      ];
      const counts = new Uint32Array(SCOPE_SIZE);
      addScopes(
        { r: planes[0], g: planes[1], b: planes[2], m: null, matte: 0, w: all.length, x0: 0, x1: all.length },
        0,
        1,
        1,
        ALL_GROUPS,
        SKIN_LINE_DEG,
        VECTOR_RANGE,
        counts,
      );
      const vector = groupOf(counts, 'vector');
      for (const t of barTargets(0.75))
        expect(vector[Math.floor(vectorCell(-t.cr)) * VECTOR_CELLS + Math.floor(vectorCell(t.cb))]).toBeGreaterThan(0);
      // Every trace lies within 0.1 % of the signal of a bar, in Cb and in Cr (a grain for float32).
      const middles = [...vector.keys()]
        .filter((i) => vector[i]! > 0)
        .map(
          (i) => [((i % VECTOR_CELLS) + 0.5) / 500 - 0.56, 0.56 - (Math.floor(i / VECTOR_CELLS) + 0.5) / 500] as const,
        );
      for (const b of all) {
        const [, cb, cr] = rgbToYcbcr(...b.rgb);
        expect(Math.min(...middles.map(([x, y]) => Math.max(Math.abs(x - cb), Math.abs(y - cr))))).toBeLessThan(
          0.001001,
        );
      }
      // And of the waveforms: luma, R', G', B', Cb, Cr of each bar in its own columns.
      all.forEach((b, i) => {
        const [y, cb, cr] = rgbToYcbcr(...b.rgb);
        const want: [WaveName, number][] = [
          ['y', y],
          ['r', b.rgb[0]],
          ['g', b.rgb[1]],
          ['b', b.rgb[2]],
          ['cb', cb + 0.5],
          ['cr', cr + 0.5],
        ];
        for (const [name, v] of want) {
          const column = Math.floor((i * WAVE_COLUMNS) / all.length) * WAVE_LEVELS;
          const own = groupOf(counts, name).subarray(column, column + WAVE_LEVELS);
          const level = own.findIndex((n) => n > 0);
          expect(Math.abs((level + 0.5) / 500 - 0.1 - v), `${b.name} ${name}`).toBeLessThan(0.001001);
        }
      });
      expect(histogramOf(groupOf(counts, 'y')).reduce((a, b) => a + b, 0)).toBe(all.length);
      // Red, 20.1 degrees clockwise of the line, is the only bar within 60 degrees that is not yellow.
      const strip = groupOf(counts, 'strip');
      const cols = [...strip.keys()].filter((i) => strip[i]! > 0).map((i) => ((i % STRIP_COLUMNS) + 0.5) / 2 - 60);
      expect(cols.some((d) => Math.abs(d - (102.912 - 123)) < 0.5)).toBe(true);
      expect(cols.some((d) => Math.abs(d - (174.761 - 123)) < 0.5)).toBe(true);
    });
  },
);

describe('transfer curves (IEC 61966-2-1; ITU-R BT.1886; values computed in 30-digit decimal)', () => {
  const { curves, grey18 } = data('transfer_functions.json');
  it.each(curves.sRGB as { linear: number; encoded: number }[])('sRGB $linear', ({ linear, encoded }) => {
    expect(srgb.encode(linear)).toBeCloseTo(encoded, 7);
    expect(srgb.decode(encoded)).toBeCloseTo(linear, 7);
  });
  it.each(curves['BT1886_inverse_gamma2.4'] as { linear: number; encoded: number }[])(
    'BT.1886 $linear',
    ({ linear, encoded }) => {
      expect(bt1886.encode(linear)).toBeCloseTo(encoded, 9);
      expect(bt1886.decode(encoded)).toBeCloseTo(linear, 9);
    },
  );
  it('puts the grey card where the tables say', () => {
    expect(srgb.encode(0.18)).toBeCloseTo(grey18.sRGB.value, 9);
    expect(Math.round(srgb.encode(0.18) * 255)).toBe(grey18.sRGB.full8);
    expect(bt1886.encode(0.18)).toBeCloseTo(grey18['BT1886_inverse_gamma2.4'].value, 9);
  });
});

describe('CIEDE2000 (Sharma, Wu, Dalal 2005, table 1, as quoted by npm delta-e 0.0.8)', () => {
  it.each(
    data('ciede2000.json').pairs as {
      lab1: [number, number, number];
      lab2: [number, number, number];
      expected: number;
    }[],
  )('$lab1 $lab2', ({ lab1, lab2, expected }) => {
    expect(Math.abs(ciede2000(lab1, lab2) - expected)).toBeLessThan(6e-5);
    expect(ciede2000(lab2, lab1)).toBeCloseTo(ciede2000(lab1, lab2), 10);
  });
});

describe('chart skin and look-alikes (Debian argyll-ref 2.3.1 chart data)', () => {
  const sw = data('skin_swatches.json');
  type Swatch = {
    name: string;
    group: string;
    srgb8: [number, number, number];
    srgb: { dev_from_123: number; luma_pct: number; chroma_radius: number };
  };
  it.each(sw.swatches as Swatch[])('$name of $group reads as in numpy', ({ srgb8, srgb: want }) => {
    const [r, g, b] = srgb8.map((v) => Float32Array.of(v / 255)) as [Float32Array, Float32Array, Float32Array];
    const got = readPatch(r, g, b, 1, { x: 0, y: 0, w: 1, h: 1 })!;
    // The reference was computed before rounding to 8 bits: half a code, 0.112 degrees over the chroma radius.
    expect(Math.abs(got.offLineDeg! - want.dev_from_123)).toBeLessThan(0.12 / want.chroma_radius);
    expect(Math.abs(got.lumaPct - want.luma_pct)).toBeLessThan(0.3);
  });
  it('ColorChecker skin lies near the line: both patches within 4 degrees', () => {
    for (const s of (sw.swatches as Swatch[]).filter((x) => x.group.startsWith('ColorChecker Classic')))
      expect(Math.abs(s.srgb.dev_from_123)).toBeLessThan(4);
    const [, cb, cr] = rgbToYcbcr(194 / 255, 150 / 255, 130 / 255);
    expect(Math.abs(wrap180(hueDeg(cb, cr) - SKIN_LINE_DEG))).toBeLessThan(0.5);
  });
  it('all measured chart skin spreads about 6 degrees round the line, so a band of 10 is no pass mark', () => {
    const d = (sw.swatches as Swatch[]).filter((x) => /Checker/.test(x.group)).map((x) => x.srgb.dev_from_123);
    const mean = d.reduce((a, b) => a + b, 0) / d.length;
    const sd = Math.sqrt(d.reduce((a, b) => a + (b - mean) ** 2, 0) / (d.length - 1));
    expect(Math.abs(mean)).toBeLessThan(2);
    expect(sd).toBeGreaterThan(4);
    expect(sd).toBeLessThan(7);
  });
  it.each(
    sw.colorchecker24 as { name: string; linear709: [number, number, number]; lab_d65: [number, number, number] }[],
  )('L*a*b* of $name', ({ linear709, lab_d65 }) => {
    linearToLab(...linear709).forEach((v, i) => expect(Math.abs(v - lab_d65[i]!)).toBeLessThan(0.01));
  });
});

describe('lookup tables (Cube LUT Specification 1.0; PyOpenColorIO 2.1.2 and ffmpeg 5.1.9 on the same file)', () => {
  const cube = parseCube(readFileSync(join(import.meta.dirname, 'data/case5.cube'), 'utf8'));
  const c = data('case5.json') as Record<string, number[][]>;
  it('reads the header and the order (red fastest)', () => {
    expect([cube.kind, cube.size, cube.title]).toEqual(['3d', 5, 'case5']);
    expect(cube.data[3]).toBeCloseTo(0.367976, 6);
  });
  it('looks up as those libraries do', () => {
    const tri = Object.keys(c).filter((k) => /tri/i.test(k) && Array.isArray(c[k]));
    const tet = Object.keys(c).filter((k) => /tetra/i.test(k) && Array.isArray(c[k]));
    expect(tri.length).toBeGreaterThan(0);
    expect(tet.length).toBeGreaterThan(0);
    c['input']!.forEach((p, i) => {
      for (const k of tri)
        sampleCube(cube, p[0]!, p[1]!, p[2]!, 'trilinear').forEach((v, ch) =>
          expect(Math.abs(v - c[k]![i]![ch]!), `${k} ${i}`).toBeLessThan(2e-4),
        );
      for (const k of tet)
        sampleCube(cube, p[0]!, p[1]!, p[2]!, 'tetrahedral').forEach((v, ch) =>
          expect(Math.abs(v - c[k]![i]![ch]!), `${k} ${i}`).toBeLessThan(2e-4),
        );
    });
  });
  it('writes what it reads', () => {
    const again = parseCube(formatCube(cube, ['two\nlines']));
    expect(again.size).toBe(5);
    again.data.forEach((v, i) => expect(Math.abs(v - cube.data[i]!)).toBeLessThan(1e-6));
  });
  it.each([
    ['LUT_3D_SIZE 1\n', /whole number from 2/],
    ['0 0 0\n', /before its size/],
    ['LUT_3D_SIZE 2\n0 0 0\n', /ends after 1 of 8/],
    [`LUT_3D_SIZE 2\n${'0 0 0\n'.repeat(9)}`, /more rows/],
    ['LUT_3D_SIZE 2\n0 0 x\n', /Line 2: "x" is no number/],
    ['LUT_3D_SIZE 2\nGAMMA 2\n', /not a keyword/],
    ['DOMAIN_MIN 0 0\n', /three numbers/],
    ['', /SIZE is missing|missing/],
    ['LUT_1D_SIZE 2\nDOMAIN_MIN 1 0 0\nDOMAIN_MAX 1 1 1\n0 0 0\n1 1 1\n', /below DOMAIN_MAX/],
  ])('refuses %j with the line', (text, why) => expect(() => parseCube(text)).toThrow(why));
  it('is exact on lattice points and linear on a straight table', () => {
    const n = 9;
    const d = new Float32Array(n ** 3 * 3);
    for (let i = 0; i < n ** 3; i++)
      d.set([(i % n) / 8, (Math.floor(i / n) % n) / 8, Math.floor(i / n / n) / 8], 3 * i);
    const id = {
      kind: '3d' as const,
      title: '',
      size: n,
      domainMin: [0, 0, 0] as const,
      domainMax: [1, 1, 1] as const,
      data: d,
    };
    const r = rng(4);
    for (let i = 0; i < 200; i++) {
      const p = [r(), r(), r()] as const;
      for (const how of ['tetrahedral', 'trilinear'] as const)
        sampleCube(id, ...p, how).forEach((v, ch) => expect(v).toBeCloseTo(p[ch]!, 6));
    }
  });
});
