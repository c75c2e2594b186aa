/** Time under the picture: play, step, frame and timecode, the strip with its playhead, in and out, keys. */
import { lazy, memo, Suspense, useEffect, useMemo, useRef, useState } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import {
  ArrowLeftToLine,
  ArrowRightToLine,
  Bookmark,
  BookmarkX,
  Pause,
  Play,
  ScanSearch,
  Scissors,
  StepBack,
  StepForward,
} from 'lucide-react';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import { allTerms, isOp } from '../../core/graph/region';
import { frameOfTimecode, timecodeOf } from '../../core/math/timecode';
import type { Moment } from '../../core/matte/overTime';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../../document/records';
import { Dim, IconButton, Select } from '../../ui/controls';
import { setRange, splitShot, wholeRange } from '../cut';
import { keyFrames } from '../keying';
import { sayError } from '../notices';
import { markersOf, noteMarker, toggleMarker } from '../markers';
import { loadOverTime, useOverTime } from '../overTime';
import { player, usePlay } from '../player';
import type { Loop } from '../playing';
import { useFrame } from '../values';
import { SoundButton } from './SoundButton';
import { useThumbs } from './useThumbs';

/** Opened seldom: loaded then. */
const CutsSheet = lazy(() => import('./CutsSheet'));

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
  .head {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 2px;
    margin-left: -1px;
    background: #fff;
    box-shadow: 0 0 0 1px rgb(0 0 0 / 55%);
  }
