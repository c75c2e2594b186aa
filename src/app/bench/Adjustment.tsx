/** One adjustment of a correction: its head (on, name, menu) and the control that fits its parameters. */
import { isAdjustment } from '../../core/op/contract';
import { memo, useCallback, useEffect, useRef, useState } from 'react';
import { useSortable } from '@dnd-kit/react/sortable';
import { Ellipsis, FolderOpen, GripVertical } from 'lucide-react';
import { FileTrigger, Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { kelvinToMired, miredToKelvin } from '../../core/color/locus';
import { zoneNames } from '../../core/ops/zones/params';
import { opById } from '../../core/graph/plan';
import type { OpUse } from '../../core/graph/plan';
import { resolve } from '../../core/op/params';
import type { NumSpec, ParamSpec, StoredValue } from '../../core/op/params';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Line, Select, Switch, ToggleButton } from '../../ui/controls';
import { NumberBox } from '../../ui/NumberBox';
import { ParamSlider } from '../../ui/ParamSlider';
import { Wheel } from '../../ui/Wheel';
import { ZoneBar } from '../../ui/ZoneBar';
import {
  copyAdjustment,
  gesture,
  moveAdjustment,
  pasteAdjustment,
  removeUse,
  renameUse,
  resetUse,
  setParams,
  setUseOn,
  useClipboard,
} from '../actions';
import { importTable, openCdl, saveCdl, tablesOf } from '../tables';
import { useDoc, useSession } from '../store';
import { MenuBox } from '../../ui/MenuBox';
import { sayUse } from './sentence';
import { BalanceControl, WheelsControl } from './Balance';
import { useDistributions } from './useDistributions';
import { useFrame, valuesOf } from '../values';
import { ByHue, ByTone, Curves } from './CurveControls';
import { guard } from '../notices';
import { hasRegion } from '../../core/graph/region';
import { pivotAtMean } from '../regionMean';
import { EvennessRead } from './EvennessControls';
import { GamutRead } from './GamutRead';
import { EdgeLook } from './EdgeColourControls';
import { BandControls } from './BandControls';
import { PullControls } from './PullControls';
import { RecolourControls } from './RecolourControls';

const Part = styled.section`
  border-top: 1px solid var(--line);
  margin: 0 -14px;
  padding: 0 14px 4px;
  background: var(--bg);
  header {
    display: flex;
    align-items: center;
    gap: 6px;
    height: 30px;
    font-weight: 600;
    outline: none;
  }
  header:focus-visible {
    box-shadow: inset 0 0 0 2px var(--bright);
  }
  header .grip {
    color: var(--dim);
    margin-left: -10px;
    cursor: grab;
    touch-action: none;
    display: flex;
  }
  header .grip svg {
    width: 13px;
    height: 15px;
  }
  header button.name {
    flex: 1;
    min-width: 0;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    border: none;
    background: none;
    padding: 0;
    text-align: left;
    font-weight: 600;
    height: 26px;
  }
  header em {
    font-style: normal;
    font-weight: 400;
    color: var(--dim);
    font-size: 12px;
    margin-left: 8px;
  }
  header input {
    flex: 1;
    min-width: 0;
    height: 22px;
    background: var(--well);
    border: 1px solid var(--line);
    border-radius: 3px;
    padding: 0 4px;
  }
  .tabs {
    display: flex;
    margin: 0 -6px 2px;
    > * {
      padding: 0 6px;
    }
  }
`;
const One = styled.div`
  text-align: center;
  .title {
    font-size: 12px;
    color: var(--dim);
    height: 18px;
  }
`;
export interface AdjustProps {
  corr: CorrectionRecord;
  use: OpUse;
  shot: ShotRecord;
}
type Put = (p: Record<string, StoredValue>) => void;
const isNum = (s: ParamSpec | undefined): s is NumSpec => s?.kind === 'num';

/** Sliders, switches and choices as the declaration says. */
export function Params({
  op,
  values,
  stored,
  put,
  only,
  skip,
}: {
  op: string;
  values: Record<string, number>;
  stored: Readonly<Record<string, StoredValue>>;
  put: Put;
  only?: readonly string[];
  skip?: readonly string[];
}) {
  return (
    <>
      {Object.entries(opById(op).params).map(([name, spec]) => {
        if ((only && !only.includes(name)) || skip?.includes(name)) return null;
        if (spec.kind === 'num') {
          if (spec.whenSet && values[name] === spec.default) return null;
          return (
            <ParamSlider
              key={name}
              spec={spec}
              value={values[name]!}
              onChange={(x) => put({ [name]: x })}
              {...gesture(`Change ${spec.label.toLowerCase()}`)}
            />
          );
        }
        if (spec.kind === 'bool')
          return (
            <Line key={name} title={spec.doc}>
              <span>{spec.label}</span>
              <Switch aria-label={spec.label} isSelected={values[name] === 1} onChange={(x) => put({ [name]: x })} />
            </Line>
          );
        if (spec.kind === 'choice') {
          if (spec.whenSet && (stored[name] ?? spec.default) === spec.default) return null;
          return (
            <Line key={name} title={spec.doc}>
              <span>{spec.label}</span>
              <Select
                aria-label={spec.label}
                value={String(stored[name] ?? spec.default)}
                onChange={(e) => put({ [name]: e.target.value })}
                style={{ maxWidth: 158 }}
              >
                {Object.entries(spec.options).map(([id, label]) => (
                  <option key={id} value={id}>
                    {label}
                  </option>
                ))}
              </Select>
            </Line>
          );
        }
        return null;
      })}
    </>
  );
}

