/** What was solved on the picture where a correction was kept is solved on another one again. */
import { opById } from '../core/graph/plan';
import type { OpUse } from '../core/graph/plan';
import { hasRegion, isOp } from '../core/graph/region';
import { keysOf } from '../core/op/keys';
import type { StoredValues } from '../core/op/params';
import { lineId, wayOf } from '../core/skin/pushes';
import type { PushKind } from '../core/skin/pushes';
import type { Reading } from '../core/skin/reading';
import { put } from '../document/history';
import { patchesOf, projectOf, recordOf } from '../document/records';
import type { CorrectionRecord, Records, ShotId, ShotRecord } from '../document/records';
import type { ShotState } from '../protocol/messages';
import { formatNumber } from '../ui/NumberBox';
import { shotState } from './actions';
import { patchSpec } from './bench/scopeSlots';
import { engine } from './engine';
import type { Lab } from './recolour';
import { useSession } from './store';
import { wordsOf } from './words';

/** Values of an adjustment that take the place of those that were kept. */
type Solved = StoredValues;
/** Operations that a push to the line can be, and which kind that is. */
const LINE: Readonly<Record<string, PushKind>> = {
  balance: 'balance',
  hueTurn: 'turn',
  byHue: 'byHue',
  pulls: 'pulls',
};
/** Of zones the one that was pushed. */
const kindOf = (u: OpUse): PushKind | null =>
  u.op === 'zones'
    ? ((['low', 'middle', 'high'] as const).find((z) => (u.params[`${z}Cb`] ?? 0) !== 0) ?? null)
    : (LINE[u.op] ?? null);
const hasKeys = (u: OpUse): boolean => Object.values(u.params).some((v) => keysOf(v).length > 0);

/** Where the correction stands, to be asked about. */
interface There {
  records: Records;
  shot: ShotRecord;
  c: CorrectionRecord;
}
type Again = (there: There, u: OpUse) => Promise<{ values?: Solved; said: string }>;
/** The same shot with other adjustments. */
const withUses = ({ records, shot, c }: There, of: (u: OpUse) => OpUse): ShotState =>
  shotState(put({ ...c, adjustments: c.adjustments.map(of) })(records), shot);

const recolourAgain: Again = async ({ records, shot, c }, u) => {
  const { params } = await engine().request('recolour', {
    shot: shotState(records, shot),
    correction: c.id,
    use: u.id,
    bits: useSession.getState().bits,
    to: u.params['to'] as Lab,
  });
  if (!params)
    return { said: 'Its region holds nothing here, so the recolour is as it was kept: isolate, then read it.' };
  const round = (v: Lab): number[] => v.map((x) => Math.round(x * 1e5) / 1e5);
  return {
    values: { from: round(params.from), to: round(params.to), trim: round(params.trim) },
    said: 'Recolour is solved again from what its region holds here.',
  };
};
/** A clean patch of what the region holds comes to the line, and the whole with it. */
const lineAgain: Again = async (there, u) => {
  const kind = kindOf(u);
  if (!kind || !hasRegion(there.c))
    return { said: `${opById(u.op).title} is as it was kept: bring skin to the line anew.` };
  const { names } = wayOf(kind);
  // It stands where it stood, and does nothing yet; what is told by lists is known by its name.
  const begun: OpUse = {
    ...u,
    id: names.length > 0 ? u.id : lineId(there.c.id, u.op),
    params: names.length > 0 ? { ...u.params, ...Object.fromEntries(names.map((n) => [n, 0])) } : {},
  };
  const found = await engine().request('skinPress', {
    shot: withUses(there, (x) => (x === u ? begun : x)),
    correction: there.c.id,
    kind,
    strength: 1,
    skinLineDeg: projectOf(there.records)?.skinLineDeg ?? 123,
    bits: useSession.getState().bits,
  });
  const values = found.solved?.adjustments.find((x) => x.id === begun.id)?.params;
  if (!values || !found.before || !found.after)
    return { said: `The push to the line is as it was kept (${found.fault ?? 'its region holds no skin here'}).` };
  const deg = (r: Reading): string =>
    r.offLineDeg === null ? 'neutral' : `${formatNumber(r.offLineDeg, 1, true)}\u00b0`;
  return {
    values,
    said:
      `The push to the line is solved again: what its region holds read ${deg(found.before)}, ` +
      `now ${deg(found.after)}.`,
  };
};
const neutralAgain: Again = async (there, u) => {
  const patches = patchesOf(there.records, there.shot.id).flatMap((p) =>
    p.kind === 'black' || p.kind === 'grey' || p.kind === 'white' ? [{ ...patchSpec(p), neutral: p.kind }] : [],
  );
  if (u.solved === 'neutral' && patches.length === 0)
    return { said: 'There is no patch of black, grey or white here, so its balance is as it was kept: draw one (P).' };
  const r = await engine().request('helper', {
    // All that is solved for the same thing is solved together.
    shot: withUses(there, (x) => (x.solved === u.solved ? { ...x, params: {} } : x)),
    correction: there.c.id,
    strength: 1,
    task: u.solved === 'neutral' ? { kind: 'neutral', patches } : { kind: 'light' },
  });
  const values = r.adjustments.find((x) => x.id === u.id)?.params;
  return values
    ? {
        values,
        said:
          `${opById(u.op).title} is solved again: ${r.before.toFixed(1)} ${r.unit} before, ` +
          `${r.after.toFixed(1)} after.`,
      }
    : { said: `${opById(u.op).title} is as it was kept.` };
};
/** How what an adjustment holds is solved on another picture; null where a hand has set it. */
const againOf = (u: OpUse): Again | null =>
  u.op === 'recolour' && u.params['to'] !== undefined
    ? recolourAgain
    : u.solved === 'line'
      ? lineAgain
      : u.solved
        ? neutralAgain
        : null;

/**
 * What was solved on one picture is solved on another one again: a recolour and a push to the line from what the
 * region holds there, a balance from the neutral patches or the light there. What only a person can show is said.
 */
export async function solvedAgain(
  r: Records,
  shot: ShotId,
  c: CorrectionRecord,
): Promise<{ solved: (Solved | undefined)[]; said: string[] }> {
  const to = recordOf(r, shot, 'shot');
  const said: string[] = [];
  const solved: (Solved | undefined)[] = c.adjustments.map(() => undefined);
  if (!to) return { solved, said };
  const press = c.terms.some((t) => isOp(t) && t.use.op === 'skin');
  let now = c;
  for (const [i, u] of c.adjustments.entries()) {
    const again = againOf(u);
    if (!again) continue;
    if (hasKeys(u)) {
      said.push(`${opById(u.op).title} has keys, which stay as they were kept: solve it anew at each.`);
      continue;
    }
    if (press && u.solved === 'line') {
      said.push('Where skin is only a press can say: press Skin on this picture, then bring it to the line again.');
      continue;
    }
    try {
      const { values, said: words } = await again({ records: put(now)(r), shot: to, c: now }, now.adjustments[i]!);
      said.push(words);
      if (!values) continue;
      solved[i] = values;
      // What comes after it is solved on what stands by then.
      now = {
        ...now,
        adjustments: now.adjustments.map((x, k) => (k === i ? { ...x, params: { ...x.params, ...values } } : x)),
      };
    } catch (e) {
      said.push(`${opById(u.op).title} is as it was kept (${wordsOf(e)}).`);
    }
  }
  return { solved, said: [...new Set(said)] };
}
