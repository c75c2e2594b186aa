import { describe, expect, it } from 'vitest';
import type { SurroundFigures } from '../core/skin/surround';
import type { Reading } from '../core/skin/reading';
import { limitsSaid } from './limitsText';
import { proofSaid, reportHtml, summaryOf } from './reportText';
import type { ReportData } from './reportText';

const figures: SurroundFigures = {
  surroundShare: 0.952,
  fringeShare: 0.01,
  fullShare: 0.038,
  surroundChanged: 0,
  surroundMaxChange: 0,
  surroundMaxCodes: 0,
  surroundMeanCodes: 0,
  regionMaxCodes: 5100,
  regionMeanDe: 3.24,
  pixels: 1000,
};
const reading = (offLineDeg: number | null): Reading => ({
  ...{ luma: 0.5, cb: -0.08, cr: 0.11, lumaPct: 50, chromaPct: 27, hueDeg: 126 },
  ...{ offLineDeg, hueSpreadDeg: 1, outlierShare: 0, pixels: 100, second: null, topShare: 0, two: null },
});
const data = (over: Partial<ReportData> = {}): ReportData => ({
  shot: 'Proofing table',
  project: 'Small Hours',
  file: 'proofing-table.png',
  moment: '',
  encoding: 'srgb',
  when: '2026-11-27',
  bits: 16,
  pictures: [{ title: 'after', src: 'data:image/png;base64,AA==' }],
  corrections: [
    { name: 'Face', on: true, says: 'Face: where hue is 120 to 140', whole: false, matte: null, figures, fault: '' },
  ],
  skin: [{ name: 'Cheek', kind: 'skin', before: reading(16.54), after: reading(-0.04) }],
  clipped: { before: { low: 2, high: 3, pixels: 1e4 }, after: { low: 2, high: 15, pixels: 1e4 } },
  contrast: { before: null, after: null },
  limits: { of: { lowPct: -5, highPct: 105 }, said: 'All pixels lie within these limits, as before.' },
  ...over,
});

describe('the proof in a sentence', () => {
  it('tells surround, inside, skin and clipping', () => {
    expect(summaryOf(data())).toBe(
      'Proofing table: Face: the surround (95.2 % of the picture) did not move by a bit; inside, the mean change is ' +
        'CIEDE2000 3.2; Cheek from +16.5\u00b0 to \u22120.0\u00b0 off the skin line; clipped: 0.12 % more at white.',
    );
  });

  it('never calls a surround proved that moved, or that is not there', () => {
    expect(proofSaid({ ...figures, surroundChanged: 3, surroundMaxCodes: 2 }, false)).toMatch(
      /^3 pixels of the surround moved, by up to 2 codes of 65535/,
    );
    expect(proofSaid({ ...figures, surroundShare: 0 }, false)).toContain('it has no surround');
    expect(proofSaid(figures, true)).toContain('the whole picture');
  });

  it('leaves out what is off, not skin, or was not read', () => {
    const [c] = data().corrections;
    const none = data({
      corrections: [{ ...c!, on: false }],
      skin: [
        { name: 'Apron', kind: 'grey', before: reading(1), after: reading(1) },
        { name: 'Gone', kind: 'skin', before: null, after: null },
      ],
      clipped: { before: null, after: null },
    });
    expect(summaryOf(none)).toBe('Proofing table: nothing is corrected.');
  });
});

describe('the page', () => {
  it('holds everything and lets no name become markup', () => {
    const html = reportHtml(data({ shot: '<script>alert(1)</script> & "co"' }));
    expect(html).not.toContain('<script>');
    expect(html).toContain('&lt;script&gt;alert(1)&lt;/script&gt; &amp; &quot;co&quot;');
    for (const part of ['Small Hours', 'Face: where hue is 120 to 140', 'data:image/png;base64,AA==', '0.150 %'])
      expect(html).toContain(part);
    expect(html).toContain('did not move by a bit');
  });

  it('says why a correction has no figures', () => {
    const [c] = data().corrections;
    expect(reportHtml(data({ corrections: [{ ...c!, figures: null, fault: 'Its matte is missing.' }] }))).toContain(
      'Its matte is missing.',
    );
  });
});

describe('limits in words', () => {
  const of = (low: number, high: number, any: number, pixels = 10_000) => ({ low, high, any, pixels });
  it('say both sides, and what it was before', () => {
    expect(limitsSaid({ before: of(0, 0, 0), after: of(0, 0, 0) })).toBe(
      'All pixels lie within these limits, as before.',
    );
    expect(limitsSaid({ before: of(0, 20, 20), after: of(0, 0, 0) })).toBe(
      'All pixels lie within these limits; before, 0.20 % did not.',
    );
    expect(limitsSaid({ before: of(0, 0, 0), after: of(500, 12, 510) })).toBe(
      '5.1 % of the picture leaves these limits (5.0 % below, 0.12 % above); before, 0.0 %.',
    );
  });
  it('a single pixel is not nothing', () => {
    expect(limitsSaid({ before: of(0, 0, 0, 1e6), after: of(0, 1, 1, 1e6) })).toContain('under 0.01 %');
  });
  it('stand in the report with what they are', () => {
    expect(reportHtml(data())).toContain('-5 to 105 %: All pixels lie within these limits, as before.');
  });
});