function Zones({ corr, use, shot, put }: AdjustProps & { put: Put }) {
  const d = useDistributions(shot, corr.id);
  const [zone, setZone] = useState<(typeof zoneNames)[number]>('middle');
  const { falseColour, zonesOf, set } = useSession();
  const v = valuesOf(use, useFrame());
  const spec = (n: string) => opById('zones').params[n]! as NumSpec;
  return (
    <>
      <ZoneBar
        borders={[1, 2, 3, 4].map((i) => v[`border${i}Pct`]!)}
        names={zoneNames}
        chosen={zone}
        bins={d.luma}
        onChoose={(n) => setZone(n as typeof zone)}
        onChange={(i, pct) => put({ [`border${i + 1}Pct`]: pct })}
        {...gesture('Move a border')}
      />
      <One>
        <Wheel
          key={zone}
          label={`${zone} zone`}
          cb={v[`${zone}Cb`]!}
          cr={v[`${zone}Cr`]!}
          range={20}
          size={92}
          onChange={(cb, cr) => put({ [`${zone}Cb`]: cb, [`${zone}Cr`]: cr })}
          {...gesture('Push a zone')}
        />
      </One>
      {(['Level', 'Sat', 'Cb', 'Cr'] as const).map((n) => (
        <ParamSlider
          key={zone + n}
          spec={spec(`${zone}${n}`)}
          label={{ Level: 'Level', Sat: 'Saturation', Cb: 'Cb', Cr: 'Cr' }[n]}
          value={v[`${zone}${n}`]!}
          onChange={(x) => put({ [`${zone}${n}`]: x })}
          {...gesture('Change a zone')}
        />
      ))}
      <ParamSlider
        spec={spec('softPct')}
        value={v['softPct']!}
        onChange={(x) => put({ softPct: x })}
        {...gesture('Change softness')}
      />
      <Line>
        <ToggleButton
          isSelected={falseColour === 'zones' && zonesOf?.use === use.id}
          onChange={(x) =>
            set({
              falseColour: x ? 'zones' : 'off',
              zonesOf: x ? { correction: corr.id, use: use.id } : null,
              ...(x ? { mode: 'picture' as const } : {}),
            })
          }
          tip="Shows in the picture which zone every pixel is in"
        >
          Show on the picture
        </ToggleButton>
      </Line>
    </>
  );
}

function Temperature({ use, put }: { use: OpUse; put: Put }) {
  const v = valuesOf(use, useFrame());
  const kelvin = Math.round(miredToKelvin(v['mired']!) / 10) * 10;
  return (
    <>
      <Params op="temperature" values={v} stored={use.params} put={put} only={['mired']} />
      <Line title="The light that white looks like: 6500 K is the display's own">
        <Dim style={{ flex: 1 }}>
          {v['mired']! >= 0 ? '+' : '\u2212'}
          {Math.abs(v['mired']!).toFixed(0)} mired, as light of
        </Dim>
        <span style={{ width: 66 }}>
          <NumberBox
            label="Temperature in kelvin"
            value={kelvin}
            min={2500}
            max={14700}
            digits={0}
            suffix=" K"
            onChange={(k) => put({ mired: Math.round(10 * kelvinToMired(k)) / 10 })}
          />
        </span>
      </Line>
      <Params op="temperature" values={v} stored={use.params} put={put} only={['tint', 'how']} />
    </>
  );
}

function Lut({ use, put }: { use: OpUse; put: Put }) {
  const records = useDoc((s) => s.records);
  const tables = tablesOf(records);
  const frame = useFrame();
  return (
    <>
      <Line>
        <Select
          aria-label="Lookup table"
          value={String(use.params['table'] ?? '')}
          onChange={(e) => put({ table: e.target.value })}
          style={{ flex: 1, minWidth: 0 }}
        >
          <option value="">no table</option>
          {tables.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name} ({t.kind.toUpperCase()}, {t.size})
            </option>
          ))}
        </Select>
        <FileTrigger
          acceptedFileTypes={['.cube']}
          onSelect={(l) => {
            const f = l?.[0];
            if (f) void importTable(f).then((id) => id && put({ table: id }));
          }}
        >
          <Button look="outline" tip="Reads a .cube file, 1D or 3D">
            <FolderOpen />
            Open
          </Button>
        </FileTrigger>
      </Line>
      <Params op="lut" values={valuesOf(use, frame)} stored={use.params} put={put} only={['how']} />
    </>
  );
}

