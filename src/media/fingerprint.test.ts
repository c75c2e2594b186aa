import { describe, expect, it } from 'vitest';
import { createHash } from 'node:crypto';
import { partsOf, readParts } from './fingerprint';

const sum = async (b: Uint8Array<ArrayBuffer>): Promise<string> => {
  const h = createHash('sha256');
  await readParts(new Blob([b]), (x) => h.update(x));
  return h.digest('hex');
};

describe('the parts that stand for a large file', () => {
  it.each([0, 1, 6 * 2 ** 20, 6 * 2 ** 20 + 1, 64 * 2 ** 20, 459e6, 40e9])(
    'of %d bytes: rise, do not overlap, begin and end with it',
    (size) => {
      const parts = partsOf(size);
      expect(parts[0]?.[0] ?? 0).toBe(0);
      expect(parts.at(-1)?.[1] ?? 0).toBe(size);
      for (const [i, [from, to]] of parts.entries()) {
        expect(to).toBeGreaterThan(from);
        expect(from).toBeGreaterThanOrEqual(parts[i - 1]?.[1] ?? 0);
      }
      expect(parts.reduce((n, [a, b]) => n + b - a, 0)).toBeLessThanOrEqual(6 * 2 ** 20);
    },
  );
  it('tell size, beginning, end and every piece', async () => {
    const file = new Uint8Array(20 * 2 ** 20);
    const before = await sum(file);
    const parts = partsOf(file.length);
    for (const at of [0, file.length - 1, parts[1]![0], parts[16]![0] + 1000, parts[32]![1] - 1]) {
      file[at] = 1;
      expect(await sum(file), `byte ${at}`).not.toBe(before);
      file[at] = 0;
    }
    expect(await sum(file)).toBe(before);
    expect(await sum(file.slice(1))).not.toBe(before);
  });
});
