/** Encodings: a transfer curve with primaries and a white. What a picture's numbers mean. */
import { curveBlock, decodeBlock, encodeBlock, logFaults } from './curves';
import type { Curve, LogConstants } from './curves';
import { multiply } from './matrix3';
import type { Matrix3 } from './matrix3';

export type Xy = readonly [number, number];
export interface Primaries {
  title: string;
  red: Xy;
  green: Xy;
  blue: Xy;
  white: Xy;
  ref: string;
}
const D65: Xy = [0.3127, 0.329];
const ACES: Xy = [0.32168, 0.33767];
export const primaries = {
  bt709: {
    title: 'BT.709',
    red: [0.64, 0.33],
    green: [0.3, 0.6],
    blue: [0.15, 0.06],
    white: D65,
    ref: 'ITU-R BT.709-6 item 1.3',
  },
  p3d65: {
    title: 'P3, D65',
    red: [0.68, 0.32],
    green: [0.265, 0.69],
    blue: [0.15, 0.06],
    white: D65,
    ref: 'SMPTE EG 432-1',
  },
  bt2020: {
    title: 'BT.2020',
    red: [0.708, 0.292],
    green: [0.17, 0.797],
    blue: [0.131, 0.046],
    white: D65,
    ref: 'ITU-R BT.2020-2 table 3',
  },
  ap0: {
    title: 'ACES AP0',
    red: [0.7347, 0.2653],
    green: [0, 1],
    blue: [0.0001, -0.077],
    white: ACES,
    ref: 'SMPTE ST 2065-1',
  },
  ap1: {
    title: 'ACES AP1',
    red: [0.713, 0.293],
    green: [0.165, 0.83],
    blue: [0.128, 0.044],
    white: ACES,
    ref: 'ACES S-2014-004',
  },
} as const satisfies Record<string, Primaries>;
export type PrimariesId = keyof typeof primaries;

export interface Encoding {
  id: string;
  title: string;
  ref: string;
  curve: Curve;
  primaries: PrimariesId;
  /**
   * `display`: numbers for a screen with white at 1; `scene`: light in front of the camera, or of a brighter screen,
   * that needs a tone rendering.
   */
  referred: 'display' | 'scene';
}
const SRGB: Curve = { kind: 'power', gamma: 2.4, a: 0.055, slope: 12.92, breakLinear: 0.0031308 };
const G24: Curve = { kind: 'power', gamma: 2.4, a: 0, slope: 1, breakLinear: 0 };
/** ACES S-2016-001: proving number 0.18 -> 0.4135884. */
const ACESCCT: Curve = {
  kind: 'log',
  base: 2,
  logSideSlope: 1 / 17.52,
  logSideOffset: 9.72 / 17.52,
  linSideSlope: 1,
  linSideOffset: 0,
  linSideBreak: 0.0078125,
  linearSlope: 10.5402377416545,
};

export const encodings = {
  srgb: { title: 'sRGB', ref: 'IEC 61966-2-1', curve: SRGB, primaries: 'bt709', referred: 'display' },
  bt1886: {
    title: 'BT.709 / BT.1886',
    ref: 'ITU-R BT.1886 Annex 1, Lb = 0',
    curve: G24,
    primaries: 'bt709',
    referred: 'display',
  },
  p3: {
    title: 'Display P3',
    ref: 'SMPTE EG 432-1 primaries with the curve of IEC 61966-2-1',
    curve: SRGB,
    primaries: 'p3d65',
    referred: 'display',
  },
  bt2020: {
    title: 'BT.2020',
    ref: 'ITU-R BT.2020-2, shown by BT.1886',
    curve: G24,
    primaries: 'bt2020',
    referred: 'display',
  },
  hlg: {
    title: 'HLG (BT.2100)',
    ref: 'ITU-R BT.2100-2 table 5',
    curve: { kind: 'hlg' },
    primaries: 'bt2020',
    referred: 'scene',
  },
  pq: {
    title: 'PQ (BT.2100)',
    ref: 'ITU-R BT.2100-2 table 4, SMPTE ST 2084',
    curve: { kind: 'pq' },
    primaries: 'bt2020',
    referred: 'scene',
  },
  linear709: {
    title: 'Linear, BT.709',
    ref: 'linear light',
    curve: { kind: 'linear' },
    primaries: 'bt709',
    referred: 'scene',
  },
  linearP3: {
    title: 'Linear, P3 (D65)',
    ref: 'linear light',
    curve: { kind: 'linear' },
    primaries: 'p3d65',
    referred: 'scene',
  },
  linear2020: {
    title: 'Linear, BT.2020',
    ref: 'linear light',
    curve: { kind: 'linear' },
    primaries: 'bt2020',
    referred: 'scene',
  },
  linearAp0: {
    title: 'Linear, ACES AP0',
    ref: 'SMPTE ST 2065-1',
    curve: { kind: 'linear' },
    primaries: 'ap0',
    referred: 'scene',
  },
  linearAp1: {
    title: 'Linear, ACES AP1',
    ref: 'ACES S-2014-004',
    curve: { kind: 'linear' },
    primaries: 'ap1',
    referred: 'scene',
  },
  acescct: { title: 'ACEScct', ref: 'ACES S-2016-001', curve: ACESCCT, primaries: 'ap1', referred: 'scene' },
  acescc: { title: 'ACEScc', ref: 'ACES S-2014-003', curve: { kind: 'acescc' }, primaries: 'ap1', referred: 'scene' },
} as const satisfies Record<string, Omit<Encoding, 'id'>>;
export type EncodingId = keyof typeof encodings;
export const encodingIds = Object.keys(encodings) as EncodingId[];

