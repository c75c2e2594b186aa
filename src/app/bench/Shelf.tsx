/** The shelf below the picture: readings of the patches as a table that follows every change live, and the chart. */
import { lazy, memo, Suspense, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { MapPinOff, MapPinPlus, Pentagon, Plus, Trash2, TriangleAlert } from 'lucide-react';
import styled from 'styled-components';
import { ycbcrToRgb } from '../../core/color/ycbcr';
import { missBy, targetOf } from '../../core/skin/targets';
import { skinWarnings } from '../../core/skin/warnings';
import type { SecondHue } from '../../core/skin/reading';
import { mediaOf, patchesOf } from '../../document/records';
import type { CorrectionRecord, PatchKind, PatchRecord, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Select, ToggleButton } from '../../ui/controls';
import { formatNumber } from '../../ui/NumberBox';
import { editPatch, removePatch } from '../actions';
import { followPatch, stopFollowingPatch } from '../following';
import { useJobs } from '../jobs';
import { pointAt, useLive } from '../live';
import { guard } from '../notices';
import { useDoc, useSession } from '../store';
import { ChartPanel } from './ChartPanel';
import { KeyLanes } from './KeyLanes';
import { greyPctOf } from './Legend';

const PlotPanel = lazy(() => import('./PlotPanel'));
const OverTimePanel = lazy(() => import('./OverTimePanel'));

const Box = styled.section`
  .one-line {
    min-width: 0;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  /* As high as what it shows, and never more than the picture can spare. */
  flex: 0 1 auto;
  max-height: 42vh;
  display: flex;
  flex-direction: column;
  background: var(--bg);
  border-top: 1px solid var(--line);
  min-height: 31px;
  .head {
    display: flex;
    align-items: center;
    gap: 4px;
    padding: 0 8px;
    height: 31px;
    flex: none;
  }
  .scroll {
    overflow: auto;
    min-height: 0;
    flex: 0 1 auto;
    padding: 0 10px;
  }
  table {
    border-collapse: collapse;
    width: 100%;
  }
  th {
    position: sticky;
    top: 0;
    background: var(--bg);
    font-weight: 400;
    font-size: 12px;
    color: var(--dim);
    text-align: right;
    padding: 2px 6px 4px;
    border-bottom: 1px solid var(--line);
    white-space: nowrap;
    z-index: 1;
  }
  td {
    text-align: right;
    padding: 0 6px;
    height: 28px;
    border-bottom: 1px solid color-mix(in srgb, var(--line), transparent 45%);
    white-space: nowrap;
  }
  th:first-child,
  td:first-child {
    text-align: left;
    padding-left: 4px;
  }
  tr[data-over='true'] td {
    background: var(--hover);
  }
  tr[data-chosen='true'] td {
    background: var(--chosen);
  }
  td input {
    background: none;
    border: 1px solid transparent;
    width: 100%;
    height: 22px;
    border-radius: 3px;
    padding: 0 3px;
  }
  td input:hover {
    border-color: var(--line);
  }
  td input:focus {
    background: var(--well);
    border-color: var(--dim);
    outline: none;
  }
  td select {
    border: 1px solid transparent;
    background: none;
    padding: 0;
  }
  td select:hover {
    border-color: var(--line);
  }
`;
const Out = styled(ToggleButton)`
  height: 22px;
  padding: 0 5px;
  font: inherit;
  font-variant-numeric: tabular-nums;
  color: inherit;
  &[data-selected] {
    color: inherit;
    text-decoration: underline 2px;
    text-underline-offset: 3px;
  }
`;
const deg = (v: number | null | undefined): string => (v == null ? '\u2013' : `${formatNumber(v, 1, true)}\u00b0`);
const HEADS: [string, string][] = [
  ['Patch', ''],
  ['kind', 'What it should be: skin, black, grey, white'],
  ['luma', ''],
  ['target', 'Luma of its kind on a normal picture: common practice'],
  ["R' G' B' %", ''],
  ['off-line', 'Degrees from the skin line, after all corrections'],
  ['before', 'Degrees from the skin line in the picture as it came'],
  ['chroma', 'Share of the largest colour difference'],
  ['spread', 'Standard deviation of hue in the patch'],
  ['left out', 'Pixels too far from the rest: lips, eyes, glints'],
  ['remove', ''],
];
const whySecond = (s: SecondHue): string =>
  `A second hue is left out: ${(100 * s.share).toFixed(0)} % of the patch, ` +
  (s.offLineDeg === null
    ? `too neutral to read (${s.chromaPct.toFixed(1)} % chroma)`
    : `${deg(s.offLineDeg)} off-line`) +
  `. With it the patch reads ${s.plainOffLineDeg === null ? 'neutral' : deg(s.plainOffLineDeg)}.`;
const Doubt = styled.span`
  margin-right: 5px;
  vertical-align: -2px;
`;
const KINDS: PatchKind[] = ['skin', 'black', 'grey', 'white', 'other'];

const Remove = memo(({ id, name }: { id: string; name: string }) => (
  <IconButton aria-label={`Remove patch ${name}`} onPress={() => removePatch(id)}>
    <Trash2 />
  </IconButton>
));
Remove.displayName = 'Remove';

/** Of a shot that moves: the patch stays on what it was drawn on. */
function Follow({ p, shot }: { p: PatchRecord; shot: ShotRecord }) {
  const running = useJobs((s) => s.jobs.some((j) => j.state === 'running'));
  return p.track ? (
    <IconButton
      aria-label={`Let ${p.name} stand still`}
      tip="It follows what lies under it. Press: it stands still again where it was drawn"
      onPress={() => stopFollowingPatch(p.id)}
    >
      <MapPinOff />
    </IconButton>
  ) : (
    <IconButton
      aria-label={`Let ${p.name} follow`}
      tip="Follow what lies under it, over the whole shot"
      isDisabled={running}
      onPress={() => void guard('It was not followed', () => followPatch(shot, p, 'similarity', 'both'))}
    >
      <MapPinPlus />
    </IconButton>
  );
}

/** `shot`: where it moves. */
function Row({
  p,
  chosen,
  greyPct,
  shot,
}: {
  p: PatchRecord;
  chosen: boolean;
  greyPct: number;
  shot: ShotRecord | null;
}) {
  const r = useLive((s) => s.readings[p.id]);
  const over = useLive((s) => s.over === p.id);
  const set = useSession((s) => s.set);
  const shown = useSession((s) => s.usedOf === p.id);
  const [name, setName] = useState<string | null>(null);
  const a = r?.after;
  const doubts = p.kind === 'skin' && r?.before ? skinWarnings(r.before) : [];
  const target = targetOf(p.kind, greyPct);
  const miss = a ? missBy(a.lumaPct, target) : 0;
  const take = (): void => {
    if (name !== null && name.trim() && name !== p.name) editPatch(p.id, 'Rename a patch', { name: name.trim() });
    setName(null);
  };
  const neutral = (v: number | null | undefined) =>
    v === null ? <Dim>{target.neutral ? 'neutral' : 'too neutral to read'}</Dim> : null;
  return (
    <tr
      data-chosen={chosen}
      data-over={over}
      data-patch={p.name}
      onClick={() => set({ patch: p.id })}
      onPointerEnter={() => pointAt(p.id)}
      onPointerLeave={() => pointAt(null)}
    >
      <td style={{ minWidth: 104 }}>
        <input
          aria-label="Name of the patch"
          value={name ?? p.name}
          maxLength={80}
          onFocus={() => set({ patch: p.id })}
          onChange={(e) => setName(e.target.value)}
          onBlur={take}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') take();
            if (e.key === 'Escape') setName(null);
          }}
        />
      </td>
      <td>
        <Select
          aria-label={`Kind of ${p.name}`}
          value={p.kind}
          onChange={(e) => editPatch(p.id, 'Change the kind of a patch', { kind: e.target.value as PatchKind })}
        >
          {KINDS.map((k) => (
            <option key={k} value={k}>
              {k}
            </option>
          ))}
        </Select>
      </td>
      {!a ? (
        <td colSpan={8}>{r ? 'outside the picture: move it onto it' : '\u2026'}</td>
      ) : (
        <>
          <td>{a.lumaPct.toFixed(1)} %</td>
          <td title={miss === 0 ? 'within it' : `${Math.abs(miss).toFixed(1)} % ${miss > 0 ? 'above' : 'below'} it`}>
            {target.luma ? (
              <Dim>
                {target.luma.map((v) => v.toFixed(0)).join('\u2013')}
                {miss > 0 ? ' \u2193' : miss < 0 ? ' \u2191' : ''}
              </Dim>
            ) : (
              <Dim>{'\u2013'}</Dim>
            )}
          </td>
          <td>
            {ycbcrToRgb(a.luma, a.cb, a.cr)
              .map((v) => (100 * v).toFixed(0))
              .join(' ')}
          </td>
          <td title={a.second ? whySecond(a.second) : undefined}>
            {doubts.length > 0 && (
              <Doubt role="img" aria-label={doubts.join(' ')} title={doubts.join(' ')} data-doubts>
                <TriangleAlert size={13} />
              </Doubt>
            )}
            {neutral(a.offLineDeg) ?? <b>{deg(a.offLineDeg)}</b>}
            {a.second && (
              <Dim> all: {a.second.plainOffLineDeg === null ? 'neutral' : deg(a.second.plainOffLineDeg)}</Dim>
            )}
          </td>
          <td>{neutral(r.before?.offLineDeg) ?? deg(r.before?.offLineDeg)}</td>
          <td>{a.chromaPct.toFixed(1)} %</td>
          <td>{a.hueSpreadDeg === null ? '\u2013' : `${a.hueSpreadDeg.toFixed(1)}\u00b0`}</td>
          <td title={`of ${a.pixels} pixels${a.second ? `. ${whySecond(a.second)}` : ''}`}>
            <Out
              aria-label={`${(100 * a.outlierShare).toFixed(1)} % left out of ${p.name}: show where`}
              tip="Show on the picture, in blue, what is left out"
              isSelected={shown}
              onChange={(on) => set({ usedOf: on ? p.id : null, ...(on ? { patch: p.id } : {}) })}
            >
              {(100 * a.outlierShare).toFixed(1)} %
            </Out>
          </td>
        </>
      )}
      <td style={{ width: shot ? 52 : 26, padding: 0, whiteSpace: 'nowrap' }}>
        {shot && <Follow p={p} shot={shot} />}
        <Remove id={p.id} name={p.name} />
      </td>
    </tr>
  );
}

