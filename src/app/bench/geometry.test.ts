import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placing, zoomAbout } from './geometry';

describe('placing of the picture', () => {
  it('fits and centres', () => {
    expect(placing(800, 600, 1600, 900, null, false)).toEqual({ scale: 0.5, offX: 0, offY: -150 });
    expect(placing(800, 600, 1600, 900, null, true)).toEqual({ scale: 0.25, offX: 0, offY: -750 });
  });
  it('keeps the point under the pointer while zooming, whatever the zoom', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 800, noNaN: true }),
        fc.double({ min: 0, max: 600, noNaN: true }),
        fc.double({ min: 0.3, max: 3, noNaN: true }),
        fc.boolean(),
        (x, y, f, side) => {
          const a = placing(800, 600, 1600, 900, null, side);
          const b = placing(800, 600, 1600, 900, zoomAbout(a, 800, 600, side, x, y, f), side);
          expect(x / b.scale + b.offX).toBeCloseTo(x / a.scale + a.offX, 6);
          expect(y / b.scale + b.offY).toBeCloseTo(y / a.scale + a.offY, 6);
        },
      ),
      { seed: 9 },
    );
  });
});
