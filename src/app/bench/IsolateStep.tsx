/** Isolate: keys and shapes of the region, each open to its own controls. */
import { CircleDashed, Pipette, Trash2 } from 'lucide-react';
import styled from 'styled-components';
import { ycbcrToRgb } from '../../core/color/ycbcr';
import { DEG } from '../../core/math/angle';
import { defaultsOf } from '../../core/op/params';
import type { NumSpec } from '../../core/op/params';
import { opById } from '../../core/graph/plan';
import type { Term } from '../../core/graph/plan';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Select, Switch } from '../../ui/controls';
import { ParamSlider } from '../../ui/ParamSlider';
import { RangeControl } from '../../ui/RangeControl';
import type { RangeValue } from '../../ui/RangeControl';
import { addTerm, editTerm, gesture, removeUse, setParams, setUseOn } from '../actions';
import { useSession } from '../store';
import { valuesOf } from '../values';
import { useDistributions } from './useDistributions';

const Tools = styled.div`
  display: flex; gap: 5px; margin-bottom: 8px; > * { padding: 0 7px; }
`;
const Box = styled.section`
  border-top: 1px solid var(--line); padding: 2px 0 4px; margin: 0 -14px; padding-left: 14px; padding-right: 14px;
  &[data-chosen='true'] { background: color-mix(in srgb, var(--bg), #fff 3%); }
`;
const Head = styled.div`
  display: flex; align-items: center; gap: 6px; height: 30px;
  button.name { border: none; background: none; padding: 0; font-weight: 600; flex: 1; min-width: 0; text-align: left; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
  select { max-width: 78px; padding: 0 1px; }
`;

/** Bar colours of the hue axis: what each hue looks like at middle luma. */
const hueColours = Array.from({ length: 25 }, (_, i) => {
  const a = (i * 15) / DEG;
  return `rgb(${ycbcrToRgb(0.5, 0.17 * Math.cos(a), 0.17 * Math.sin(a)).map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))).join(',')})`;
});
function KeyControls({ corr, term, shot }: { corr: CorrectionRecord; term: Term; shot: ShotRecord }) {
  const d = useDistributions(shot, corr.id);
  const v = valuesOf(term.use, 0);
  const def = defaultsOf(opById('key').params) as unknown as Record<string, number | boolean>;
  const range = (p: 'hue' | 'sat' | 'luma', u: 'Deg' | 'Pct') => ({
    value: { on: v[`${p}On`] === 1, centre: v[`${p}Centre${u}`]!, width: v[`${p}Width${u}`]!, soft: v[`${p}Soft${u}`]! },
    defaults: { on: true, centre: Number(def[`${p}Centre${u}`]), width: Number(def[`${p}Width${u}`]), soft: Number(def[`${p}Soft${u}`]) },
    onChange: (r: RangeValue) => setParams(corr.id, term.use.id, { [`${p}On`]: r.on, [`${p}Centre${u}`]: r.centre, [`${p}Width${u}`]: r.width, [`${p}Soft${u}`]: r.soft }),
    ...gesture(`Change the key`),
  });
  return (
    <>
      <RangeControl label="Hue" unit={'\u00b0'} span={360} cyclic limits={{ width: 360, soft: 180 }} bins={d.hue} colours={hueColours} {...range('hue', 'Deg')} />
      <RangeControl label="Saturation" unit=" %" span={100} cyclic={false} limits={{ width: 300, soft: 100 }} bins={d.sat} colours={null} {...range('sat', 'Pct')} />
      <RangeControl label="Luma" unit=" %" span={100} cyclic={false} limits={{ width: 300, soft: 100 }} bins={d.luma} colours={null} {...range('luma', 'Pct')} />
      <ParamSlider spec={opById('key').params['neutralPct'] as NumSpec} value={v['neutralPct']!} onChange={(x) => setParams(corr.id, term.use.id, { neutralPct: x })} {...gesture('Change the key')} />
    </>
  );
}

function ShapeControls({ corr, term, media }: { corr: CorrectionRecord; term: Term; media: MediaRecord }) {
  const v = valuesOf(term.use, 0);
  const ui: Record<string, [number, number]> = { cxPx: [0, media.width], cyPx: [0, media.height], rxPx: [1, media.width / 2], ryPx: [1, media.height / 2], softPx: [0, media.height / 3] };
  return (
    <>
      {Object.entries(opById(term.use.op).params).map(([name, spec]) =>
        spec.kind === 'num' ? <ParamSlider key={name} spec={{ ...spec, ui: ui[name] ?? spec.ui }} value={v[name]!} onChange={(x) => setParams(corr.id, term.use.id, { [name]: x })} {...gesture(`Change ${spec.label.toLowerCase()}`)} /> : null,
      )}
    </>
  );
}

export function IsolateStep({ corr, shot, media }: { corr: CorrectionRecord; shot: ShotRecord; media: MediaRecord }) {
  const { term, tool, set } = useSession();
  const open = corr.terms.find((t) => t.use.id === term) ?? corr.terms[0];
  const hasKey = corr.terms.some((t) => t.use.op === 'key');
  return (
    <>
      <Tools>
        <Button look="outline" onPress={() => set({ tool: tool === 'key' ? 'none' : 'key' })} tip="Drag across the thing on the picture: the key is fitted to what you touched (K)"><Pipette />{hasKey ? 'Sample again' : 'Sample a key'}</Button>
        <Button look="outline" onPress={() => set({ tool: tool === 'ellipse' ? 'none' : 'ellipse' })} tip="Drag a box round the thing (E)"><CircleDashed />Ellipse</Button>
        {hasKey && <Button onPress={() => addTerm(corr.id, 'key', {})} tip="Adds another key to the region">+ Key</Button>}
      </Tools>
      {corr.terms.length === 0 && <Dim>The correction acts on the whole picture. Sample a key or draw an ellipse to limit it.</Dim>}
      {corr.terms.map((t, i) => {
        const chosen = t === open;
        return (
          <Box key={t.use.id} data-chosen={chosen} aria-label={t.name}>
            <Head>
              {i > 0 && (
                <Select aria-label={`How ${t.name} joins`} value={t.join} onChange={(e) => editTerm(corr.id, t.use.id, { join: e.target.value as 'and' | 'or' })}>
                  <option value="and">and</option>
                  <option value="or">or</option>
                </Select>
              )}
              <Select aria-label={`${t.name}: inside or not`} value={t.not ? 'not' : 'is'} onChange={(e) => editTerm(corr.id, t.use.id, { not: e.target.value === 'not' })}>
                <option value="is">{t.use.op === 'key' ? 'where' : 'inside'}</option>
                <option value="not">{t.use.op === 'key' ? 'not where' : 'not inside'}</option>
              </Select>
              <button type="button" className="name" aria-expanded={chosen} onClick={() => set({ term: t.use.id })}>{t.name}</button>
              <Switch aria-label={`${t.name} on or off`} isSelected={t.use.on} onChange={(on) => setUseOn(corr.id, t.use.id, on)} />
              <IconButton aria-label={`Remove ${t.name}`} onPress={() => removeUse(corr.id, t.use.id)}><Trash2 /></IconButton>
            </Head>
            {chosen && (t.use.op === 'key' ? <KeyControls corr={corr} term={t} shot={shot} /> : <ShapeControls corr={corr} term={t} media={media} />)}
          </Box>
        );
      })}
    </>
  );
}
