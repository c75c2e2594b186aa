import { describe, expect, it } from 'vitest';
import { everyFrameSaid } from './everyFrame';

const all = { of: '', frames: 72, moved: 0, without: 0, worst: 12, maxCodes: 0, changed: 0 };
describe('the proof over a clip in words', () => {
  it('says that nothing moved only where nothing did', () => {
    expect(everyFrameSaid(all)).toBe(
      '72 frames: the surround did not move by a bit on any. The fringe is widest on 12.',
    );
    expect(everyFrameSaid({ ...all, moved: 2, changed: 7, maxCodes: 3 })).toBe(
      'On 2 of 72 frames the surround moved; worst on 12: 7 pixels, by up to 3 codes of 65535.',
    );
  });
  it('does not call frames proved that have no surround', () => {
    expect(everyFrameSaid({ ...all, without: 4 })).toContain('On 4 the matte leaves no surround.');
  });
});
