/** Time under the picture: play, step, frame and timecode, the strip with its playhead, in and out, keys. */
import { memo, useEffect, useMemo, useRef } from 'react';
import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import styled from 'styled-components';
import { allTerms, isOp } from '../../core/graph/region';
import type { Moment } from '../../core/matte/overTime';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../../document/records';
import { wholeRange } from '../cut';
import { keyFrames } from '../keying';
import { markersOf } from '../markers';
import { loadOverTime, useOverTime } from '../overTime';
import { player, usePlay } from '../player';
import { codeOf, useShown } from './shownFrame';
import { TimeRow } from './TimeRow';
import { useThumbs } from './useThumbs';

const Box = styled.section`
  flex: none;
  background: var(--rail);
  border-top: 1px solid var(--line);
  padding: 2px 8px 6px;
  .row {
    display: flex;
    align-items: center;
    gap: 3px;
    height: 30px;
  }
  .gap {
    flex: 1;
  }
  .said {
    font-size: 12px;
    color: var(--dim);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  input {
    height: 24px;
    padding: 0 5px;
    border: 1px solid var(--line);
    border-radius: 3px;
    background: var(--well);
    color: var(--text);
    font-variant-numeric: tabular-nums;
  }
`;
const Strip = styled.div`
  position: relative;
  height: 38px;
  background: var(--deep);
  border-radius: 3px;
  overflow: hidden;
  cursor: ew-resize;
  outline: none;
  touch-action: none;
  &:focus-visible {
    box-shadow: 0 0 0 2px var(--bright);
  }
  canvas.thumbs {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    opacity: 0.75;
  }
  .out {
    position: absolute;
    top: 0;
    bottom: 0;
    background: rgb(20 20 20 / 78%);
  }
  .made {
    position: absolute;
    bottom: 0;
    height: 3px;
    background: var(--bright);
    opacity: 0.65;
  }
  .band {
    position: absolute;
    top: 0;
    height: 4px;
    background: #e8e8e8;
  }
  .band[data-look='poorly'] {
    background: repeating-linear-gradient(90deg, #e8e8e8 0 4px, #333 4px 7px);
  }
  .band[data-look='lost'] {
    background: #111;
    box-shadow: inset 0 0 0 1px #e8e8e8;
  }
  .key {
    position: absolute;
    top: 6px;
    width: 8px;
    height: 8px;
    margin-left: -4px;
    transform: rotate(45deg);
    background: var(--bright);
    border: 1px solid #222;
  }
  .marker {
    position: absolute;
    bottom: 3px;
    width: 7px;
    height: 10px;
    margin-left: -3.5px;
    background: var(--bright);
    clip-path: polygon(0 0, 100% 0, 100% 100%, 50% 70%, 0 100%);
  }
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
  svg path {
    fill: none;
    stroke: #fff;
    stroke-width: 1.2;
    vector-effect: non-scaling-stroke;
    paint-order: stroke;
    filter: drop-shadow(0 0 1px #000);
  }
  .rail {
    position: absolute;
    inset: 0;
    pointer-events: none;
  }
  .head {
    position: absolute;
    left: 0;
    top: 0;
    bottom: 0;
    width: 2px;
    margin-left: -1px;
    background: #fff;
    box-shadow: 0 0 0 1px rgb(0 0 0 / 55%);
  }
`;
const SPEEDS = [1, 2, 4, 8];

