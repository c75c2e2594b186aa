/** Keyframes of a correction, a lane for each thing that moves: set, choose, drag, copy, remove, ease. */
import { useEffect, useRef, useState } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import { ChevronLeft, ChevronRight, Diamond } from 'lucide-react';
import styled from 'styled-components';
import type { Ease } from '../../core/op/params';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Select } from '../../ui/controls';
import { allLanes, keyHere, lanesOf, nearKey, removeKeys, repeatKeys, setEase, shiftKeys, toggleKey } from '../keying';
import type { Chosen, Lane } from '../keying';
import { player } from '../player';
import { useDoc } from '../store';
import { useFrame } from '../values';

const Box = styled.div`
  padding: 2px 0 8px;
  .row {
    display: flex;
    align-items: center;
    gap: 4px;
    height: 30px;
  }
  .lane {
    display: grid;
    grid-template-columns: 190px 1fr;
    align-items: center;
    height: 26px;
    border-bottom: 1px solid color-mix(in srgb, var(--line), transparent 45%);
  }
  .name {
    display: flex;
    align-items: center;
    gap: 4px;
    min-width: 0;
  }
  .name span {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .time {
    position: relative;
    height: 26px;
    background: var(--well);
  }
  .now {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 1px;
    background: var(--dim);
    pointer-events: none;
  }
  .key {
    position: absolute;
    top: 6px;
    width: 13px;
    height: 13px;
    margin-left: -7px;
    padding: 0;
    border: 1px solid var(--text);
    background: var(--well);
    transform: rotate(45deg);
    touch-action: none;
  }
  .key[data-ease='linear'] {
    border-style: dashed;
  }
  .key[data-ease='hold'] {
    border-right-width: 4px;
  }
  .key[aria-pressed='true'] {
    background: var(--bright);
  }
  .key:focus-visible {
    outline: 2px solid var(--bright);
    outline-offset: 2px;
  }
`;
const EASES: Record<Ease, string> = { smooth: 'smoothly', linear: 'straight', hold: 'held' };
type Picked = Readonly<Record<string, readonly number[]>>;

