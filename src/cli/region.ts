/** Regions for the terminal: from strokes, as the Bench makes them. */
import type { CorrectionSpec, OpTerm } from '../core/graph/plan';
import { displayEncoding, opById } from '../core/graph/plan';
import { newUse } from '../core/graph/plan.defaults';
import { tidyFor } from '../core/matte/health';
import { labsOf } from '../core/matte/light';
import { nearOf } from '../core/matte/near';
import { separation } from '../core/matte/separate';
import { PRESS } from '../core/matte/skin';
import type { Separation } from '../core/matte/separate';
import { fitStrokes } from '../core/skin/fitKey';
import type { Session } from '../engine/session';
import type { Codes, DecodedPicture } from '../media/picture';
import type { ShotState } from '../protocol/messages';
import { choice, number, polyline, Usage } from './args';
import type { Given } from './args';

/** What was painted, as the terminal is given it. */
export type Strokes = ReturnType<typeof strokesOf>;
export function strokesOf(g: Given) {
  const keep = (g.keep ?? []).map((t) => polyline(t, 'keep', 1));
  if (keep.length === 0) throw new Usage('--keep is missing: a stroke "x,y x,y ..." on what is meant');
  const leave = (g.leave ?? []).map((t) => polyline(t, 'leave', 1));
  const inside = g.inside === undefined ? null : polyline(g.inside, 'inside', 3);
  const asked = choice(g.kind, 'kind', 'auto', ['auto', 'spread', 'range', 'nearness']);
  const space = choice(g.space, 'space', 'scope', ['scope', 'oklch']);
  if (g.space !== undefined && asked !== 'range')
    throw new Usage('--space says what the ranges of a key are measured in: give --kind range with it');
  if (g.apart && asked !== 'auto' && asked !== 'spread')
    throw new Usage('--apart takes pieces that nothing joins into a spread: leave --kind out, or give --kind spread');
  const tidy = choice(g.tidy, 'tidy', 'auto', ['auto', 'none']);
  const brush = g.brush === undefined ? null : number(g.brush, 'brush', 0, 1, 400);
  return {
    keep,
    leave,
    inside,
    kind: asked === 'auto' ? ('spread' as const) : asked,
    space,
    tidy,
    brush,
    apart: g.apart === true,
    quiet: number(g.quiet, 'quiet', 0, 0, 100),
  };
}
export interface Painted {
  correction: CorrectionSpec;
  kind: 'spread' | 'range' | 'nearness';
  key: OpTerm;
  /** How well the strokes can be told from each other; null where nothing was left out. */
  tells: Separation | null;
}
/**
 * A region from strokes to keep and to leave, inside a freeform where one is given, and what else limits it; tidied by
 * its own faults. The picture is open in the session under the shot's media.
 */
