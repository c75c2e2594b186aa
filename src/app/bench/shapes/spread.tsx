/** Strokes of a spread, or of a key that they set, on the picture: whole lines say "this", broken ones "not this". */
import type { KeyboardEvent } from 'react';
import { countingAt, strokesAt } from '../../../core/graph/strokes';
import { removeStroke, turnStroke } from '../../strokes';
import { useSession } from '../../store';
import { useFrame } from '../../values';
import type { ShapeHandlesProps } from './index';

export default function SpreadStrokes({ corr, term, place, chosen }: ShapeHandlesProps) {
  const S = ([x, y]: readonly [number, number]): string =>
    `${(x - place.offX) * place.scale},${(y - place.offY) * place.scale}`;
  const pick = (): void => useSession.getState().set({ correction: corr.id, term: term.id });
  const frame = useFrame();
  const painted = term.strokes ?? [];
  if (!chosen || painted.length === 0) return null;
  // Those that count at this frame, where they lie on it.
  const here = strokesAt(painted, frame, 1, undefined, term.track);
  return (
    <g>
      {countingAt(painted, frame).map((i, k) => {
        const { keep, points } = here[k]!;
        // A press at one place is a dot.
        const line = (points.length > 1 ? points : [points[0]!, points[0]!]).map(S).join(' ');
        const act = (e: KeyboardEvent): void => {
          if (e.key === 'Delete' || e.key === 'Backspace') void removeStroke(corr.id, term.id, i);
          else if (e.key === 'Enter' || e.key === ' ') void turnStroke(corr.id, term.id, i);
          else return;
          e.preventDefault();
          e.stopPropagation();
        };
        return (
          <g
            key={i}
            className="grab"
            role="button"
            tabIndex={0}
            aria-label={`${keep ? 'Keep' : 'Leave'} stroke ${i + 1}: Enter turns it round, Delete removes it`}
            onPointerDown={(e) => {
              e.stopPropagation();
              pick();
              e.currentTarget.focus();
            }}
            onDoubleClick={() => void turnStroke(corr.id, term.id, i)}
            onKeyDown={act}
          >
            <polyline points={line} fill="none" stroke="transparent" strokeWidth={14} />
            <polyline className="under dot" points={line} strokeWidth={5} strokeLinecap="round" />
            <polyline
              className="line"
              points={line}
              strokeWidth={2.5}
              strokeLinecap="round"
              strokeDasharray={keep ? undefined : '2 6'}
            />
          </g>
        );
      })}
    </g>
  );
}
