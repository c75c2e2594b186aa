/** Code points, gamma and chromaticities, against published matrices and values. */
import { describe, expect, it } from 'vitest';
import { primaries } from '../core/color/encodings';
import { chromaticities, fromCicp, fromGamma, fromLinear, toMeaning } from './cicp';
import { MediaError } from './picture';

const linearOf = (m: ReturnType<typeof fromLinear>, rgb: number[]): number[] =>
  Array.from(toMeaning(m, Float32Array.from(rgb), 1));

describe('ITU-T H.273 code points', () => {
  it.each([
    [1, 13, 'srgb'],
    [1, 1, 'bt1886'],
    [1, 6, 'bt1886'],
    [2, 2, 'srgb'],
    [12, 13, 'p3'],
    [9, 1, 'bt2020'],
    [9, 14, 'bt2020'],
    [9, 15, 'bt2020'],
    [9, 16, 'pq'],
    [9, 18, 'hlg'],
    [1, 8, 'linear709'],
    [9, 8, 'linear2020'],
    [12, 8, 'linearP3'],
  ])('primaries %d with transfer %d are %s as they stand', (p, t, id) => {
    expect(fromCicp(p, t)).toEqual({ encoding: id, convert: null });
  });
  it.each([
    [12, 16, 'pq'],
    [1, 16, 'pq'],
    [12, 18, 'hlg'],
    [9, 4, 'bt2020'],
    [12, 1, 'bt1886'],
    [5, 5, 'srgb'],
    [11, 17, 'srgb'],
    [22, 13, 'srgb'],
  ])('primaries %d with transfer %d are brought to %s, and that is told', (p, t, id) => {
    const m = fromCicp(p, t);
    expect(m.encoding).toBe(id);
    expect(m.convert!.what.length).toBeGreaterThan(5);
  });
  it.each([
    [8, 13, /primaries are of the kind 8/],
    [10, 16, /primaries are of the kind 10/],
    [0, 13, /kind 0/],
    [255, 13, /kind 255/],
    [1, 9, /transfer curve is of the kind 9/],
    [1, 0, /kind 0/],
    [1, 7, /kind 7/],
  ])('primaries %d with transfer %d are refused with their number', (p, t, why) => {
    expect(() => fromCicp(p, t)).toThrow(MediaError);
    expect(() => fromCicp(p, t)).toThrow(why);
  });
});

describe('conversions', () => {
  it('BT.709 to BT.2020 is the matrix of ITU-R BT.2087-0 (table 2, M2), to its four digits', () => {
    // Linear light of BT.709 as PQ of BT.2020 would need it: looked at through linear light.
    const m = { ...fromLinear(primaries.bt709), encoding: 'linear2020' as const };
    const convert = { toLinear: (v: number) => v, from: primaries.bt709, what: 'test' };
    const columns = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ].map((c) => linearOf({ ...m, convert }, c));
    const want = [
      [0.6274, 0.0691, 0.0164],
      [0.3293, 0.9195, 0.088],
      [0.0433, 0.0114, 0.8956],
    ];
    columns.forEach((c, i) => c.forEach((v, k) => expect(Math.abs(v - want[i]![k]!)).toBeLessThan(6e-5)));
  });
  it('the red of Display P3 lies where CSS Color 4 puts it in sRGB: 1.0930, -0.2267, -0.1501', () => {
    const convert = { toLinear: (v: number) => v, from: primaries.p3d65, what: 'test' };
    const got = toMeaning({ encoding: 'srgb', convert }, Float32Array.of(1, 0, 0), 1);
    [1.093, -0.2267, -0.1501].forEach((v, i) => expect(Math.abs(got[i]! - v)).toBeLessThan(2e-4));
  });
  it('white stays white through every conversion, whatever its own white is', () => {
    for (const m of [fromCicp(11, 17), fromCicp(4, 4), fromCicp(12, 16), fromCicp(5, 5)]) {
      const v = Array.from(toMeaning(m, Float32Array.of(0.6, 0.6, 0.6), 1));
      expect(Math.max(...v) - Math.min(...v)).toBeLessThan(2e-6);
    }
  });
  it('whole numbers go the same way as floating point', () => {
    const m = fromCicp(12, 16);
    const codes = Uint16Array.of(0, 1000, 30000, 65535, 12345, 777);
    const a = toMeaning(m, codes, 65535);
    const b = toMeaning(
      m,
      Float32Array.from(codes, (v) => v / 65535),
      1,
    );
    a.forEach((v, i) => expect(Math.abs(v - b[i]!)).toBeLessThan(1e-6));
  });
});

describe('PNG gamma and chromaticities', () => {
  it('the usual pair is sRGB; linear light is linear; others are converted', () => {
    expect(fromGamma(0.45455, null)).toEqual({ encoding: 'srgb', convert: null });
    expect(fromGamma(0.45455, primaries.bt709)).toEqual({ encoding: 'srgb', convert: null });
    expect(fromGamma(null, primaries.p3d65)).toEqual({ encoding: 'p3', convert: null });
    expect(fromGamma(1, null)).toEqual({ encoding: 'linear709', convert: null });
    const mac = fromGamma(1 / 1.8, null);
    expect(mac.encoding).toBe('srgb');
    // 0.5 ^ 1.8 = 0.2872 of light is 0.5729 of sRGB (IEC 61966-2-1).
    expect(toMeaning(mac, Float32Array.of(0.5, 0.5, 0.5), 1)[0]).toBeCloseTo(
      1.055 * (0.5 ** 1.8) ** (1 / 2.4) - 0.055,
      6,
    );
  });
  it('chromaticities that span nothing are refused', () => {
    for (const v of [
      [0.3, 0.3, 0.3, 0.3, 0.3, 0.3, 0.3127, 0.329],
      [NaN, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329],
      [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0],
      [1e9, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329],
    ])
      expect(() => chromaticities(v)).toThrow(/span no colours/);
    expect(chromaticities([0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329])).toMatchObject({ red: [0.64, 0.33] });
  });
});