function Cdl({ use, put }: { use: OpUse; put: Put }) {
  const frame = useFrame();
  return (
    <>
      <Line>
        <FileTrigger
          acceptedFileTypes={['.cc', '.cdl', '.ccc']}
          onSelect={(l) => {
            const f = l?.[0];
            if (f) void openCdl(f).then((p) => p && put(p));
          }}
        >
          <Button look="outline" tip="Reads .cc, .cdl or .ccc">
            <FolderOpen />
            Open
          </Button>
        </FileTrigger>
        {(['cc', 'cdl', 'ccc'] as const).map((k) => (
          <Button key={k} onPress={() => saveCdl(use, k)} tip={`Saves these numbers as .${k}`}>
            .{k}
          </Button>
        ))}
      </Line>
      <Params op="cdl" values={valuesOf(use, frame)} stored={use.params} put={put} />
    </>
  );
}

/** The controls that fit an adjustment, without its head. */
export function AdjustmentControls({ corr, use, shot }: AdjustProps) {
  const put: Put = (p) => setParams(corr.id, use.id, p);
  const v = valuesOf(use, useFrame());
  switch (use.op) {
    case 'wheels':
      return <WheelsControl corr={corr} use={use} shot={shot} put={put} />;
    case 'curves':
      return <Curves corr={corr} use={use} shot={shot} put={put} />;
    case 'byHue':
      return <ByHue corr={corr} use={use} shot={shot} put={put} />;
    case 'byTone':
      return <ByTone corr={corr} use={use} shot={shot} put={put} />;
    case 'bands':
      return <BandControls corr={corr} use={use} shot={shot} />;
    case 'pulls':
      return <PullControls corr={corr} use={use} shot={shot} />;
    case 'recolour':
      return <RecolourControls corr={corr} use={use} shot={shot} />;
    case 'evenness':
      return (
        <>
          <Params op="evenness" values={v} stored={use.params} put={put} />
          <EvennessRead corr={corr} use={use} shot={shot} />
        </>
      );
    case 'gamutCare':
      return (
        <>
          <Params op="gamutCare" values={v} stored={use.params} put={put} />
          <GamutRead corr={corr} use={use} shot={shot} />
        </>
      );
    case 'edgeColour':
      return (
        <>
          <Params op="edgeColour" values={v} stored={use.params} put={put} />
          {hasRegion(corr) ? (
            <>
              <EdgeLook corr={corr.id} shot={shot} />
              <p style={{ margin: '4px 0 0' }}>
                <Dim>
                  It acts where the matte is soft. Where a fringe stays the matte is too tight: Grow by a pixel and Edge
                  fit, in Tidy, take it in.
                </Dim>
              </p>
            </>
          ) : (
            <Dim>It acts along the edge of a region: this correction has none.</Dim>
          )}
        </>
      );
    case 'zones':
      return <Zones corr={corr} use={use} shot={shot} put={put} />;
    case 'temperature':
      return <Temperature use={use} put={put} />;
    case 'lut':
      return <Lut use={use} put={put} />;
    case 'cdl':
      return <Cdl use={use} put={put} />;
    case 'contrast':
      return (
        <>
          <Params
            op="contrast"
            values={v}
            stored={use.params}
            put={put}
            {...(v['greyPivot'] ? { skip: ['pivotPct'] } : {})}
          />
          {hasRegion(corr) && (
            <Button
              onPress={() => void guard('The region was not read', () => pivotAtMean(shot, corr.id, use.id))}
              tip="The pivot becomes the mean luma of the region where this adjustment begins"
            >
              Pivot at the region&apos;s mean
            </Button>
          )}
        </>
      );
    case 'balance':
      return (
        <>
          <BalanceControl corr={corr} use={use} shot={shot} put={put} />
          <Params op="balance" values={v} stored={use.params} put={put} />
        </>
      );
    default:
      return isNum(Object.values(opById(use.op).params)[0]) ? (
        <Params op={use.op} values={v} stored={use.params} put={put} />
      ) : null;
  }
}

