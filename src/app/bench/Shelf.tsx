/** Readings of the patches as a table; follows every change live. */
import { memo, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { Plus, Trash2 } from 'lucide-react';
import styled from 'styled-components';
import { patchesOf } from '../../document/records';
import type { PatchRecord, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton } from '../../ui/controls';
import { formatNumber } from '../../ui/NumberBox';
import { editPatch, removePatch } from '../actions';
import { useLive } from '../live';
import { useDoc, useSession } from '../store';

const Box = styled.section`
  height: 100%; display: flex; flex-direction: column; background: var(--bg); border-top: 1px solid var(--line); min-height: 0;
  .head { display: flex; align-items: center; gap: 8px; padding: 0 8px 0 14px; height: 31px; flex: none; }
  .scroll { overflow: auto; min-height: 0; padding: 0 14px 6px; }
  table { border-collapse: collapse; width: 100%; }
  th { position: sticky; top: 0; background: var(--bg); font-weight: 400; font-size: 12px; color: var(--dim); text-align: right; padding: 2px 8px 4px; border-bottom: 1px solid var(--line); white-space: nowrap; }
  td { text-align: right; padding: 0 8px; height: 28px; border-bottom: 1px solid color-mix(in srgb, var(--line), transparent 45%); white-space: nowrap; }
  th:first-child, td:first-child { text-align: left; padding-left: 6px; }
  tr[data-chosen='true'] td { background: var(--chosen); }
  td input { background: none; border: 1px solid transparent; width: 100%; height: 22px; border-radius: 3px; padding: 0 3px; }
  td input:hover { border-color: var(--line); } td input:focus { background: var(--well); border-color: var(--dim); outline: none; }
`;
const deg = (v: number | null | undefined): string => (v == null ? '\u2013' : `${formatNumber(v, 1, true)}\u00b0`);
const HEADS: [string, string][] = [
  ['Patch', ''], ['off-line', 'Degrees from the skin line, after all corrections'], ['before', 'Degrees from the skin line in the picture as it came'], ['chroma', 'Share of the largest colour difference'], ['luma', ''], ['spread', 'Standard deviation of hue in the patch'], ['left out', 'Pixels too far from the rest: lips, eyes, glints'], ['pixels', ''], ['', ''],
];

const Remove = memo(({ id, name }: { id: string; name: string }) => <IconButton aria-label={`Remove patch ${name}`} onPress={() => removePatch(id)}><Trash2 /></IconButton>);
Remove.displayName = 'Remove';

function Row({ p, chosen }: { p: PatchRecord; chosen: boolean }) {
  const r = useLive((s) => s.readings[p.id]);
  const set = useSession((s) => s.set);
  const [name, setName] = useState<string | null>(null);
  const a = r?.after;
  const take = (): void => {
    if (name !== null && name.trim() && name !== p.name) editPatch(p.id, 'Rename a patch', { name: name.trim() });
    setName(null);
  };
  return (
    <tr data-chosen={chosen} data-patch={p.name} onClick={() => set({ patch: p.id })}>
      <td style={{ minWidth: 130 }}>
        <input aria-label="Name of the patch" value={name ?? p.name} maxLength={80} onFocus={() => set({ patch: p.id })} onChange={(e) => setName(e.target.value)} onBlur={take} onKeyDown={(e) => { e.stopPropagation(); if (e.key === 'Enter') take(); if (e.key === 'Escape') setName(null); }} />
      </td>
      {!a ? (
        <td colSpan={7}>{r ? 'outside the picture: move it onto it' : '\u2026'}</td>
      ) : (
        <>
          {a.offLineDeg === null ? <td><Dim>too neutral to read</Dim></td> : <td><b>{deg(a.offLineDeg)}</b></td>}
          <td>{r.before?.offLineDeg === null ? <Dim>too neutral</Dim> : deg(r.before?.offLineDeg)}</td>
          <td>{a.chromaPct.toFixed(1)} %</td>
          <td>{a.lumaPct.toFixed(1)} %</td>
          <td>{a.hueSpreadDeg === null ? '\u2013' : `${a.hueSpreadDeg.toFixed(1)}\u00b0`}</td>
          <td>{(100 * a.outlierShare).toFixed(1)} %</td>
          <td>{a.pixels}</td>
        </>
      )}
      <td style={{ width: 30, padding: 0 }}><Remove id={p.id} name={p.name} /></td>
    </tr>
  );
}

export const Shelf = memo(function Shelf({ shot }: { shot: ShotRecord }) {
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id)));
  const { patch, set } = useSession();
  return (
    <Box aria-label="Readings">
      <div className="head">
        <b style={{ fontWeight: 600 }}>Readings</b>
        <Button onPress={() => set({ tool: 'patch' })} tip="Drag a box over clean skin (P)"><Plus />Patch</Button>
        <span style={{ flex: 1 }} />
        <Button onPress={() => set({ shelf: false })} tip="Folds the readings away (R)">Fold</Button>
      </div>
      <div className="scroll">
        {patches.length === 0 ? (
          <Dim>No patch yet. Press P and drag a box over clean skin: it is measured here and followed through every change.</Dim>
        ) : (
          <table>
            <thead><tr>{HEADS.map(([h, t], i) => <th key={i} title={t}>{h}</th>)}</tr></thead>
            <tbody>{patches.map((p) => <Row key={p.id} p={p} chosen={p.id === patch} />)}</tbody>
          </table>
        )}
      </div>
    </Box>
  );
});
