import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { frameOfTimecode, timecodeOf } from './timecode';

const NTSC = [30000, 1001] as const;
describe('timecode', () => {
  it.each([
    [0, [24, 1], false, '00:00:00:00'],
    [24 * 60 + 5, [24, 1], false, '00:01:00:05'],
    [25 * 3600 - 1, [25, 1], false, '00:59:59:24'],
    // SMPTE ST 12-1: after 00:00:59;29 comes 00:01:00;02, and after 00:09:59;29 comes 00:10:00;00.
    [1799, NTSC, true, '00:00:59;29'],
    [1800, NTSC, true, '00:01:00;02'],
    [17981, NTSC, true, '00:09:59;29'],
    [17982, NTSC, true, '00:10:00;00'],
    // An hour of it is 107892 frames.
    [107892, NTSC, true, '01:00:00;00'],
    [1800, NTSC, false, '00:01:00:00'],
    [3600, [60000, 1001], true, '00:01:00;04'],
    // Nothing is dropped at whole rates.
    [1800, [30, 1], true, '00:01:00:00'],
  ] as const)('frame %i', (frame, rate, drop, text) => {
    expect(timecodeOf(frame, rate, drop)).toBe(text);
    expect(frameOfTimecode(text, rate, drop)).toBe(frame);
  });
  it('there and back for any frame of a day', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 2_500_000 }),
        fc.constantFrom([24, 1], [25, 1], [30000, 1001], [24000, 1001], [60000, 1001]) as fc.Arbitrary<
          [number, number]
        >,
        fc.boolean(),
        (f, rate, drop) => {
          expect(frameOfTimecode(timecodeOf(f, rate, drop), rate, drop)).toBe(f);
          // Rises with every frame.
          expect(timecodeOf(f + 1, rate, drop) > timecodeOf(f, rate, drop)).toBe(true);
        },
      ),
    );
  });
  it('takes a bare number as a frame, left parts may be missing, nonsense is told', () => {
    expect(frameOfTimecode(' 48 ', [24, 1])).toBe(48);
    expect(frameOfTimecode('2:00', [24, 1])).toBe(48);
    expect(frameOfTimecode('1:00:00', [24, 1])).toBe(1440);
    for (const t of ['', 'two', '1:2:3:4:5', '00:00:61:00', '00:00:00:24', '-3'])
      expect(frameOfTimecode(t, [24, 1]), t).toBeNull();
    // A number that is dropped gives the first after it.
    expect(frameOfTimecode('00:01:00;00', NTSC, true)).toBe(1800);
  });
});
