import { describe, expect, it } from 'vitest';
import { CATCH_PX, caught } from './snap';

describe('a handle is caught', () => {
  const targets = { x: [0, 100, 104], y: [50] };
  it('by the nearest place within reach, each way by itself', () => {
    expect(caught(101, 300, targets)).toEqual({ x: 100, y: null });
    expect(caught(103, 44, targets)).toEqual({ x: 104, y: 50 });
    expect(caught(-CATCH_PX, 50 + CATCH_PX, targets)).toEqual({ x: 0, y: 50 });
  });
  it('by nothing beyond it', () => {
    expect(caught(50, 50 + CATCH_PX + 0.1, targets)).toEqual({ x: null, y: null });
    expect(caught(1, 1, { x: [], y: [] })).toEqual({ x: null, y: null });
  });
});
