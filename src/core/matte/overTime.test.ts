import { describe, expect, it } from 'vitest';
import { overTimeSaid } from './overTime';
import type { Moment } from './overTime';

const shot = (n: number, of: (f: number) => Partial<Moment> & { deg?: number }): Moment[] =>
  Array.from({ length: n }, (_, frame) => {
    const { deg = 1, ...m } = of(frame);
    return {
      frame,
      coverage: 0.1,
      change: 0.004,
      levelPct: 40,
      patches: [{ id: 'cheek', offLineDeg: deg, chromaPct: 20, lumaPct: 55 }],
      ...m,
    };
  });
const said = (list: Moment[]): string[] => overTimeSaid(list, { cheek: 'Cheek' }).map((w) => w.text);

describe('readings over time in words', () => {
  it('says nothing of a shot that holds still', () => {
    expect(said(shot(72, () => ({})))).toEqual([]);
  });

  it('names the frames between which a matte breathes, and goes to the worst', () => {
    const list = shot(72, (f) => ({ change: f >= 31 && f <= 44 ? (f === 40 ? 0.06 : 0.03) : 0.004 }));
    const [w, ...more] = overTimeSaid(list, {});
    expect(w!.text).toBe('The matte breathes between frames 31 and 44: up to 6.0 % of full a frame.');
    expect(w!.frame).toBe(40);
    expect(more).toEqual([]);
    expect(said(shot(72, (f) => ({ change: f === 12 ? 0.03 : 0.004 })))[0]).toContain('at frame 12:');
  });

  it('calls a matte that changes everywhere a flicker, and only a place beyond that a place', () => {
    const all = said(shot(72, () => ({ change: 0.02 })));
    expect(all).toHaveLength(1);
    expect(all[0]).toContain('flickers throughout: 2.0 %');
    expect(said(shot(72, (f) => ({ change: f === 50 ? 0.08 : 0.02 })))).toHaveLength(2);
  });

  it('names the frames on which a matte leaks; where it leaks throughout that is said', () => {
    const list = shot(72, (f) => ({ leaks: f >= 10 && f <= 12 ? (f === 11 ? 0.004 : 0.002) : 0.0001 }));
    const [w, ...more] = overTimeSaid(list, {});
    expect(w!.text).toBe(
      'The matte leaks between frames 10 and 12: up to 0.40 % of the picture away from what is meant.',
    );
    expect([w!.frame, more]).toEqual([11, []]);
    expect(said(shot(9, () => ({ leaks: 0.003 })))).toEqual([expect.stringContaining('leaks throughout: 0.30 %')]);
    // Read by an older build, and of a shot without a region.
    expect(said(shot(9, () => ({})))).toEqual([]);
    expect(said(shot(9, () => ({ leaks: null })))).toEqual([]);
  });

  it('tells a drift of skin from noise, which way, and from where on', () => {
    const drift = said(shot(72, (f) => ({ deg: 1 - Math.max(0, Math.min(6, (f - 55) / 2)) })));
    expect(drift).toEqual(['Cheek drifts 6.0 degrees redder from frame 61 on, most at 67.']);
    expect(said(shot(72, (f) => ({ deg: 1 + (f > 40 ? 5 : 0) })))[0]).toContain('5.0 degrees yellower from frame 41');
    // Single frames and wobble are none.
    expect(said(shot(72, (f) => ({ deg: f % 9 === 0 ? 9 : 1 })))).toEqual([]);
    expect(said(shot(72, (f) => ({ deg: 1 + 2 * Math.sin(f) })))).toEqual([]);
  });

  it('tells a region that jumps and a level that steps', () => {
    expect(said(shot(30, (f) => ({ coverage: f < 10 ? 0.1 : 0.16 })))).toEqual([
      'The region jumps at frame 10: by 38 % of its size in a frame.',
    ]);
    expect(said(shot(30, (f) => ({ levelPct: f < 10 ? 40 : 46 })))).toEqual([
      'The level of the picture steps at frame 10: by 6.0 % in a frame.',
    ]);
  });

  it('says on which frames a patch could not be read', () => {
    const lost = shot(30, () => ({})).map((m) =>
      m.frame >= 20 ? { ...m, patches: [{ id: 'cheek', offLineDeg: null, chromaPct: null, lumaPct: null }] } : m,
    );
    expect(overTimeSaid(lost, { cheek: 'Cheek' })).toEqual([
      expect.objectContaining({
        text: expect.stringContaining('Cheek is not read between frames 20 and 29') as string,
        frame: 20,
      }),
    ]);
  });

  it('passes over frames that tell nothing', () => {
    expect(said(shot(30, () => ({ coverage: null, change: null })))).toEqual([]);
    const blind = shot(30, () => ({})).map((m) => ({ ...m, patches: [{ ...m.patches[0]!, offLineDeg: null }] }));
    expect(said(blind)).toEqual([]);
    expect(said([])).toEqual([]);
  });
});
