import { list, num } from '../../op/params';

export const MOST_PULLS = 8;
export const MOST_HOLDS = 12;
/** Numbers of one pull. */
export const PULL = 5;

export const params = {
  pulls: list({
    default: [],
    min: -120,
    max: 120,
    least: 0,
    most: PULL * MOST_PULLS,
    unit: 'pct',
    label: 'Pulls',
    doc:
      'Colours that move, five numbers each: Cb and Cr where it is, Cb and Cr where it goes, in % of the largest ' +
      'colour difference, and a change of level in %.',
  }),
  holds: list({
    default: [],
    min: -120,
    max: 120,
    least: 0,
    most: 2 * MOST_HOLDS,
    unit: 'pct',
    label: 'Holds',
    doc: 'Colours that stay: Cb and Cr in turn, in % of the largest colour difference. Neutral is held by itself.',
  }),
  reachPct: num({
    default: 40,
    min: 5,
    max: 200,
    ui: [10, 120],
    step: 1,
    unit: 'pct',
    label: 'Reach',
    doc: 'How far from a pull colours go with it, less and less, in % of the largest colour difference.',
  }),
};
