/** What readings over the frames of a shot tell, in words, with the frames where to look. */
import { medianOf } from '../math/stats';

export interface PatchMoment {
  id: string;
  /** Null where the patch is too neutral to read, or lies outside the picture. */
  offLineDeg: number | null;
  chromaPct: number | null;
  lumaPct: number | null;
}
export interface Moment {
  frame: number;
  /** Share of the picture that is in, 0..1; null without a region. */
  coverage: number | null;
  /** Share of the picture in pieces away from what is meant, 0..1; null without a region, left out in older ones. */
  leaks?: number | null;
  /** Mean change of the matte from the frame before where the picture stands still, 0..1; null where nothing tells. */
  change: number | null;
  /** Mean luma of what leaves, %. */
  levelPct: number;
  patches: PatchMoment[];
}
export interface Warning {
  text: string;
  /** The worst frame of it. */
  frame: number;
}

/** From frame to frame a matte that changes by more than this is seen to breathe: common practice, 1 to 2 %. */
export const BREATH = 0.015;
/** Beside it, it must change that much more than the shot's own median, or it is no place but a habit. */
const MORE = 2;
/** Frames that far apart still belong to one place. */
const GAP = 3;
/** Degrees and % that are seen as another skin, and as another light: common practice. */
const DRIFT_DEG = 3;
const LEVEL_STEP_PCT = 4;
/** Readings are smoothed over so many frames before a drift is told from noise. */
const SMOOTH = 5;
const COVERAGE_JUMP = 0.25;
/** Pieces of so much of the picture are seen. */
export const LEAK = 0.0005;

interface Place {
  from: number;
  to: number;
  worst: number;
  most: number;
}
/** Frames where a value is above a limit, those near each other as one place. */
function places(list: readonly { frame: number; value: number }[], limit: number): Place[] {
  const out: Place[] = [];
  for (const { frame, value } of list) {
    if (!(value > limit)) continue;
    const last = out.at(-1);
    if (last && frame - last.to <= GAP) {
      last.to = frame;
      if (value > last.most) [last.most, last.worst] = [value, frame];
    } else out.push({ from: frame, to: frame, worst: frame, most: value });
  }
  return out;
}
const between = (p: Place): string => (p.from === p.to ? `at frame ${p.from}` : `between frames ${p.from} and ${p.to}`);
const pct = (v: number): string => `${(100 * v).toFixed(1)} %`;

