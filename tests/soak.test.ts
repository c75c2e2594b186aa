/** The short form of `npm run soak -- files`: damaged files of every format, in processes that can be ended. */
import { describe, expect, it } from 'vitest';
import { decodeInThread, FileError } from '../src/cli/decode';
import { encodePlanes } from '../src/media/encode';
import { damagedFile, goodFiles } from '../testkit/damage';
import { soakFiles } from '../testkit/soakFiles';

describe('damaged files', () => {
  it('give a picture or a typed fault, within their time, and little memory', async () => {
    // Another seed than the long run's.
    const r = await soakFiles(2, 0, 350);
    expect(r.faults).toEqual([]);
    expect(r.to).toBe(350);
    expect(r.opened).toBeGreaterThan(10);
    expect(r.refused).toBeGreaterThan(200);
    expect(r.peakMb).toBeLessThan(600);
    expect(r.peakMb).toBeGreaterThan(50);
  });
  it('are of every format, and the same for the same seed', () => {
    const files = goodFiles();
    const list = Array.from({ length: 300 }, (_, n) => damagedFile(files, 5, n));
    expect(new Set(list.map((f) => f.name.replace(/.*\./, ''))).size).toBe(6);
    expect(new Set(list.flatMap((f) => f.how.split('+'))).size).toBe(8);
    expect(Buffer.from(damagedFile(files, 5, 7).bytes).equals(Buffer.from(list[7]!.bytes))).toBe(true);
    const whole = files.find((f) => f.name === list[7]!.name)!;
    expect(Buffer.from(whole.bytes).equals(Buffer.from(list[7]!.bytes))).toBe(false);
  });
  it('one that is not read within its time is ended, and said; the next one is read', async () => {
    const good = goodFiles().find((f) => f.name === 's8.png')!;
    // Of a size that no thread reads in a thousandth of a second, even one that is there already.
    const [w, h] = [900, 700];
    const plane = Float32Array.from({ length: w * h }, (_, i) => ((i * 7919) % 65536) / 65535);
    const e = await decodeInThread(encodePlanes([plane, plane, plane], w, h, 16), 0.001).catch((x: unknown) => x);
    expect(e).toBeInstanceOf(FileError);
    expect((e as Error).message).toMatch(
      /still not read after .* s: its data lead the decoder astray\. Copy or export/,
    );
    const p = await decodeInThread(good.bytes);
    expect([p.width, p.height]).toEqual([13, 9]);
    // A small Buffer shares its memory with others: neither are they read, nor taken away.
    const neighbour = Buffer.from('neighbour');
    const small = Buffer.from(good.bytes);
    expect(small.buffer.byteLength).toBeGreaterThan(small.length);
    const q = await decodeInThread(small);
    expect([q.width, q.height]).toEqual([13, 9]);
    expect(neighbour.toString()).toBe('neighbour');
    expect(small.length).toBe(good.bytes.length);
    await expect(decodeInThread(Buffer.from('no picture'))).rejects.toThrow(/neither a picture nor a clip/);
  });
});