export function KeyLanes({ shot, corr }: { shot: ShotRecord; corr: CorrectionRecord }) {
  const frame = useFrame();
  const lanes = lanesOf(corr);
  const [picked, setPicked] = useState<Picked>({});
  useEffect(() => setPicked({}), [corr.id]);
  const [first, last] = shot.range;
  const span = Math.max(1, last - first + 1);
  const at = (f: number): string => `${(((f - first + 0.5) / span) * 100).toFixed(3)}%`;
  const chosen = (from: Picked = picked): Chosen =>
    lanes.flatMap((lane) => {
      const frames = (from[lane.id] ?? []).filter((f) => lane.frames.includes(f));
      return frames.length > 0 ? [{ lane, frames: new Set(frames) }] : [];
    });
  const some = chosen();
  const moved = (from: Picked, by: number): Picked => {
    const least = Math.min(...Object.values(from).flat());
    const d = Math.max(by, -least);
    return Object.fromEntries(Object.entries(from).map(([k, l]) => [k, l.map((f) => f + d)]));
  };
  const shift = (by: number): void => {
    shiftKeys(corr.id, some, by);
    setPicked(moved(picked, by));
  };
  const drag = useRef<{ x: number; width: number; from: Picked; chosen: Chosen; by: number } | null>(null);
  const down = (e: PointerEvent<HTMLButtonElement>, lane: Lane, f: number): void => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const had = picked[lane.id]?.includes(f) ?? false;
    const base = e.shiftKey || had ? picked : {};
    const next: Picked =
      e.shiftKey && had
        ? { ...base, [lane.id]: base[lane.id]!.filter((x) => x !== f) }
        : { ...base, [lane.id]: [...new Set([...(base[lane.id] ?? []), f])] };
    setPicked(next);
    const width = e.currentTarget.parentElement!.getBoundingClientRect().width;
    drag.current = { x: e.clientX, width, from: next, chosen: chosen(next), by: 0 };
  };
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d || d.chosen.length === 0) return;
    const by = Math.round(((e.clientX - d.x) / d.width) * span);
    if (by === d.by) return;
    const doc = useDoc.getState();
    // From where they were: keys that are only passed over stay.
    doc.bail();
    doc.begin('Move keys');
    shiftKeys(corr.id, d.chosen, by);
    d.by = by;
    setPicked(moved(d.from, by));
  };
  const up = (): void => {
    if (drag.current && drag.current.by !== 0) useDoc.getState().end();
    drag.current = null;
  };
  const key = (e: KeyboardEvent): void => {
    if (e.ctrlKey || e.metaKey) return;
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (by !== undefined && some.length > 0) shift(by * (e.shiftKey ? 10 : 1));
    else if (e.key === 'Delete' || e.key === 'Backspace') removeKeys(corr.id, some);
    else if (e.key === 'Escape' && drag.current) {
      useDoc.getState().bail();
      setPicked(drag.current.from);
      drag.current = null;
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const still = allLanes(corr).filter((l) => l.frames.length === 0);
  const eases = [...new Set(some.flatMap((x) => [...x.frames].map((f) => x.lane.eases[f]!)))];
  const [before, after] = [nearKey(corr, frame, -1), nearKey(corr, frame, 1)];
  return (
    <Box aria-label="Keyframes" role="group">
      <div className="row">
        <IconButton
          aria-label="Key before"
          tip="To the key before (Shift J)"
          isDisabled={before === null}
          onPress={() => before !== null && player.go(before)}
        >
          <ChevronLeft />
        </IconButton>
        <Button onPress={() => keyHere(corr.id)} tip="A key here for all that moves, or for the chosen shape (Shift K)">
          <Diamond />
          Key here
        </Button>
        <IconButton
          aria-label="Key after"
          tip="To the key after (Shift L)"
          isDisabled={after === null}
          onPress={() => after !== null && player.go(after)}
        >
          <ChevronRight />
        </IconButton>
        <Select
          aria-label="Let a value move"
          value=""
          onChange={(e) => e.target.value && toggleKey(corr.id, e.target.value)}
          style={{ maxWidth: 190 }}
        >
          <option value="">let a value move {'\u2026'}</option>
          {still.map((l) => (
            <option key={l.id} value={l.id}>
              {l.title}
            </option>
          ))}
        </Select>
        <span style={{ flex: 1 }} />
        {some.length > 0 ? (
          <>
            <Dim>{some.reduce((a, x) => a + x.frames.size, 0)} chosen, go on</Dim>
            <Select
              aria-label="How chosen keys go on"
              value={eases.length === 1 ? eases[0] : ''}
              onChange={(e) => setEase(corr.id, some, e.target.value as Ease)}
            >
              {eases.length !== 1 && <option value="">differently</option>}
              {Object.entries(EASES).map(([id, title]) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </Select>
            <Button
              onPress={() => repeatKeys(corr.id, some, frame - Math.min(...some.flatMap((x) => [...x.frames])))}
              tip="Copies of the chosen keys, the first of them at the playhead"
            >
              Copy here
            </Button>
            <Button onPress={() => removeKeys(corr.id, some)} tip="Removes the chosen keys (Delete)">
              Remove
            </Button>
          </>
        ) : (
          lanes.length > 0 && <Dim>Choose keys to move, copy or remove them; Shift takes more</Dim>
        )}
      </div>
      {lanes.length === 0 && (
        <Dim>
          Nothing moves in {`"${corr.name}"`} yet. Choose a shape and press Key here, or let a value move; then go to
          another frame and change it: it gets a key there.
        </Dim>
      )}
      {lanes.map((l) => (
        <div className="lane" key={l.id} data-lane={l.title}>
          <div className="name">
            <IconButton
              aria-label={l.frames.includes(frame) ? `Remove the key of ${l.title} here` : `Key of ${l.title} here`}
              onPress={() => toggleKey(corr.id, l.id)}
            >
              <Diamond fill={l.frames.includes(frame) ? 'currentColor' : 'none'} />
            </IconButton>
            <span title={l.title}>{l.title}</span>
          </div>
          <div className="time">
            <div className="now" style={{ left: at(frame) }} />
            {l.frames.map((f) => (
              <button
                key={f}
                type="button"
                className="key"
                data-frame={f}
                data-ease={l.eases[f]}
                style={{ left: at(f) }}
                aria-label={`Key of ${l.title} at frame ${f}, goes on ${EASES[l.eases[f]!]}`}
                aria-pressed={picked[l.id]?.includes(f) ?? false}
                onPointerDown={(e) => down(e, l, f)}
                onPointerMove={move}
                onPointerUp={up}
                onPointerCancel={up}
                onDoubleClick={() => player.go(f)}
                onClick={(e) => e.detail === 0 && setPicked({ ...picked, [l.id]: [...(picked[l.id] ?? []), f] })}
                onKeyDown={key}
              />
            ))}
          </div>
        </div>
      ))}
    </Box>
  );
}
