/** The Bench: work rail, picture, scopes; the readings on a shelf below the picture. */
import { lazy, memo, startTransition, Suspense, useEffect, useRef, useState } from 'react';
import type { ReactNode } from 'react';
import {
  Anchor,
  ArrowLeftRight,
  Columns2,
  Maximize2,
  PanelLeftClose,
  PanelLeftOpen,
  SquareSplitHorizontal,
} from 'lucide-react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { useNavigate, useParams } from 'react-router';
import styled from 'styled-components';
import { encodings } from '../../core/color/encodings';
import { displayEncoding } from '../../core/graph/plan';
import { mediaOf, shotsOf } from '../../document/records';
import type { ShotRecord } from '../../document/records';
import { Button, IconButton, Select, ToggleButton } from '../../ui/controls';
import type { FalseColour } from '../../core/view/falseColour';
import type { Ground } from '../../protocol/messages';
import { chosenCorrection } from '../actions';
import { engine } from '../engine';
import { nothing, useLive } from '../live';
import { usePlay } from '../player';
import { useDoc, useSession } from '../store';
import { Rail } from './Rail';
import { RegionSentence } from './RegionSentence';
import { Scopes } from './Scopes';
import { Shelf } from './Shelf';
import { Stage } from './Stage';
import { TimeStrip } from './TimeStrip';
import { AgainstSelect } from './Versions';
import { toggleHold, useHeldPart } from './hold';
import { useBenchKeys } from './useBenchKeys';

const CarrySheet = lazy(() => import('./CarrySheet'));
const Handle = styled(Separator)`
  width: 5px;
  margin: 0 -2.5px;
  z-index: 2;
  cursor: col-resize;
  outline: none;
  &:hover,
  &:focus-visible {
    background: var(--track);
  }
`;
const Middle = styled.div`
  height: 100%;
  display: flex;
  flex-direction: column;
  min-width: 0;
  .picture {
    position: relative;
    flex: 1;
    min-height: 200px;
  }
  .foot {
    flex: 0 1 auto;
    max-height: 60%;
    min-height: 0;
    display: flex;
    flex-direction: column;
  }
`;
const Back = styled.div`
  position: absolute;
  right: 10px;
  bottom: 10px;
  background: var(--rail);
  border-radius: 5px;
  opacity: 0.7;
  &:hover,
  &:focus-within {
    opacity: 1;
  }
`;
const Bar = styled.div`
  display: flex;
  align-items: center;
  gap: 1px;
  height: 34px;
  flex: none;
  padding: 0 6px;
  background: var(--rail);
  border-top: 1px solid var(--line);
  .gap {
    flex: 1;
  }
  /* What is left over is theirs: buttons are never cut off. */
  select {
    flex: 0 1 auto;
    min-width: 46px;
  }
  > button {
    flex: none;
    padding: 0 5px;
  }
  .said {
    color: var(--dim);
    font-size: 12px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
`;
const MODES = [
  ['picture', 'Picture', 'The corrected picture (1)'],
  ['cutout', 'Cut-out', 'The region alone on neutral grey (2)'],
  ['matte', 'Matte', 'The region as grey: white is in, black is out (3)'],
  ['tint', 'Tint', 'The region in its colours, the surround as a blueprint (4)'],
  ['change', 'Change', 'What this correction moved: black is nothing, one 16-bit code value already shows (5)'],
  ['edge', 'Edge', 'What is partly in, in its colours; what is out is dark, what is full a lighter grey (6)'],
] as const;

