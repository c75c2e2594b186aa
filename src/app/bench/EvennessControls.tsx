/** Evenness: its controls, the spread of the region before and after, and the mean read anew. */
import type { OpUse } from '../../core/graph/plan';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { Requests } from '../../protocol/messages';
import { Button, Dim, Line } from '../../ui/controls';
import { evennessOf, readEvenness } from '../regionMean';
import { useMoment } from '../values';
import { useRead } from './read';

type Read = Requests['evenness']['out'];
function told({ given, leaves }: Read): string {
  if (!leaves) return 'Nothing of a colour leaves.';
  const hue = `hue ${given.hueSpreadDeg.toFixed(1)}\u00b0 \u2192 ${leaves.hueSpreadDeg.toFixed(1)}\u00b0`;
  return `${hue}, chroma ${given.chromaSpreadPct.toFixed(0)} \u2192 ${leaves.chromaSpreadPct.toFixed(0)} %`;
}

export function EvennessRead({ corr, use, shot }: { corr: CorrectionRecord; use: OpUse; shot: ShotRecord }) {
  const read = useRead(shot, corr.id, use.id, evennessOf);
  const moment = useMoment(shot);
  return (
    <>
      <p
        style={{ margin: '4px 0' }}
        title="Standard deviations over the region: of what this adjustment is given, and of what leaves"
      >
        <Dim aria-label="Spread of the region">
          Spread{moment}: {read.is ? told(read.is) : read.fault}
        </Dim>
      </p>
      <Line>
        <span />
        <Button
          onPress={() => void readEvenness(shot, corr.id, use.id)}
          tip="Takes the mean hue and chroma of the region as it is here"
        >
          Read the mean again
        </Button>
      </Line>
    </>
  );
}
