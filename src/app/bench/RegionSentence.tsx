import { memo } from 'react';
import styled from 'styled-components';
import type { CorrectionRecord } from '../../document/records';
import { useSession } from '../store';
import { plain, sentence } from './sentence';

const Line = styled.p`
  min-height: 44px; padding: 7px 14px 8px; background: var(--rail); border-bottom: 1px solid var(--line); color: var(--text); display: flex; flex-wrap: wrap; align-items: center; gap: 3px 5px;
  font: italic 400 15.5px/1.55 'Source Serif 4 Variable', serif;
`;
// A plain button: there are many, and they are drawn with every step of a drag.
const ChipButton = styled.button`
  font: 600 13px/1.3 'Source Sans 3 Variable', sans-serif; font-variant-numeric: tabular-nums; color: var(--bright); background: var(--chip); border: none; border-radius: 4px; padding: 2px 7px; cursor: pointer;
  &:hover { filter: brightness(1.15); }
`;

export const RegionSentence = memo(function RegionSentence({ corr }: { corr: CorrectionRecord | null }) {
  const set = useSession((s) => s.set);
  if (!corr) return <Line>No correction yet: press N, or draw a key with K, to begin one.</Line>;
  const pieces = sentence(corr);
  return (
    <Line aria-label={plain(pieces)} data-sentence={plain(pieces)}>
      {pieces.map((p, i) => {
        // A comma stays with the word before it, so that no line begins with one.
        const next = pieces[i + 1];
        const tail = typeof next === 'string' && /^[,;]$/.test(next) ? next : '';
        if (typeof p === 'string') return /^[,;]$/.test(p) ? null : <span key={i}>{p}{tail}</span>;
        return <span key={i} style={{ whiteSpace: 'nowrap' }}><ChipButton type="button" onClick={() => set({ step: p.step, ...(p.use ? { term: p.use } : {}) })}>{p.text}</ChipButton>{tail}</span>;
      })}
    </Line>
  );
});
