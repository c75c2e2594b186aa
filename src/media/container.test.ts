import { describe, expect, it } from 'vitest';
import { bitsOf, layoutOf, matrixOf, rateOfTimes } from './clip';
import { mp4Facts, webmFacts } from './container';
import { runOf } from './sequence';

const bytes = (...parts: (number | string | number[] | Uint8Array)[]): Uint8Array =>
  Uint8Array.from(
    parts.flatMap((p) =>
      typeof p === 'number' ? [p] : typeof p === 'string' ? [...p].map((c) => c.charCodeAt(0)) : [...p],
    ),
  );
const u32 = (n: number): number[] => [n >>> 24, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
const u16 = (n: number): number[] => [n >> 8, n & 255];
/** A box of ISO/IEC 14496-12. */
const box = (type: string, ...inside: (number[] | Uint8Array | string | number)[]): Uint8Array => {
  const body = bytes(...inside);
  return bytes(u32(body.length + 8), type, body);
};
const zeros = (n: number): number[] => new Array<number>(n).fill(0);
const hdlr = (kind: string): Uint8Array => box('hdlr', zeros(8), kind, zeros(12), 0);
function mp4(entry: Uint8Array[], edits: number[] = [0], tmcd?: { at: number; drop: boolean }): Blob {
  const visual = box('avc1', zeros(78), ...entry);
  const video = box(
    'trak',
    box('edts', box('elst', zeros(4), u32(edits.length), ...edits.flatMap((t) => [u32(100), u32(t), u32(0x10000)]))),
    box('mdia', hdlr('vide'), box('minf', box('stbl', box('stsd', zeros(4), u32(1), visual)))),
  );
  const time = tmcd
    ? box(
        'trak',
        box(
          'mdia',
          hdlr('tmcd'),
          box(
            'minf',
            box(
              'stbl',
              box('stsd', zeros(4), u32(1), box('tmcd', zeros(8), zeros(4), u32(tmcd.drop ? 1 : 0), zeros(10))),
              box('stco', zeros(4), u32(1), u32(tmcd.at)),
            ),
          ),
        ),
      )
    : new Uint8Array(0);
  // The timecode's number lies in the media data, before the description here.
  return new Blob([box('ftyp', 'isom'), box('mdat', u32(107892)), box('moov', video, time)] as BlobPart[]);
}

describe('what an MP4 says', () => {
  it('colour code points and full range (ISO/IEC 14496-12, colr nclx)', async () => {
    const f = await mp4Facts(mp4([box('colr', 'nclx', u16(9), u16(16), u16(9), 0x80)]));
    expect(f).toMatchObject({ primaries: 9, transfer: 16, matrix: 9, full: true, interlaced: false, edits: 1 });
    // QuickTime's older form has no range.
    expect((await mp4Facts(mp4([box('colr', 'nclc', u16(1), u16(1), u16(1))]))).full).toBeNull();
  });
  it('edits: a pause before the start is none, two pieces are two', async () => {
    expect((await mp4Facts(mp4([], [0xffffffff, 20]))).edits).toBe(1);
    expect((await mp4Facts(mp4([], [0, 500]))).edits).toBe(2);
  });
  it('interlaced fields, by box and by parameter set', async () => {
    expect((await mp4Facts(mp4([box('fiel', 2, 14)]))).interlaced).toBe(true);
    expect((await mp4Facts(mp4([box('fiel', 1, 0)]))).interlaced).toBe(false);
  });
  it('places of chroma: VP Codec ISO binding and AV1 ISO binding', async () => {
    expect((await mp4Facts(mp4([box('vpcC', zeros(6), 0x80, zeros(5))]))).siting).toBe('left');
    expect((await mp4Facts(mp4([box('vpcC', zeros(6), 0x82, zeros(5))]))).siting).toBe('topLeft');
    expect((await mp4Facts(mp4([box('vpcC', zeros(6), 0x86, zeros(5))]))).siting).toBeNull();
    expect((await mp4Facts(mp4([box('av1C', 0x81, 0, 0x0e, 0)]))).siting).toBe('topLeft');
  });
  it('a timecode track: its number and whether numbers are dropped', async () => {
    expect((await mp4Facts(mp4([], [0], { at: 20, drop: true }))).timecode).toEqual({ start: 107892, drop: true });
    expect((await mp4Facts(mp4([]))).timecode).toBeNull();
  });
  it('nothing where there is nothing, and no end without one', async () => {
    expect(await mp4Facts(new Blob([bytes('nonsense')] as BlobPart[]))).toMatchObject({ edits: 0, matrix: null });
    const whole = new Uint8Array(await mp4([box('colr', 'nclx', u16(9), u16(16), u16(9), 0x80)]).arrayBuffer());
    for (let n = 0; n < whole.length; n += 7) await mp4Facts(new Blob([whole.subarray(0, n)]));
  });
});

describe('what a WebM says (RFC 9559)', () => {
  const el = (id: number[], ...inside: (number[] | Uint8Array)[]): Uint8Array => {
    const body = bytes(...inside);
    return bytes(id, [0x40 | (body.length >> 8), body.length & 255], body);
  };
  const file = (...video: Uint8Array[]): Blob =>
    new Blob([
      el([0x1a, 0x45, 0xdf, 0xa3], [0]),
      // A segment of unknown length, as a recorder writes it.
      bytes([0x18, 0x53, 0x80, 0x67], 0x01, [255, 255, 255, 255, 255, 255, 255]),
      el([0x16, 0x54, 0xae, 0x6b], el([0xae], el([0xe0], ...video))),
      el([0x1f, 0x43, 0xb6, 0x75], [9, 9, 9]),
    ] as BlobPart[]);
  it('colour, range, chroma, fields', async () => {
    const f = await webmFacts(
      file(
        el([0x9a], [1]),
        el(
          [0x55, 0xb0],
          el([0x55, 0xb1], [9]),
          el([0x55, 0xba], [16]),
          el([0x55, 0xbb], [9]),
          el([0x55, 0xb9], [2]),
          el([0x55, 0xb7], [1]),
          el([0x55, 0xb8], [1]),
        ),
      ),
    );
    expect(f).toMatchObject({ matrix: 9, transfer: 16, primaries: 9, full: true, siting: 'topLeft', interlaced: true });
    expect(await webmFacts(file())).toMatchObject({ matrix: null, full: null, siting: null, interlaced: false });
  });
  it('ends on anything', async () => {
    await webmFacts(new Blob([new Uint8Array(50)]));
    await webmFacts(new Blob([new Uint8Array(50).fill(255)]));
  });
});

describe('frames', () => {
  it('rates from rounded times: usual ones, and whether they vary', () => {
    const at = (fps: number, n: number, ms = false): number[] =>
      Array.from({ length: n }, (_, i) => (ms ? Math.round((1000 * i) / fps) / 1000 : i / fps));
    expect(rateOfTimes(at(24, 72, true))).toEqual({ rate: [24, 1], variable: false });
    expect(rateOfTimes(at(24000 / 1001, 240, true))).toEqual({ rate: [24000, 1001], variable: false });
    expect(rateOfTimes(at(30000 / 1001, 30))).toEqual({ rate: [30000, 1001], variable: false });
    expect(rateOfTimes(at(25, 2, true)).rate).toEqual([25, 1]);
    expect(rateOfTimes(at(17.5, 70)).rate).toEqual([17500, 1000]);
    expect(rateOfTimes([0, 0.04, 0.12, 0.16]).variable).toBe(true);
    expect(rateOfTimes([0]).rate).toEqual([24, 1]);
  });
  it('formats of decoders, bits of codec strings, matrices: known, or refused in words', () => {
    expect(layoutOf('I420P10')).toEqual({ bits: 10, subX: 2, subY: 2, interleaved: false });
    expect(layoutOf('I422')).toMatchObject({ bits: 8, subX: 2, subY: 1 });
    expect(layoutOf('I444A')).toMatchObject({ subX: 1, subY: 1 });
    expect(layoutOf('NV12').interleaved).toBe(true);
    expect(() => layoutOf(null)).toThrow(/does not say/);
    expect(() => layoutOf('BGRX')).toThrow(/BGRX/);
    expect([bitsOf('vp09.02.10.10'), bitsOf('av01.0.04M.08'), bitsOf('avc1.6e0028'), bitsOf('vp8')]).toEqual([
      10, 8, 10, 8,
    ]);
    expect([matrixOf(1), matrixOf(6), matrixOf(9), matrixOf(2), matrixOf(null)]).toEqual([
      'bt709',
      'bt601',
      'bt2020',
      null,
      null,
    ]);
    expect(() => matrixOf(10)).toThrow(/kind 10/);
  });
  it('numbered files: the run, its gaps, what does not belong', () => {
    const run = runOf(['a_0003.png', 'a_0001.png', 'notes.txt', 'a_0002.png', 'a_0007.png', 'b_1.png'])!;
    expect(run.names).toEqual(['a_0001.png', 'a_0002.png', 'a_0003.png', 'a_0007.png']);
    expect(run).toMatchObject({ title: 'a_[0001-0007].png', gaps: '4 to 6', odd: ['notes.txt', 'b_1.png'] });
    // By their numbers, not by their letters.
    expect(runOf(['x9.png', 'x10.png', 'x8.png'])!.names).toEqual(['x8.png', 'x9.png', 'x10.png']);
    expect(runOf(['one.png', 'two2.png'])).toBeNull();
  });
});
