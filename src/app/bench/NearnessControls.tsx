/** A nearness key: its colours as chips, those left out beside them, how near and how softly. */
import { X } from 'lucide-react';
import styled from 'styled-components';
import { encode, encodings } from '../../core/color/encodings';
import { oklabToLinear } from '../../core/color/oklab';
import { opById } from '../../core/graph/plan';
import type { OpTerm } from '../../core/graph/plan';
import { resolve } from '../../core/op/params';
import type { NearColours } from '../../core/matte/near';
import type { CorrectionRecord } from '../../document/records';
import { Dim } from '../../ui/controls';
import { setParams } from '../actions';
import { useFrame, valuesOf } from '../values';
import { Params } from './Adjustment';

const Chips = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 4px 0 6px;
  align-items: center;
  button {
    position: relative;
    width: 26px;
    height: 20px;
    padding: 0;
    border: 1px solid var(--line);
    border-radius: 3px;
    color: #fff;
    svg {
      width: 12px;
      opacity: 0;
      filter: drop-shadow(0 0 1px #000);
    }
    &:hover svg,
    &:focus-visible svg {
      opacity: 1;
    }
  }
`;
/** As the page shows it. */
function css(L: number, a: number, b: number): string {
  const rgb = oklabToLinear(L, a, b).map((v) => Math.round(255 * encode(encodings.srgb, Math.min(1, Math.max(0, v)))));
  return `rgb(${rgb.join(' ')})`;
}

export function NearnessControls({ corr, term }: { corr: CorrectionRecord; term: OpTerm }) {
  const frame = useFrame();
  const v = resolve(opById('nearness').params, term.use.params, frame) as unknown as NearColours;
  const row = (name: keyof NearColours, words: string, least: number) => {
    const list = v[name];
    const n = Math.floor(list.length / 3);
    return (
      <Chips role="group" aria-label={words}>
        <Dim style={{ width: 58 }}>{words}</Dim>
        {Array.from({ length: n }, (_, i) => {
          const [L, a, b] = list.slice(3 * i, 3 * i + 3) as [number, number, number];
          return (
            <button
              key={i}
              type="button"
              style={{ background: css(L, a, b) }}
              aria-label={`${words}: colour ${i + 1}, remove it`}
              title={n > least ? 'Removes this colour' : 'The only colour: sample another one first'}
              disabled={n <= least}
              onClick={() =>
                setParams(
                  corr.id,
                  term.use.id,
                  { [name]: list.filter((_, k) => Math.floor(k / 3) !== i) },
                  'Remove a colour',
                )
              }
            >
              <X />
            </button>
          );
        })}
        {n === 0 && <Dim>none: take some away on the picture (X)</Dim>}
      </Chips>
    );
  };
  return (
    <>
      {row('near', 'Near', 1)}
      {row('far', 'Left out', 0)}
      <Params
        op="nearness"
        values={valuesOf(term.use, frame)}
        stored={term.use.params}
        put={(p) => setParams(corr.id, term.use.id, p)}
      />
    </>
  );
}
