/** Charts, strips, neutral patches and points: measured on a picture, solved by the helpers. */
import { cornersOf, patchAt } from '../../core/graph/patch';
import type { Corner } from '../../core/math/polygon';
import { apply3, decode, encode, resolveEncoding, rgbToRgb } from '../../core/color/encodings';
import { rgbToYcbcr, ycbcrToRgb } from '../../core/color/ycbcr';
import { boundsOf } from '../../core/math/polygon';
import { chartCells } from '../../core/match/chart';
import type { ChartCell, ChartPlace } from '../../core/match/chart';
import { MISFIT_MOST, NOT_THE_CHART, orient, ORIENTATIONS, recognise, stripFault } from '../../core/match/recognise';
import type { Recognised } from '../../core/match/recognise';
import type { Triple } from '../../core/graph/evaluate';
import { GROUPS, groupOf, histogramOf, VECTOR_RANGE, WAVE_HIGH, WAVE_LEVELS, WAVE_LOW } from '../../core/scopes/reduce';
import { displayEncoding } from '../../core/graph/plan';
import type { CorrectionSpec, OpUse } from '../../core/graph/plan';
import type { Encoding } from '../../core/color/encodings';
import { estimateLight, lightSaid } from '../../core/match/light';
import type { LightEstimate } from '../../core/match/light';
import { rgbOf } from '../samples';
import { hasRegion } from '../../core/graph/region';

import type { ChartFound, ChartReading, HelperReply, HelperRequest, ShotState } from '../../protocol/messages';
import type { Planes } from '../pictures';
import { chartReading, solveChart, solveNeutral, solvePoints } from '../helpers';

import type { Held } from './held';

interface FoundChart {
  cells: ChartCell[];
  colours: Triple[];
  /** Factor of light on each cell. */
  light: number[];
  found: ChartFound;
}

const NOTHING_FOUND: ChartFound = { fault: null, turned: null, misfit: null, across: 0, down: 0 };

/** Trimmed means of areas, as colours. */
function colours(h: Held, p: Planes, areas: readonly (readonly Corner[])[]): [number, number, number][] {
  return areas.map((points) => {
    const r = h.read(p, boundsOf(points), 0, points);
    if (!r) throw new RangeError('A part of it lies outside the picture: pull its corners onto the picture');
    return ycbcrToRgb(r.luma, r.cb, r.cr) as [number, number, number];
  });
}

/**
 * The cells of a chart as it really lies under the grid, with what it is measured on. All eight ways are tried where
 * the drawn one does not fit.
 */
function findChart(h: Held, p: Planes, linear: (v: Triple) => Triple, chart: ChartPlace): FoundChart {
  const measured = (c: ChartPlace): FoundChart => {
    const cells = chartCells(c);
    const areas = cells.map((x) => x.polygon);
    return { cells, colours: colours(h, p, areas), light: cells.map(() => 1), found: { ...NOTHING_FOUND } };
  };
  const first = measured(chart);
  if (chart.kind === 'strip') {
    first.found.fault = stripFault(first.colours.map((v) => rgbToYcbcr(...v)[0]));
    return first;
  }
  const fit = (f: FoundChart): Recognised => {
    // Clipped patches say nothing of the light.
    const use = f.colours.map((v) => v.every((x) => Number.isFinite(x) && x < 0.995));
    return recognise(
      f.colours.map(linear),
      f.cells.map((c) => c.linear!),
      f.cells.map((c) => c.at),
      use,
    );
  };
  let best = { f: first, r: fit(first), k: 0 };
  for (let k = 1; k < ORIENTATIONS.length && best.r.misfit > MISFIT_MOST / 2; k++) {
    const f = measured({ ...chart, corners: orient(chart.corners, k) });
    const r = fit(f);
    if (r.misfit < best.r.misfit) best = { f, r, k };
  }
  if (best.r.misfit > MISFIT_MOST)
    return { ...first, found: { ...NOTHING_FOUND, fault: NOT_THE_CHART, misfit: best.r.misfit } };
  const { misfit, across, down, light } = best.r;
  const turned = best.k === 0 ? null : ORIENTATIONS[best.k]!.name;
  return { ...best.f, light, found: { fault: null, turned, misfit, across, down } };
}

export async function chart(h: Held, shot: ShotState, chart: ChartPlace): Promise<ChartReading> {
  const res = await h.run(shot);
  const base = await h.base(shot, res.source);
  const display = displayEncoding(shot);
  const f = findChart(h, base, (v) => v.map((x) => decode(display, x)) as unknown as Triple, chart);
  const areas = f.cells.map((c) => c.polygon);
  return { ...chartReading(shot, f.cells, f.colours, colours(h, res.out, areas), h.table), found: f.found };
}