export async function painted(
  s: Session,
  shot: ShotState,
  p: DecodedPicture,
  { keep, leave, inside, kind, space, quiet, tidy, apart, brush: given }: Strokes,
  more: readonly OpTerm[] = [],
): Promise<Painted> {
  const long = Math.max(p.width, p.height);
  const brush = given ?? Math.max(3, long / 200);
  const bare: ShotState = { ...shot, corrections: [] };
  const read = async (lines: [number, number][][]): Promise<number[]> =>
    (await Promise.all(lines.map((l) => s.samples(bare, along(l), brush / 2, quiet)))).flat();
  const colours = { keep: await read(keep), leave: await read(leave) };
  const seen = displayEncoding(bare);
  const use =
    kind === 'range'
      ? newUse('key', 'key', { ...fitStrokes(colours.keep, colours.leave, { space, encoding: seen }) })
      : kind === 'nearness'
        ? newUse('key', 'nearness', { ...nearOf(labsOf(seen, colours.keep), labsOf(seen, colours.leave)) })
        : newUse('key', 'spread', { brushPx: brush, apart });
  const key: OpTerm = {
    join: 'and',
    not: false,
    id: 'key',
    name: opById(use.op).title,
    use,
    ...(quiet > 0 ? { quietPct: quiet } : {}),
    strokes: [
      ...keep.map((points) => ({ keep: true, frame: 0, points })),
      ...leave.map((points) => ({ keep: false, frame: 0, points })),
    ],
  };
  const correction: CorrectionSpec = {
    id: 'matte',
    name: 'Matte',
    on: true,
    mixPct: 100,
    terms: [key, ...(inside ? [shapeTerm('inside', 'freeform', { points: inside.flat() })] : []), ...more],
    tidy: [],
    adjustments: [],
  };
  if (tidy === 'auto') {
    const found = await s.health({ ...shot, corrections: [correction] }, correction.id, true);
    const fit = Math.max(2, Math.round(long / 200));
    const steps = [...(found ? tidyFor(found) : []), { op: 'edgeFit', params: { radiusPx: fit } }];
    correction.tidy = steps.map(({ op, params }) => newUse(op, op, params));
  }
  return { correction, kind, key, tells: separation(colours.keep, colours.leave) };
}
/** A person's skin from presses, as the Bench finds it: one place or several. */
export function pressed(p: DecodedPicture, at: [number, number][], g: Given): CorrectionSpec {
  const long = Math.max(p.width, p.height);
  for (const [x, y] of at)
    if (x < 0 || y < 0 || x >= p.width || y >= p.height)
      throw new Usage(`--at ${x},${y} lies outside the picture, which has ${p.width} x ${p.height} pixels`);
  const brushPx = g.brush === undefined ? Math.max(4, PRESS * long) : number(g.brush, 'brush', 0, 1, 400);
  const lines = (list: string[] | undefined, name: string) => (list ?? []).map((t) => polyline(t, name, 1));
  const inside = g.inside === undefined ? null : polyline(g.inside, 'inside', 3);
  const tidy = choice(g.tidy, 'tidy', 'auto', ['auto', 'none']);
  return {
    id: 'skin',
    name: 'Skin',
    on: true,
    mixPct: 100,
    terms: [
      {
        join: 'and',
        not: false,
        id: 'key',
        name: opById('skin').title,
        use: newUse('key', 'skin', { brushPx }),
        strokes: [
          ...at.map((point) => ({ keep: true, frame: 0, points: [point] })),
          ...lines(g.keep, 'keep').map((points) => ({ keep: true, frame: 0, points })),
          ...lines(g.leave, 'leave').map((points) => ({ keep: false, frame: 0, points })),
        ],
      },
      ...(inside ? [shapeTerm('inside', 'freeform', { points: inside.flat() })] : []),
    ],
    tidy: tidy === 'auto' ? [newUse('fit', 'edgeFit', { radiusPx: Math.max(2, Math.round(long / 200)) })] : [],
    adjustments: [],
  };
}
export const shapeTerm = (id: string, op: string, params: Parameters<typeof newUse>[2]): OpTerm => ({
  id,
  join: 'and',
  not: false,
  name: opById(op).title,
  use: newUse(id, op, params),
});
/** Points along a line, a pixel or two apart. */
const along = (l: readonly [number, number][]): { x: number; y: number }[] =>
  l.flatMap(([x, y], i) => {
    const [u, v] = l[i + 1] ?? [x, y];
    const n = Math.max(1, Math.ceil(Math.hypot(u - x, v - y) / 2));
    return Array.from({ length: n }, (_, k) => ({ x: x + ((u - x) * k) / n, y: y + ((v - y) * k) / n }));
  });

/** Shares of a picture, by the codes of its matte: in (at least one half), full (0.98), neither full nor out. */
export function coverageOf({ data, bits }: Codes): { coverage: number; full: number; edge: number } {
  const most = 2 ** bits - 1;
  let [coverage, full, edge] = [0, 0, 0];
  for (const code of data) {
    const v = code / most;
    if (v >= 0.5) coverage++;
    if (v >= 0.98) full++;
    else if (v > 0) edge++;
  }
  return { coverage: coverage / data.length, full: full / data.length, edge: edge / data.length };
}
