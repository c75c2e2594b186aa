/**
 * Kinds of push that bring skin to the line. Each is one operation, and a push of so much changes its values: by an
 * angle (`turn`, `byHue`), or by a colour difference as (Cb, Cr) in % (the others).
 */
import { valueAt, withKey } from '../op/params';
import type { Keyframed, NumSpec, StoredValue, StoredValues } from '../op/params';
import { pointsOf } from '../math/closed';
import { wrap180, wrap360 } from '../math/angle';
import { clamp } from '../math/stats';
import { hueDeg } from '../color/ycbcr';
import { params as balanceParams } from '../ops/balance/params';
import { params as byHueParams } from '../ops/byHue/params';
import { params as hueTurnParams } from '../ops/hueTurn/params';
import { params as zonesParams } from '../ops/zones/params';
import type { Reading } from './reading';

export const PUSH_KINDS = ['balance', 'low', 'middle', 'high', 'turn', 'byHue', 'pulls'] as const;
export type PushKind = (typeof PUSH_KINDS)[number];
/** [angleDeg], or [cbPct, crPct]. */
export type Push = readonly number[];

export interface PushWay {
  op: string;
  /** Of a push: one number is an angle, two are a colour difference. */
  dims: 1 | 2;
  /** Colour difference (signal) that a push of 1 % gives at a patch, roughly: the solver measures it. */
  gain(at: Reading): number;
  /** Numbers that it sets, in the order of a push; empty where it sets lists. Only numbers can have keyframes here. */
  names: readonly string[];
  /** Whether it can change chroma by itself: of an angle. */
  ownChroma: boolean;
  /**
   * An adjustment of this kind that is there is pushed further; otherwise what was solved before is replaced as a
   * whole, since its values are lists about the colour that it was solved for.
   */
  further: boolean;
  /**
   * @param values as stored, of the adjustment that is pushed
   * @param from what the patch reads without the push
   * @param chroma share of chroma, where `ownChroma`; 1 keeps it
   * @param frame at which a value that has keyframes gets one
   */
  pushed(values: StoredValues, push: Push, from: Reading, chroma: number, frame: number): StoredValues;
}

/** Stored values with something added to some of their numbers, within their range. */
export function added<N extends string>(
  specs: Readonly<Record<N, NumSpec>>,
  values: StoredValues,
  by: Readonly<Partial<Record<N, number>>>,
  frame: number,
): StoredValues {
  const out = { ...values };
  for (const [name, d] of Object.entries(by) as [N, number][]) {
    const { min, max } = specs[name];
    const was = (values[name] ?? specs[name].default) as number | Keyframed;
    out[name] = withKey(values[name] as StoredValue | undefined, frame, clamp(valueAt(was, frame) + d, min, max));
  }
  return out;
}
const numbers = <N extends string>(
  op: string,
  specs: Readonly<Record<N, NumSpec>>,
  names: readonly N[],
  gain: (r: Reading) => number,
): PushWay => ({
  op,
  dims: names.length as 1 | 2,
  gain,
  names,
  ownChroma: false,
  further: true,
  pushed: (values, push, _, __, frame) =>
    added(specs, values, Object.fromEntries(names.map((n, i) => [n, push[i]!])) as Record<N, number>, frame),
});
/** Zones add to the colour difference itself, in % of its largest. */
const zone = (name: 'low' | 'middle' | 'high'): PushWay =>
  numbers('zones', zonesParams, [`${name}Cb`, `${name}Cr`], () => 0.005);

/** The bend is as wide as the skin, and falls off so slowly that no two hues change their order. */
const BEND = { spreads: 2.5, least: 8, most: 30, fall: 25, perDeg: 1.7 };
const r2 = (v: number): number => Math.round(v * 100) / 100;
/** Points of a curve over hue with a bend of some height about a hue; points that it covers go. */
function bent(points: readonly number[], at: number, half: number, fall: number, value: number): number[] {
  const [low, high] = [half, half + fall];
  const rest = pointsOf(points).filter(([h]) => Math.abs(wrap180(h - at)) > high + 1);
  const bend: [number, number][] = [
    [at - high, 0],
    [at - low, value],
    [at + low, value],
    [at + high, 0],
  ];
  return [...rest, ...bend]
    .map(([h, v]) => [r2(wrap360(h)), Math.round(v * 1000) / 1000] as const)
    .sort((a, b) => a[0] - b[0])
    .flat();
}
/** How far about a pull colours go along, in %; of a long one further, so that nothing folds. */
const REACH = { least: 60, perPct: 3.2, most: 200 };

const WAYS: Record<PushKind, PushWay> = {
  // In the patch a push p moves (Cb, Cr) by about 2 Y p / 200.
  balance: numbers('balance', balanceParams, ['cbPct', 'crPct'], (r) => Math.max(0.01, r.luma) / 100),
  low: zone('low'),
  middle: zone('middle'),
  high: zone('high'),
  turn: numbers('hueTurn', hueTurnParams, ['angleDeg'], () => 1),
  byHue: {
    op: 'byHue',
    dims: 1,
    gain: () => 1,
    names: [],
    ownChroma: true,
    further: false,
    pushed(values, push, from, chroma) {
      const at = hueDeg(from.cb, from.cr);
      const half = clamp(BEND.spreads * (from.hueSpreadDeg ?? 0), BEND.least, BEND.most);
      const fall = Math.min(150, Math.max(BEND.fall, BEND.perDeg * Math.abs(push[0]!)));
      const turn = bent(byHueParams.turn.default, at, half, fall, clamp(push[0]!, -180, 180));
      return chroma === 1
        ? { ...values, turn }
        : { ...values, turn, sat: bent(byHueParams.sat.default, at, half, fall, clamp(100 * (chroma - 1), -100, 300)) };
    },
  },
  pulls: {
    op: 'pulls',
    dims: 2,
    gain: () => 0.005,
    names: [],
    ownChroma: false,
    further: false,
    pushed(values, push, from) {
      const [x, y] = [200 * from.cb, 200 * from.cr];
      const pulls = [x, y, x + push[0]!, y + push[1]!, 0].map((v, i) => (i < 2 ? r2(v) : clamp(v, -120, 120)));
      const reachPct = Math.round(clamp(REACH.perPct * Math.hypot(push[0]!, push[1]!), REACH.least, REACH.most));
      return { ...values, pulls, reachPct };
    },
  },
};
export const wayOf = (kind: PushKind): PushWay => WAYS[kind];
/** The adjustment of a correction that holds what was solved, where it is told by lists. */
export const lineId = (correction: string, op: string): string => `${correction}-${op}-line`;
