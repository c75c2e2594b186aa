/** Sound of clips that ffmpeg made: its packets leave as they came, at their times. */
import { openAsBlob } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { ALL_FORMATS, BlobSource, EncodedPacketSink, Input } from 'mediabunny';
import { describe, expect, it } from 'vitest';
import { Clock, placePiece } from '../src/app/sound';
import { Clip } from '../src/media/clip';
import { endOfSound, holds, Sound, writeSound } from '../src/media/sound';
import { writerOf } from '../src/media/writeFrames';
import { clipDir } from '../testkit/clipData';

const at = (name: string): string => join(/^(aac|pcm|two)/.test(name) ? join(clipDir, '../sound') : clipDir, name);
interface Packet {
  at: number;
  data: Uint8Array;
}
async function packetsOf(file: Blob): Promise<{ codec: string | null; zero: number; packets: Packet[] }> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(file) });
  const track = (await input.getAudioTracks())[0]!;
  const packets: Packet[] = [];
  for await (const p of new EncodedPacketSink(track).packets()) packets.push({ at: p.timestamp, data: p.data });
  const zero = Math.max(0, (await (await input.getPrimaryVideoTrack())?.getFirstTimestamp()) ?? 0);
  const codec = await track.getCodec();
  input.dispose();
  return { codec, zero, packets };
}
function collector() {
  let data = new Uint8Array(0);
  return {
    put: (d: Uint8Array, at: number) => {
      if (at + d.length > data.length) {
        const more = new Uint8Array(at + d.length);
        more.set(data);
        data = more;
      }
      data.set(d, at);
    },
    get blob() {
      return new Blob([data]);
    },
    get bytes() {
      return data;
    },
  };
}
const same = (a: Uint8Array, b: Uint8Array): boolean => Buffer.compare(a, b) === 0;

describe('sound copied out of a clip', () => {
  it.each([
    ['with-sound.webm', 'ogg', 0.1, 0.4],
    ['aac.mp4', 'm4a', 0.5, 1.5],
    ['aac.mp4', 'm4a', 0, 9],
    ['pcm.mov', 'wav', 0.25, 1.75],
  ])('%s to .%s, from %f to %f s', async (name, end, from, to) => {
    const file = await openAsBlob(at(name));
    const all = await packetsOf(file);
    expect(endOfSound(all.codec!)).toBe(end);
    // The packets that begin in the range, by their times in the file.
    const meant = all.packets.filter((p) => p.at - all.zero >= from - 1e-6 && p.at - all.zero < to - 1e-6);
    expect(meant.length).toBeGreaterThan(5);
    const out = collector();
    const copied = await writeSound({ file, from, to }, out.put);
    expect(copied!.packets).toBe(meant.length);
    expect(copied!.late).toBeCloseTo(meant[0]!.at - all.zero - from, 6);
    const got = await packetsOf(out.blob);
    expect(got.codec).toBe(all.codec);
    const [a, b] = [got, { packets: meant }].map((x) => Buffer.concat(x.packets.map((p) => p.data)));
    expect(same(a!, b!)).toBe(true);
    // Uncompressed sound has no packets of its own in its file, nor times.
    if (end === 'wav') return;
    expect(got.packets).toHaveLength(meant.length);
    got.packets.forEach((p, i) =>
      expect(Math.abs(p.at - got.packets[0]!.at - (meant[i]!.at - meant[0]!.at))).toBeLessThan(0.0015),
    );
  });
  it('lies in an archive of pictures, whole and with its own end', async () => {
    const file = await openAsBlob(at('aac.mp4'));
    const out = collector();
    const w = await writerOf({ kind: 'png', bits: 16 }, [24, 1], out.put, { file, from: 0, to: 1, name: 'a.sound' });
    const data = new Uint16Array(12).fill(4321);
    await w.frame({ width: 2, height: 2, channels: 3, bits: 16, data }, 'a.0000.png');
    const copied = await w.end();
    const files = unzipSync(out.bytes);
    expect(Object.keys(files).sort()).toEqual(['a.0000.png', 'a.sound.m4a']);
    const got = await packetsOf(new Blob([Uint8Array.from(files['a.sound.m4a']!)]));
    expect(got.packets).toHaveLength(copied!.packets);
    const all = await packetsOf(file);
    expect(same(got.packets[3]!.data, all.packets.filter((p) => p.at >= -1e-6)[3]!.data)).toBe(true);
  });
  it('says what holds what, and that a silent clip is silent', async () => {
    expect(holds('webm', 'aac')).toBe(false);
    expect(holds('mp4', 'aac')).toBe(true);
    expect(holds('webm', 'opus')).toBe(true);
    expect(await Sound.open(await openAsBlob(at('vp9.webm')))).toBeNull();
    const out = collector();
    expect(await writeSound({ file: await openAsBlob(at('vp9.webm')), from: 0, to: 1 }, out.put)).toBeNull();
    const s = await Sound.open(await openAsBlob(at('aac.mp4')));
    expect(s!.info).toEqual({ codec: 'aac', title: 'AAC', channels: 1, rate: 48000, tracks: 1 });
    s!.close();
  });
  it('of two tracks says that the first is meant, and copies that one', async () => {
    const file = await openAsBlob(at('two-tracks.mp4'));
    const c = await Clip.open(file, false);
    c.close();
    expect(c.info.notes.join()).toContain('of its 2 tracks of sound the first');
    const s = await Sound.open(file);
    expect(s!.info.tracks).toBe(2);
    s!.close();
    const out = collector();
    await writeSound({ file, from: 0, to: 1 }, out.put);
    const [all, got] = [await packetsOf(file), await packetsOf(out.blob)];
    expect(same(got.packets[4]!.data, all.packets.filter((p) => p.at >= -1e-6)[4]!.data)).toBe(true);
  });
  it('a range without sound writes no file of it', async () => {
    const file = await openAsBlob(at('aac.mp4'));
    const out = collector();
    expect(await writeSound({ file, from: 60, to: 70 }, out.put)).toEqual({ packets: 0, late: 0 });
    const zip = collector();
    const w = await writerOf({ kind: 'png', bits: 8 }, [24, 1], zip.put, { file, from: 60, to: 61, name: 'a.sound' });
    await w.frame({ width: 1, height: 1, channels: 3, bits: 8, data: new Uint8Array(3) }, 'a.0000.png');
    await w.end();
    expect(Object.keys(unzipSync(zip.bytes))).toEqual(['a.0000.png']);
  });
});