interface Shown {
  shot: ShotRecord;
  media: MediaRecord;
}
export const TimeStrip = memo(function TimeStrip({ shot, media, corr }: Shown & { corr: CorrectionRecord | null }) {
  return (
    <Box aria-label="Time">
      <TimeRow shot={shot} media={media} />
      <Playhead shot={shot} media={media}>
        <Ground shot={shot} media={media} corr={corr} />
      </Playhead>
    </Box>
  );
});
/** The strip as a slider, over its ground. */
function Playhead({ shot, media, children }: Shown & { children: ReactNode }) {
  const frame = useShown(shot);
  const strip = useRef<HTMLDivElement>(null);
  const [first, last] = shot.range;
  const point = (e: PointerEvent): number => {
    const r = strip.current!.getBoundingClientRect();
    return Math.floor(((e.clientX - r.left) / r.width) * media.frames);
  };
  const held = useRef(false);
  const down = (e: PointerEvent<HTMLDivElement>): void => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    held.current = true;
    player.scrub(point(e));
  };
  const up = (): void => {
    if (!held.current) return;
    held.current = false;
    const f = usePlay.getState().frame;
    if (f !== null) player.go(f);
  };
  const key = (e: KeyboardEvent): void => {
    if (e.altKey || e.ctrlKey || e.metaKey) return;
    const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: 10, PageDown: -10 }[e.key];
    if (by !== undefined) player.step(by * (e.shiftKey ? 10 : 1));
    else if (e.key === 'Home') player.go(first);
    else if (e.key === 'End') player.go(last);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <Strip
      ref={strip}
      role="slider"
      tabIndex={0}
      aria-label="Playhead"
      aria-valuemin={first}
      aria-valuemax={last}
      aria-valuenow={frame}
      aria-valuetext={`frame ${frame}, ${codeOf(shot, frame)}`}
      onPointerDown={down}
      onPointerMove={(e) => held.current && player.scrub(point(e))}
      onPointerUp={up}
      onPointerCancel={up}
      onDoubleClick={() => wholeRange(shot, media.frames)}
      onKeyDown={key}
    >
      {children}
      {/* Of its own width it is moved by a share: nothing is laid out anew. */}
      <div className="rail" style={{ transform: `translateX(${(((frame + 0.5) / media.frames) * 100).toFixed(3)}%)` }}>
        <div className="head" />
      </div>
    </Strip>
  );
}
const Ground = memo(function Ground({ shot, media, corr }: Shown & { corr: CorrectionRecord | null }) {
  const made = usePlay((s) => s.made);
  const thumbs = useThumbs(shot, media);
  const [first, last] = shot.range;
  const keys = useMemo(() => keyFrames(corr), [corr]);
  const band = useMemo(() => qualityBand(corr), [corr]);
  const at = (f: number): string => `${((f / media.frames) * 100).toFixed(3)}%`;
  return (
    <>
      <canvas className="thumbs" ref={thumbs} />
      {first > 0 && <div className="out" style={{ left: 0, width: at(first) }} />}
      {last < media.frames - 1 && <div className="out" style={{ left: at(last + 1), right: 0 }} />}
      {made.map(([a, b]) => (
        <div key={a} className="made" style={{ left: at(a), width: at(b - a + 1) }} />
      ))}
      {band.map(([a, b, look]) => (
        <div key={`${a} ${look}`} className="band" data-look={look} style={{ left: at(a), width: at(b - a + 1) }} />
      ))}
      <Lines shot={shot} frames={media.frames} />
      {markersOf(shot).map((m) => (
        <div
          key={`m${m.frame}`}
          className="marker"
          data-marker={m.frame}
          style={{ left: at(m.frame + 0.5) }}
          title={m.note}
        />
      ))}
      {keys.map((f) => (
        <div key={f} className="key" style={{ left: at(f + 0.5) }} />
      ))}
    </>
  );
});
/**
 * The shot's readings as small lines, where it was read over time: change of the matte dashed, skin off-line drawn
 * through.
 */
const Lines = memo(function Lines({ shot, frames }: { shot: ShotRecord; frames: number }) {
  const moments = useOverTime((s) => s.of[shot.id]?.moments);
  useEffect(() => loadOverTime(shot.id), [shot.id]);
  const paths = useMemo(() => {
    if (!moments) return [];
    // Of its own span each: the numbers stand in Over time.
    const path = (of: (m: Moment) => number | null, least: number): string => {
      const told = moments.flatMap((m) => (of(m) === null ? [] : [[m.frame + 0.5, of(m)!] as const]));
      const values = told.map((t) => t[1]);
      const lo = Math.min(...values);
      const span = Math.max(least, Math.max(...values) - lo);
      return told.map(([x, v], i) => `${i ? 'L' : 'M'}${x} ${(34 - (30 * (v - lo)) / span).toFixed(2)}`).join('');
    };
    return [
      { d: path((m) => m.change, 0.01), dash: '3 3' },
      { d: path((m) => m.patches.find((p) => p.offLineDeg !== null)?.offLineDeg ?? null, 4), dash: undefined },
    ].filter((p) => p.d !== '');
  }, [moments]);
  return paths.length === 0 ? null : (
    <svg viewBox={`0 0 ${frames} 38`} preserveAspectRatio="none" aria-hidden>
      {paths.map((p) => (
        <path key={p.d} d={p.d} strokeDasharray={p.dash} />
      ))}
    </svg>
  );
});
/** How well a shape of the correction was followed, in pieces of one look; of several shapes the worst. */
function qualityBand(corr: CorrectionRecord | null): [number, number, 'well' | 'poorly' | 'lost'][] {
  const worst = new Map<number, number>();
  for (const t of corr ? allTerms(corr.terms) : [])
    if (isOp(t) && t.track)
      for (const p of t.track.path)
        worst.set(p.frame, Math.min(worst.get(p.frame) ?? 2, p.lost ? -1 : (p.quality ?? 1)));
  const out: [number, number, 'well' | 'poorly' | 'lost'][] = [];
  for (const [f, q] of [...worst].sort(([a], [b]) => a - b)) {
    const look = q < 0 ? 'lost' : q < 0.55 ? 'poorly' : 'well';
    const last = out.at(-1);
    if (last && last[1] === f - 1 && last[2] === look) last[1] = f;
    else out.push([f, f, look]);
  }
  return out;
}
/** Faster with each press in one direction. */
export function shuttle(direction: 1 | -1): void {
  const { playing, speed } = usePlay.getState();
  const now = playing && Math.sign(speed) === direction ? SPEEDS.indexOf(Math.abs(speed)) : -1;
  player.play(direction * SPEEDS[Math.min(SPEEDS.length - 1, now + 1)]!);
}