export const Shelf = memo(function Shelf({ shot, corr }: { shot: ShotRecord; corr: CorrectionRecord | null }) {
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id)));
  const { patch, shelfTab, set } = useSession();
  const moves = useDoc((s) => (mediaOf(s.records, shot)?.frames ?? 1) > 1);
  const greyPct = greyPctOf(shot);
  return (
    <Box aria-label="Readings">
      <div className="head">
        <ToggleButton isSelected={shelfTab === 'readings'} onChange={() => set({ shelfTab: 'readings' })}>
          Readings
        </ToggleButton>
        <ToggleButton
          isSelected={shelfTab === 'plot'}
          onChange={() => set({ shelfTab: 'plot' })}
          tip="The readings as a chart: off-line angle and luma, before and after"
        >
          Plot
        </ToggleButton>
        <ToggleButton
          isSelected={shelfTab === 'chart'}
          onChange={() => set({ shelfTab: 'chart' })}
          tip="A 24-patch chart or a grey strip in the picture: measured against what it should be"
        >
          Chart
        </ToggleButton>
        {moves && (
          <ToggleButton
            isSelected={shelfTab === 'keys'}
            onChange={() => set({ shelfTab: 'keys' })}
            tip="Keyframes of the chosen correction: what moves, and when"
          >
            Keys
          </ToggleButton>
        )}
        {moves && (
          <ToggleButton
            isSelected={shelfTab === 'time'}
            onChange={() => set({ shelfTab: 'time' })}
            tip="Patches, matte and level over the frames, and where it goes wrong"
          >
            Over time
          </ToggleButton>
        )}
        <span style={{ width: 10 }} />
        {shelfTab === 'readings' && (
          <Button
            onPress={() => set({ tool: 'patch' })}
            tip="Drag a box over clean skin, or over something black, grey or white (P)"
          >
            <Plus />
            Patch
          </Button>
        )}
        {shelfTab === 'readings' && (
          <Button onPress={() => set({ tool: 'patchFree' })} tip="A patch of any outline: click corner by corner (U)">
            <Pentagon />
            Freeform
          </Button>
        )}
        {shelfTab === 'readings' && patches.length === 0 && (
          <Dim className="one-line">
            No patch yet: drag a box over clean skin, it is read here through every change.
          </Dim>
        )}
        <span style={{ flex: 1 }} />
        <Button onPress={() => set({ shelf: false })} tip="Folds the readings away (R)">
          Fold
        </Button>
      </div>
      <div className="scroll">
        {shelfTab === 'keys' && moves ? (
          corr ? (
            <KeyLanes shot={shot} corr={corr} />
          ) : (
            <Dim>No correction yet: what moves in one is shown here.</Dim>
          )
        ) : shelfTab === 'time' && moves ? (
          <Suspense fallback={null}>
            <OverTimePanel shot={shot} corr={corr} />
          </Suspense>
        ) : shelfTab === 'chart' ? (
          <ChartPanel shot={shot} />
        ) : shelfTab === 'plot' ? (
          <Suspense fallback={null}>
            <PlotPanel patches={patches} />
          </Suspense>
        ) : patches.length === 0 ? null : (
          <table>
            <thead>
              <tr>
                {HEADS.map(([h, t], i) => (
                  <th key={i} title={t}>
                    {h === 'remove' ? <span className="sr">{h}</span> : h}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {patches.map((p) => (
                <Row key={p.id} p={p} chosen={p.id === patch} greyPct={greyPct} shot={moves ? shot : null} />
              ))}
            </tbody>
          </table>
        )}
      </div>
    </Box>
  );
});
