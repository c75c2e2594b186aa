/** What is wrong with the matte, measured, each fault a press away on the picture; and tidying it by these figures. */
import { useEffect, useRef, useState } from 'react';
import { WandSparkles } from 'lucide-react';
import styled from 'styled-components';
import { healthSaid, tidyFor } from '../../core/matte/health';
import type { Fault, Faults } from '../../core/matte/health';
import { fitFor } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { HealthReply } from '../../protocol/messages';
import { Button, Dim } from '../../ui/controls';
import { applyTidy, shotState } from '../actions';
import { asking } from '../asking';
import { engine } from '../engine';
import { useLive } from '../live';
import { asideFailed, guard, sayNews } from '../notices';
import { addTerm, editTerm } from '../region';
import { inverse } from '../scenes';
import { addStroke, chosenPainted } from '../strokes';
import { useDoc, useSession } from '../store';

const Table = styled.dl`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 8px;
  align-items: center;
  margin: 6px 0;
  dt {
    color: var(--dim);
  }
  dd {
    margin: 0;
    display: flex;
    gap: 4px;
    justify-content: flex-end;
    align-items: center;
    min-height: 24px;
    font-variant-numeric: tabular-nums;
  }
  button {
    height: 22px;
    padding: 0 6px;
  }
`;
/** A fault fills about so much of the view's smaller side. */
const SHOWN = 0.2;
/** Room that a shape leaves about what it cuts out, in parts of its size and in pixels. */
const ROOM = 0.2;
const ROOM_PX = 4;

function look(f: Fault): void {
  const stage = document.querySelector<HTMLElement>('[role="application"]');
  if (!stage) return;
  const size = Math.max(4, f.box.w, f.box.h);
  const scale = Math.min(8, Math.max(0.5, (SHOWN * Math.min(stage.clientWidth, stage.clientHeight)) / size));
  useSession.getState().set({ zoom: { scale, cx: f.x + 0.5, cy: f.y + 0.5 }, hold: null });
}
/** A piece goes: by a stroke that says "not this" where there is a spread, else by an ellipse that leaves it out. */
function cut(corr: CorrectionRecord, shot: ShotRecord, f: Fault): void {
  const doc = useDoc.getState;
  const fit = inverse(fitFor(doc().records, corr, shot));
  const own = (v: number, d: number): number => Math.round(10 * (v * fit.s + d)) / 10;
  const painted = chosenPainted(corr);
  if (painted) {
    void addStroke(corr.id, painted.id, {
      keep: false,
      frame: useSession.getState().frame,
      points: [[own(f.x + 0.5, fit.dx), own(f.y + 0.5, fit.dy)]],
    });
    return;
  }
  doc().begin('Cut a piece off');
  const { x, y, w, h } = f.box;
  // An ellipse about a box is larger by the root of two.
  const half = (n: number): number => Math.round(10 * fit.s * (n * (Math.SQRT1_2 + ROOM / 2) + ROOM_PX)) / 10;
  const id = addTerm(corr.id, 'ellipse', {
    cxPx: own(x + w / 2, fit.dx),
    cyPx: own(y + h / 2, fit.dy),
    rxPx: half(w),
    ryPx: half(h),
    softInPx: 1,
    softOutPx: 1,
  });
  editTerm(corr.id, id, { not: true });
  doc().end();
}

/** Of the matte as it stands; asked again when the picture has come to rest. */
export function useHealth(shot: ShotRecord, corr: CorrectionRecord): HealthReply | null {
  const finals = useLive((s) => s.finals);
  const [told, setTold] = useState<{ of: string; health: HealthReply | null }>({ of: '', health: null });
  useEffect(
    () =>
      asking(
        (signal) =>
          engine().request(
            'health',
            { shot: shotState(useDoc.getState().records, shot), correction: corr.id, untidied: false },
            signal,
          ),
        (health) => setTold({ of: corr.id, health }),
        asideFailed('The health of the matte was not renewed'),
      ),
    [finals, shot, corr.id],
  );
  return told.of === corr.id ? told.health : null;
}
async function tidyForMe(shot: ShotRecord, corr: CorrectionRecord): Promise<void> {
  const h = await guard('The matte was not tidied', () =>
    engine().request('health', {
      shot: shotState(useDoc.getState().records, shot),
      correction: corr.id,
      untidied: true,
    }),
  );
  if (!h) return;
  const steps = tidyFor(h);
  if (steps.length === 0) sayNews('There is nothing to tidy: no specks, no holes, flat parts are flat.');
  else applyTidy(corr.id, steps);
}

const pct = (v: number): string => `${(100 * v).toFixed(v < 0.1 ? 2 : 1)} %`;
export function HealthPanel({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const h = useHealth(shot, corr);
  const next = useRef<Record<string, number>>({});
  const show = (name: string, f: Faults): void => {
    const i = (next.current[name] ?? 0) % f.list.length;
    next.current[name] = i + 1;
    look(f.list[i]!);
  };
  const row = (name: string, f: Faults, tail?: Fault) => (
    <>
      <dt>{name}</dt>
      <dd data-health={name}>
        {f.count === 0 ? '0' : `${f.count}, ${f.area} px`}
        {f.count > 0 && (
          <Button
            look="outline"
            onPress={() => show(name, f)}
            tip="Goes to the largest on the picture, then to the next"
          >
            Look
          </Button>
        )}
        {tail && (
          <Button
            look="outline"
            onPress={() => cut(corr, shot, tail)}
            tip={
              chosenPainted(corr)
                ? 'Leaves the largest out by a stroke that says "not this"'
                : 'Leaves the largest out by an ellipse round it'
            }
          >
            Cut
          </Button>
        )}
      </dd>
    </>
  );
  return (
    <section aria-label="Health of the matte">
      <Button
        look="outline"
        onPress={() => void tidyForMe(shot, corr)}
        tip="Measures the matte and sets floor, ceiling, specks, holes and noise by it, as values that can be changed"
      >
        <WandSparkles />
        Tidy for me
      </Button>
      {h && (
        <>
          <Table>
            <dt>In the frame</dt>
            <dd data-health="Coverage">{pct(h.coverage)}</dd>
            {h.meant !== null && (
              <>
                <dt>Full about your strokes</dt>
                <dd data-health="Meant">{pct(h.meant)}</dd>
              </>
            )}
            {row('Specks', h.specks)}
            {row('Holes', h.holes)}
            {row('Pieces apart', h.apart, h.apart.list[0])}
            <dt>Noise of flat parts</dt>
            <dd data-health="Noise">{h.noise === null ? '\u2013' : pct(h.noise)}</dd>
            <dt>Width of the edge</dt>
            <dd data-health="Edge">{h.edgePx === null ? '\u2013' : `${h.edgePx.toFixed(1)} px`}</dd>
          </Table>
          {[...healthSaid(h), ...lightSaid(h)].map((s) => (
            <p key={s} style={{ margin: '2px 0' }} data-warning>
              <Dim>{s}</Dim>
            </p>
          ))}
        </>
      )}
    </section>
  );
}
/** A share of what is in that is worth a word. */
const MANY = 0.01;
function lightSaid(h: HealthReply): string[] {
  return [
    ...(h.blown > MANY ? [`${pct(h.blown)} of what is in is blown in a channel: detail cannot come back there.`] : []),
    ...(h.crushed > MANY ? [`${pct(h.crushed)} of what is in is black: there is no colour to correct.`] : []),
  ];
}
