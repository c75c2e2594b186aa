import { describe, expect, it } from 'vitest';
import { dragged, withBand } from './hueBands';

describe('bands, dragged on the picture', () => {
  const borders = [20, 100, 200];
  it('a colour in the middle of a band changes that one alone, at a border both by half', () => {
    expect(dragged([], borders, 20, 60, 'sat', 12)).toEqual([0, 12, 0, 0, 0, 0, 0, 0, 0]);
    expect(dragged([], borders, 20, 100, 'turn', 8)).toEqual([4, 0, 0, 4, 0, 0, 0, 0, 0]);
    // Over zero degrees: the last band.
    expect(dragged([], borders, 20, 340, 'level', -6)).toEqual([0, 0, 0, 0, 0, 0, 0, 0, -6]);
  });
  it('adds up, and ends at what a value may be', () => {
    const once = dragged([], borders, 20, 60, 'sat', 30);
    expect(dragged(once, borders, 20, 60, 'sat', 30)[1]).toBe(60);
    expect(dragged(once, borders, 20, 60, 'sat', -900)[1]).toBe(-100);
    expect(withBand([], 3, 1, 'turn', 500)).toEqual([0, 0, 0, 180, 0, 0, 0, 0, 0]);
  });
});
