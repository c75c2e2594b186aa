/**
 * A region grown from keep and leave strokes: see core/matte/spread.ts. It grows over a small copy of the picture
 * (480 px on its long side, area-averaged) and comes back by straight lines between its pixels; the edge fit lays it
 * onto edges.
 */
import { defineKeyFrameOp } from '../../op/contract';
import { grown, grownBlock } from '../../matte/small';
import { spreadToFit } from '../../matte/reaches';
import { spread, SPREAD } from '../../matte/spread';
import { params } from './params';

export default defineKeyFrameOp<typeof params>({
  id: 'spread',
  title: 'Spread',
  doc:
    'Grows from the strokes that say "this" over like colour until it meets an edge, or what is nearer to the ' +
    'strokes that say "not this". What it found, and what lies round about, teach which colours belong; its border ' +
    'then lies where it costs least. How far it grows is told by what several reaches find. Joined with shapes by ' +
    '"and", it takes what lies outside them as not this.',
  version: 8,
  params,
  refs: [
    'geodesic distance: P. Soille, "Morphological image analysis", 2nd ed. 2003, 6.4',
    'a region that teaches the next round: C. Rother, V. Kolmogorov, A. Blake, "GrabCut", ACM TOG 23(3), 2004',
    'the cheapest border: Y. Boykov, M.-P. Jolly, "Interactive graph cuts", ICCV 2001',
    'OKLab: B. Ottosson, "A perceptual color space for image processing", 2020',
  ],
  edge: 'Without a keep stroke nothing is in. What is no number counts as dark. Light over 100 % counts as white.',
  migrations: [
    { from: 1, up: (s) => ({ ...s, border: 'grown' }) },
    { from: 2, up: (s) => ({ ...s, taught: 'once' }) },
    { from: 3, up: (s) => ({ ...s, fits: 'asked' }) },
    { from: 4, up: (s) => ({ ...s, fits: s['fits'] === 'asked' ? 'asked' : 'held' }) },
    { from: 5, up: (s) => ({ ...s, fits: s['fits'] === 'asked' || s['fits'] === 'held' ? s['fits'] : 'filled' }) },
    { from: 6, up: (s) => ({ ...s, fits: s['fits'] === undefined || s['fits'] === 'thing' ? 'found' : s['fits'] }) },
    { from: 7, up: (s) => ({ ...s, fits: s['fits'] === undefined || s['fits'] === 'thing' ? 'whole' : s['fits'] }) },
  ],
  plain: true,
  prepare: ({ reachPct, brushPx, apart, border, taught, fits }, ctx) =>
    grownBlock(reachPct, brushPx, ctx, {
      apart,
      asGrown: border === 'grown',
      once: taught === 'once',
      asAsked: fits === 'asked',
      heldByShape: fits === 'held',
      anyMore: fits === 'held' || fits === 'filled',
      byFill: fits !== 'thing' && fits !== 'whole',
      besideToo: fits !== 'thing',
    }),
  workPlanes: () => 0,
  passes: () => [{ name: 'grow', whole: true, slowMs: 10_000 }],
  kernels: {
    grow: (block, run) =>
      grown(block, run, ({ p, marks, inside, reach, flags: { asAsked, ...flags } }) => {
        const o = { ...SPREAD, ...flags };
        if (asAsked) return spread(p, marks, inside, { ...o, cap: o.cap * reach }).mask;
        return spreadToFit(p, marks, inside, o, reach).mask;
      }),
  },
  say: ({ apart }) => [`like colour spreads from the strokes${apart ? ', pieces apart too' : ''}`],
});