/** What the correction is given stands in the camera's encoding or in the display's. */
const encodingOf = (shot: ShotState, c: CorrectionSpec): Encoding =>
  c.side === 'camera' && !(typeof shot.encoding === 'object' && 'table' in shot.encoding)
    ? resolveEncoding(shot.encoding)
    : displayEncoding(shot);

/** On a copy of at most so many pixels a side: statistics need no more. */
const LIGHT_SIDE = 320;
async function lightOf(h: Held, input: Planes, e: Encoding): Promise<LightEstimate> {
  let p = input;
  while (Math.max(p.w, p.h) > LIGHT_SIDE) p = await h.ev.halvePlanes(p);
  const found = h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, p);
    // Averages of what clips lie a little below it.
    const top = e.referred === 'scene' ? Infinity : 0.97;
    const usable = Uint8Array.from(r, (_, i) => (Math.max(r[i]!, g[i]!, b[i]!) < top ? 1 : 0));
    const linear = [r, g, b].map((c) => c.map((x) => decode(e, x))) as [Float32Array, Float32Array, Float32Array];
    return estimateLight(linear, usable, p.w, p.h);
  });
  if (!found)
    throw new RangeError(
      'Next to nothing of the picture can be asked for its light: nearly all of it clips or is black',
    );
  return found;
}

/** Solves what a helper would set, and notes on what it sets that it was solved, and for what. */
export async function helper(h: Held, q: HelperRequest): Promise<HelperReply> {
  const r = await solvedBy(h, q);
  const { kind } = q.task;
  if (kind !== 'neutral' && kind !== 'light') return r;
  const was = q.shot.corrections.find((c) => c.id === q.correction)?.adjustments ?? [];
  const same = (u: OpUse): boolean => was.some((w) => JSON.stringify(w) === JSON.stringify(u));
  return { ...r, adjustments: r.adjustments.map((u) => (same(u) ? u : { ...u, solved: kind })) };
}
/** On what the correction is given. */
async function solvedBy(h: Held, q: HelperRequest): Promise<HelperReply> {
  const correction = q.shot.corrections.find((c) => c.id === q.correction);
  if (!correction) throw new RangeError('There is no such correction in this shot');
  if (hasRegion(correction))
    throw new RangeError('The helpers set corrections of the whole picture: this one has a region');
  const input = h.inputOf(await h.run(q.shot, q.correction), q.correction);
  const given = { shot: q.shot, correction, strength: q.strength, table: h.table };
  const { task } = q;
  if (task.kind === 'chart') {
    const e = encodingOf(q.shot, correction);
    const toBt709 = rgbToRgb(e.primaries, 'bt709');
    const linear = (v: Triple): Triple => apply3(toBt709, v.map((x) => decode(e, x)) as unknown as Triple);
    const f = findChart(h, input, linear, task.chart);
    if (f.found.fault) throw new RangeError(f.found.fault);
    // A slope of light is taken out before anything is solved: it is the lamp's place, not its colour or strength.
    const even = f.colours.map((v, i) => v.map((x) => encode(e, decode(e, x) / f.light[i]!)) as unknown as Triple);
    return { ...solveChart(given, f.cells, even, task.parts), found: f.found };
  }
  if (task.kind === 'neutral') {
    if (task.patches.length === 0)
      throw new RangeError(
        'There is no patch of the kind black, grey or white: draw one (P) and say its kind in the readings',
      );
    return solveNeutral(
      given,
      task.patches
        .map((p) => patchAt(p, q.shot.frame))
        .map((p) => ({ kind: p.neutral, colour: colours(h, input, [p.points ?? cornersOf(p.box)])[0]! })),
    );
  }
  if (task.kind === 'light') {
    const e = encodingOf(q.shot, correction);
    const { light, ...how } = await lightOf(h, input, e);
    // A middle grey under that light is what is brought to neutral.
    const mean = (light[0] + light[1] + light[2]) / 3;
    const grey = light.map((v) => encode(e, (0.2 * v) / mean)) as unknown as Triple;
    return { ...solveNeutral(given, [{ kind: 'grey', colour: grey }]), sure: lightSaid(how) };
  }
  const query = {
    matte: null,
    mode: 1,
    box: null,
    bits: GROUPS.y.bit,
    range: VECTOR_RANGE,
    stride: 1,
    skinLineDeg: 0,
  } as const;
  const levels = await h.ev.scopes(input, query, (counts) => histogramOf(groupOf(counts, 'y')));
  const total = levels.reduce((a, b) => a + b, 0);
  const level = (share: number): number => {
    let sum = 0;
    const i = levels.findIndex((n) => (sum += n) >= share * total);
    return WAVE_LOW + ((i + 0.5) / WAVE_LEVELS) * (WAVE_HIGH - WAVE_LOW);
  };
  return solvePoints(
    given,
    { black: level(task.lowPct / 100), white: level(task.highPct / 100) },
    { blackPct: task.blackPct, whitePct: task.whitePct },
  );
}
