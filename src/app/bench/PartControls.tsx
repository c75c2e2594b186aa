/** The controls of one part of a region, whatever it is: in Isolate, and where the sentence names it. */
import { defaultsOf } from '../../core/op/params';
import type { ChoiceSpec, NumSpec } from '../../core/op/params';
import { encodingAt, opById } from '../../core/graph/plan';
import { wrap360 } from '../../core/math/angle';
import { hueWidth } from '../../core/ops/key/index';
import type { LinkTerm, OpTerm, Term } from '../../core/graph/plan';
import { hasRegion, isGroup, isLink, isMatte, mapTerms } from '../../core/graph/region';
import type { KeySpace } from '../../core/matte/keySpace';
import { ownCorrectionsOf } from '../../document/records';
import type { CorrectionRecord, MediaRecord, Records, ShotRecord } from '../../document/records';
import { PLANE_CELLS } from '../../protocol/messages';
import { Dim, Line, Select } from '../../ui/controls';
import { KeySector } from '../../ui/KeySector';
import type { Axis, Limit } from '../../ui/KeySector';
import { ParamSlider } from '../../ui/ParamSlider';
import { gesture, setParams, spaceOf } from '../actions';
import { tellKeyIn } from '../keySpaces';
import { useLive } from '../live';
import { editTerm, linkable } from '../region';
import { useDoc } from '../store';
import { grows } from '../strokes';
import { useFrame, valuesOf } from '../values';
import { Params } from './Adjustment';
import { FollowBox } from './FollowBox';
import { FreeformControls } from './FreeformControls';
import { LightControls } from './LightControls';
import { MatteControls } from './MatteControls';
import { NearnessControls } from './NearnessControls';
import { StrokeControls } from './StrokeControls';
import { useDistributions } from './useDistributions';

/** As the noise reduction's own strength, of the copy that a key reads. */
const QUIET: NumSpec = {
  ...(opById('denoise').params['strengthPct'] as NumSpec),
  label: 'Quieter copy',
  doc: 'The key reads the picture with its noise taken out by this strength; the result never shows that copy.',
};
function Reads({ corr, term, shot }: { corr: CorrectionRecord; term: OpTerm; shot: ShotRecord }) {
  const moves = shot.range[1] > shot.range[0];
  return (
    <>
      <Line>
        <span>Reads</span>
        <Select
          aria-label="What the key reads"
          value={term.reads ?? 'here'}
          onChange={(e) => editTerm(corr.id, term.id, { reads: e.target.value === 'base' ? 'base' : null })}
        >
          <option value="here">the picture as it stands here</option>
          <option value="base">the picture before any correction</option>
        </Select>
      </Line>
      {moves && !grows(term.use.op) && <LightControls shot={shot} corr={corr} term={term} />}
      <ParamSlider
        spec={QUIET}
        value={term.quietPct ?? 0}
        onChange={(x) => editTerm(corr.id, term.id, { quietPct: x })}
        {...gesture('Change the quieter copy')}
      />
      {moves && (term.quietPct ?? 0) > 0 && (
        <Line>
          <span>Looks at</span>
          <Select
            aria-label="Frames that the quieter copy looks at"
            value={term.quietFrames ?? 0}
            onChange={(e) => editTerm(corr.id, term.id, { quietFrames: Number(e.target.value) })}
          >
            <option value={0}>this frame alone</option>
            <option value={1}>a frame either way too</option>
            <option value={2}>two frames either way too</option>
            <option value={3}>three frames either way too</option>
          </Select>
        </Line>
      )}
    </>
  );
}

