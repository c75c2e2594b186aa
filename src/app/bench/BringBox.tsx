/** Bring to line: how far the patch lies off, what would be pushed, what comes of it; then takes it. */
import { memo, useEffect, useRef, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import styled from 'styled-components';
import type { KeepChroma, WantedLevel } from '../../core/skin/bringToLine';
import { wayOf } from '../../core/skin/pushes';
import type { PushKind } from '../../core/skin/pushes';
import type { Reading } from '../../core/skin/reading';
import { targetOf } from '../../core/skin/targets';
import { skinWarnings } from '../../core/skin/warnings';
import { seamsSaid } from '../../core/matte/health';
import { mediaOf, patchesOf, projectOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { SolveReply } from '../../protocol/messages';
import { Button, Dim, Select } from '../../ui/controls';
import { formatNumber } from '../../ui/NumberBox';
import { ParamSlider } from '../../ui/ParamSlider';
import { changes, degSaid, holdToLine, planEach, planOne, stands, takePlan } from '../bringSkin';
import type { Bring, BringPlan, Whom } from '../bringSkin';
import { correction } from '../edit';
import { useLive } from '../live';
import { sayError } from '../notices';
import { useDoc, useSession } from '../store';
import { num } from '../../core/op/params';
import { regionReadsOf, splitLights } from '../splitLights';
import { useMoment } from '../values';
import { wordsOf } from '../words';
import { useHealth } from './HealthPanel';
import { HELP_STRENGTH } from './helpers';
import { useRead } from './read';

const Box = styled.section`
  background: var(--well);
  border: 1px solid var(--line);
  border-radius: 5px;
  padding: 8px 10px;
  margin-bottom: 8px;
  .big {
    font-size: 19px;
    line-height: 1.25;
  }
  .row {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-top: 6px;
    flex-wrap: wrap;
  }
  .plan {
    margin-top: 4px;
    min-height: 36px;
  }
  .plan ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  .plan li {
    margin-bottom: 3px;
  }
  .ways {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 6px;
    margin: 8px 0 4px;
  }
  .ways select {
    width: 100%;
    min-width: 0;
  }
  /* An odd one has its line. */
  .ways select:last-child:nth-child(odd) {
    grid-column: 1 / -1;
  }
`;
const STRENGTH = { ...HELP_STRENGTH, doc: 'How much of the way to the line is gone.' };
const CHROMA = num({
  default: 25,
  min: 6,
  max: 100,
  ui: [10, 50],
  step: 0.5,
  unit: 'pct',
  label: 'Chroma',
  doc: 'Chroma that the patch comes to.',
});
const LEVEL = num({
  default: 55,
  min: 2,
  max: 98,
  ui: [20, 80],
  step: 0.5,
  unit: 'pct',
  label: 'Level',
  doc: 'Luma that the patch comes to, by exposure inside.',
});
const d1 = (v: number): string => `${formatNumber(v, 1, true)}\u00b0`;

/** The command of the box, so that a key can give it too. */
export const bringCommand: { run: (() => void) | null } = { run: null };

const KINDS: Record<PushKind, string> = {
  balance: 'balance',
  low: 'balance, low',
  middle: 'balance, middle',
  high: 'balance, high',
  turn: 'hue turn',
  byHue: 'curve by hue',
  pulls: 'pull',
};
type Keep = 'within10' | 'exact' | 'free' | 'to';
type Level = 'stays' | 'band' | 'to';

/** In words, what is done. */
function pushSaid(r: SolveReply): string {
  const size = Math.hypot(...r.push);
  const way = wayOf(r.kind);
  const of =
    r.kind === 'turn'
      ? `a hue turn of ${d1(r.push[0]!)}`
      : r.kind === 'byHue'
        ? `a bend of ${d1(r.push[0]!)}${r.from.hueDeg === null ? '' : ` at hue ${r.from.hueDeg.toFixed(0)}\u00b0`}`
        : r.kind === 'pulls'
          ? `a pull of ${size.toFixed(1)} %`
          : `a balance push of ${size.toFixed(1)} %${r.kind === 'balance' ? '' : ` in the ${r.kind} zone`}`;
  return [
    of,
    way.dims === 1 && r.chroma !== 1 && `saturation ${(100 * r.chroma).toFixed(0)} %`,
    r.stops !== 0 && `exposure ${formatNumber(r.stops, 2, true)} stops`,
  ]
    .filter(Boolean)
    .join(' and ');
}
const fromTo = (a: number, z: number): string =>
  a.toFixed(1) === z.toFixed(1) ? `${z.toFixed(1)} %` : `${a.toFixed(1)} \u2192 ${z.toFixed(1)} %`;
const comesTo = (a: Reading, z: Reading): string =>
  `chroma ${fromTo(a.chromaPct, z.chromaPct)}, luma ${fromTo(a.lumaPct, z.lumaPct)}`;

/** What the person must know before taking it. */
function Warnings({ r }: { r: SolveReply }) {
  const left = Math.abs(r.residualDeg);
  const said = [
    r.clippedShare > 0.005 &&
      `${pct(r.clippedShare)} of the patch clips on the display with it` +
        (r.clippedBefore > 0.005 ? ` (${pct(r.clippedBefore)} without)` : '') +
        `: what is cut off does not follow the push.`,
    left >= 0.1 &&
      r.why === 'rounding' &&
      `The codes of ${r.bits} bits are too coarse to come nearer than ${left.toFixed(1)}\u00b0.`,
    r.held < 0.9 &&
      `Only ${pct(r.held)} of the patch is in the region: what is not does not follow. Mend the matte there first.`,
    left > 0.5 && r.held >= 0.9 && r.why === 'reach' && 'It cannot go all the way: the push is at its limit.',
    left > 0.5 && r.why === 'clipping' && 'It cannot go all the way within the range of the display.',
    r.chromaKept < 0.88 && wayOf(r.kind).dims === 2 && `Colour is lost: ${pct(r.chromaKept)} of the chroma is left.`,
    Math.abs(r.levelLeft) > 0.5 && `Its level stays ${formatNumber(r.levelLeft, 1, true)} % short of what is wanted.`,
    r.folds && 'So long a pull folds: some colours about it change their order. A hue turn does not.',
    r.samePixelsOffLineDeg !== null &&
      `Other pixels count as outliers afterwards: those that counted before read ${d1(r.samePixelsOffLineDeg)}.`,
  ].filter(Boolean);
  return said.length ? <span data-warnings> {said.join(' ')}</span> : null;
}
const pct = (v: number): string => `${(100 * v).toFixed(v < 0.1 ? 1 : 0)} %`;

/** Where the push would show its seams. It comes a little later: under all that is pressed. */
function Seams({ corr, shot, pushPct }: { corr: CorrectionRecord; shot: ShotRecord; pushPct: number }) {
  const h = useHealth(shot, corr);
  const bits = useDoc((s) => mediaOf(s.records, shot)?.bits ?? 16);
  const said = h ? seamsSaid(h, pushPct, bits) : [];
  return said.length ? (
    <p data-seams>
      <Dim>{said.join(' ')}</Dim>
    </p>
  ) : null;
}

/** What comes of it: of one, or a line for each. */
function PlanSaid({ plan, names, moment }: { plan: BringPlan; names: readonly string[]; moment: string }) {
  const several = plan.list.length > 1 || plan.list.some((l) => l.reply.each.length > 0) || plan.faults.length > 0;
  const [first] = plan.list;
  if (!several && first) {
    const r = first.reply;
    if (Math.abs(r.before.offLineDeg ?? 90) < 0.05 && !changes(r)) return <>It is on the line already.</>;
    return (
      <>
        With {pushSaid(r)}
        {moment} it comes to <b>{degSaid(r.after.offLineDeg)}</b>, {comesTo(r.before, r.after)}.
        <Warnings r={r} />
      </>
    );
  }
  const rows = plan.list.flatMap(({ name, by, fresh, reply: r }) =>
    r.each.length > 0
      ? r.each.map((e, i) => ({ name: names[i] ?? name, a: e.before, z: e.after, by: '' }))
      : [{ name, a: r.before, z: r.after, by: fresh ? `by a new correction, ${by}` : `by ${by}` }],
  );
  return (
    <>
      {first && first.reply.each.length > 0 && (
        <>
          With {pushSaid(first.reply)}
          {moment} for all of them:
        </>
      )}
      <ul>
        {rows.map((x) => (
          <li key={x.name + x.by}>
            {x.name}: {degSaid(x.a.offLineDeg)} {'\u2192'} <b>{degSaid(x.z.offLineDeg)}</b>, {comesTo(x.a, x.z)}
            {x.by && <Dim> {x.by}</Dim>}
          </li>
        ))}
        {plan.faults.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ul>
      {plan.list.map((l) => (
        <Warnings key={l.name} r={l.reply} />
      ))}
    </>
  );
}

/** A line that is reached in the patch alone is no face that is right: what all of the region reads. */
function Whole({ corr, shot }: { corr: string; shot: ShotRecord }) {
  const { is } = useRead(shot, corr, '', regionReadsOf);
  const { before, after } = is ?? {};
  if (!before || !after) return null;
  const { two } = before;
  return (
    <>
      <p data-whole>
        The whole region reads <b>{degSaid(after.offLineDeg)}</b>
        {after.hueSpreadDeg === null ? '' : `, its hue spreads by ${after.hueSpreadDeg.toFixed(1)}\u00b0`}.
      </p>
      {two && before.offLineDeg !== null && (
        <p data-two>
          Two lights: {Math.round(100 * two.share)} % of it lies about {degSaid(before.offLineDeg + two.low)}, the rest
          about {degSaid(before.offLineDeg + two.high)}.{' '}
          <Button
            look="outline"
            onPress={() => void splitLights(shot, corr)}
            tip="Divides this correction in two by hue, each brought to the line by itself; one undo takes it back"
          >
            A region for each
          </Button>
        </p>
      )}
    </>
  );
}

interface Planned {
  plan: BringPlan | null;
  fault: string | null;
  busy: boolean;
}
/**
 * Asked again whenever what it depends on changed; the newest answer stands.
 *
 * `take` takes it. A press that comes before the answer, or that would take the answer of a state that is gone, is not
 * lost: it is kept, and what is found is taken the moment it stands.
 */
function usePlan(
  corr: CorrectionRecord,
  shot: ShotRecord,
  who: Whom,
  patch: string | undefined,
  b: Bring,
): Planned & { wanted: boolean; take: () => void } {
  const finals = useLive((s) => s.finals);
  const line = useDoc((s) => projectOf(s.records)?.skinLineDeg ?? 123);
  const bits = useSession((s) => s.bits);
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id).filter((p) => p.kind === 'skin')));
  const [is, setIs] = useState<Planned>({ plan: null, fault: null, busy: true });
  const [again, askAgain] = useState(0);
  const [wanted, setWanted] = useState(false);
  const turn = useRef(0);
  const by = JSON.stringify(b);
  useEffect(() => {
    const me = ++turn.current;
    const chosen = patches.filter((p) => who !== 'one' || p.id === patch);
    if (chosen.length === 0) return;
    setIs((s) => ({ ...s, busy: true }));
    const asked = JSON.parse(by) as Bring;
    // Its content as it is by now: only its id is told from outside.
    const now = correction(corr.id) ?? corr;
    (who === 'each' ? planEach(shot, chosen, asked) : planOne(shot, now, chosen, asked)).then(
      (plan) => me === turn.current && setIs({ plan, fault: null, busy: false }),
      (e: unknown) => me === turn.current && setIs({ plan: null, fault: wordsOf(e), busy: false }),
    );
    // `corr` by its id: what it does is asked of the engine when a final stands.
  }, [finals, by, who, patch, patches, corr.id, shot, line, bits, again]);

  // What is asked of one correction, patch or person is not kept for another.
  useEffect(() => setWanted(false), [corr.id, shot.id, who, patch]);
  useEffect(() => {
    if (!wanted || is.busy) return;
    if (is.plan && !stands(is.plan)) {
      setIs((s) => ({ ...s, busy: true }));
      askAgain((n) => n + 1);
      return;
    }
    setWanted(false);
    if (is.plan) takePlan(is.plan);
    else sayError(`There is nothing to bring to the line: ${is.fault ?? 'measure skin first, by a patch (P)'}.`);
  }, [wanted, is]);
  const chosen = patches.length > 0;
  const take = (): void => {
    if (chosen) setWanted(true);
    else sayError('There is nothing to bring to the line: measure skin first, by a patch (P).');
  };
  return { ...is, wanted, take };
}

