/** The first-use path through the demo film: what to do first, where, and what is done already. */
import { isAdjustment } from '../core/op/contract';
import { Check, X } from 'lucide-react';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import { opById } from '../core/graph/plan';
import type { OpUse } from '../core/graph/plan';
import { allTerms, isOp } from '../core/graph/region';
import { resolve } from '../core/op/params';
import { chartOf, correctionsOf, shotsOf } from '../document/records';
import type { Records, ShotRecord } from '../document/records';
import { Dim, IconButton } from '../ui/controls';
import { useDoc, useSession } from './store';

const Box = styled.section`
  background: var(--rail);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 9px 10px 11px 14px;
  margin-bottom: 16px;
  header {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 6px;
  }
  header b {
    font:
      italic 500 16px 'Source Serif 4 Variable',
      serif;
  }
  header span {
    flex: 1;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    grid-template-columns: repeat(6, 1fr);
    gap: 8px;
  }
  button.go {
    width: 100%;
    height: 100%;
    text-align: left;
    background: var(--bg);
    border: 1px solid var(--line);
    border-radius: 5px;
    padding: 7px 10px 9px;
    line-height: 1.35;
    display: block;
  }
  button.go:hover {
    background: var(--hover);
  }
  button.go strong {
    display: flex;
    align-items: center;
    gap: 5px;
    font-weight: 600;
    margin-bottom: 2px;
  }
  button.go svg {
    width: 14px;
    height: 14px;
  }
`;
const acts = (u: OpUse): boolean => {
  const op = opById(u.op);
  return u.on && isAdjustment(op) && !op.isNoOp(resolve(op.params, u.params));
};
const sets = (r: Records, s: ShotRecord, ...ops: string[]): boolean =>
  correctionsOf(r, s.id).some((c) => c.adjustments.some((u) => (ops.length === 0 || ops.includes(u.op)) && acts(u)));

interface Step {
  shot: string;
  title: string;
  does: string;
  session: Parameters<ReturnType<typeof useSession.getState>['set']>[0];
  done(r: Records, s: ShotRecord): boolean;
}
const STEPS: Step[] = [
  {
    shot: 'shot:chart-call',
    title: 'Read and convert',
    does: 'A log picture: see its conversion in the rail, switch it off and on, read the scopes.',
    session: { conversionOpen: true, shelfTab: 'readings' },
    done: (r, s) => chartOf(r, s.id) !== undefined || sets(r, s),
  },
  {
    shot: 'shot:chart-call',
    title: 'Solve the chart',
    does: 'Place the grid on the chart (H), pull its corners, press Solve: balance, levels, saturation.',
    session: { conversionOpen: false, shelf: true, shelfTab: 'chart' },
    done: (r, s) => chartOf(r, s.id) !== undefined && sets(r, s, 'exposure', 'temperature'),
  },
  {
    shot: 'shot:night-rack',
    title: 'Lift the night',
    does: 'Add a base (M), set black and white points with the helper, then exposure and contrast.',
    session: { conversionOpen: false, shelfTab: 'readings' },
    done: (r, s) => sets(r, s),
  },
  {
    shot: 'shot:cold-window',
    title: 'Take out the cold',
    does: 'The cap is white: Neutral patches together, at half strength. A window is not meant to be grey.',
    session: { conversionOpen: false, shelfTab: 'readings' },
    done: (r, s) => sets(r, s),
  },
  {
    shot: 'shot:proofing-table',
    title: 'Skin to the line',
    does: 'Key the left face (C), an ellipse round it (E), then Bring to line; Check proves the surround.',
    session: { conversionOpen: false, shelfTab: 'readings' },
    done: (r, s) =>
      correctionsOf(r, s.id).some(
        (c) => c.terms.length > 0 && c.adjustments.some((u) => (u.op === 'balance' || u.op === 'hueTurn') && acts(u)),
      ),
  },
  {
    shot: 'shot:courier-crossing',
    title: 'Hold it in motion',
    does: 'Play it (Space). A box on the jacket (Shift E), then Follow forwards; Keys hold what is set by hand.',
    session: { conversionOpen: false, shelf: true, shelfTab: 'keys', step: 'isolate' },
    done: (r, s) => correctionsOf(r, s.id).some((c) => allTerms(c.terms).some((t) => isOp(t) && t.track)),
  },
];

export function Guide() {
  const records = useDoc((s) => s.records);
  const { guide, set } = useSession();
  const go = useNavigate();
  const shots = shotsOf(records);
  const steps = STEPS.map((s) => ({ ...s, record: shots.find((x) => x.id === s.shot) })).filter(
    (s): s is Step & { record: ShotRecord } => s.record !== undefined,
  );
  if (!guide || steps.length < STEPS.length) return null;
  const done = steps.filter((s) => s.done(records, s.record)).length;
  return (
    <Box aria-label="First steps">
      <header>
        <b>First steps</b>
        <span>
          <Dim>
            {done === steps.length
              ? 'All done. Hand-off takes the work away in files.'
              : `Six things in the order of the work, ${done} of ${steps.length} done.`}
          </Dim>
        </span>
        <IconButton
          aria-label="Close the first steps"
          tip="Closes them; the Demo button brings them back"
          onPress={() => set({ guide: false })}
        >
          <X />
        </IconButton>
      </header>
      <ol>
        {steps.map((s, i) => (
          <li key={s.title}>
            <button
              type="button"
              className="go"
              onClick={() => {
                set({ ...s.session, shot: s.shot });
                void go(`/bench/${s.shot}`);
              }}
            >
              <strong>
                {s.done(records, s.record) ? <Check aria-label="done" /> : `${i + 1}.`} {s.title}
              </strong>
              <Dim>
                {s.record.name}: {s.does}
              </Dim>
            </button>
          </li>
        ))}
      </ol>
    </Box>
  );
}