`;
const SPEEDS = [1, 2, 4, 8];

export const TimeStrip = memo(function TimeStrip({
  shot,
  media,
  corr,
}: {
  shot: ShotRecord;
  media: MediaRecord;
  corr: CorrectionRecord | null;
}) {
  const go = useNavigate();
  const { playing, speed, frame: shownFrame, shown, dropped, before, loop, made, fits } = usePlay();
  const still = useFrame();
  const frame = shownFrame ?? Math.max(shot.range[0], Math.min(shot.range[1], still));
  const strip = useRef<HTMLDivElement>(null);
  const thumbs = useThumbs(shot, media);
  const [typed, setTyped] = useState<string | null>(null);
  const [cutting, setCutting] = useState(false);
  const [first, last] = shot.range;
  const keys = useMemo(() => keyFrames(corr), [corr]);
  const markers = markersOf(shot);
  const marker = playing ? undefined : markers.find((m) => m.frame === frame);
  const band = useMemo(() => qualityBand(corr), [corr]);
  const at = (f: number): string => `${((f / media.frames) * 100).toFixed(3)}%`;
  const code = timecodeOf(shot.timecode.start + frame, shot.rate, shot.timecode.drop);
  const take = (): void => {
    if (typed === null) return;
    setTyped(null);
    const whole = /^\s*\d+\s*$/.test(typed);
    const n = frameOfTimecode(typed, shot.rate, shot.timecode.drop);
    if (n === null) {
      sayError(`"${typed}" is neither a frame number nor a timecode: type 48, or 00:00:02:00.`);
      return;
    }
    const f = whole ? n : n - shot.timecode.start;
    if (f < first || f > last)
      sayError(`Frame ${f} lies outside the shot, which shows ${first} to ${last}: the nearest is shown.`);
    player.go(f);
  };
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
  const rate = Number((shot.rate[0] / shot.rate[1]).toFixed(3));
  return (
    <Box aria-label="Time">
      <div className="row">
        <IconButton aria-label="One frame back" tip="One frame back (\u2190)" onPress={() => player.step(-1)}>
          <StepBack />
        </IconButton>
        <IconButton
          aria-label={playing ? 'Pause' : 'Play'}
          tip={playing ? 'Pause (Space, K)' : 'Play (Space; L forwards, J backwards, again for faster)'}
          onPress={() => player.toggle()}
        >
          {playing ? <Pause /> : <Play />}
        </IconButton>
        <IconButton aria-label="One frame on" tip="One frame on (\u2192)" onPress={() => player.step(1)}>
          <StepForward />
        </IconButton>
        <input
          aria-label="Frame or timecode"
          title="Type a frame number or a timecode"
          style={{ width: 96 }}
          value={typed ?? code}
          onFocus={(e) => {
            setTyped(code);
            e.currentTarget.select();
          }}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={() => setTyped(null)}
          onKeyDown={(e) => {
            if (e.key === 'Enter') take();
            else if (e.key === 'Escape') setTyped(null);
            else return;
            // Keys are the Bench's again.
            e.currentTarget.blur();
          }}
        />
        <Dim data-frame={frame} style={{ whiteSpace: 'nowrap' }} title={`${rate} frames a second`}>
          frame {frame} of {first}
          {'\u2013'}
          {last}, {rate} frames/s
        </Dim>
        <span className="gap" />
        {(playing || shown > 0) && (
          <span
            className="said"
            aria-label="Dropped frames"
            title="Frames that could not be made in time; the rate is kept"
            data-dropped={(before ?? { dropped }).dropped}
            data-shown={(before ?? { shown }).shown}
            data-round={before ? 'before' : 'first'}
          >
            {playing && speed !== 1 ? `${speed < 0 ? 'backwards ' : ''}${Math.abs(speed)}\u00d7, ` : ''}
            {before ? `${before.dropped} of ${before.shown + before.dropped}` : `${dropped} of ${shown + dropped}`}{' '}
            dropped
            {before ? ' before' : ''}
          </span>
        )}
        {fits > 0 && last - first + 1 > fits && <span className="said">{fits} frames fit into memory</span>}
        <Select
          aria-label="At the end"
          value={loop}
          onChange={(e) => {
            usePlay.setState({ loop: e.target.value as Loop });
            player.soundAnew();
          }}
          style={{ maxWidth: 132 }}
        >
          <option value="loop">again and again</option>
          <option value="backAndForth">there and back</option>
          <option value="once">once</option>
        </Select>
        <SoundButton media={media} />
        {marker && (
          <input
            key={marker.frame}
            aria-label="Note of the marker"
            placeholder="note"
            title="Of the marker at this frame"
            style={{ width: 120 }}
            defaultValue={marker.note}
            maxLength={200}
            onBlur={(e) => noteMarker(shot, marker.frame, e.target.value.trim())}
            onKeyDown={(e) => {
              if (e.key === 'Escape') e.currentTarget.value = marker.note;
              if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
              e.stopPropagation();
            }}
          />
        )}
        <IconButton
          aria-label={marker ? 'Remove the marker here' : 'Marker here'}
          tip={marker ? 'Remove the marker (;)' : 'A marker here, with a note (; then , and . go from one to the next)'}
          onPress={() => toggleMarker(shot, frame)}
        >
          {marker ? <BookmarkX /> : <Bookmark />}
        </IconButton>
        <IconButton
          aria-label="In point here"
          tip="The shot begins here (I)"
          onPress={() => setRange(shot, 'in', frame)}
        >
          <ArrowLeftToLine />
        </IconButton>
        <IconButton
          aria-label="Out point here"
          tip="The shot ends here (Shift I)"
          onPress={() => setRange(shot, 'out', frame)}
        >
          <ArrowRightToLine />
        </IconButton>
        <IconButton
          aria-label="Cut the shot here"
          tip="Makes two shots of it: the second begins with this frame and has the same corrections"
          onPress={() => {
            const next = splitShot(shot, [frame]);
            if (next) void go(`/bench/${next}`);
          }}
        >
          <Scissors />
        </IconButton>
        <IconButton
          aria-label="Look for cuts"
          tip="Looks for hard cuts in the shot and lists them, to make shots of what lies between"
          onPress={() => setCutting(true)}
        >
          <ScanSearch />
        </IconButton>
        {cutting && (
          <Suspense fallback={null}>
            <CutsSheet
              shot={shot}
              media={media}
              close={(made) => {
                setCutting(false);
                if (made) void go(`/bench/${made}`);
              }}
            />
          </Suspense>
        )}
      </div>
      <Strip
        ref={strip}
        role="slider"
        tabIndex={0}
        aria-label="Playhead"
        aria-valuemin={first}
        aria-valuemax={last}
        aria-valuenow={frame}
        aria-valuetext={`frame ${frame}, ${code}`}
        onPointerDown={down}
        onPointerMove={(e) => held.current && player.scrub(point(e))}
        onPointerUp={up}
        onPointerCancel={up}
        onDoubleClick={() => wholeRange(shot, media.frames)}
        onKeyDown={key}
      >
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
        {markers.map((m) => (
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
        <div className="head" style={{ left: at(frame + 0.5) }} />
      </Strip>
    </Box>
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
