import styled from 'styled-components';
import { Button } from 'react-aria-components';
import type { CorrectionRecord } from '../../document/records';
import { useSession } from '../store';
import { plain, sentence } from './sentence';

const Line = styled.p`
  min-height: 44px; padding: 7px 14px 8px; background: var(--rail); border-bottom: 1px solid var(--line); color: var(--text); display: flex; flex-wrap: wrap; align-items: center; gap: 3px 5px;
  font: italic 400 15.5px/1.55 'Source Serif 4 Variable', serif;
`;
const ChipButton = styled(Button)`
  font: 600 13px/1.3 'Source Sans 3 Variable', sans-serif; font-variant-numeric: tabular-nums; color: var(--bright); background: var(--chip); border: none; border-radius: 4px; padding: 2px 7px; cursor: pointer;
  &[data-hovered] { filter: brightness(1.15); }
`;

export function RegionSentence({ corr }: { corr: CorrectionRecord | null }) {
  const set = useSession((s) => s.set);
  if (!corr) return <Line>No correction yet: press N, or draw a key with K, to begin one.</Line>;
  const pieces = sentence(corr);
  return (
    <Line aria-label={plain(pieces)} data-sentence={plain(pieces)}>
      {pieces.map((p, i) => {
        if (typeof p !== 'string') return <ChipButton key={i} onPress={() => set({ step: p.step, ...(p.use ? { term: p.use } : {}) })}>{p.text}</ChipButton>;
        return /^[,;]$/.test(p) ? <span key={i} style={{ marginLeft: -5 }}>{p}</span> : <span key={i}>{p}</span>;
      })}
    </Line>
  );
}
