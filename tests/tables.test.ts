/** Lookup tables and decision lists against another general-purpose library: PyOpenColorIO 2.1.2 (values in data/tables/ocio.json). */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { sampleCube } from '../src/core/formats/cube';
import { evaluateColours } from '../src/core/graph/evaluate';
import { compile } from '../src/core/graph/plan';
import { newUse } from '../src/core/graph/plan.defaults';
import { formatCdl, parseCdl } from '../src/media/cdl';
import { parseClf } from '../src/media/clf';
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
    ocio['input']!.forEach((v, i) => sampleCube(cube, ...v).forEach((x, c) => expect(Math.abs(x - ocio['chain.clf']![i]![c]!), `${v} ${c}`).toBeLessThan(Math.max(0.002, 1.5 * maxError))));
    // On the corners of the table the chain itself is what it says, to a float's rounding.
    for (const i of [5, 6]) sampleCube(cube, ...ocio['input']![i]!).forEach((x, c) => expect(Math.abs(x - ocio['chain.clf']![i]![c]!)).toBeLessThan(3e-6));
  });
  it('one plain table is taken to the number, blue fastest, depths scaled', () => {
    const { cube, notes, maxError } = parseClf(text('single.clf'));
    expect([cube.kind, cube.size, notes.length, maxError]).toEqual(['3d', 2, 0, 0]);
    ocio['input']!.forEach((v, i) => sampleCube(cube, ...v).forEach((x, c) => expect(Math.abs(x - ocio['single.clf']![i]![c]!)).toBeLessThan(2e-7)));
  });
  it.each<[string, string, RegExp]>([
    ['no XML', 'LUT_3D_SIZE 2', /Line 1/],
    ['another root', '<Look/>', /begins with Look/],
    ['an unknown step', '<ProcessList><Blur/></ProcessList>', /Blur is a step that is not read/],
    ['nothing in it', '<ProcessList><Description>x</Description></ProcessList>', /no step/],
    ['an array too short', '<ProcessList><LUT1D inBitDepth="8i" outBitDepth="8i"><Array dim="4 1">0 1 2</Array></LUT1D></ProcessList>', /needs 4 numbers/],
    ['a bit depth of its own', '<ProcessList><LUT1D inBitDepth="8i" outBitDepth="9i"><Array dim="2 1">0 1</Array></LUT1D></ProcessList>', /"9i" is not one of/],
    ['a table by halves', '<ProcessList><LUT1D inBitDepth="16f" outBitDepth="16f" halfDomain="true"><Array dim="2 1">0 1</Array></LUT1D></ProcessList>', /halfDomain/],
    ['a size of a million', '<ProcessList><LUT3D inBitDepth="8i" outBitDepth="8i"><Array dim="1000000 1000000 1000000 3">0</Array></LUT3D></ProcessList>', /cannot be read/],
  ])('%s is refused in words', (_, t, why) => {
    expect(() => parseClf(t)).toThrow(why);
  });
  it('entities are not expanded: a small file cannot swell', () => {
    const t = '<!DOCTYPE l [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;">]><ProcessList name="x"><Description>&b;</Description></ProcessList>';
    let size = 0;
    try {
      size = JSON.stringify(parseXml(t)).length;
    } catch (e) {
      expect((e as Error).message.length).toBeGreaterThan(5);
    }
    expect(size).toBeLessThan(400);
  });
});

describe('ASC CDL files (version 1.2)', () => {
  it('are read, and act as in the other library', () => {
    const list = parseCdl(text('grade.ccc'));
    expect(list.map((c) => c.id)).toEqual(['sh010', 'sh020']);
    const c = list[0]!;
    expect(c.description).toBe('warm');
    const use = newUse('c', 'cdl', { slopeR: c.slope[0], slopeG: c.slope[1], slopeB: c.slope[2], offsetR: c.offset[0], offsetG: c.offset[1], offsetB: c.offset[2], powerR: c.power[0], powerG: c.power[1], powerB: c.power[2], saturation: c.saturation });
    const out = evaluateColours(compile([{ id: 'x', name: 'x', on: true, mixPct: 100, terms: [], tidy: [], adjustments: [use] }], 0, 1), ocio['input']!);
    out.forEach((v, i) => v.forEach((x, ch) => expect(Math.abs(x - ocio['grade.ccc sh010']![i]![ch]!)).toBeLessThan(2e-6)));
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
    expect(() => parseCdl('<ColorCorrection><SOPNode><Slope>1 2</Slope></SOPNode></ColorCorrection>')).toThrow(/Slope needs 3 numbers/);
    expect(() => parseCdl('<ColorCorrection><SOPNode><Power>1 0 1</Power></SOPNode></ColorCorrection>')).toThrow(/power/);
    expect(() => parseCdl('<ColorCorrection><SOPNode>')).toThrow(/Line 1/);
  });
});
