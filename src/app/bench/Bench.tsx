/** The Bench: work rail, picture, scopes; the readings on a shelf below the picture. */
import { memo, useEffect } from 'react';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import { useNavigate, useParams } from 'react-router';
import styled from 'styled-components';
import { mediaOf, shotsOf } from '../../document/records';
import { Button, Select, ToggleButton } from '../../ui/controls';
import type { FalseColour } from '../../core/view/falseColour';
import { chosenCorrection } from '../actions';
import { nothing, useLive } from '../live';
import { useDoc, useSession } from '../store';
import { Rail } from './Rail';
import { RegionSentence } from './RegionSentence';
import { Scopes } from './Scopes';
import { Shelf } from './Shelf';
import { Stage } from './Stage';
import { useBenchKeys } from './useBenchKeys';

const Handle = styled(Separator)`
  width: 5px; margin: 0 -2.5px; z-index: 2; cursor: col-resize; outline: none;
  &:hover, &:focus-visible { background: var(--track); }
`;
const HandleY = styled(Separator)`
  height: 5px; margin: -2.5px 0; z-index: 2; cursor: row-resize; outline: none;
  &:hover, &:focus-visible { background: var(--track); }
`;
const Middle = styled.main`
  height: 100%; display: flex; flex-direction: column; min-width: 0;
`;
const Bar = styled.div`
  display: flex; align-items: center; gap: 3px; height: 34px; flex: none; padding: 0 8px; background: var(--rail); border-top: 1px solid var(--line);
  .gap { flex: 1; } .said { color: var(--dim); font-size: 12px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
`;
const MODES = [
  ['picture', 'Picture', 'The corrected picture (1)'],
  ['cutout', 'Cut-out', 'The region alone on neutral grey (2)'],
  ['matte', 'Matte', 'The region as grey: white is in, black is out (3)'],
  ['tint', 'Tint', 'The region in its colours, the surround as a blueprint (4)'],
  ['change', 'Change', 'What this correction moved: black is nothing, one 16-bit code value already shows (5)'],
] as const;

export default function Bench() {
  const { shot: name } = useParams();
  const go = useNavigate();
  const records = useDoc((s) => s.records);
  const { shelf, correction, shot: last, set } = useSession();
  const shots = shotsOf(records);
  const shot = shots.find((s) => s.id === name) ?? shots.find((s) => s.id === last) ?? shots[0];
  const media = shot && mediaOf(records, shot);
  const corr = shot ? chosenCorrection(records, shot.id, correction) : null;
  const cols = useDefaultLayout({ id: 'bench-columns', storage: localStorage });
  const rows = useDefaultLayout({ id: 'bench-rows', storage: localStorage });
  useEffect(() => {
    if (!shot) return;
    if (last !== shot.id) {
      set({ shot: shot.id, zoom: null, tool: 'none', patch: null, term: null, bypass: false, select: null });
      useLive.setState(nothing);
    }
    if (name !== shot.id) void go(`/bench/${shot.id}`, { replace: true });
  }, [shot, last, name, set, go]);
  useEffect(() => {
    if (corr && corr.id !== correction) set({ correction: corr.id });
  }, [corr, correction, set]);
  useBenchKeys(shot ?? null, corr);
  if (!shot || !media) return <p style={{ padding: 24 }}>There is no shot to work on. Go to Shots and import a picture.</p>;
  return (
    <Group orientation="horizontal" defaultLayout={cols.defaultLayout} onLayoutChange={cols.onLayoutChange} style={{ height: '100%' }}>
      <Panel id="rail" defaultSize="280px" minSize="240px" maxSize="460px" groupResizeBehavior="preserve-pixel-size"><Rail shot={shot} media={media} corr={corr} /></Panel>
      <Handle aria-label="Width of the work rail" />
      <Panel id="middle" minSize="400px">
        <Middle>
          <RegionSentence corr={corr} />
          <div style={{ flex: 1, minHeight: 0 }}>
            <Group orientation="vertical" defaultLayout={rows.defaultLayout} onLayoutChange={rows.onLayoutChange} style={{ height: '100%' }}>
              <Panel id="picture" minSize="160px">
                <div style={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
                  <div style={{ flex: 1, minHeight: 0 }}><Stage key={shot.id} shot={shot} media={media} corr={corr} /></div>
                  <ViewBar width={media.width} height={media.height} />
                </div>
              </Panel>
              {shelf && <HandleY aria-label="Height of the readings" />}
              {shelf && <Panel id="shelf" defaultSize="38%" minSize="70px"><Shelf shot={shot} /></Panel>}
            </Group>
          </div>
        </Middle>
      </Panel>
      <Handle aria-label="Width of the scopes" />
      <Panel id="scopes" defaultSize="298px" minSize="220px" maxSize="600px" groupResizeBehavior="preserve-pixel-size"><Scopes shot={shot} pictureWidth={media.width} /></Panel>
    </Group>
  );
}

/** Of its own, so that it is not drawn again with every step of a drag. */
const ViewBar = memo(function ViewBar({ width, height }: { width: number; height: number }) {
  const { mode, compare, zoom, shelf, falseColour, set } = useSession();
  return (
    <Bar role="toolbar" aria-label="View">
      {MODES.map(([id, label, tip]) => <ToggleButton key={id} isSelected={mode === id} onChange={() => set({ mode: id })} tip={tip}>{label}</ToggleButton>)}
      <Select aria-label="False colours" title="False colours: levels, degrees off the skin line, chroma (V goes through them)" value={falseColour} onChange={(e) => set({ falseColour: e.target.value as FalseColour, mode: 'picture', ...(e.target.value === 'off' ? {} : { select: null }) })} style={{ maxWidth: 112 }}>
        <option value="off">true colours</option>
        <option value="levels">levels</option>
        <option value="offLine">off-line angle</option>
        <option value="chroma">chroma</option>
        <option value="clipped">clipped</option>
        {falseColour === 'zones' && <option value="zones">tonal zones</option>}
      </Select>
      <span className="gap" />
      {mode === 'change' && <span className="said">black 0 {'\u00b7'} dark 1 {'\u00b7'} mid 128 {'\u00b7'} white 65535 codes</span>}
      <ToggleButton isSelected={compare === 'wipe'} onChange={(x) => set({ compare: x ? 'wipe' : 'off' })} tip="Before on the left of the line, after on the right (W)">Wipe</ToggleButton>
      <ToggleButton isSelected={compare === 'side'} onChange={(x) => set({ compare: x ? 'side' : 'off' })} tip="Before and after beside each other (S)">Side by side</ToggleButton>
      <ZoomButton zoom={zoom?.scale ?? null} onFit={() => set({ zoom: null })} onFull={() => set({ zoom: { scale: 1, cx: zoom?.cx ?? width / 2, cy: zoom?.cy ?? height / 2 } })} />
      {!shelf && <Button onPress={() => set({ shelf: true })} tip="Shows the readings (R)">Readings</Button>}
    </Bar>
  );
});

function ZoomButton({ zoom, onFit, onFull }: { zoom: number | null; onFit: () => void; onFull: () => void }) {
  return zoom === null ? (
    <Button onPress={onFull} tip="The whole picture is shown; press for one picture pixel per screen pixel (F; + and - zoom)">Fit</Button>
  ) : (
    <Button onPress={onFit} tip="Back to the whole picture (F; + and - zoom)">{Math.round(zoom * 100)} %</Button>
  );
}