/** A log curve by its published constants, named by the user. */
export interface CustomEncoding {
  name: string;
  log: LogConstants;
  primaries: PrimariesId;
}
/** What a shot says of its numbers: a known encoding, constants, or a lookup table to the display by its id. */
export type EncodingRef = EncodingId | CustomEncoding | { table: string };

const known = new Map<EncodingId, Encoding>(encodingIds.map((id) => [id, { id, ...encodings[id] }]));
/** Throws a RangeError that names the fault. A lookup table stands for what it gives: the display's numbers. */
export function resolveEncoding(ref: EncodingRef): Encoding {
  if (typeof ref === 'string') {
    const e = known.get(ref);
    if (!e) throw new RangeError(`There is no encoding "${String(ref)}" in this version of the application`);
    return e;
  }
  if ('table' in ref) return { ...known.get('bt1886')!, id: `table ${ref.table}`, title: 'Lookup table' };
  const faults = logFaults(ref.log);
  if (faults[0]) throw new RangeError(`The encoding "${ref.name}": ${faults.join(', ')}`);
  return {
    id: `custom ${ref.name}`,
    title: ref.name,
    ref: "the user's constants",
    curve: { kind: 'log', ...ref.log },
    primaries: ref.primaries,
    referred: 'scene',
  };
}

const blocks = new WeakMap<Curve, number[]>();
const blockOf = (c: Curve): number[] => {
  let b = blocks.get(c);
  if (!b) blocks.set(c, (b = curveBlock(c)));
  return b;
};
export const decode = (e: Pick<Encoding, 'curve'>, v: number): number => decodeBlock(blockOf(e.curve), 0, v);
export const encode = (e: Pick<Encoding, 'curve'>, v: number): number => encodeBlock(blockOf(e.curve), 0, v);
/** Signal of the 18 % grey card. */
export const greySignal = (e: Pick<Encoding, 'curve'>): number => encode(e, 0.18);

function invert(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m;
  const A = e * i - f * h;
  const B = f * g - d * i;
  const C = d * h - e * g;
  const det = a * A + b * B + c * C;
  return [
    A / det,
    (c * h - b * i) / det,
    (b * f - c * e) / det,
    B / det,
    (a * i - c * g) / det,
    (c * d - a * f) / det,
    C / det,
    (b * g - a * h) / det,
    (a * e - b * d) / det,
  ];
}
export const apply3 = (m: Matrix3, v: readonly [number, number, number]): [number, number, number] => [
  m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
  m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
  m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
];
export const xyToXyz = ([x, y]: Xy): [number, number, number] => [x / y, 1, (1 - x - y) / y];

/** Linear RGB -> XYZ, white at Y = 1: SMPTE RP 177 section 3.3. */
export function rgbToXyz(p: Pick<Primaries, 'red' | 'green' | 'blue' | 'white'>): Matrix3 {
  const [r, g, b] = [p.red, p.green, p.blue].map(([x, y]) => [x, y, 1 - x - y] as const);
  const m: Matrix3 = [r![0], g![0], b![0], r![1], g![1], b![1], r![2], g![2], b![2]];
  const s = apply3(invert(m), xyToXyz(p.white));
  return [
    m[0] * s[0],
    m[1] * s[1],
    m[2] * s[2],
    m[3] * s[0],
    m[4] * s[1],
    m[5] * s[2],
    m[6] * s[0],
    m[7] * s[1],
    m[8] * s[2],
  ];
}
/** Linearised Bradford cone response: ICC.1:2022, Annex E.3. */
const BRADFORD: Matrix3 = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];
/** XYZ under one white -> corresponding XYZ under another. Equal whites give the identity exactly. */
export function adapt(from: Xy, to: Xy): Matrix3 {
  if (from[0] === to[0] && from[1] === to[1]) return [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const a = apply3(BRADFORD, xyToXyz(from));
  const b = apply3(BRADFORD, xyToXyz(to));
  return multiply(invert(BRADFORD), multiply([b[0] / a[0], 0, 0, 0, b[1] / a[1], 0, 0, 0, b[2] / a[2]], BRADFORD));
}
/** Linear RGB of one set of primaries -> another, adapted where the whites differ. */
export function rgbToRgb(from: PrimariesId, to: PrimariesId): Matrix3 {
  if (from === to) return [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const [a, b] = [primaries[from], primaries[to]];
  return multiply(invert(rgbToXyz(b)), multiply(adapt(a.white, b.white), rgbToXyz(a)));
}
export { invert as invert3 };
