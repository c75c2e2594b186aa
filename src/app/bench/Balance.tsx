/** Wheels and balance on one disc: the region's own trace is dragged, one of lift, gamma, gain, offset at a time. */
import { useCallback, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import { rgbToYcbcr } from '../../core/color/ycbcr';
import type { Triple } from '../../core/graph/evaluate';
import { opById } from '../../core/graph/plan';
import type { OpUse } from '../../core/graph/plan';
import { followPush } from '../../core/match/follow';
import type { Pair } from '../../core/match/follow';
import type { NumSpec, StoredValue } from '../../core/op/params';
import { patchesOf, projectOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { Reading } from '../../core/skin/reading';
import { BalanceDisc } from '../../ui/BalanceDisc';
import type { Spot } from '../../ui/BalanceDisc';
import { LevelScale } from '../../ui/LevelScale';
import { formatNumber, NumberBox } from '../../ui/NumberBox';
import { hasRegion } from '../../core/graph/region';
import { Button } from '../../ui/controls';
import { gesture } from '../actions';
import { guard } from '../notices';
import { rangeOfRegion } from '../regionMean';
import { useLive } from '../live';
import { useDoc, useSession } from '../store';
import { useFrame, valuesOf } from '../values';
import { useHeld, useThrough } from './given';

const SIZE = 206;
const COLUMN = 34;
const Both = styled.div`
  display: grid;
  grid-template-columns: ${SIZE}px ${COLUMN}px;
  justify-content: space-between;
  margin: 6px 0;
`;
const Tabs = styled.div`
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  margin: 2px -4px 0;
  button {
    display: flex;
    align-items: center;
    justify-content: center;
    gap: 4px;
    height: 28px;
    border: none;
    border-radius: 4px;
    background: none;
    color: var(--dim);
    padding: 0;
    font-size: 13px;
  }
  button:hover {
    background: var(--hover);
  }
  button[aria-selected='true'] {
    background: var(--chosen);
    color: var(--bright);
    font-weight: 600;
  }
`;
const Typed = styled.div`
  display: grid;
  grid-template-columns: auto 1fr auto 1fr auto 1fr;
  gap: 0 4px;
  align-items: center;
  color: var(--dim);
  font-size: 12.5px;
  height: 26px;
`;

/** What a tab holds, as a glyph: the push as a line, the level as a tick. */
const Glyph = ({ cb, cr, level }: { cb: number; cr: number; level: number }) => {
  const len = Math.hypot(cb, cr);
  const k = len > 0 ? (6 * Math.min(1, len / 20 + 0.25)) / len : 0;
  const y = 8 - 6 * Math.min(1, Math.max(-1, level / 30));
  return (
    <svg width={20} height={16} aria-hidden>
      <circle cx={8} cy={8} r={6.5} fill="none" stroke="currentColor" strokeOpacity={0.5} />
      {len > 0 && <line x1={8} y1={8} x2={8 + cb * k} y2={8 - cr * k} stroke="currentColor" strokeWidth={2} />}
      {level !== 0 && <line x1={17.5} x2={17.5} y1={8} y2={y} stroke="currentColor" strokeWidth={3} />}
    </svg>
  );
};

interface DiscProps {
  corr: CorrectionRecord;
  use: OpUse;
  shot: ShotRecord;
  label: string;
  names: readonly [cb: string, cr: string];
  level: string | null;
  put: (p: Record<string, StoredValue>) => void;
}
function Disc({ corr, use, shot, label, names, level, put }: DiscProps) {
  const held = useHeld(shot, corr.id);
  const records = useDoc((s) => s.records);
  const chosen = useSession((s) => s.patch);
  const skinLineDeg = projectOf(records)?.skinLineDeg ?? 123;
  const patches = patchesOf(records, shot.id);
  const patch = patches.find((p) => p.id === chosen) ?? patches.find((p) => p.kind === 'skin');
  const reading = useLive((s) => (patch ? s.readings[patch.id] : undefined));
  const v = valuesOf(use, useFrame());
  const spec = (n: string): NumSpec => opById(use.op).params[n] as NumSpec;
  const { given, through: all, after, before, now } = useThrough(corr, shot, held);
  /** With other values of this adjustment. */
  const through = useCallback(
    (colours: readonly Triple[], params: Record<string, number>): Triple[] => all(colours, { use: use.id, params }),
    [all, use.id],
  );
  const mean = useMemo((): Triple => {
    if (given.length === 0) return [0.5, 0.5, 0.5];
    return [0, 1, 2].map((c) => given.reduce((s, x) => s + x[c]!, 0) / given.length) as unknown as Triple;
  }, [given]);
  const bins = useMemo(() => {
    const n = new Array<number>(50).fill(0);
    for (const c of after) n[Math.min(49, Math.max(0, Math.floor(50 * rgbToYcbcr(...c)[0])))]!++;
    const most = Math.max(1, ...n);
    return n.map((x) => Math.sqrt(x / most));
  }, [after]);
  const shownAt = (push: Pair): Pair => {
    const [, cb, cr] = rgbToYcbcr(...through([mean], { [names[0]]: push[0], [names[1]]: push[1] })[0]!);
    return [cb, cr];
  };
  const push: Pair = [v[names[0]]!, v[names[1]]!];
  const stands = shownAt(push);
  const latest = useRef({ shownAt, push });
  latest.current = { shownAt, push };
  const spotOf = (r: Reading | null | undefined): Spot | null => (r ? [r.cb, r.cr] : null);
  const said = `Cb ${formatNumber(push[0], 1, true)} %, Cr ${formatNumber(push[1], 1, true)} %`;
  return (
    <>
      <Both style={level ? {} : { gridTemplateColumns: `${SIZE}px`, justifyContent: 'center' }}>
        <BalanceDisc
          label={label}
          said={said}
          push={Math.hypot(...push)}
          before={before}
          now={now}
          mean={stands}
          skinLineDeg={skinLineDeg}
          patch={
            patch && reading ? { name: patch.name, before: spotOf(reading.before), now: spotOf(reading.after) } : null
          }
          size={SIZE}
          onDrag={(to) => {
            const s = spec(names[0]);
            const r = followPush(latest.current.shownAt, latest.current.push, to, Math.min(s.max, -s.min));
            put({ [names[0]]: Math.round(r.push[0] * 100) / 100, [names[1]]: Math.round(r.push[1] * 100) / 100 });
          }}
          onReset={() => put({ [names[0]]: 0, [names[1]]: 0 })}
          {...gesture(`Push ${label.toLowerCase()}`)}
        />
        {level && (
          <LevelScale
            label={label}
            value={v[level]!}
            range={spec(level).ui[1]}
            min={spec(level).min}
            max={spec(level).max}
            bins={bins}
            height={SIZE}
            width={COLUMN}
            onChange={(x) => put({ [level]: x })}
            {...gesture(`Change ${label.toLowerCase()}`)}
          />
        )}
      </Both>
      <Typed>
        {[...names, ...(level ? [level] : [])].map((n) => (
          <Field key={n} name={n} label={label} value={v[n]!} spec={spec(n)} onChange={(x) => put({ [n]: x })} />
        ))}
      </Typed>
    </>
  );
}
/** What is no push is told by where it stands. */
const WHAT: Readonly<Record<string, string>> = { fromPct: 'from', toPct: 'to' };
const END = opById('wheels').params['fromPct'] as NumSpec;
const Over = styled(Typed)`
  grid-template-columns: auto 1fr auto 1fr auto;
  height: 30px;
`;
const Field = (p: { name: string; label: string; value: number; spec: NumSpec; onChange: (v: number) => void }) => {
  const what = WHAT[p.name] ?? (/cb/i.test(p.name) ? 'Cb' : /cr/i.test(p.name) ? 'Cr' : 'level');
  return (
    <>
      {what}
      <NumberBox
        label={`${p.label} ${what}, typed`}
        value={p.value}
        min={p.spec.min}
        max={p.spec.max}
        digits={1}
        suffix=" %"
        signed={!WHAT[p.name]}
        onChange={(x) => {
          const g = gesture(`Change ${p.label.toLowerCase()}`);
          g.onBegin();
          p.onChange(x);
          g.onEnd();
        }}
      />
    </>
  );
};

const RANGES = ['lift', 'gamma', 'gain', 'offset'] as const;
const title = (n: string): string => n[0]!.toUpperCase() + n.slice(1);
type Props = Omit<DiscProps, 'label' | 'names' | 'level'>;
export function WheelsControl(p: Props) {
  const [tab, setTab] = useState<(typeof RANGES)[number]>('gain');
  const v = valuesOf(p.use, useFrame());
  return (
    <>
      <Tabs role="tablist" aria-label="Tonal range of the push">
        {RANGES.map((n, i) => (
          <button
            key={n}
            type="button"
            role="tab"
            aria-selected={tab === n}
            tabIndex={tab === n ? 0 : -1}
            onClick={() => setTab(n)}
            onKeyDown={(e) => {
              const d = { ArrowRight: 1, ArrowLeft: 3 }[e.key];
              if (!d) return;
              e.preventDefault();
              e.stopPropagation();
              setTab(RANGES[(i + d) % 4]!);
              (e.currentTarget.parentElement!.children[(i + d) % 4] as HTMLElement).focus();
            }}
          >
            {title(n)}
            <Glyph cb={v[`${n}Cb`]!} cr={v[`${n}Cr`]!} level={v[`${n}Level`]!} />
          </button>
        ))}
      </Tabs>
      <Disc key={tab} {...p} label={title(tab)} names={[`${tab}Cb`, `${tab}Cr`]} level={`${tab}Level`} />
      <Over>
        <Field name="fromPct" label="Wheels" value={v['fromPct']!} spec={END} onChange={(x) => p.put({ fromPct: x })} />
        <Field name="toPct" label="Wheels" value={v['toPct']!} spec={END} onChange={(x) => p.put({ toPct: x })} />
        {hasRegion(p.corr) && (
          <Button
            onPress={() => void guard('The region was not read', () => rangeOfRegion(p.shot, p.corr.id, p.use.id))}
            tip="The wheels act over the levels of the region: lift leaves its bright end, gain its dark one"
          >
            Region&apos;s range
          </Button>
        )}
      </Over>
    </>
  );
}
export const BalanceControl = (p: Props) => <Disc {...p} label="Balance" names={['cbPct', 'crPct']} level={null} />;
