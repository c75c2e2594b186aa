import { describe, expect, it, vi } from 'vitest';
import { parseClf } from '../media/clf';
import { errorOf } from '../media/errors';
import { MediaError } from '../media/picture';
import { EngineError } from './engineError';
import { wordsOf } from './words';

const thrown = (f: () => unknown): unknown => {
  try {
    f();
  } catch (e) {
    return e;
  }
  throw new Error('it should have thrown');
};

describe('faults in words', () => {
  it("keeps the machine's own sentences from people", () => {
    const log = vi.spyOn(console, 'error').mockImplementation(() => {});
    for (const e of [
      thrown(() => (null as unknown as { x: { y: number } }).x.y),
      thrown(() => JSON.parse('{')),
      thrown(() => (undefined as unknown as () => void)()),
      new ReferenceError('foo is not defined'),
      new DOMException('The operation failed for reasons unrelated to the database itself', 'UnknownError'),
      undefined,
      null,
      'text',
      {},
    ]) {
      expect(wordsOf(e)).toMatch(/^something failed inside the application/);
      expect(wordsOf(e)).not.toMatch(/null|undefined|JSON|defined|database/);
    }
    expect(log).toHaveBeenCalled();
    log.mockRestore();
  });
  it('tells what browsers mean, and keeps our own words with their remedy', () => {
    expect(wordsOf(new DOMException('x', 'NotReadableError'))).toMatch(/moved, changed or removed\. Choose it again/);
    expect(wordsOf(new DOMException('x', 'QuotaExceededError'))).toMatch(/storage is full: free some/);
    expect(wordsOf(new EngineError({ code: 'media', message: 'it is a fax', remedy: 'Save it as grey.' }))).toBe(
      'it is a fax. Save it as grey.',
    );
    expect(wordsOf(new EngineError({ code: 'cannot', message: 'The patch lies outside.' }))).toBe(
      'The patch lies outside.',
    );
  });
  it('files: every fault has a message and a remedy, whatever was thrown', () => {
    const log = vi.spyOn(console, 'error').mockImplementation(() => {});
    for (const e of [
      new MediaError('truncated', 'it is cut off', 'Copy it again.'),
      thrown(() => parseClf('<ProcessList><LUT3D>')),
      thrown(() => parseClf('<ProcessList id="a"><Range/>')),
      new RangeError('Invalid typed array length: 99999999999'),
      new RangeError('Array buffer allocation failed'),
      thrown(() => (null as unknown as { x: number }).x),
      'text',
    ]) {
      const f = errorOf(e);
      expect(f.message.length).toBeGreaterThan(8);
      expect(f.remedy).toMatch(/\.$/);
      expect(f.message).not.toMatch(/null|typed array|allocation|Unclosed|Closing tag|expected/i);
    }
    expect(errorOf(new RangeError('Array buffer allocation failed')).code).toBe('memory');
    log.mockRestore();
  });
});