const Head = memo(function Head({
  corr,
  use,
  title,
  said,
  on,
  index,
  last,
  open,
  grip,
}: {
  corr: string;
  use: string;
  title: string;
  said: string;
  on: boolean;
  index: number;
  last: boolean;
  open: boolean;
  grip: (el: Element | null) => void;
}) {
  const [naming, setNaming] = useState(false);
  const held = useClipboard((s) => s.adjustment);
  const rename = (n: string): void => {
    if (naming && n.trim() && n !== title) renameUse(corr, use, n.trim());
    setNaming(false);
  };
  return (
    <header
      tabIndex={0}
      aria-label={`${title}: Alt and arrows move it, Ctrl C copies, Ctrl V pastes after it`}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget) return;
        const mod = e.ctrlKey || e.metaKey;
        const k = e.key.toLowerCase();
        const does =
          e.altKey && e.key === 'ArrowUp'
            ? () => moveAdjustment(corr, use, -1)
            : e.altKey && e.key === 'ArrowDown'
              ? () => moveAdjustment(corr, use, 1)
              : mod && k === 'c'
                ? () => copyAdjustment(corr, use)
                : mod && k === 'v'
                  ? () => pasteAdjustment(corr, index + 1)
                  : e.key === 'F2'
                    ? () => setNaming(true)
                    : null;
        if (!does) return;
        e.preventDefault();
        e.stopPropagation();
        does();
      }}
    >
      <span className="grip" ref={grip} aria-hidden>
        <GripVertical />
      </span>
      {naming ? (
        <input
          autoFocus
          aria-label="Name of the adjustment"
          defaultValue={title}
          maxLength={80}
          onBlur={(e) => rename(e.target.value)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') rename(e.currentTarget.value);
            if (e.key === 'Escape') setNaming(false);
          }}
        />
      ) : (
        <button
          type="button"
          className="name"
          aria-expanded={open}
          onClick={() => fold(use, open)}
          title={open ? 'Folds its controls away' : 'Shows its controls'}
        >
          {title}
          {!open && said ? <em>{said}</em> : null}
        </button>
      )}
      <Switch aria-label={`${title} on or off`} isSelected={on} onChange={(x) => setUseOn(corr, use, x)} />
      <MenuTrigger>
        <IconButton aria-label={`More for ${title}`}>
          <Ellipsis />
        </IconButton>
        <MenuBox placement="bottom end">
          <Menu
            onAction={(k) =>
              ({
                reset: () => resetUse(corr, use),
                rename: () => setNaming(true),
                copy: () => copyAdjustment(corr, use),
                paste: () => pasteAdjustment(corr, index + 1),
                up: () => moveAdjustment(corr, use, -1),
                down: () => moveAdjustment(corr, use, 1),
                remove: () => removeUse(corr, use),
              })[k as 'reset']?.()
            }
          >
            <MenuItem id="reset">Reset</MenuItem>
            <MenuItem id="rename">Rename (F2)</MenuItem>
            <MenuItem id="copy">Copy (Ctrl C)</MenuItem>
            {held ? <MenuItem id="paste">Paste after it (Ctrl V)</MenuItem> : null}
            {index > 0 ? <MenuItem id="up">Move up (Alt {'\u2191'})</MenuItem> : null}
            {last ? null : <MenuItem id="down">Move down (Alt {'\u2193'})</MenuItem>}
            <MenuItem id="remove">Remove</MenuItem>
          </Menu>
        </MenuBox>
      </MenuTrigger>
    </header>
  );
});

const fold = (use: string, open: boolean): void => {
  const s = useSession.getState();
  s.set({ folds: { ...Object.fromEntries(Object.entries(s.folds).slice(-200)), [use]: open } });
};

export function Adjustment({ corr, use, shot, index, last }: AdjustProps & { index: number; last: boolean }) {
  const { ref, handleRef } = useSortable({ id: use.id, index });
  const folded = useSession((s) => s.folds[use.id]);
  const op = opById(use.op);
  const title = use.name ?? op.title;
  const frame = useFrame();
  const idle = isAdjustment(op) && op.isNoOp(resolve(op.params, use.params, frame));
  // Of a long list what does nothing yet is folded, until somebody opens it.
  const open = !(folded ?? (corr.adjustments.length > 4 && idle));
  const part = useRef<HTMLElement | null>(null);
  const both = useCallback(
    (el: HTMLElement | null) => {
      part.current = el;
      ref(el);
    },
    [ref],
  );
  const fresh = useSession((s) => s.fresh === use.id);
  useEffect(() => {
    if (!fresh) return;
    // A new one stands at the end of a list that may be longer than the rail.
    part.current?.scrollIntoView({ block: 'nearest' });
    useSession.getState().set({ fresh: null });
  }, [fresh]);
  return (
    <Part ref={both} aria-label={title}>
      <Head
        corr={corr.id}
        use={use.id}
        title={title}
        said={idle ? '' : (sayUse(use, frame) ?? 'set')}
        on={use.on}
        index={index}
        last={last}
        open={open}
        grip={handleRef}
      />
      {open && <AdjustmentControls corr={corr} use={use} shot={shot} />}
    </Part>
  );
}
