/** A colour of the picture as an adjustment is given it, where a hand pressed: its tools on the picture begin so. */
import { inputOfAdjustment } from '../core/graph/plan';
import type { OpUse } from '../core/graph/plan';
import type { Vec3 } from '../core/color/ycbcr';
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr } from '../core/color/ycbcr';
import type { ShotRecord } from '../document/records';
import { correction, shotState } from './actions';
import { engine } from './engine';
import { guard } from './notices';
import { useDoc, useSession } from './store';

export interface Pressed {
  corr: string;
  use: OpUse;
  /** Which of its curves, or what of it, the tool was taken up for. */
  what: string;
  rgb: Vec3;
  /** Luma, and (Cb, Cr), -0.5..0.5. */
  y: number;
  cb: number;
  cr: number;
  frame: number;
}
/**
 * Asks for the colour under a press, before the adjustment that the tool belongs to (one of `ops`), and hands it over.
 * Faults are said under `fault`.
 */
export async function pressed(
  shot: ShotRecord,
  at: { x: number; y: number },
  ops: readonly string[],
  fault: string,
  take: (p: Pressed) => void,
): Promise<void> {
  const { curveFor, correction: id, frame } = useSession.getState();
  const c = correction(id);
  const k = c?.adjustments.findIndex((u) => u.id === curveFor?.use) ?? -1;
  const use = c?.adjustments[k];
  if (!c || !use || !curveFor || !ops.includes(use.op)) return;
  const state = shotState(useDoc.getState().records, shot);
  const before = { ...state, corrections: inputOfAdjustment(state.corrections, c.id, k) };
  await guard(fault, async () => {
    const p = await engine().request('colourAt', { shot: before, x: at.x, y: at.y });
    if (!p) throw new Error('that lies outside the picture. Press on the picture itself');
    const [y, cb, cr] = rgbToYcbcr(...p.after);
    take({ corr: c.id, use, what: curveFor.curve, rgb: p.after, y, cb, cr, frame });
  });
}
/** Its hue in degrees; throws in words where it has none. */
export function hueOf({ cb, cr }: Pressed): number {
  if (chromaPct(cb, cr) < NEUTRAL_CHROMA_PCT)
    throw new Error('what you pressed is too neutral to have a hue. Press on something with more colour');
  return hueDeg(cb, cr);
}
