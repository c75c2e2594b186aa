import { memo, useCallback, useEffect, useRef, useState } from 'react';
import { ChevronDown, ChevronUp } from 'lucide-react';
import styled from 'styled-components';
import { allTerms } from '../../core/graph/region';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../../document/records';
import { IconButton } from '../../ui/controls';
import { turnJoin, turnNot } from '../region';
import { useDoc, useSession } from '../store';
import { useFrame } from '../values';
import { aloud, plain, sentence } from './sentence';
import type { Chip } from './sentence';
import { opens, SentencePop } from './SentencePop';

/** One line high: the picture below never moves. What is longer unfolds over it. */
const HEIGHT = 42;
const Place = styled.div`
  position: relative;
  flex: none;
  height: ${HEIGHT}px;
  z-index: 3;
  background: var(--rail);
  border-bottom: 1px solid var(--line);
  > button {
    position: absolute;
    right: 6px;
    top: 8px;
  }
`;
const Line = styled.p`
  position: absolute;
  inset: 0 0 auto;
  margin: 0;
  /* Cut where the second line would begin. */
  max-height: ${HEIGHT - 6}px;
  overflow: hidden;
  padding: 7px 14px 8px;
  background: var(--rail);
  &[data-long='true'] {
    padding-right: 44px;
  }
  &[data-long='true']:hover,
  &[data-long='true']:focus-within,
  &[data-open='true'] {
    max-height: none;
    border-bottom: 1px solid var(--line);
    box-shadow: 0 8px 16px rgb(0 0 0 / 35%);
  }
  color: var(--text);
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 3px 5px;
  font:
    italic 400 15.5px/1.55 'Source Serif 4 Variable',
    serif;
`;
// A plain button: there are many, and they are drawn with every step of a drag.
const ChipButton = styled.button`
  font:
    600 13px/1.3 'Source Sans 3 Variable',
    sans-serif;
  font-variant-numeric: tabular-nums;
  color: var(--bright);
  background: var(--chip);
  border: none;
  border-radius: 4px;
  padding: 2px 7px;
  cursor: pointer;
  &:hover {
    filter: brightness(1.15);
  }
`;

/** A small word that can be turned into the other. */
const WordButton = styled.button`
  font: inherit;
  color: inherit;
  background: none;
  border: none;
  border-radius: 3px;
  padding: 0 1px;
  cursor: pointer;
  text-decoration: underline dotted var(--dim) 1px;
  text-underline-offset: 3px;
  &:hover {
    background: var(--hover);
  }
`;

interface SentenceProps {
  corr: CorrectionRecord | null;
  shot: ShotRecord;
  media: MediaRecord;
}
export const RegionSentence = memo(function RegionSentence({ corr, shot, media }: SentenceProps) {
  const set = useSession((s) => s.set);
  // It names other corrections, which may be renamed.
  const records = useDoc((s) => s.records);
  const frame = useFrame();
  const line = useRef<HTMLParagraphElement>(null);
  const [long, setLong] = useState(false);
  const [open, setOpen] = useState(false);
  const [pop, setPop] = useState<{ corr: string; chip: Chip; at: HTMLElement } | null>(null);
  const close = useCallback(() => setPop(null), []);
  useEffect(() => {
    const el = line.current;
    if (!el) return;
    const look = (): void => setLong(el.scrollHeight > HEIGHT + 6);
    const ro = new ResizeObserver(look);
    ro.observe(el);
    look();
    return () => ro.disconnect();
  });
  if (!corr)
    return (
      <Place>
        <Line>No correction yet: press N, or draw a key with C, to begin one.</Line>
      </Place>
    );
  const pieces = sentence(corr, records, frame);
  return (
    <Place>
      <Line
        ref={line}
        data-long={long}
        data-open={(open || pop !== null) && long}
        aria-label={aloud(pieces)}
        data-sentence={plain(pieces)}
      >
        {pieces.map((p, i) => {
          // A comma stays with the word before it, so that no line begins with one.
          const next = pieces[i + 1];
          const tail = typeof next === 'string' && /^[,;]$/.test(next) ? next : '';
          if (typeof p === 'string')
            return /^[,;]$/.test(p) ? null : (
              <span key={i}>
                {p}
                {tail}
              </span>
            );
          if (p.turn) {
            const { what, to } = p.turn;
            return (
              <WordButton
                key={i}
                type="button"
                title={`Press for "${to}"`}
                onClick={() => {
                  const t = allTerms(corr.terms).find((x) => x.id === p.term);
                  if (t) (what === 'join' ? turnJoin : turnNot)(corr.id, t);
                }}
              >
                {p.text}
                {tail}
              </WordButton>
            );
          }
          return (
            <span key={i} style={{ whiteSpace: 'nowrap' }}>
              <ChipButton
                type="button"
                aria-haspopup={opens(p) ? 'dialog' : undefined}
                onClick={(e) => {
                  if (opens(p)) setPop({ corr: corr.id, chip: p, at: e.currentTarget });
                  else set({ step: p.step });
                }}
              >
                {p.text}
              </ChipButton>
              {tail}
            </span>
          );
        })}
      </Line>
      {pop && pop.corr === corr.id && (
        <SentencePop
          corr={corr}
          shot={shot}
          media={media}
          records={records}
          chip={pop.chip}
          at={pop.at}
          onClose={close}
        />
      )}
      {long && (
        <IconButton aria-label="The whole sentence" aria-expanded={open} onPress={() => setOpen(!open)}>
          {open ? <ChevronUp /> : <ChevronDown />}
        </IconButton>
      )}
    </Place>
  );
});
