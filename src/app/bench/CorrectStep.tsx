/** Correct: bring to line, the adjustments in their order, mix. */
import { isAdjustment } from '../../core/op/contract';
import { hasRegion } from '../../core/graph/region';
import { ops } from '../../core/ops/registry.gen';
import { opById } from '../../core/graph/plan';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, Select } from '../../ui/controls';
import { addBands } from '../hueBands';
import { addEvenness } from '../regionMean';
import { addAdjustment, moveAdjustmentTo, pasteAdjustment, useClipboard } from '../actions';
import { Reorder } from '../Reorder';
import { Adjustment } from './Adjustment';
import { MixSlider } from './MixSlider';
import { Sides } from './Sides';
import { BringBox } from './BringBox';
import { HelperBox } from './HelperBox';

/** Every adjustment there is, by title. */
const offered = ops.filter(isAdjustment).sort((a, b) => a.title.localeCompare(b.title));

export function CorrectStep({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const held = useClipboard((s) => s.adjustment);
  const region = hasRegion(corr);
  const add = (op: string): void => {
    if (op === 'evenness') void addEvenness(shot, corr.id);
    else if (op === 'bands') void addBands(shot, corr.id);
    else addAdjustment(corr.id, op);
  };
  return (
    <>
      {region ? <BringBox corr={corr} shot={shot} /> : <HelperBox key={corr.id} corr={corr} shot={shot} />}
      <Sides corr={corr} shot={shot} />
      <MixSlider corr={corr} />
      <Reorder onMove={(id, to) => moveAdjustmentTo(corr.id, id, to)}>
        {corr.adjustments.map((u, i) => (
          <Adjustment key={u.id} corr={corr} use={u} shot={shot} index={i} last={i === corr.adjustments.length - 1} />
        ))}
      </Reorder>
      <p style={{ margin: '8px 0 0', display: 'flex', gap: 6 }}>
        <Select aria-label="Add an adjustment" value="" onChange={(e) => add(e.target.value)}>
          <option value="" disabled>
            + Add an adjustment
          </option>
          {offered.map((o) => (
            <option key={o.id} value={o.id}>
              {o.title}
            </option>
          ))}
        </Select>
        {held && (
          <Button
            look="outline"
            onPress={() => pasteAdjustment(corr.id, corr.adjustments.length)}
            tip={`Pastes ${held.name ?? opById(held.op).title.toLowerCase()} at the end`}
          >
            Paste
          </Button>
        )}
      </p>
      <p style={{ margin: '8px 0 0' }}>
        <Dim>They act from top to bottom; drag them by their left edge.</Dim>
      </p>
    </>
  );
}
