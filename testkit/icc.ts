/** Small profiles for tests, written byte by byte as ICC.1:2022 says. */
const s15 = (v: number): number[] => {
  const n = Math.round(v * 65536) >>> 0;
  return [n >>> 24, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
};
const u32 = (n: number): number[] => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
const u16 = (n: number): number[] => [(n >>> 8) & 255, n & 255];
const ascii = (t: string): number[] => [...t].map((c) => c.charCodeAt(0));

export type TestCurve = { gamma: number } | { para: number[]; kind: number };
const curve = (c: TestCurve): number[] =>
  'gamma' in c
    ? [...ascii('curv'), 0, 0, 0, 0, ...u32(1), ...u16(Math.round(c.gamma * 256)), 0, 0]
    : [...ascii('para'), 0, 0, 0, 0, ...u16(c.kind), 0, 0, ...c.para.flatMap(s15)];
const xyz = (v: readonly number[]): number[] => [...ascii('XYZ '), 0, 0, 0, 0, ...v.flatMap(s15)];
const text = (t: string): number[] => [
  ...ascii('desc'),
  0,
  0,
  0,
  0,
  ...u32(t.length + 1),
  ...ascii(t),
  0,
  ...new Array<number>(79).fill(0),
];

/** `matrix`: columns of red, green, blue under D50; null: none, as in a profile by tables. */
export function makeIcc(
  name: string,
  matrix: readonly (readonly number[])[] | null,
  tone: TestCurve,
  space = 'RGB ',
): Uint8Array {
  const tags: [string, number[]][] = [
    ['desc', text(name)],
    ['wtpt', xyz([0.9642, 1, 0.8249])],
    ['cprt', [...ascii('text'), 0, 0, 0, 0, 0]],
  ];
  if (matrix) ['rXYZ', 'gXYZ', 'bXYZ'].forEach((t, i) => tags.push([t, xyz(matrix[i]!)]));
  for (const t of space === 'GRAY' ? ['kTRC'] : ['rTRC', 'gTRC', 'bTRC'])
    if (matrix || space === 'GRAY') tags.push([t, curve(tone)]);
  const body: number[] = [];
  const table: number[] = [...u32(tags.length)];
  const start = 128 + 4 + 12 * tags.length;
  for (const [sig, data] of tags) {
    table.push(...ascii(sig), ...u32(start + body.length), ...u32(data.length));
    body.push(...data);
    while (body.length % 4) body.push(0);
  }
  const size = start + body.length;
  const head = new Array<number>(128).fill(0);
  head.splice(0, 4, ...u32(size));
  head.splice(8, 4, 'para' in tone ? 4 : 2, 0x20, 0, 0);
  head.splice(12, 4, ...ascii('mntr'));
  head.splice(16, 4, ...ascii(space));
  head.splice(20, 4, ...ascii('XYZ '));
  head.splice(36, 4, ...ascii('acsp'));
  head.splice(68, 12, ...s15(0.9642), ...s15(1), ...s15(0.8249));
  return Uint8Array.from([...head, ...table, ...body]);
}
/** IEC 61966-2-1 under D50: the colorants of the commonly shipped profile (from memory), its curve as 'para' type 3. */
export const SRGB_MATRIX = [
  [0.4361, 0.2225, 0.0139],
  [0.3851, 0.7169, 0.0971],
  [0.1431, 0.0606, 0.7142],
] as const;
export const SRGB_PARA: TestCurve = { kind: 3, para: [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045] };
/** A wide RGB of gamma 2.2 with a green at (0.21, 0.71) (from memory). */
export const WIDE_MATRIX = [
  [0.60974, 0.31111, 0.01947],
  [0.20528, 0.62567, 0.06087],
  [0.14919, 0.06322, 0.74457],
] as const;