describe("pieces of sound on the device's clock", () => {
  const range = { from: 2, to: 4, start: 10 };
  it('begins with the picture that it belongs to, cut where the range cuts it', () => {
    // A piece of half a second that begins a quarter before the range: its second half is heard at once.
    expect(placePiece({ at: 1.75, seconds: 0.5 }, range, 9, null)).toEqual({ when: 10, offset: 0.25, length: 0.25 });
    expect(placePiece({ at: 3, seconds: 0.5 }, range, 9, null)).toEqual({ when: 11, offset: 0, length: 0.5 });
    expect(placePiece({ at: 3.75, seconds: 0.5 }, range, 9, null)).toEqual({ when: 11.75, offset: 0, length: 0.25 });
    expect(placePiece({ at: 4.1, seconds: 0.5 }, range, 9, null)).toBeNull();
  });
  it('what comes late is cut, never moved: sound stays with the picture', () => {
    expect(placePiece({ at: 2, seconds: 1 }, range, 10.4, null)).toEqual({
      when: 10.4,
      offset: expect.closeTo(0.4, 9) as number,
      length: expect.closeTo(0.6, 9) as number,
    });
    expect(placePiece({ at: 2, seconds: 1 }, range, 11.5, null)).toBeNull();
  });
  it('joins what follows, and no more than that', () => {
    expect(placePiece({ at: 3, seconds: 0.5 }, range, 9, 11.01)!.when).toBe(11.01);
    expect(placePiece({ at: 3, seconds: 0.5 }, range, 9, 10.9)!.when).toBe(11);
    // What the piece before still plays is not heard twice.
    expect(placePiece({ at: 3, seconds: 0.5 }, range, 9, 11.2)).toEqual({
      when: 11.2,
      offset: expect.closeTo(0.2, 9) as number,
      length: expect.closeTo(0.3, 9) as number,
    });
  });
  it('reads a clock that stands still by where it had come farthest, and follows one that lost time', () => {
    const clock = new Clock();
    expect(clock.read(1, 5)).toBe(-4);
    expect(clock.read(1, 5.12)).toBe(-4);
    expect(clock.read(1.3, 5.3)).toBe(-4);
    for (let i = 0; i < 24; i++) clock.read(1.4 + i / 50, 5.5 + i / 50);
    expect(clock.read(2, 6.1)).toBeCloseTo(-4.1, 9);
  });
});