export default function Bench() {
  const { shot: name } = useParams();
  const go = useNavigate();
  const records = useDoc((s) => s.records);
  const { shelf, correction, shot: last, set } = useSession();
  const shots = shotsOf(records);
  /** The shot that was shown: when an undo takes it away, the one before it is shown, at the same frame. */
  const stood = useRef<ShotRecord | null>(null);
  const before = stood.current;
  const shot =
    shots.find((s) => s.id === name) ??
    shots.find((s) => s.id === last) ??
    (before ? shots.findLast((s) => s.order <= before.order) : undefined) ??
    shots[0];
  const media = shot && mediaOf(records, shot);
  const corr = shot ? chosenCorrection(records, shot.id, correction) : null;
  const room = useSession((x) => x.room);
  const carrying = useSession((x) => x.carrying);
  // Read once: the widths are the panels' own from then on.
  const [widths] = useState(() => useSession.getState().widths);
  useEffect(() => {
    if (!shot) return;
    const was = stood.current;
    stood.current = shot;
    if (last !== shot.id) {
      const { frame } = useSession.getState();
      // Taken away by an undo, what it was cut from goes on where the hand was.
      const on = was?.media === shot.media && !shots.some((s) => s.id === was.id);
      set({
        shot: shot.id,
        frame: on && frame >= shot.range[0] && frame <= shot.range[1] ? frame : shot.range[0],
        zoom: null,
        hold: null,
        tool: 'none',
        patch: null,
        term: null,
        bypass: false,
        select: null,
      });
      useLive.setState(nothing);
    }
    if (name !== shot.id) void go(`/bench/${shot.id}`, { replace: true });
  }, [shot, shots, last, name, set, go]);
  useEffect(() => {
    if (corr && corr.id !== correction) set({ correction: corr.id });
  }, [corr, correction, set]);
  useBenchKeys(shot ?? null, corr);
  useEffect(() => {
    engine().mayIdle(!usePlay.getState().playing);
    const off = usePlay.subscribe((now, before) => {
      if (now.playing !== before.playing) engine().mayIdle(!now.playing);
    });
    return () => {
      off();
      engine().mayIdle(false);
    };
  }, []);
  if (!shot || !media)
    return (
      <main style={{ padding: 24 }}>
        <h1 className="sr">Bench</h1>
        <p>There is no shot to work on. Go to Shots and import a picture.</p>
      </main>
    );
  return (
    <main style={{ height: '100%' }}>
      <h1 className="sr">Bench: {shot.name}</h1>
      <Group key={room} orientation="horizontal" style={{ height: '100%' }}>
        {room === 'all' && (
          <>
            <Panel
              id="rail"
              defaultSize={`${widths.rail}px`}
              minSize="240px"
              maxSize="460px"
              groupResizeBehavior="preserve-pixel-size"
              onResize={(to) => keepWidth('rail', to.inPixels)}
            >
              <Later>
                <Rail shot={shot} media={media} corr={corr} />
              </Later>
            </Panel>
            <Handle aria-label="Width of the work rail" />
          </>
        )}
        <Panel id="middle" minSize="400px">
          <Middle>
            {room === 'all' && <RegionSentence corr={corr} shot={shot} media={media} />}
            <div className="picture">
              <Stage key={shot.id} shot={shot} media={media} corr={corr} />
              {room === 'picture' && <BackButton />}
            </div>
            <Foot>
              {room !== 'picture' && <ViewBar shot={shot} width={media.width} height={media.height} />}
              {media.frames > 1 && <TimeStrip shot={shot} media={media} corr={corr} />}
              {room === 'all' && shelf && <Shelf shot={shot} corr={corr} />}
            </Foot>
          </Middle>
        </Panel>
        {room !== 'picture' && (
          <>
            <Handle aria-label="Width of the scopes" />
            <Panel
              id="scopes"
              defaultSize={`${widths.scopes}px`}
              minSize="220px"
              maxSize="600px"
              groupResizeBehavior="preserve-pixel-size"
              onResize={(to) => keepWidth('scopes', to.inPixels)}
            >
              <Later>
                <Scopes shot={shot} pictureWidth={media.width} />
              </Later>
            </Panel>
          </>
        )}
      </Group>
      {carrying && (
        <Suspense fallback={null}>
          <CarrySheet />
        </Suspense>
      )}
    </main>
  );
}

/**
 * Columns come when the picture has been asked for: the engine makes it while they are built, and they are built in
 * pieces that let it in between.
 */
function Later({ children }: { children: ReactNode }) {
  const [now, setNow] = useState(false);
  useEffect(() => startTransition(() => setNow(true)), []);
  return now ? children : null;
}

/** What stands under the picture; notices keep above it. */
function Foot({ children }: { children: ReactNode }) {
  const el = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const { style } = document.documentElement;
    const o = new ResizeObserver(([e]) => style.setProperty('--foot', `${Math.round(e!.contentRect.height)}px`));
    o.observe(el.current!);
    return () => {
      o.disconnect();
      style.removeProperty('--foot');
    };
  }, []);
  return (
    <div className="foot" ref={el}>
      {children}
    </div>
  );
}

/** Columns keep their width in pixels, in any window. */
let widthTimer: ReturnType<typeof setTimeout> | undefined;
function keepWidth(which: 'rail' | 'scopes', px: number): void {
  const { widths } = useSession.getState();
  const next = Math.round(px);
  if (next < 200 || Math.abs(next - widths[which]) < 2) return;
  clearTimeout(widthTimer);
  widthTimer = setTimeout(() => {
    const now = useSession.getState();
    now.set({ widths: { ...now.widths, [which]: next } });
  }, 300);
}
const BackButton = () => (
  <Back>
    <Button onPress={() => useSession.getState().set({ room: 'all' })} tip="Shows the corrections and scopes again (A)">
      Show all
    </Button>
  </Back>
);

