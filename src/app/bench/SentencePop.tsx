/** The controls of what a word of the region sentence names, where it stands. */
import { useEffect } from 'react';
import { Dialog, Popover } from 'react-aria-components';
import styled from 'styled-components';
import { opById } from '../../core/graph/plan';
import { allTerms, isLink } from '../../core/graph/region';
import type { CorrectionRecord, MediaRecord, Records, ShotRecord } from '../../document/records';
import { Button } from '../../ui/controls';
import { setParams } from '../actions';
import { useSession } from '../store';
import { useFrame, valuesOf } from '../values';
import { AdjustmentControls, Params } from './Adjustment';
import { MixSlider } from './MixSlider';
import { PartControls } from './PartControls';
import type { Chip } from './sentence';

const Pop = styled(Popover)`
  background: var(--bg);
  border: 1px solid var(--track);
  border-radius: 6px;
  box-shadow: 0 10px 26px rgb(0 0 0 / 50%);
  width: 286px;
  overflow: auto;
  > section {
    padding: 4px 14px 10px;
    outline: none;
  }
  header {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 8px;
    height: 32px;
    font-weight: 600;
  }
  header span {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;
const STEPS = { isolate: 'Isolate', tidy: 'Tidy', correct: 'Correct', check: 'Check' } as const;

/** What a word names can be changed where it stands. */
export const opens = (c: Chip): boolean => !c.turn && (c.mix === true || c.term !== undefined || c.use !== undefined);

export interface SentencePopProps {
  corr: CorrectionRecord;
  shot: ShotRecord;
  media: MediaRecord;
  records: Records;
  /** The word, and where it stands. */
  chip: Chip;
  at: HTMLElement;
  onClose(): void;
}
export function SentencePop({ corr, shot, media, records, chip, at, onClose }: SentencePopProps) {
  const set = useSession((s) => s.set);
  const tool = useSession((s) => s.tool);
  const frame = useFrame();
  const term = chip.term ? allTerms(corr.terms).find((t) => t.id === chip.term) : undefined;
  const tidy = chip.use ? corr.tidy.find((u) => u.id === chip.use) : undefined;
  const use = chip.use ? corr.adjustments.find((u) => u.id === chip.use) : undefined;
  const target = term && isLink(term) ? records[term.of] : undefined;
  const gone = !chip.mix && !term && !tidy && !use;
  // What is drawn on the picture needs the picture; what is not there any more, by undo, needs nothing.
  const away = gone || tool !== 'none';
  useEffect(() => {
    if (away) onClose();
  }, [away, onClose]);
  if (away) return null;
  const title = chip.mix
    ? 'Mix'
    : target?.type === 'correction'
      ? target.name
      : (term?.name ?? use?.name ?? opById((tidy ?? use)!.op).title);
  return (
    <Pop isOpen onOpenChange={(open) => !open && onClose()} triggerRef={{ current: at }} placement="bottom start">
      <Dialog aria-label={title}>
        <header>
          <span>{title}</span>
          <Button
            onPress={() => {
              set({ step: chip.step, ...(chip.term ? { term: chip.term } : {}) });
              onClose();
            }}
            tip="Opens it in the rail, with all that is done with it there"
          >
            {`In ${STEPS[chip.step]}`}
          </Button>
        </header>
        {chip.mix ? <MixSlider corr={corr} /> : null}
        {term ? <PartControls corr={corr} term={term} shot={shot} media={media} /> : null}
        {tidy ? (
          <Params
            op={tidy.op}
            values={valuesOf(tidy, frame)}
            stored={tidy.params}
            put={(p) => setParams(corr.id, tidy.id, p)}
          />
        ) : null}
        {use ? <AdjustmentControls corr={corr} use={use} shot={shot} /> : null}
      </Dialog>
    </Pop>
  );
}
