import { memo, useEffect, useRef, useState } from 'react';
import { ChevronDown, ChevronUp } from 'lucide-react';
import styled from 'styled-components';
import type { CorrectionRecord } from '../../document/records';
import { IconButton } from '../../ui/controls';
import { useDoc, useSession } from '../store';
import { useFrame } from '../values';
import { aloud, plain, sentence } from './sentence';

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

export const RegionSentence = memo(function RegionSentence({ corr }: { corr: CorrectionRecord | null }) {
  const set = useSession((s) => s.set);
  // It names other corrections, which may be renamed.
  const records = useDoc((s) => s.records);
  const frame = useFrame();
  const line = useRef<HTMLParagraphElement>(null);
  const [long, setLong] = useState(false);
  const [open, setOpen] = useState(false);
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
        data-open={open && long}
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
          return (
            <span key={i} style={{ whiteSpace: 'nowrap' }}>
              <ChipButton type="button" onClick={() => set({ step: p.step, ...(p.term ? { term: p.term } : {}) })}>
                {p.text}
              </ChipButton>
              {tail}
            </span>
          );
        })}
      </Line>
      {long && (
        <IconButton aria-label="The whole sentence" aria-expanded={open} onPress={() => setOpen(!open)}>
          {open ? <ChevronUp /> : <ChevronDown />}
        </IconButton>
      )}
    </Place>
  );
});
