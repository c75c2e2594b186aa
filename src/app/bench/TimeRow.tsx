/**
 * Over the time strip: play and step, frame and timecode, what was dropped, markers, in and out, cuts. Each is drawn
 * anew by itself: with every frame that plays only the numbers are.
 */
import { lazy, memo, Suspense, useState } from 'react';
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
import { useShallow } from 'zustand/react/shallow';
import { frameOfTimecode } from '../../core/math/timecode';
import type { MediaRecord, ShotRecord } from '../../document/records';
import { Dim, IconButton, Select } from '../../ui/controls';
import { setRange, splitShot } from '../cut';
import { sayError } from '../notices';
import { markersOf, noteMarker, toggleMarker } from '../markers';
import { player, usePlay } from '../player';
import type { Loop } from '../playing';
import { useFrame } from '../values';
import { codeOf, frameNow, frameOf, useShown } from './shownFrame';
import { SoundButton } from './SoundButton';

/** Opened seldom: loaded then. */
const CutsSheet = lazy(() => import('./CutsSheet'));

interface Shown {
  shot: ShotRecord;
  media: MediaRecord;
}
export const TimeRow = memo(function TimeRow({ shot, media }: Shown) {
  return (
    <div className="row">
      <Transport />
      <Where shot={shot} />
      <span className="gap" />
      <Dropped shot={shot} />
      <AtTheEnd />
      <SoundButton media={media} />
      <MarkerTools shot={shot} />
      <CutTools shot={shot} media={media} />
    </div>
  );
});
const Transport = memo(function Transport() {
  const playing = usePlay((s) => s.playing);
  return (
    <>
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
    </>
  );
});
/** Frame and timecode; either is typed. */
function Where({ shot }: { shot: ShotRecord }) {
  const frame = useShown(shot);
  const [typed, setTyped] = useState<string | null>(null);
  const [first, last] = shot.range;
  const code = codeOf(shot, frame);
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
  const rate = Number((shot.rate[0] / shot.rate[1]).toFixed(3));
  return (
    <>
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
        {last}, {rate} fps
      </Dim>
    </>
  );
}
/** Of the round that runs or of the one before; and how much is kept of what does not fit. */
function Dropped({ shot }: { shot: ShotRecord }) {
  const { playing, speed, shown, dropped, before, fits } = usePlay(
    useShallow(({ playing, speed, shown, dropped, before, fits }) => ({
      playing,
      speed,
      // Of a round that is over nothing changes while the next one runs.
      shown: before ? Math.min(1, shown) : shown,
      dropped: before ? 0 : dropped,
      before,
      fits,
    })),
  );
  const [first, last] = shot.range;
  return (
    <>
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
    </>
  );
}
function AtTheEnd() {
  const loop = usePlay((s) => s.loop);
  return (
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
  );
}
const MarkerTools = memo(function MarkerTools({ shot }: { shot: ShotRecord }) {
  const still = useFrame();
  // While it plays none is told: they would only flicker.
  const shown = usePlay((s) => (s.playing ? NaN : s.frame));
  const frame = frameOf(shot, shown, still);
  const marker = markersOf(shot).find((m) => m.frame === frame);
  return (
    <>
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
        onPress={() => toggleMarker(shot, frameNow(shot))}
      >
        {marker ? <BookmarkX /> : <Bookmark />}
      </IconButton>
    </>
  );
});
const CutTools = memo(function CutTools({ shot, media }: Shown) {
  const go = useNavigate();
  const [cutting, setCutting] = useState(false);
  return (
    <>
      <IconButton
        aria-label="In point here"
        tip="The shot begins here (I)"
        onPress={() => setRange(shot, 'in', frameNow(shot))}
      >
        <ArrowLeftToLine />
      </IconButton>
      <IconButton
        aria-label="Out point here"
        tip="The shot ends here (Shift I)"
        onPress={() => setRange(shot, 'out', frameNow(shot))}
      >
        <ArrowRightToLine />
      </IconButton>
      <IconButton
        aria-label="Cut the shot here"
        tip="Makes two shots of it: the second begins with this frame and has the same corrections"
        onPress={() => {
          const next = splitShot(shot, [frameNow(shot)]);
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
    </>
  );
});
