/** How a shot's numbers are meant: known encodings, log curves by their constants, lookup tables. */
import { useRef, useState } from 'react';
import { X } from 'lucide-react';
import { Dialog, Heading } from 'react-aria-components';
import styled from 'styled-components';
import { logFaults } from '../core/color/curves';
import type { LogConstants } from '../core/color/curves';
import { encode, encodingIds, encodings, primaries, resolveEncoding } from '../core/color/encodings';
import type { CustomEncoding, EncodingRef, PrimariesId } from '../core/color/encodings';
import { put } from '../document/history';
import { newId } from '../document/records';
import type { EncodingRecord, Records, ShotRecord } from '../document/records';
import { Button, Dim, IconButton, Select, TextField } from '../ui/controls';
import { Sheet, Veil } from '../ui/Sheet';
import { setEncoding } from './actions';
import { useDoc } from './store';
import { importTable, tablesOf } from './tables';

export const encodingName = (ref: EncodingRef, records: Records): string => {
  if (typeof ref === 'string') return encodings[ref].title;
  if ('table' in ref) {
    const t = records[ref.table];
    return t?.type === 'table' ? t.name : 'a table that is missing';
  }
  return ref.name;
};
const customs = (r: Records): EncodingRecord[] =>
  Object.values(r).filter((x): x is EncodingRecord => x.type === 'encoding');

