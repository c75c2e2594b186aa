import { valueAt } from '../../core/op/params';
import type { CorrectionRecord } from '../../document/records';
import { ParamSlider } from '../../ui/ParamSlider';
import { gesture, setMix } from '../actions';
import { useFrame } from '../values';

const MIX = {
  min: 0,
  max: 100,
  ui: [0, 100] as const,
  unit: 'pct' as const,
  step: 1,
  default: 100,
  label: 'Mix',
  doc: 'How much of the correction is taken.',
};
export function MixSlider({ corr }: { corr: CorrectionRecord }) {
  return (
    <ParamSlider
      spec={MIX}
      value={valueAt(corr.mixPct, useFrame())}
      onChange={(x) => setMix(corr.id, x)}
      {...gesture('Change the mix')}
    />
  );
}
