/** Files piece by piece. */
import { describe, expect, it } from 'vitest';
import { pieces } from './pieces';

const bytes = (n: number): Uint8Array<ArrayBuffer> =>
  Uint8Array.from({ length: n }, (_, i) => (i * 31 + (i >> 9)) & 255);
async function whole(file: Blob): Promise<Buffer> {
  const out: Buffer[] = [];
  for await (const p of pieces(file)) out.push(Buffer.from(p));
  return Buffer.concat(out);
}
/** A file of a browser that cannot read into memory it is given. */
class Plain extends Blob {
  override stream(): never {
    throw new TypeError('no byte stream');
  }
}

describe('pieces of a file', () => {
  it.each([0, 1, 1000, 2 * 2 ** 20, 5 * 2 ** 20 + 3])('of %i bytes are all of it, in order', async (n) => {
    const data = bytes(n);
    for (const file of [new Blob([data]), new Plain([data])])
      expect(Buffer.compare(await whole(file), Buffer.from(data))).toBe(0);
  });
  it('one that is left in the middle can be read again', async () => {
    const file = new Blob([bytes(6 * 2 ** 20)]);
    let n = 0;
    for await (const p of pieces(file)) {
      n += p.byteLength;
      if (n > 2 ** 20) break;
    }
    expect(n).toBeLessThan(file.size);
    expect((await whole(file)).length).toBe(file.size);
  });
});