function breathing(list: readonly Moment[]): Warning[] {
  const told = list.flatMap((m) => (m.change === null ? [] : [{ frame: m.frame, value: m.change }]));
  if (told.length < 3) return [];
  const usual = medianOf(told.map((t) => t.value));
  const out: Warning[] = [];
  if (usual > BREATH) {
    const worst = told.reduce((a, b) => (b.value > a.value ? b : a));
    out.push({
      text:
        `The matte flickers throughout: ${pct(usual)} of full from frame to frame where the picture stands still. ` +
        'The tidy step Steady holds it; what a key takes from lamps that flicker, its Light.',
      frame: worst.frame,
    });
  }
  for (const p of places(told, Math.max(BREATH, MORE * usual)).slice(0, 6))
    out.push({ text: `The matte breathes ${between(p)}: up to ${pct(p.most)} of full a frame.`, frame: p.worst });
  return out;
}
function leaking(list: readonly Moment[]): Warning[] {
  const told = list.flatMap((m) => (m.leaks == null ? [] : [{ frame: m.frame, value: m.leaks }]));
  if (told.length === 0) return [];
  const usual = medianOf(told.map((t) => t.value));
  const small = (v: number): string => `${(100 * v).toFixed(2)} % of the picture`;
  const out: Warning[] = [];
  if (usual > LEAK) {
    const worst = told.reduce((a, b) => (b.value > a.value ? b : a));
    out.push({
      text: `The matte leaks throughout: ${small(usual)} lies away from what is meant. Health shows where.`,
      frame: worst.frame,
    });
  }
  for (const p of places(told, Math.max(LEAK, MORE * usual)).slice(0, 4))
    out.push({
      text: `The matte leaks ${between(p)}: up to ${small(p.most)} away from what is meant.`,
      frame: p.worst,
    });
  return out;
}
function jumps(list: readonly Moment[]): Warning[] {
  const steps = list.slice(1).flatMap((m, i) => {
    const was = list[i]!;
    if (m.coverage === null || was.coverage === null || m.frame !== was.frame + 1) return [];
    const most = Math.max(m.coverage, was.coverage);
    return most > 0.001 ? [{ frame: m.frame, value: Math.abs(m.coverage - was.coverage) / most }] : [];
  });
  return places(steps, COVERAGE_JUMP)
    .slice(0, 4)
    .map((p) => ({
      text: `The region jumps ${between(p)}: by ${(100 * p.most).toFixed(0)} % of its size in a frame.`,
      frame: p.worst,
    }));
}
function light(list: readonly Moment[]): Warning[] {
  const steps = list.slice(1).map((m, i) => ({ frame: m.frame, value: Math.abs(m.levelPct - list[i]!.levelPct) }));
  return places(steps, LEVEL_STEP_PCT)
    .slice(0, 4)
    .map((p) => ({
      text: `The level of the picture steps ${between(p)}: by ${p.most.toFixed(1)} % in a frame.`,
      frame: p.worst,
    }));
}
/** Medians over a few frames: flicker and noise are no drift. */
const smooth = (v: readonly number[]): number[] =>
  v.map((_, i) => medianOf(v.slice(Math.max(0, i - (SMOOTH >> 1)), i + (SMOOTH >> 1) + 1)));

/** Frames on which a patch was not read, where on others it was. */
function gaps(list: readonly Moment[], id: string, name: string): Warning[] {
  const read = list.map((m) => m.patches.find((x) => x.id === id)?.lumaPct != null);
  if (!read.includes(true)) return [];
  const missing = list.flatMap((m, i) => (read[i] ? [] : [{ frame: m.frame, value: 1 }]));
  return places(missing, 0)
    .slice(0, 3)
    .map((p) => ({
      text: `${name} is not read ${between(p)}: it was lost there, or lies outside the picture. Follow on from there.`,
      frame: p.from,
    }));
}

function drift(list: readonly Moment[], id: string, name: string): Warning[] {
  const told = list.flatMap((m) => {
    const p = m.patches.find((x) => x.id === id);
    return p?.offLineDeg == null ? [] : [{ frame: m.frame, deg: p.offLineDeg }];
  });
  if (told.length < SMOOTH) return [];
  const even = smooth(told.map((t) => t.deg));
  const first = even[0]!;
  let worst = 0;
  even.forEach((v, i) => {
    if (Math.abs(v - first) > Math.abs(even[worst]! - first)) worst = i;
  });
  const most = even[worst]! - first;
  if (Math.abs(most) < DRIFT_DEG) return [];
  // From where on it is off by half of it and more, back from the worst.
  let from = worst;
  while (from > 0 && (even[from - 1]! - first) / most >= 0.5) from--;
  return [
    {
      text:
        `${name} drifts ${Math.abs(most).toFixed(1)} degrees ${most < 0 ? 'redder' : 'yellower'} ` +
        `from frame ${told[from]!.frame} on, most at ${told[worst]!.frame}.`,
      frame: told[worst]!.frame,
    },
  ];
}

/** `names`: of the patches of skin, by their ids. Frames in their order. */
export function overTimeSaid(list: readonly Moment[], names: Readonly<Record<string, string>>): Warning[] {
  return [
    ...breathing(list),
    ...leaking(list),
    ...jumps(list),
    ...Object.entries(names).flatMap(([id, name]) => [...drift(list, id, name), ...gaps(list, id, name)]),
    ...light(list),
  ];
}
