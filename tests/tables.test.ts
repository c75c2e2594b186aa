/**
 * Lookup tables and decision lists against another general-purpose library: PyOpenColorIO 2.1.2 (values in
 * data/tables/ocio.json).
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { parseCube, sampleCube } from '../src/core/formats/cube';
import { evaluateColours } from '../src/core/graph/evaluate';
import { compile } from '../src/core/graph/plan';
import { rng } from '../src/core/math/rng';
import { newUse } from '../src/core/graph/plan.defaults';
import { formatCdl, parseCdl } from '../src/media/cdl';
import { clfFunction, parseClf } from '../src/media/clf';
import { parseXml } from '../src/media/xml';

const dir = join(import.meta.dirname, 'data/tables');
const text = (n: string): string => readFileSync(join(dir, n), 'utf8');
type Rgb = [number, number, number];
const ocio = JSON.parse(text('ocio.json')) as Record<string, Rgb[]>;

describe('Common LUT Format (SMPTE ST 2136-1)', () => {
  it('a chain of matrix, camera log, range, table and exponent is baked within the error that is said', () => {
    const { cube, maxError, notes } = parseClf(text('chain.clf'));
    expect(cube.title).toBe('Test chain');
    expect(notes[0]).toMatch(/5 steps are baked into a table of 65 per side, within/);
    ocio['input']!.forEach((v, i) =>
      sampleCube(cube, ...v).forEach((x, c) =>
        expect(Math.abs(x - ocio['chain.clf']![i]![c]!), `${v} ${c}`).toBeLessThanOrEqual(maxError + 2e-6),
      ),
    );
    // On the corners of the table the chain itself is what it says, to a float's rounding.
    for (const i of [5, 6])
      sampleCube(cube, ...ocio['input']![i]!).forEach((x, c) =>
        expect(Math.abs(x - ocio['chain.clf']![i]![c]!)).toBeLessThan(3e-6),
      );
  });
  it('one plain table is taken to the number, blue fastest, depths scaled', () => {
    const { cube, notes, maxError } = parseClf(text('single.clf'));
    expect([cube.kind, cube.size, notes.length, maxError]).toEqual(['3d', 2, 0, 0]);
    ocio['input']!.forEach((v, i) =>
      sampleCube(cube, ...v).forEach((x, c) => expect(Math.abs(x - ocio['single.clf']![i]![c]!)).toBeLessThan(2e-7)),
    );
  });
  it.each<[string, string, RegExp]>([
    ['no XML', 'LUT_3D_SIZE 2', /Line 1/],
    ['another root', '<Look/>', /begins with Look/],
    ['an unknown step', '<ProcessList><Blur/></ProcessList>', /Blur is a step that is not read/],
    ['nothing in it', '<ProcessList><Description>x</Description></ProcessList>', /no step/],
    [
      'an array too short',
      '<ProcessList><LUT1D inBitDepth="8i" outBitDepth="8i"><Array dim="4 1">0 1 2</Array></LUT1D></ProcessList>',
      /needs 4 numbers/,
    ],
    [
      'a bit depth of its own',
      '<ProcessList><LUT1D inBitDepth="8i" outBitDepth="9i"><Array dim="2 1">0 1</Array></LUT1D></ProcessList>',
      /"9i" is not one of/,
    ],
    [
      'a table by halves',
      '<ProcessList><LUT1D inBitDepth="16f" outBitDepth="16f" halfDomain="true"><Array dim="2 1">0 ' +
        '1</Array></LUT1D></ProcessList>',
      /halfDomain/,
    ],
    [
      'a size of a million',
      '<ProcessList><LUT3D inBitDepth="8i" outBitDepth="8i"><Array dim="1000000 1000000 1000000 ' +
        '3">0</Array></LUT3D></ProcessList>',
      /cannot be read/,
    ],
  ])('%s is refused in words', (_, t, why) => {
    expect(() => parseClf(t)).toThrow(why);
  });
  it('entities are not expanded: a small file cannot swell', () => {
    const t =
      '<!DOCTYPE l [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;">]><ProcessList ' +
      'name="x"><Description>&b;</Description></ProcessList>';
    let size = 0;
    try {
      size = JSON.stringify(parseXml(t)).length;
    } catch (e) {
      expect((e as Error).message.length).toBeGreaterThan(5);
    }
    expect(size).toBeLessThan(400);
  });
});

describe('the error of a baked list is a bound', () => {
  const lists: [string, string][] = [
    [
      'a narrow Range, whose corners lie inside cells',
      '<Range><minInValue>0.201</minInValue><maxInValue>0.233</maxInValue><minOutValue>0</minOutValue>' +
        '<maxOutValue>1</maxOutValue></Range><Matrix><Array dim="3 3">0.6 0.3 0.1 0.2 0.7 0.1 0 0.1 ' +
        '0.9</Array></Matrix>',
    ],
    [
      'a steep curve near black',
      '<Exponent style="basicFwd"><ExponentParams exponent="0.35"/></Exponent>' +
        '<Matrix><Array dim="3 3">1 -0.4 0.1 0 1 0 0 0 1</Array></Matrix>',
    ],
    [
      'a logarithm behind a matrix',
      '<Matrix><Array dim="3 3">0.5 0.4 0.1 0.1 0.8 0.1 0.1 0.1 0.8</Array></Matrix><Log style="cameraLinToLog">' +
        '<LogParams base="10" logSideSlope="0.24" logSideOffset="0.38" linSideSlope="5.5" linSideOffset="0.05" ' +
        'linSideBreak="0.01"/></Log>',
    ],
  ];
  it.each(lists)('%s', (_, steps) => {
    const text = `<ProcessList id="a">${steps.replace(/<(\w+)([ >])/g, (m, n, e) =>
      /^(Range|Matrix|Log|Exponent)$/.test(n) ? `<${n} inBitDepth="32f" outBitDepth="32f"${e}` : m,
    )}</ProcessList>`;
    const { cube, maxError, notes } = parseClf(text);
    const said = Number(/within ([\d.e-]+) %/.exec(notes[0]!)![1]) / 100;
    expect(said).toBeGreaterThanOrEqual(maxError);
    expect(said).toBeLessThan(maxError * 1.11);
    const want = clfFunction(text);
    const r = rng(31);
    let worst = 0;
    for (let i = 0; i < 300_000; i++) {
      const v: [number, number, number] = [r(), r(), r()];
      const a = sampleCube(cube, ...v);
      const b = want(v);
      worst = Math.max(worst, ...a.map((x, c) => Math.abs(x - b[c]!)));
    }
    expect(worst).toBeLessThanOrEqual(maxError);
    // And it is no wild guess: within three times of what 300000 random colours find.
    expect(maxError).toBeLessThan(4 * worst);
    expect(worst).toBeGreaterThan(0);
  });
  it.each([
    ['NaN', '<Matrix><Array dim="3 3">1 0 0 0 NaN 0 0 0 1</Array></Matrix>', /Line 3: Array holds "NaN"/],
    ['too large', '<Matrix><Array dim="3 3">1 0 0 0 1e308 0 0 0 1</Array></Matrix>', /Line 3: Array holds "1e308"/],
    [
      'an empty Range',
      '<Range><minInValue>0.5</minInValue><maxInValue>0.5</maxInValue><minOutValue>0</minOutValue>' +
        '<maxOutValue>1</maxOutValue></Range>',
      /Line 3: Range has a minInValue/,
    ],
    [
      'exponent abc',
      '<Exponent style="basicFwd"><ExponentParams exponent="abc"/></Exponent>',
      /Line 3: .*exponent="abc"/,
    ],
    ['exponent -1', '<Exponent style="basicFwd"><ExponentParams exponent="-1"/></Exponent>', /Line 3: .*exponent="-1"/],
    ['no exponent', '<Exponent style="basicFwd"><ExponentParams/></Exponent>', /Line 3: .*exponent="nothing"/],
    ['base 1', '<Log style="linToLog"><LogParams base="1"/></Log>', /Line 3: .*base="1"/],
    ['base -2', '<Log style="linToLog"><LogParams base="-2"/></Log>', /Line 3: .*base="-2"/],
    ['slope 0', '<Log style="linToLog"><LogParams linSideSlope="0"/></Log>', /Line 3: .*linSideSlope="0"/],
    ['log slope 0', '<Log style="logToLin"><LogParams logSideSlope="0"/></Log>', /Line 3: .*logSideSlope="0"/],
    ['a step that is none', '<Blur/>', /Line 3: Blur is a step that is not read/],
  ])('refused with its line and what to do: %s', (_, step, words) => {
    expect(() => parseClf(`<?xml version="1.0"?>\n<ProcessList id="a">\n${step}\n<Range/>\n</ProcessList>`)).toThrow(
      words,
    );
  });
  it('a .cube number beyond what floats hold is refused with its line', () => {
    const cube = (x: string) => `LUT_1D_SIZE 2\n0 0 0\n1 ${x} 1\n`;
    expect(() => parseCube(cube('1e39'))).toThrow(/Line 3: "1e39"/);
    expect(() => parseCube(cube('NaN'))).toThrow(/Line 3/);
    expect(parseCube(cube('65504')).data[4]).toBe(65504);
  });
});

describe('ASC CDL files (version 1.2)', () => {
  it('are read, and act as in the other library', () => {
    const list = parseCdl(text('grade.ccc'));
    expect(list.map((c) => c.id)).toEqual(['sh010', 'sh020']);
    const c = list[0]!;
    expect(c.description).toBe('warm');
    const use = newUse('c', 'cdl', {
      slopeR: c.slope[0],
      slopeG: c.slope[1],
      slopeB: c.slope[2],
      offsetR: c.offset[0],
      offsetG: c.offset[1],
      offsetB: c.offset[2],
      powerR: c.power[0],
      powerG: c.power[1],
      powerB: c.power[2],
      saturation: c.saturation,
    });
    const out = evaluateColours(
      compile([{ id: 'x', name: 'x', on: true, mixPct: 100, terms: [], tidy: [], adjustments: [use] }], 0, 1),
      ocio['input']!,
    );
    out.forEach((v, i) =>
      v.forEach((x, ch) => expect(Math.abs(x - ocio['grade.ccc sh010']![i]![ch]!)).toBeLessThan(2e-6)),
    );
  });
  it.each(['cc', 'cdl', 'ccc'] as const)('.%s goes out and comes back the same', (kind) => {
    const c = { ...parseCdl(text('grade.ccc'))[0]!, id: 'a & "b"', description: '<x>' };
    const back = parseCdl(formatCdl(kind, c));
    expect(back).toHaveLength(1);
    expect({ ...back[0], id: '', description: '' }).toEqual({ ...c, id: '', description: '' });
    expect(formatCdl(kind, c)).toContain('urn:ASC:CDL:v1.2');
  });
  it('wrong ones are refused in words', () => {
    expect(() => parseCdl('<x/>')).toThrow(/begins with x/);
    expect(() => parseCdl('<ColorCorrectionCollection/>')).toThrow(/no ColorCorrection/);
    expect(() => parseCdl('<ColorCorrection><SOPNode><Slope>1 2</Slope></SOPNode></ColorCorrection>')).toThrow(
      /Slope needs 3 numbers/,
    );
    expect(() => parseCdl('<ColorCorrection><SOPNode><Power>1 0 1</Power></SOPNode></ColorCorrection>')).toThrow(
      /power/,
    );
    expect(() => parseCdl('<ColorCorrection><SOPNode>')).toThrow(/Line 1/);
  });
});
