/** A person's skin from one press: see core/matte/pressed.ts. */
import { defineKeyFrameOp } from '../../op/contract';
import { atSizesBefore } from '../../matte/pressed';
import { growSkin } from '../../matte/skin';
import { grown, grownBlock, growthOf } from '../../matte/small';
import { params } from './params';
import { guess, look, passesFor, planesFor, settle } from './passes';

export default defineKeyFrameOp<typeof params>({
  id: 'skin',
  title: 'Skin',
  doc:
    'Finds the skin of the person that was pressed: colour that behaves as theirs does in light and shade, up to an ' +
    'edge, at the size at which it looks most like a thing, in whatever light its parts lie. Further strokes that ' +
    'say "this" and "not this" go on from there; shapes that it is joined with by "and" are where it may be.',
  version: 6,
  params,
  refs: [
    'the cheapest border: Y. Boykov, M.-P. Jolly, "Interactive graph cuts", ICCV 2001',
    'a region that teaches the next round: C. Rother, V. Kolmogorov, A. Blake, "GrabCut", ACM TOG 23(3), 2004',
    'geodesic distance: P. Soille, "Morphological image analysis", 2nd ed. 2003, 6.4',
    'dividing a guess in two: N. Otsu, IEEE Trans. SMC 9(1), 1979',
    'OKLab: B. Ottosson, "A perceptual color space for image processing", 2020',
    'robust lines by the biweight: A. Beaton, J. Tukey, Technometrics 16, 1974',
  ],
  edge: 'Without a press nothing is in. What is no number counts as dark. Light over 100 % counts as white.',
  migrations: [
    { from: 1, up: (s) => ({ ...s, found: 'grown' }) },
    { from: 2, up: (s) => s },
    { from: 3, up: (s) => ({ ...s, found: s['found'] ?? 'sizes' }) },
    { from: 4, up: (s) => ({ ...s, found: s['found'] ?? 'one' }) },
    { from: 5, up: (s) => ({ ...s, found: s['found'] ?? 'compared' }) },
  ],
  plain: true,
  prepare: ({ reachPct, brushPx, found, sharePct }, ctx) =>
    grownBlock(reachPct, brushPx, ctx, {
      asGrown: found === 'grown',
      together: found === 'sizes',
      asOne: found === 'one',
      unparted: found === 'compared',
      share: sharePct / 100,
    }),
  workPlanes: planesFor,
  passes: (block) => {
    const { asGrown, together, asOne } = growthOf(block).flags;
    return asGrown || together ? [{ name: 'grow', whole: true, slowMs: 20_000 }] : passesFor(asOne);
  },
  kernels: {
    look,
    guess,
    settle,
    // Of older projects.
    grow: (block, run) =>
      grown(block, run, ({ p, marks, inside, reach, flags: { asGrown, share } }) =>
        asGrown ? (growSkin(p, marks, inside, reach)?.mask ?? null) : atSizesBefore({ p, marks, inside, reach, share }),
      ),
  },
  say: () => ['the skin that was pressed spreads'],
});
