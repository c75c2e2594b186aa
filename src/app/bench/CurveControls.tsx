/** Controls of adjustments that are curves: tone curves, and curves over hue. */
import { useMemo, useState } from 'react';
import type { ReactNode } from 'react';
import { opById } from '../../core/graph/plan';
import type { OpUse } from '../../core/graph/plan';
import type { StoredValue } from '../../core/op/params';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { PLANE_CELLS } from '../../protocol/messages';
import { Dim, Line, Select, ToggleButton } from '../../ui/controls';
import { CurveEditor } from '../../ui/CurveEditor';
import { BendCurve } from '../../ui/BendCurve';
import { OVER } from '../../core/ops/byTone/params';
import type { ToneCurve } from '../../core/ops/byTone/params';
import { gesture } from '../actions';
import { useSession } from '../store';
import type { ToolName } from '../store';
import { listOf, useFrame } from '../values';
import { axes, binsOf } from './bendAxes';
import { useDistributions } from './useDistributions';

interface CurveProps {
  corr: CorrectionRecord;
  use: OpUse;
  shot: ShotRecord;
  put: (p: Record<string, StoredValue>) => void;
}
/** Curves of one operation, one of them open; a tool sets points of it on the picture. */
function CurveTabs<N extends string>({
  use,
  names,
  listed = false,
  tool: own,
  tip,
  children,
}: {
  use: OpUse;
  names: readonly N[];
  /** Chosen from a list: their names are too long for tabs. */
  listed?: boolean;
  tool: ToolName;
  tip: string;
  children: (name: N) => ReactNode;
}) {
  const [tab, setTab] = useState<N>(names[0]!);
  const { tool, set } = useSession();
  return (
    <>
      {listed ? (
        <Select
          aria-label="Curve"
          value={tab}
          onChange={(e) => setTab(e.target.value as N)}
          style={{ maxWidth: '100%', margin: '2px 0' }}
        >
          {names.map((n) => (
            <option key={n} value={n}>
              {opById(use.op).params[n]!.label}
            </option>
          ))}
        </Select>
      ) : (
        <div className="tabs">
          {names.map((n) => (
            <ToggleButton key={n} isSelected={tab === n} onChange={() => setTab(n)}>
              {opById(use.op).params[n]!.label}
            </ToggleButton>
          ))}
        </div>
      )}
      {children(tab)}
      <Line>
        <Dim style={{ flex: 1 }}>Double click: add, remove</Dim>
        <ToggleButton
          isSelected={tool === own}
          onChange={(x) => set({ tool: x ? own : 'none', curveFor: { use: use.id, curve: tab } })}
          tip={tip}
        >
          From picture
        </ToggleButton>
      </Line>
    </>
  );
}
const TONES = ['luma', 'rgb', 'red', 'green', 'blue'] as const;
export function Curves({ corr, use, shot, put }: CurveProps) {
  const d = useDistributions(shot, corr.id);
  const frame = useFrame();
  return (
    <CurveTabs use={use} names={TONES} tool="curvePoint" tip="Then click on the picture: a point is set at that tone">
      {(tab) => (
        <CurveEditor
          key={tab}
          label={opById('curves').params[tab]!.label}
          points={listOf(use, tab, frame)}
          bins={d.luma}
          onChange={(p) => put({ [tab]: p })}
          {...gesture('Change a curve')}
        />
      )}
    </CurveTabs>
  );
}
const BENDS = {
  turn: { unit: '\u00b0', range: 90 },
  sat: { unit: ' %', range: 100 },
  level: { unit: ' %', range: 100 },
} as const;
const HUE_CURVES = ['turn', 'sat', 'level'] as const;
export function ByHue({ corr, use, shot, put }: CurveProps) {
  const d = useDistributions(shot, corr.id);
  const hues = useMemo(() => binsOf(d.plane, PLANE_CELLS, 'hue'), [d.plane]);
  const frame = useFrame();
  return (
    <CurveTabs
      use={use}
      names={HUE_CURVES}
      tool="hueBend"
      tip="Then press on a colour of the picture and drag up or down: the curve bends there"
    >
      {(tab) => (
        <BendCurve
          key={tab}
          label={opById('byHue').params[tab]!.label}
          axis={axes.hue}
          {...BENDS[tab]}
          points={listOf(use, tab, frame)}
          bins={hues}
          onChange={(p) => put({ [tab]: p })}
          {...gesture('Bend a curve over hue')}
        />
      )}
    </CurveTabs>
  );
}
const TONE_CURVES = Object.keys(OVER) as ToneCurve[];
export function ByTone({ corr, use, shot, put }: CurveProps) {
  const d = useDistributions(shot, corr.id);
  const sats = useMemo(() => binsOf(d.plane, PLANE_CELLS, 'sat'), [d.plane]);
  const frame = useFrame();
  return (
    <CurveTabs
      use={use}
      names={TONE_CURVES}
      listed
      tool="hueBend"
      tip="Then press on a colour of the picture and drag up or down: the curve bends at its level or saturation"
    >
      {(tab) => (
        <BendCurve
          key={tab}
          label={opById('byTone').params[tab]!.label}
          axis={axes[OVER[tab]]}
          unit=" %"
          range={100}
          points={listOf(use, tab, frame)}
          bins={OVER[tab] === 'sat' ? sats : d.luma}
          onChange={(p) => put({ [tab]: p })}
          {...gesture('Bend a curve')}
        />
      )}
    </CurveTabs>
  );
}
