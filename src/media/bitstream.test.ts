import { readFileSync } from 'node:fs';
import { describe, expect, it, vi } from 'vitest';
import { bitstreamFacts, readSps } from './bitstream';

const hex = (s: string): Uint8Array => Uint8Array.from(s.match(/../g) ?? [], (x) => parseInt(x, 16));
/** Bits to bytes, as a NAL unit with its header. */
const nal = (bits: string): Uint8Array => {
  const b = `${bits}1`.padEnd(Math.ceil((bits.length + 1) / 8) * 8, '0');
  return Uint8Array.from([0x67, ...(b.match(/.{8}/g) ?? []).map((x) => parseInt(x, 2))]);
};
const ue = (n: number): string => {
  const x = (n + 1).toString(2);
  return '0'.repeat(x.length - 1) + x;
};
const sps = (progressive: boolean, vui: string): Uint8Array =>
  nal(
    // Main profile, level 4; set 0, frame numbers of 4 bits, order type 0 of 4 bits, 1 reference, no gaps, 40 x 30.
    '01001101' +
      '00000000' +
      '00101000' +
      ue(0) +
      ue(0) +
      ue(0) +
      ue(0) +
      ue(1) +
      '0' +
      ue(39) +
      ue(29) +
      (progressive ? '1' : '00') +
      '1' +
      '0' +
      vui,
  );
describe('a parameter set of H.264 (ITU-T H.264, 7.3.2.1)', () => {
  it('says whether frames are whole, and where chroma lies', () => {
    expect(readSps(sps(true, '0'))).toMatchObject({ interlaced: false, siting: null, full: false, matrix: null });
    expect(readSps(sps(false, '0')).interlaced).toBe(true);
    // No aspect, no overscan, no signal type, chroma at the left top (type 2).
    expect(readSps(sps(true, `1000 1${ue(2)}${ue(2)}`.replaceAll(' ', ''))).siting).toBe('topLeft');
    expect(() => readSps(Uint8Array.of(0x67, 77))).toThrow(RangeError);
  });
});

// Written by libx264, libaom and libvpx; the code points set by ffmpeg 5.1 (h264_metadata, av1_metadata).
describe('what the pictures of a clip say of themselves', () => {
  it('H.264: code points that have no name too, with start codes and in a description', () => {
    const said = (end: string): string => `6764001eacd940a02ff97016${end}`;
    const ycgco = said('a04041080000030008000003018078b16cb0');
    expect(bitstreamFacts('avc', null, hex(`00000001${ycgco}`))).toEqual({
      primaries: null,
      transfer: null,
      matrix: 8,
      full: false,
      siting: null,
      halved: true,
      interlaced: false,
    });
    const p3 = said('a16221280000030008000003018078b16cb0');
    const record = hex(`0164001effe1${(p3.length / 2).toString(16).padStart(4, '0')}${p3}`);
    expect(bitstreamFacts('avc', record, new Uint8Array(0))).toMatchObject({ primaries: 11, transfer: 17, matrix: 9 });
    expect(bitstreamFacts('avc', null, hex(`000001${said('a0404036e0000003002000000601e2c5b2c0')}`))).toMatchObject({
      matrix: 1,
      full: false,
      siting: 'topLeft',
    });
  });
  it('AV1: a sequence header among other units (5.5.1, 5.5.2)', () => {
    expect(bitstreamFacts('av1', null, hex('12000a0e0000000cc4ff6736be5424402010'))).toMatchObject({
      primaries: 9,
      transfer: 16,
      matrix: 8,
      full: false,
      siting: null,
      halved: true,
    });
    expect(bitstreamFacts('av1', null, hex('12000a0d20000002aff79b5f2424482640'))).toMatchObject({
      primaries: 9,
      transfer: 18,
      matrix: 9,
      full: true,
      halved: false,
    });
    expect(bitstreamFacts('av1', null, hex('12000a0b0000000cc4ff6736be5310'))).toMatchObject({
      matrix: null,
      full: true,
      siting: 'topLeft',
    });
  });
  it('VP9: its matrix and range, of which the primaries and the curve are not told (7.2.2)', () => {
    expect(bitstreamFacts('vp9', null, hex('a24983429000'))).toMatchObject({
      primaries: null,
      transfer: null,
      matrix: 7,
      full: true,
      halved: false,
    });
    expect(bitstreamFacts('vp9', null, hex('b124c1a10201'))).toMatchObject({ matrix: null, full: false, halved: true });
  });
  it('VP8 and others say nothing; what is cut or damaged neither, with a warning and no fault', () => {
    const warn = vi.spyOn(console, 'warn').mockImplementation(() => {});
    expect(bitstreamFacts('vp8', null, hex('9042009d012a'))).toMatchObject({ matrix: null, full: null });
    const av1 = hex('12000a0e0000000cc4ff6736be5424402010');
    for (let n = 0; n < 15; n++) expect(bitstreamFacts('av1', null, av1.subarray(0, n)).matrix).toBeNull();
    for (const codec of ['avc', 'av1', 'vp9'])
      for (const x of [0, 255]) expect(bitstreamFacts(codec, null, new Uint8Array(40).fill(x)).interlaced).toBe(false);
    expect(warn).toHaveBeenCalled();
    warn.mockRestore();
  });
  it('agrees with what the containers of the test clips say', () => {
    const file = readFileSync('tests/data/clips/av1-10.mp4');
    const at = file.indexOf('av1C') + 8;
    expect(bitstreamFacts('av1', null, file.subarray(at, at + 40))).toMatchObject({
      primaries: 1,
      matrix: 1,
      full: false,
    });
    const h264 = readFileSync('tests/data/clips/h264-601-full.mp4');
    const box = h264.indexOf('avcC') + 4;
    expect(bitstreamFacts('avc', h264.subarray(box, box + 60), new Uint8Array(0))).toMatchObject({
      matrix: 5,
      full: true,
    });
  });
});