export function EncodingSelect({ shot, style }: { shot: ShotRecord; style?: React.CSSProperties }) {
  const records = useDoc((s) => s.records);
  const [asking, setAsking] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const e = shot.encoding;
  const own = customs(records);
  const tables = tablesOf(records);
  const value = typeof e === 'string' ? e : 'table' in e ? e.table : (own.find((c) => c.name === e.name)?.id ?? '+own');
  return (
    <>
      <Select
        aria-label={`Encoding of ${shot.name}`}
        value={value}
        style={style}
        title="What the numbers in the file mean"
        onChange={(ev) => {
          const v = ev.target.value;
          if (v === '+log') setAsking(true);
          else if (v === '+table') file.current?.click();
          else if (v.startsWith('table:')) setEncoding(shot.id, { table: v });
          else {
            const mine = own.find((x) => x.id === v);
            setEncoding(
              shot.id,
              mine ? { name: mine.name, log: mine.log, primaries: mine.primaries } : (v as EncodingRef),
            );
          }
        }}
      >
        {encodingIds.map((id) => (
          <option key={id} value={id}>
            {encodings[id].title}
          </option>
        ))}
        {value === '+own' && typeof e === 'object' && 'name' in e && <option value="+own">{e.name}</option>}
        {own.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
        {tables.map((t) => (
          <option key={t.id} value={t.id}>
            Table: {t.name}
          </option>
        ))}
        <option value="+log">A log curve by its constants {'\u2026'}</option>
        <option value="+table">A .cube or .clf table {'\u2026'}</option>
      </Select>
      <input
        ref={file}
        type="file"
        accept=".cube,.clf"
        hidden
        aria-label="Lookup table file"
        onChange={(ev) => {
          const f = ev.target.files?.[0];
          ev.target.value = '';
          if (f) void importTable(f).then((id) => id && setEncoding(shot.id, { table: id }));
        }}
      />
      {asking && <LogDialog shot={shot} onClose={() => setAsking(false)} />}
    </>
  );
}

const Form = styled.form`
  display: grid;
  grid-template-columns: 190px 1fr;
  gap: 6px 12px;
  align-items: center;
  margin-top: 12px;
  label {
    color: var(--dim);
  }
  .faults {
    grid-column: 1/-1;
    min-height: 36px;
  }
  .end {
    grid-column: 1/-1;
    display: flex;
    justify-content: flex-end;
    gap: 8px;
  }
`;
const FIELDS = [
  ['base', 'Base', '10'],
  ['logSideSlope', 'Log side slope', '0.25'],
  ['logSideOffset', 'Log side offset', '0.38'],
  ['linSideSlope', 'Linear side slope', '5.5'],
  ['linSideOffset', 'Linear side offset', '0.05'],
  ['linSideBreak', 'Break, linear (empty: none)', '0.01'],
  ['linearSlope', 'Slope below it (empty: joins)', ''],
] as const;

/** Published constants of a log curve, under the names of the Common LUT Format. */
function LogDialog({ shot, onClose }: { shot: ShotRecord; onClose: () => void }) {
  const [name, setName] = useState('Camera log');
  const [gamut, setGamut] = useState<PrimariesId>('bt2020');
  const [text, setText] = useState<Record<string, string>>(() => Object.fromEntries(FIELDS.map(([k, , v]) => [k, v])));
  const records = useDoc((s) => s.records);
  const num = (k: string): number => (text[k]!.trim() === '' ? NaN : Number(text[k]!.replace(',', '.')));
  const log: LogConstants = {
    base: num('base'),
    logSideSlope: num('logSideSlope'),
    logSideOffset: num('logSideOffset'),
    linSideSlope: num('linSideSlope'),
    linSideOffset: num('linSideOffset'),
    linSideBreak: text['linSideBreak']!.trim() === '' ? null : num('linSideBreak'),
    ...(text['linearSlope']!.trim() === '' ? {} : { linearSlope: num('linearSlope') }),
  };
  const faults = logFaults(log);
  if (!name.trim()) faults.unshift('it needs a name');
  if (customs(records).some((c) => c.name === name.trim()))
    faults.unshift(`there is a curve named ${name.trim()}: choose another name`);
  const custom: CustomEncoding = { name: name.trim(), log, primaries: gamut };
  const code = (v: number): string => {
    const s = encode(resolveEncoding(custom), v);
    return `${(100 * s).toFixed(2)} % (10-bit ${Math.round(1023 * s)})`;
  };
  return (
    <Veil isOpen onOpenChange={(o) => !o && onClose()} isDismissable>
      <Sheet style={{ width: 'min(520px, 94vw)' }}>
        <Dialog aria-label="A log curve by its constants">
          <div style={{ display: 'flex' }}>
            <Heading slot="title" level={2} style={{ flex: 1 }}>
              A log curve by its constants
            </Heading>
            <IconButton aria-label="Close" onPress={onClose}>
              <X />
            </IconButton>
          </div>
          <Dim>
            As the maker publishes them: log = log side slope {'\u00d7'} log(linear side slope {'\u00d7'} light + linear
            side offset) + log side offset; straight below the break.
          </Dim>
          <Form
            onSubmit={(ev) => {
              ev.preventDefault();
              if (faults.length) return;
              useDoc.getState().begin('Add a log curve');
              useDoc.getState().change('Add a log curve', put({ type: 'encoding', id: newId('encoding'), ...custom }));
              setEncoding(shot.id, custom);
              useDoc.getState().end();
              onClose();
            }}
          >
            <label htmlFor="log-name">Name</label>
            <TextField id="log-name" value={name} maxLength={60} onChange={(ev) => setName(ev.target.value)} />
            {FIELDS.map(([k, label]) => [
              <label key={`${k}l`} htmlFor={`log-${k}`}>
                {label}
              </label>,
              <TextField
                key={k}
                id={`log-${k}`}
                inputMode="decimal"
                value={text[k]}
                onChange={(ev) => setText({ ...text, [k]: ev.target.value })}
              />,
            ])}
            <label htmlFor="log-primaries">Primaries</label>
            <Select id="log-primaries" value={gamut} onChange={(ev) => setGamut(ev.target.value as PrimariesId)}>
              {Object.entries(primaries).map(([id, p]) => (
                <option key={id} value={id}>
                  {p.title}
                </option>
              ))}
            </Select>
            <div className="faults" role="status">
              <Dim>
                {faults.length
                  ? `Not yet: ${faults.join('; ')}.`
                  : `Check: black ${code(0)}, an 18 % grey card ${code(0.18)}, white 90 % ${code(0.9)}.`}
              </Dim>
            </div>
            <div className="end">
              <Button onPress={onClose}>Cancel</Button>
              <Button look="strong" type="submit" isDisabled={faults.length > 0}>
                Use it for {shot.name}
              </Button>
            </div>
          </Form>
        </Dialog>
      </Sheet>
    </Veil>
  );
}