const NO_DOTS: number[] = [];
function limitsOf(v: Record<string, number | boolean>): Record<Axis, Limit> {
  const one = (p: Axis, u: 'Deg' | 'Pct'): Limit => ({
    on: Boolean(v[`${p}On`]),
    from: Number(v[`${p}From${u}`]),
    to: Number(v[`${p}To${u}`]),
    fadeFrom: Number(v[`${p}FadeFrom${u}`]),
    fadeTo: Number(v[`${p}FadeTo${u}`]),
  });
  const hue = one('hue', 'Deg');
  // Told as angles, whatever turn they were stored on.
  const width = hueWidth(hue.from, hue.to);
  hue.from = Math.round(10 * wrap360(hue.from)) / 10;
  hue.to = Math.round(10 * (width < 360 ? wrap360(hue.from + width) : hue.from + 360)) / 10;
  return { hue, sat: one('sat', 'Pct'), luma: one('luma', 'Pct') };
}
const keyDefaults = limitsOf(defaultsOf(opById('key').params) as Record<string, number | boolean>);
const SPACE = opById('key').params['space'] as ChoiceSpec;
function KeyControls({ corr, term, shot }: { corr: CorrectionRecord; term: OpTerm; shot: ShotRecord }) {
  const space = spaceOf(term);
  const d = useDistributions(shot, corr.id, term);
  const dots = useLive((s) => (s.sampled?.use === term.use.id ? s.sampled.dots : NO_DOTS));
  const v = valuesOf(term.use, useFrame());
  return (
    <>
      <Line title={SPACE.doc}>
        <span>{SPACE.label}</span>
        <Select
          aria-label={SPACE.label}
          value={space}
          onChange={(e) => void tellKeyIn(shot, corr.id, term, e.target.value as KeySpace)}
        >
          {Object.entries(SPACE.options).map(([id, label]) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </Select>
      </Line>
      <KeySector
        space={space}
        encoding={encodingAt(shot, corr.side)}
        value={limitsOf(v)}
        defaults={keyDefaults}
        plane={d.plane}
        cells={PLANE_CELLS}
        bins={d.luma}
        dots={dots}
        onChange={(axis, l) => {
          const u = axis === 'hue' ? 'Deg' : 'Pct';
          setParams(corr.id, term.use.id, {
            [`${axis}On`]: l.on,
            [`${axis}From${u}`]: l.from,
            [`${axis}To${u}`]: l.to,
            [`${axis}FadeFrom${u}`]: l.fadeFrom,
            [`${axis}FadeTo${u}`]: l.fadeTo,
          });
        }}
        {...gesture('Change the key')}
      />
      <ParamSlider
        spec={opById('key').params['neutralPct'] as NumSpec}
        value={v['neutralPct']!}
        onChange={(x) => setParams(corr.id, term.use.id, { neutralPct: x })}
        {...gesture('Change the key')}
      />
      <ParamSlider
        spec={opById('key').params['leanPct'] as NumSpec}
        value={v['leanPct']!}
        onChange={(x) => setParams(corr.id, term.use.id, { leanPct: x })}
        {...gesture('Change the key')}
      />
      <Reads corr={corr} term={term} shot={shot} />
    </>
  );
}

function ShapeControls({ corr, term, media }: { corr: CorrectionRecord; term: OpTerm; media: MediaRecord }) {
  const v = valuesOf(term.use, useFrame());
  const ui: Record<string, [number, number]> = {
    cxPx: [0, media.width],
    cyPx: [0, media.height],
    rxPx: [1, media.width / 2],
    ryPx: [1, media.height / 2],
    softInPx: [0, media.height / 4],
    softOutPx: [0, media.height / 4],
    widthPx: [0, media.height],
    fromXPx: [0, media.width],
    fromYPx: [0, media.height],
    toXPx: [0, media.width],
    toYPx: [0, media.height],
  };
  return (
    <>
      {Object.entries(opById(term.use.op).params).map(([name, spec]) =>
        spec.kind === 'num' ? (
          <ParamSlider
            key={name}
            spec={{ ...spec, ui: ui[name] ?? spec.ui }}
            value={v[name]!}
            onChange={(x) => setParams(corr.id, term.use.id, { [name]: x })}
            {...gesture(`Change ${spec.label.toLowerCase()}`)}
          />
        ) : null,
      )}
      {term.use.op === 'freeform' && <FreeformControls corr={corr} term={term} />}
    </>
  );
}

function LinkControls({ corr, term, records }: { corr: CorrectionRecord; term: LinkTerm; records: Records }) {
  const target = records[term.of];
  const may = linkable(records, { ...corr, terms: mapTerms(corr.terms, (t) => (t.id === term.id ? null : t)) });
  const after =
    correctionsOwner(records, corr).findIndex((c) => c.id === term.of) > correctionsOwner(records, corr).indexOf(corr);
  return (
    <>
      <Line>
        <span>Region of</span>
        <Select
          aria-label="Correction whose region counts"
          value={term.of}
          onChange={(e) => editTerm(corr.id, term.id, { of: e.target.value })}
        >
          {may.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </Select>
      </Line>
      <Dim>
        {after
          ? 'It stands after this one: its region is taken as it would be here, on this picture. '
          : 'Its tidied region counts, also while it is off. '}
        {target?.type === 'correction' && !hasRegion(target) ? 'It acts on the whole picture.' : ''}
      </Dim>
    </>
  );
}

const correctionsOwner = (r: Records, c: CorrectionRecord): readonly CorrectionRecord[] => ownCorrectionsOf(r, c.owner);

export function PartControls({
  corr,
  term: t,
  shot,
  media,
}: {
  corr: CorrectionRecord;
  term: Term;
  shot: ShotRecord;
  media: MediaRecord;
}) {
  const records = useDoc((s) => s.records);
  const frame = useFrame();
  if (isGroup(t)) return null;
  return isLink(t) ? (
    <LinkControls corr={corr} term={t} records={records} />
  ) : isMatte(t) ? (
    <MatteControls corr={corr} term={t} shot={shot} records={records} />
  ) : t.use.op === 'key' ? (
    <>
      <StrokeControls corr={corr} term={t} shot={shot} />
      <KeyControls corr={corr} term={t} shot={shot} />
    </>
  ) : t.use.op === 'nearness' ? (
    <>
      <StrokeControls corr={corr} term={t} shot={shot} />
      <NearnessControls corr={corr} term={t} />
      <Reads corr={corr} term={t} shot={shot} />
    </>
  ) : grows(t.use.op) ? (
    <>
      <StrokeControls corr={corr} term={t} shot={shot} />
      <Params
        op={t.use.op}
        values={valuesOf(t.use, frame)}
        stored={t.use.params}
        put={(p) => setParams(corr.id, t.use.id, p)}
      />
      <Reads corr={corr} term={t} shot={shot} />
      {media.frames > 1 && corr.owner === shot.id && <FollowBox shot={shot} corr={corr} term={t} />}
    </>
  ) : (
    <>
      <ShapeControls corr={corr} term={t} media={media} />
      {/* A ramp has no inside to follow; a scene's shapes stand in many shots. */}
      {media.frames > 1 && corr.owner === shot.id && t.use.op !== 'ramp' && (
        <FollowBox shot={shot} corr={corr} term={t} />
      )}
    </>
  );
}
