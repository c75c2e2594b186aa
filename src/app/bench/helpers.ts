/** What the helpers act on: the base correction of a shot, there or about to be made. */
import { hasRegion } from '../../core/graph/region';
import { correctionsOf, toSpec } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { HelperReply, ShotState } from '../../protocol/messages';
import { addBase, editCorrection, newBase, setSide, shotState } from '../actions';
import { sayNews } from '../notices';
import { useDoc } from '../store';

/** A slider of a helper's own, not of the document. */
export const HELP_STRENGTH = {
  min: 0,
  max: 100,
  ui: [0, 100] as const,
  unit: 'pct' as const,
  step: 5,
  default: 100,
  label: 'Strength',
  doc: 'The share of the solved values that is taken.',
};
export const noGesture = { onBegin: (): void => {}, onEnd: (): void => {}, onBail: (): void => {} };

/** The first correction of the whole picture; scene light is corrected on the camera side. */
export function findBase(shot: ShotRecord): CorrectionRecord | undefined {
  return correctionsOf(useDoc.getState().records, shot.id).find((c) => c.owner === shot.id && c.on && !hasRegion(c));
}
const sideOf = (shot: ShotRecord): 'camera' | 'display' =>
  shot.conversion.on && !(typeof shot.encoding === 'object' && 'table' in shot.encoding) ? 'camera' : 'display';

/** The shot with its base, and the base's id: a new one stands in for one that is not there yet. */
export function baseFor(shot: ShotRecord): { state: ShotState; id: string } {
  const state = shotState(useDoc.getState().records, shot);
  const c = findBase(shot);
  if (c) return { state, id: c.id };
  const made = { ...newBase(shot.id), side: sideOf(shot) };
  return { state: { ...state, corrections: [toSpec(made), ...state.corrections] }, id: made.id };
}
/** Takes what a helper solved, as one step. */
export function takeHelper(shot: ShotRecord, plan: HelperReply, label: string): void {
  const doc = useDoc.getState();
  doc.begin(label);
  let c = findBase(shot);
  if (!c) {
    c = addBase(shot.id);
    if (sideOf(shot) === 'camera') setSide(c.id, 'camera');
  }
  editCorrection(c.id, label, (x) => ({ ...x, adjustments: plan.adjustments }));
  doc.end();
  sayNews(
    `${c.name}: ${Object.values(plan.set).flatMap((p) => Object.keys(p)).length} values are set; ` +
      `${plan.before.toFixed(1)} ${plan.unit} before, ${plan.after.toFixed(2)} after. They are ordinary values now.`,
  );
}