function BringBoxView({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const moment = useMoment(shot);
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id).filter((p) => p.kind === 'skin')));
  const { patch: chosen, set, bits } = useSession();
  const [kind, setKind] = useState<PushKind>('balance');
  const [keep, setKeep] = useState<Keep>('within10');
  const [chromaPct, setChroma] = useState(25);
  const [level, setLevel] = useState<Level>('stays');
  const [lumaPct, setLuma] = useState(55);
  const [strength, setStrength] = useState(100);
  const [whom, setWhom] = useState<Whom>('one');
  const patch = patches.find((p) => p.id === chosen) ?? patches[0];
  const now = useLive((s) => (patch ? (s.readings[patch.id]?.after ?? null) : null));
  const came = useLive((s) => (patch ? (s.readings[patch.id]?.before ?? null) : null));
  const who = patches.length > 1 ? whom : 'one';
  const kept: KeepChroma = keep === 'to' ? { pct: chromaPct } : keep;
  const wanted: WantedLevel | null =
    level === 'stays' ? null : level === 'to' ? [lumaPct, lumaPct] : targetOf('skin', 0).luma;
  const bring: Bring = { kind, keep: kept, level: wanted, strength: strength / 100 };
  const { plan, fault, busy, wanted: pressed, take } = usePlan(corr, shot, who, patch?.id, bring);

  bringCommand.run = take;
  useEffect(() => () => void (bringCommand.run = null), []);

  if (!patch)
    return (
      <Box aria-label="Bring to line">
        <p>To bring skin to the line, measure it first: drag a patch over clean skin.</p>
        <div className="row">
          <Button look="strong" onPress={() => set({ tool: 'patch' })}>
            Draw a patch (P)
          </Button>
          <Button
            onPress={() => set({ tool: 'skinPress' })}
            tip="Finds the region, the patch and the push by one press, as a correction of its own (Shift T)"
          >
            Press on skin
          </Button>
        </div>
      </Box>
    );
  // Of the patch as it came: what is lost there does not come back.
  const doubts = came ? skinWarnings(came) : [];
  const r = plan?.list[0]?.reply ?? null;
  const side = (v: number): string => (v > 0 ? 'towards yellow' : 'towards red');
  // How far colour moves, whatever moves it.
  const pushPct = r ? 200 * Math.hypot(r.after.cb - r.before.cb, r.after.cr - r.before.cr) : 0;
  const moves = shot.range[1] > shot.range[0];
  const nothing = { onBegin: () => {}, onEnd: () => {}, onBail: () => {} };
  return (
    <Box aria-label="Bring to line">
      <p>
        <span className="big">
          {now ? (now.offLineDeg === null ? 'Too neutral to read' : `${d1(now.offLineDeg)} off-line`) : '\u2026'}
        </span>
        {now?.offLineDeg != null && Math.abs(now.offLineDeg) >= 0.05 ? `, ${side(now.offLineDeg)}` : ''}{' '}
        <Dim>{patch.name}</Dim>
      </p>
      <div className="ways">
        <Select aria-label="Kind of push" value={kind} onChange={(e) => setKind(e.target.value as PushKind)}>
          {Object.entries(KINDS).map(([k, said]) => (
            <option key={k} value={k}>
              {said}
            </option>
          ))}
        </Select>
        {patches.length > 1 && (
          <Select aria-label="For whom" value={who} onChange={(e) => setWhom(e.target.value as Whom)}>
            <option value="one">this patch</option>
            <option value="all">all skin, one push</option>
            <option value="each">each by its own</option>
          </Select>
        )}
        <Select aria-label="Chroma kept" value={keep} onChange={(e) => setKeep(e.target.value as Keep)}>
          <option value="within10">{wayOf(kind).dims === 1 ? 'chroma kept' : 'chroma \u00b110 %'}</option>
          {wayOf(kind).dims === 2 && <option value="exact">chroma kept</option>}
          {wayOf(kind).dims === 2 && <option value="free">shortest push</option>}
          <option value="to">chroma to {'\u2026'}</option>
        </Select>
        <Select aria-label="Level wanted" value={level} onChange={(e) => setLevel(e.target.value as Level)}>
          <option value="stays">level stays</option>
          <option value="band">level into 40 to 70 %</option>
          <option value="to">level to {'\u2026'}</option>
        </Select>
        <Select
          aria-label="Bits of the file that is measured"
          value={bits}
          onChange={(e) => set({ bits: Number(e.target.value) as 8 | 16 })}
        >
          <option value={16}>16-bit file</option>
          <option value={8}>8-bit file</option>
        </Select>
      </div>
      {keep === 'to' && <ParamSlider spec={CHROMA} value={chromaPct} onChange={setChroma} {...nothing} />}
      {level === 'to' && <ParamSlider spec={LEVEL} value={lumaPct} onChange={setLuma} {...nothing} />}
      <ParamSlider spec={STRENGTH} value={strength} onChange={setStrength} {...nothing} />
      <div className="row">
        <Button
          look="strong"
          isDisabled={!plan && !busy}
          aria-busy={pressed}
          onPress={take}
          tip="Takes the push as an ordinary adjustment (T)"
        >
          Bring to line
        </Button>
        {moves && (
          <Button
            isDisabled={wayOf(kind).names.length === 0}
            onPress={() => void holdToLine(shot, correction(corr.id) ?? corr, patch, bring)}
            tip={
              wayOf(kind).names.length === 0
                ? 'Curves and pulls hold no keyframes here: choose a balance or a turn'
                : 'Solves it at several frames and sets the fewest smooth keyframes that hold it on the line'
            }
          >
            Hold over the clip
          </Button>
        )}
      </div>
      <div className="plan" aria-busy={busy}>
        {fault ??
          (plan ? <PlanSaid plan={plan} names={patches.map((p) => p.name)} moment={moment} /> : 'Solving \u2026')}
      </div>
      <Whole corr={corr.id} shot={shot} />
      {doubts.length > 0 && <p data-doubts>{doubts.join(' ')}</p>}
      <Seams corr={corr} shot={shot} pushPct={pushPct} />
    </Box>
  );
}

/** Of the correction only its id counts here: what it does is asked of the engine when a final stands. */
export const BringBox = memo(BringBoxView, (a, b) => a.corr.id === b.corr.id && a.shot === b.shot);
