/**
 * Encodings against published values: curves and grey cards (data/transfer_functions.json: computed in 30-digit
 * decimal, cross-checked
 * there with colorjs.io 0.7.1 and PyOpenColorIO 2.1.2), matrices, adaptation, log curves by constants.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { logFaults, logLinear, PQ_WHITE } from '../src/core/color/curves';
import type { LogConstants } from '../src/core/color/curves';
import {
  adapt,
  apply3,
  decode,
  encode,
  encodingIds,
  greySignal,
  primaries,
  resolveEncoding,
  rgbToRgb,
  rgbToXyz,
  xyToXyz,
} from '../src/core/color/encodings';
import type { EncodingId } from '../src/core/color/encodings';
import { adaptWhite, kelvinToMired, miredToKelvin, planckUv, xyToUv } from '../src/core/color/locus';

const data = JSON.parse(readFileSync(join(import.meta.dirname, 'data/transfer_functions.json'), 'utf8')) as {
  curves: Record<string, { linear?: number; nits?: number; encoded: number }[]>;
  grey18: Record<string, { value: number; full10: number }>;
  rec709_rgb_to_xyz: { matrix?: number[][] } | number[][];
};
const e = (id: EncodingId) => resolveEncoding(id);

describe('curves', () => {
  it.each([
    ['srgb', 'sRGB'],
    ['bt1886', 'BT1886_inverse_gamma2.4'],
    ['acescct', 'ACEScct'],
  ] as const)('%s: every value of the table, both ways', (id, name) => {
    for (const { linear, encoded } of data.curves[name]!) {
      expect(Math.abs(encode(e(id), linear!) - encoded)).toBeLessThan(2e-9);
      expect(Math.abs(decode(e(id), encoded) - linear!)).toBeLessThan(2e-8 * Math.max(1, linear!));
    }
  });
  it('PQ: every value of the table (SMPTE ST 2084), with 203 cd/m2 as white', () => {
    for (const { nits, encoded } of data.curves['PQ_ST2084']!) {
      expect(Math.abs(encode(e('pq'), nits! / PQ_WHITE) - encoded)).toBeLessThan(2e-9);
      if (nits! > 0.01) expect(Math.abs((decode(e('pq'), encoded) * PQ_WHITE) / nits! - 1)).toBeLessThan(1e-6);
    }
    // BT.2408-7 table 1: HDR reference white, 203 cd/m2, is 58 % PQ and 75 % HLG.
    expect(encode(e('pq'), 1)).toBeCloseTo(0.58, 2);
    expect(encode(e('hlg'), 1)).toBeCloseTo(0.75, 9);
  });
  it('HLG: every value of the table (BT.2100-2 table 5), where scene light 1 is the peak', () => {
    const peak = decode(e('hlg'), 1);
    for (const { linear, encoded } of data.curves['HLG_OETF']!)
      expect(Math.abs(encode(e('hlg'), linear! * peak) - encoded)).toBeLessThan(2e-7);
  });
  it('grey cards: the codes of 18 % in every encoding', () => {
    // 10-bit full-range codes: sRGB, BT.1886 and ACEScct of the table; P3 and BT.2020 have the same curves; HLG 38 %,
    // PQ 41 % by BT.2408's white; ACEScc 0.4136 (S-2014-003); linear 0.18.
    const want: Record<EncodingId, number> = {
      srgb: data.grey18['sRGB']!.full10,
      p3: data.grey18['sRGB']!.full10,
      bt1886: data.grey18['BT1886_inverse_gamma2.4']!.full10,
      bt2020: data.grey18['BT1886_inverse_gamma2.4']!.full10,
      acescct: data.grey18['ACEScct']!.full10,
      acescc: 423,
      linear709: 184,
      linearP3: 184,
      linear2020: 184,
      linearAp0: 184,
      linearAp1: 184,
      hlg: Math.round(1023 * 0.37825888),
      pq: Math.round(1023 * 0.41089675),
    };
    for (const id of encodingIds) expect(Math.round(1023 * greySignal(e(id))), id).toBe(want[id]);
  });
  it('every curve goes back to where it came from, over its whole range', () => {
    for (const id of encodingIds)
      for (let v = 0.02; v <= 1; v += 0.02)
        expect(Math.abs(encode(e(id), decode(e(id), v)) - v), `${id} ${v}`).toBeLessThan(1e-9);
  });
});

describe('log curves by constants, as the Common LUT Format has them', () => {
  const acescct: LogConstants = {
    base: 2,
    logSideSlope: 1 / 17.52,
    logSideOffset: 9.72 / 17.52,
    linSideSlope: 1,
    linSideOffset: 0,
    linSideBreak: 0.0078125,
  };
  it('ACEScct by its constants is ACEScct; the slope below the break follows', () => {
    const own = resolveEncoding({ name: 'mine', log: acescct, primaries: 'ap1' });
    for (const { linear, encoded } of data.curves['ACEScct']!)
      expect(Math.abs(encode(own, linear!) - encoded)).toBeLessThan(1e-8);
    // ACES S-2016-001: A = 10.5402377416545.
    expect(logLinear(acescct).slope).toBeCloseTo(10.5402377416545, 6);
    expect(own.referred).toBe('scene');
  });
  it('faults are named', () => {
    expect(logFaults({ ...acescct, base: 1 }).join()).toMatch(/base/);
    expect(logFaults({ ...acescct, logSideSlope: NaN }).join()).toMatch(/logSideSlope is not a number/);
    expect(logFaults({ ...acescct, linSideBreak: -1 }).join()).toMatch(/break/);
    expect(() => resolveEncoding({ name: 'bad', log: { ...acescct, linSideSlope: 0 }, primaries: 'ap1' })).toThrow(
      /"bad"/,
    );
    expect(() => resolveEncoding('nothing' as EncodingId)).toThrow(/no encoding/);
  });
});

describe('matrices', () => {
  it('BT.709 to XYZ is the published matrix (SMPTE RP 177 derivation; BT.709-6 item 1.3)', () => {
    const want = [
      0.4123907992659594, 0.35758433938387796, 0.1804807884018343, 0.21263900587151027, 0.7151686787677559,
      0.07219231536073371, 0.01933081871559182, 0.11919477979462598, 0.9505321522496607,
    ];
    rgbToXyz(primaries.bt709).forEach((v, i) => expect(v).toBeCloseTo(want[i]!, 9));
  });
  it('BT.709 in BT.2020 (ITU-R BT.2087-0) and AP0 to AP1 (ACES S-2014-004) are the published ones', () => {
    const to2020 = [0.627404, 0.329283, 0.043313, 0.069097, 0.91954, 0.011362, 0.016391, 0.088013, 0.895595];
    rgbToRgb('bt709', 'bt2020').forEach((v, i) => expect(v).toBeCloseTo(to2020[i]!, 5));
    const toAp1 = [
      1.4514393161, -0.2365107469, -0.2149285693, -0.0765537734, 1.1762296998, -0.0996759264, 0.0083161484,
      -0.0060324498, 0.9977163014,
    ];
    rgbToRgb('ap0', 'ap1').forEach((v, i) => expect(v).toBeCloseTo(toAp1[i]!, 6));
  });
  it('white stays white from any primaries to any others, and there and back is the identity', () => {
    const ids = Object.keys(primaries) as (keyof typeof primaries)[];
    for (const a of ids)
      for (const b of ids) {
        apply3(rgbToRgb(a, b), [1, 1, 1]).forEach((v) => expect(v).toBeCloseTo(1, 9));
        apply3(rgbToRgb(b, a), apply3(rgbToRgb(a, b), [0.3, -0.1, 0.7])).forEach((v, i) =>
          expect(v).toBeCloseTo([0.3, -0.1, 0.7][i]!, 9),
        );
      }
  });
  it('Bradford from D65 to D50 is the matrix of ICC.1:2022 Annex E.3', () => {
    const want = [1.0479298, 0.0229468, -0.0501922, 0.0296278, 0.9904345, -0.0170738, -0.009243, 0.0150552, 0.7518743];
    const d50: readonly [number, number] = [0.3457, 0.3585];
    adapt([0.3127, 0.329], d50).forEach((v, i) => expect(Math.abs(v - want[i]!)).toBeLessThan(4e-4));
    apply3(adapt([0.3127, 0.329], d50), xyToXyz([0.3127, 0.329])).forEach((v, i) =>
      expect(v).toBeCloseTo(xyToXyz(d50)[i]!, 9),
    );
  });
});

describe('temperature', () => {
  it('the locus passes illuminant A (CIE 15:2018: 2856 K, u 0.2560 v 0.3495) and near D65 where it should', () => {
    const [u, v] = planckUv(2856);
    expect(u).toBeCloseTo(0.256, 3);
    expect(v).toBeCloseTo(0.3495, 3);
    // D65 lies off the locus by Duv +0.0032 (ANSI C78.377, from memory).
    const [a, b] = [planckUv(6504), xyToUv([0.3127, 0.329])];
    expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeCloseTo(0.0032, 3);
  });
  it('mired and kelvin go both ways, and no shift is the identity', () => {
    for (const k of [3000, 6504, 12000]) expect(miredToKelvin(kelvinToMired(k))).toBeCloseTo(k, 6);
    expect(adaptWhite([0.3127, 0.329], 0, 0)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  });
  it('warmer turns white towards red, tint towards magenta', () => {
    const m = (mired: number, tint: number): [number, number, number] =>
      apply3(adaptWhite([0.3127, 0.329], mired, tint), xyToXyz([0.3127, 0.329]));
    expect(m(40, 0)[2]).toBeLessThan(m(0, 0)[2]);
    const xy = ([X, Y, Z]: [number, number, number]): number => Y / (X + Y + Z);
    expect(xy(m(0, 20))).toBeLessThan(xy(m(0, 0)));
  });
});
