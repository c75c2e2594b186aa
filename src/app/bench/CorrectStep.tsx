/** Correct: bring to line, wheels, hue turn, saturation, balance, mix. */
import { memo, useState } from 'react';
import { Trash2 } from 'lucide-react';
import styled from 'styled-components';
import { newUse } from '../../core/graph/plan.defaults';
import { opById } from '../../core/graph/plan';
import type { OpUse } from '../../core/graph/plan';
import { newId } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Dim, IconButton, Select, Switch } from '../../ui/controls';
import { ParamSlider } from '../../ui/ParamSlider';
import { Wheel } from '../../ui/Wheel';
import { editCorrection, gesture, removeUse, setParams, setUseOn } from '../actions';
import { BringBox } from './BringBox';
import { valuesOf } from './Overlay';

const Grid = styled.div`
  display: grid; grid-template-columns: 1fr 1fr; gap: 8px 12px; padding: 4px 0 2px;
`;
const Part = styled.section`
  border-top: 1px solid var(--line); margin: 0 -14px; padding: 0 14px 4px;
  header { display: flex; align-items: center; gap: 8px; height: 29px; font-weight: 600; }
  header span { flex: 1; }
`;
const One = styled.div`
  text-align: center;
  .title { font-size: 12px; color: var(--dim); height: 18px; }
`;
const MIX = { min: 0, max: 100, ui: [0, 100] as const, unit: 'pct' as const, step: 1, default: 100, label: 'Mix', doc: 'How much of the correction is taken.' };

function Wheels({ corr, use }: { corr: CorrectionRecord; use: OpUse }) {
  const v = valuesOf(use, 0);
  const [tab, setTab] = useState<'lift' | 'gamma' | 'gain' | 'offset'>('gain');
  const names = ['lift', 'gamma', 'gain', 'offset'] as const;
  const spec = (n: string) => opById('wheels').params[n]! as Parameters<typeof ParamSlider>[0]['spec'];
  const title = (n: string): string => n[0]!.toUpperCase() + n.slice(1);
  return (
    <>
      <Grid>
        {names.map((n) => (
          <One key={n} onFocus={() => setTab(n)} onPointerDown={() => setTab(n)}>
            <div className="title">{title(n)}</div>
            <Wheel label={title(n)} cb={v[`${n}Cb`]!} cr={v[`${n}Cr`]!} range={40} size={92} onChange={(cb, cr) => setParams(corr.id, use.id, { [`${n}Cb`]: cb, [`${n}Cr`]: cr })} {...gesture(`Push ${n}`)} />
          </One>
        ))}
      </Grid>
      {names.map((n) => <ParamSlider key={n} spec={spec(`${n}Level`)} label={`${title(n)} level`} value={v[`${n}Level`]!} onChange={(x) => setParams(corr.id, use.id, { [`${n}Level`]: x })} {...gesture(`Change ${n}`)} />)}
      <details>
        <summary style={{ color: 'var(--dim)', fontSize: 12 }}>{title(tab)} in numbers</summary>
        {(['Cb', 'Cr'] as const).map((c) => <ParamSlider key={c} spec={spec(`${tab}${c}`)} value={v[`${tab}${c}`]!} onChange={(x) => setParams(corr.id, use.id, { [`${tab}${c}`]: x })} {...gesture(`Push ${tab}`)} />)}
      </details>
    </>
  );
}

function Sliders({ corr, use }: { corr: CorrectionRecord; use: OpUse }) {
  const v = valuesOf(use, 0);
  return (
    <>
      {use.op === 'balance' && (
        <One>
          <Wheel label="Balance" cb={v['cbPct']!} cr={v['crPct']!} range={30} size={92} onChange={(cbPct, crPct) => setParams(corr.id, use.id, { cbPct, crPct })} {...gesture('Push the balance')} />
        </One>
      )}
      {Object.entries(opById(use.op).params).map(([name, spec]) => (spec.kind === 'num' ? <ParamSlider key={name} spec={spec} value={v[name]!} onChange={(x) => setParams(corr.id, use.id, { [name]: x })} {...gesture(`Change ${spec.label.toLowerCase()}`)} /> : null))}
    </>
  );
}

const Head = memo(function Head({ corr, use, title, on }: { corr: string; use: string; title: string; on: boolean }) {
  return (
    <header>
      <span>{title}</span>
      <Switch aria-label={`${title} on or off`} isSelected={on} onChange={(x) => setUseOn(corr, use, x)} />
      <IconButton aria-label={`Remove ${title}`} onPress={() => removeUse(corr, use)}><Trash2 /></IconButton>
    </header>
  );
});

export function CorrectStep({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  // Short ones first, so that the usual ones are in sight; the order in which they act is the document's.
  const simple = corr.adjustments.filter((u) => u.op === 'hueTurn' || u.op === 'saturation');
  const rest = corr.adjustments.filter((u) => !simple.includes(u));
  const mix = typeof corr.mixPct === 'number' ? corr.mixPct : corr.mixPct.keys[0]!.value;
  const missing = ['balance', 'wheels', 'hueTurn', 'saturation'].filter((id) => !corr.adjustments.some((u) => u.op === id));
  return (
    <>
      <BringBox corr={corr} shot={shot} />
      {simple.map((u) => <Sliders key={u.id} corr={corr} use={u} />)}
      <ParamSlider spec={MIX} value={mix} onChange={(mixPct) => editCorrection(corr.id, 'Change the mix', (c) => ({ ...c, mixPct }))} {...gesture('Change the mix')} />
      {rest.map((u) => (
        <Part key={u.id} aria-label={opById(u.op).title}>
          <Head corr={corr.id} use={u.id} title={opById(u.op).title} on={u.on} />
          {u.op === 'wheels' ? <Wheels corr={corr} use={u} /> : <Sliders corr={corr} use={u} />}
        </Part>
      ))}
      {missing.length > 0 && (
        <p style={{ margin: '8px 0 0' }}>
          <Select aria-label="Add an adjustment" value="" onChange={(e) => editCorrection(corr.id, 'Add an adjustment', (c) => ({ ...c, adjustments: [...c.adjustments, newUse(newId('patch').slice(6), e.target.value)] }))}>
            <option value="" disabled>+ Add an adjustment</option>
            {missing.map((id) => <option key={id} value={id}>{opById(id).title}</option>)}
          </Select>
        </p>
      )}
      <p style={{ margin: '8px 0 0' }}><Dim>They act in this order: {corr.adjustments.map((u) => opById(u.op).title.toLowerCase()).join(', ') || 'none'}.</Dim></p>
    </>
  );
}