/** Of its own, so that it is not drawn again with every step of a drag. */
const ViewBar = memo(function ViewBar({ shot, width, height }: { shot: ShotRecord; width: number; height: number }) {
  const { mode, ground, compare, zoom, hold, shelf, falseColour, room, shown, set } = useSession();
  const held = useHeldPart(shot);
  const display = displayEncoding(shot);
  const other = display.referred === 'display' && display.curve !== encodings.srgb.curve;
  return (
    <Bar role="toolbar" aria-label="View">
      {MODES.map(([id, label, tip]) => (
        <ToggleButton key={id} isSelected={mode === id} onChange={() => set({ mode: id })} tip={tip}>
          {label}
        </ToggleButton>
      ))}
      {mode === 'cutout' ? (
        <Select
          aria-label="What the cut-out lies on"
          value={ground}
          onChange={(e) => set({ ground: e.target.value as Ground })}
          style={{ maxWidth: 96 }}
        >
          <option value="grey">on grey</option>
          <option value="black">on black</option>
          <option value="checker">on squares</option>
        </Select>
      ) : (
        <Select
          aria-label="False colours"
          title="False colours: levels, degrees off the skin line, chroma (V goes through them)"
          value={falseColour}
          onChange={(e) =>
            set({
              falseColour: e.target.value as FalseColour,
              mode: 'picture',
              ...(e.target.value === 'off' ? {} : { select: null }),
            })
          }
          style={{ maxWidth: 112 }}
        >
          <option value="off">true colours</option>
          <option value="levels">levels</option>
          <option value="offLine">off-line angle</option>
          <option value="chroma">chroma</option>
          <option value="clipped">clipped</option>
          {falseColour === 'zones' && <option value="zones">tonal zones</option>}
        </Select>
      )}
      {other && (
        <Select
          aria-label="How the page shows the picture"
          title={
            `This picture is meant for ${display.title}; a page is sRGB. Numbers: the signal as it is, a little ` +
            'brighter in the dark than on that display. Light: what that display would show.'
          }
          value={shown}
          onChange={(e) => set({ shown: e.target.value as 'numbers' | 'light' })}
          style={{ maxWidth: 92 }}
        >
          <option value="numbers">numbers</option>
          <option value="light">light</option>
        </Select>
      )}
      <span className="gap" />
      {mode === 'change' && (
        <span className="said">
          black 0 {'\u00b7'} dark 1 {'\u00b7'} mid 128 {'\u00b7'} white 65535 codes
        </span>
      )}
      <ToggleButton
        isSelected={compare === 'wipe'}
        onChange={(x) => set({ compare: x ? 'wipe' : 'off' })}
        aria-label="Wipe"
        tip="Wipe: before on one side of the edge, after on the other; its knob turns it (W)"
      >
        <SquareSplitHorizontal />
      </ToggleButton>
      <ToggleButton
        isSelected={compare === 'side'}
        onChange={(x) => set({ compare: x ? 'side' : 'off' })}
        aria-label="Side by side"
        tip="Side by side: before and after, at one place (S)"
      >
        <Columns2 />
      </ToggleButton>
      <ToggleButton
        isSelected={compare === 'blink'}
        onChange={(x) => set({ compare: x ? 'blink' : 'off' })}
        aria-label="Blink"
        tip="Blink: before and after in turn, at one place (Shift W)"
      >
        <ArrowLeftRight />
      </ToggleButton>
      {compare !== 'off' && <AgainstSelect shot={shot} />}
      <ZoomButton
        zoom={zoom?.scale ?? null}
        onFit={() => set({ zoom: null })}
        onFull={() => set({ zoom: { scale: 1, cx: zoom?.cx ?? width / 2, cy: zoom?.cy ?? height / 2 } })}
      />
      {held && (
        <ToggleButton
          isSelected={hold !== null}
          onChange={() => toggleHold(shot)}
          aria-label="Hold still"
          tip={`The picture moves under ${held}, which stands still: its edge can be judged (Shift F)`}
        >
          <Anchor />
        </ToggleButton>
      )}
      <IconButton
        aria-label={room === 'scopes' ? 'Show the corrections' : 'Picture and scopes alone'}
        tip={room === 'scopes' ? 'Shows the corrections again (Q)' : 'The picture with its scopes alone (Q)'}
        onPress={() => set({ room: room === 'scopes' ? 'all' : 'scopes' })}
      >
        {room === 'scopes' ? <PanelLeftOpen /> : <PanelLeftClose />}
      </IconButton>
      <IconButton aria-label="Picture alone" tip="The picture alone (A)" onPress={() => set({ room: 'picture' })}>
        <Maximize2 />
      </IconButton>
      {!shelf && room === 'all' && (
        <Button onPress={() => set({ shelf: true })} tip="Shows the readings (R)">
          Readings
        </Button>
      )}
    </Bar>
  );
});

function ZoomButton({ zoom, onFit, onFull }: { zoom: number | null; onFit: () => void; onFull: () => void }) {
  return zoom === null ? (
    <Button
      onPress={onFull}
      tip="The whole picture is shown; press for one picture pixel per screen pixel (F; + and - zoom)"
    >
      Fit
    </Button>
  ) : (
    <Button onPress={onFit} tip="Back to the whole picture (F; + and - zoom)">
      {Math.round(zoom * 100)} %
    </Button>
  );
}
