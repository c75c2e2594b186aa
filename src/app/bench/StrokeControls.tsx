/** Strokes of a part: how they are read, which are there, and what tells this from not this. */
import { useEffect, useState } from 'react';
import { Brush } from 'lucide-react';
import type { OpTerm } from '../../core/graph/plan';
import { countingAt } from '../../core/graph/strokes';
import { separationSaid } from '../../core/matte/separate';
import type { Separation } from '../../core/matte/separate';
import { recordOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, Line, Select } from '../../ui/controls';
import { shotState } from '../actions';
import { engine } from '../engine';
import { useLive } from '../live';
import { asideFailed } from '../notices';
import { useDoc, useSession } from '../store';
import { grows, PAINTED, readStrokesAs, removeStroke } from '../strokes';
import type { PaintedOp } from '../strokes';
import { useFrame } from '../values';

/** What tells this from not this, asked again when the strokes have changed and stand. */
function useSeparation(shot: ShotRecord, corr: CorrectionRecord, term: OpTerm): Separation | null {
  const finals = useLive((s) => s.finals);
  const [told, setTold] = useState<Separation | null>(null);
  const both = (term.strokes ?? []).some((s) => s.keep) && (term.strokes ?? []).some((s) => !s.keep);
  useEffect(() => {
    if (!both) {
      setTold(null);
      return;
    }
    let gone = false;
    engine()
      .request('separates', {
        shot: shotState(useDoc.getState().records, shot),
        correction: corr.id,
        term: term.id,
      })
      .then((s) => !gone && setTold(s), asideFailed('What separates the strokes was not renewed'));
    return () => {
      gone = true;
    };
  }, [finals, both, shot, corr.id, term.id, term.strokes]);
  return told;
}
/** Nothing for a key that nobody painted for. */
export function StrokeControls({ corr, term, shot }: { corr: CorrectionRecord; term: OpTerm; shot: ShotRecord }) {
  const { tool, set } = useSession();
  const frame = useFrame();
  const all = term.strokes ?? [];
  const counting = countingAt(all, frame);
  const strokes = counting.map((i) => all[i]!);
  const kept = strokes.filter((s) => s.keep).length;
  const moves = (recordOf(useDoc.getState().records, shot.media, 'media')?.frames ?? 1) > 1;
  const told = useSeparation(shot, corr, term);
  if (!grows(term.use.op) && strokes.length === 0) return null;
  // None of the three tells them apart: another way is a press away.
  const alike = told !== null && Math.max(told.hue, told.saturation, told.luma) < ALIKE;
  return (
    <>
      <Line>
        {(['keepStroke', 'leaveStroke'] as const).map((t) => (
          <Button
            key={t}
            look="outline"
            aria-pressed={tool === t}
            onPress={() => set({ tool: tool === t ? 'none' : t })}
            tip={t === 'keepStroke' ? 'Paint on what you mean (G)' : 'Paint on what is not meant (Shift G)'}
          >
            <Brush />
            {t === 'keepStroke' ? 'This' : 'Not this'}
          </Button>
        ))}
      </Line>
      <Dim>
        {kept === 0
          ? 'Nothing is in before a stroke says "this".'
          : `${count(kept, 'stroke')} say${kept === 1 ? 's' : ''} this, ` +
            `${count(strokes.length - kept, 'stroke')} not this` +
            `${moves ? `, painted at frame ${strokes[0]!.frame}` : ''}.`}
      </Dim>
      {told && (
        <p data-told style={{ margin: '2px 0' }}>
          <Dim>{separationSaid(told)}</Dim>
        </p>
      )}
      {alike && (
        <Line>
          {!grows(term.use.op) && (
            <Button look="outline" onPress={() => void readStrokesAs(corr.id, term.id, 'spread')}>
              Make it a spread
            </Button>
          )}
          <Button look="outline" onPress={() => set({ tool: 'shape:freeform' })} tip="Click round the thing (D)">
            Draw round it
          </Button>
        </Line>
      )}
      {strokes.length > 0 && (
        <>
          <Line>
            <Button
              look="outline"
              onPress={() => void removeStroke(corr.id, term.id, counting.at(-1)!)}
              tip="One stroke on the picture: press it, then Delete; Enter turns it round"
            >
              Remove the last stroke
            </Button>
          </Line>
          {kept > 0 && (
            <Line>
              <Select
                aria-label="What the strokes make"
                value={term.use.op}
                onChange={(e) => void readStrokesAs(corr.id, term.id, e.target.value as PaintedOp)}
                style={{ width: '100%' }}
              >
                {Object.entries(PAINTED).map(([id, words]) => (
                  <option key={id} value={id}>
                    {words}
                  </option>
                ))}
              </Select>
            </Line>
          )}
        </>
      )}
    </>
  );
}
/** Areas under the curve below it say "a little" at best. */
const ALIKE = 0.85;
const count = (n: number, what: string): string => `${n === 0 ? 'no' : n} ${what}${n === 1 ? '' : 's'}`;
