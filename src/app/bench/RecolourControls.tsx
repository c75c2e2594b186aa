/** Recolour: the region's own colour, the one it should have, and what came of it, measured on the file's codes. */
import { useEffect, useMemo, useRef, useState } from 'react';
import {
  ColorArea,
  ColorField,
  ColorPicker,
  ColorSlider,
  ColorThumb,
  Input,
  parseColor,
  SliderTrack,
} from 'react-aria-components';
import type { Color } from 'react-aria-components';
import { useShallow } from 'zustand/react/shallow';
import styled from 'styled-components';
import type { OpUse } from '../../core/graph/plan';
import { hexOfLab, labOfHex } from '../../core/color/hex';
import { ycbcrToRgb } from '../../core/color/ycbcr';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { mediaOf, patchesOf, shotsOf } from '../../document/records';
import type { RecolourReply } from '../../protocol/messages';
import { Dim, Line, Select, ToggleButton } from '../../ui/controls';
import { formatNumber } from '../../ui/NumberBox';
import { setParams, shotState } from '../actions';
import { asking } from '../asking';
import { cardRequest } from '../cardRequest';
import { engine } from '../engine';
import { useLive } from '../live';
import { asideFailed, guard } from '../notices';
import { displayOf, labOfRgb, measured, recolourTo } from '../recolour';
import type { Lab } from '../recolour';
import { useDoc, useSession } from '../store';
import { listOf, useFrame, useMoment } from '../values';
import { patchSpec } from './scopeSlots';

const Box = styled.div`
  .swatches {
    display: flex;
    align-items: center;
    gap: 8px;
    margin: 4px 0 6px;
  }
  .swatches i {
    width: 34px;
    height: 22px;
    border: 1px solid var(--line);
    border-radius: 3px;
  }
  .area {
    width: 100%;
    height: 96px;
    border-radius: 3px;
  }
  .hue {
    margin: 8px 0;
  }
  .hue .track {
    height: 14px;
    border-radius: 7px;
  }
  .thumb {
    width: 14px;
    height: 14px;
    border: 2px solid #fff;
    border-radius: 50%;
    box-shadow: 0 0 0 1px #000;
  }
  .hue .thumb {
    top: 50%;
  }
  .thumb[data-focus-visible] {
    box-shadow: 0 0 0 3px #000;
    width: 18px;
    height: 18px;
  }
  input {
    width: 84px;
  }
  p {
    margin: 4px 0;
    font-variant-numeric: tabular-nums;
  }
`;
const pct = (v: number): string => `${formatNumber(100 * v, 1)} %`;

/** How near it came, and why not nearer. */
function said(r: RecolourReply): string {
  const more = r.clippedAfter - r.clippedBefore;
  const near = `CIEDE2000 ${formatNumber(r.apart, 1)} from the colour asked for`;
  const hue = r.hueOffDeg !== null && r.hueOffDeg >= 0.5 ? `, hue ${formatNumber(r.hueOffDeg, 1)}\u00b0 off` : '';
  const why =
    r.givesApart > 1
      ? '. The folds and highlights of this region do not all fit the display at that colour: ' +
        'they are kept, and the mean falls short'
      : r.apart > 1
        ? '. The adjustment itself arrives: the mix, the matte or what comes after it changes the rest'
        : '';
  const clip = more > 0.005 ? `. ${pct(more)} more of the region clips` : '';
  return `${near}${hue}${why}${clip}.`;
}

interface Props {
  corr: CorrectionRecord;
  use: OpUse;
  shot: ShotRecord;
}
export function RecolourControls({ corr, use, shot }: Props) {
  const moment = useMoment(shot);
  const finals = useLive((s) => s.finals);
  const { tool, set } = useSession();
  const frame = useFrame();
  const [r, setR] = useState<RecolourReply | null>(null);
  const [hand, setHand] = useState<Color | null>(null);
  const held = useRef(false);
  useEffect(
    () =>
      asking(
        (signal) => measured(shot, corr.id, use.id, signal),
        setR,
        asideFailed('The colour of the region was not measured'),
      ),
    [finals, shot, corr.id, use.id],
  );
  const chosen = use.params['to'] !== undefined;
  // Before a colour is chosen the picker begins with the region's own, as it is shown.
  const to = hexOfLab(chosen ? listOf(use, 'to', frame) : (r?.was ?? listOf(use, 'to', frame)));
  // The same object as long as the colour is the same: a field that is typed into would begin anew with each new one.
  const kept = useMemo(() => parseColor(to).toFormat('hsb'), [to]);
  const colour = hand ?? kept;
  const letGo = (): void => {
    if (held.current) useDoc.getState().bail();
    held.current = false;
  };
  useEffect(() => letGo, []);
  // Escape in the middle of a drag: what is still dragged after it counts for nothing.
  const left = useRef(false);
  const show = (c: Color): void => {
    if (left.current) return;
    setHand(c);
    if (!held.current) {
      useDoc.getState().begin('Recolour');
      held.current = true;
    }
    setParams(corr.id, use.id, { from: r?.from ?? listOf(use, 'from', frame), to: labOfHex(c.toString('hex')) });
  };
  // What was shown on the way is taken back: the solved colour is the one change.
  const take = (c: Color): void => {
    letGo();
    if (left.current) {
      left.current = false;
      return;
    }
    setHand(c);
    void recolourTo(shot, corr.id, use.id, labOfHex(c.toString('hex'))).then((last) => last && setHand(null));
  };
  const restore = (ev: React.KeyboardEvent): void => {
    if (ev.key !== 'Escape' || !held.current) return;
    ev.stopPropagation();
    left.current = true;
    letGo();
    setHand(null);
  };
  return (
    <Box onKeyDownCapture={restore}>
      <div className="swatches">
        <i style={{ background: r ? hexOfLab(r.was) : 'none' }} aria-hidden />
        <Dim>
          {r ? `its own ${hexOfLab(r.was)}` : 'being measured'}
          {moment}
        </Dim>
        <i style={{ background: to, marginLeft: 'auto' }} aria-hidden />
        <Dim>to</Dim>
      </div>
      <ColorPicker value={colour}>
        <ColorArea
          className="area"
          aria-label="Saturation and brightness of the colour"
          xChannel="saturation"
          yChannel="brightness"
          colorSpace="hsb"
          value={colour}
          onChange={show}
          onChangeEnd={take}
        >
          <ColorThumb className="thumb" />
        </ColorArea>
        <ColorSlider
          className="hue"
          aria-label="Hue of the colour"
          channel="hue"
          colorSpace="hsb"
          value={colour}
          onChange={show}
          onChangeEnd={take}
        >
          <SliderTrack className="track">
            <ColorThumb className="thumb" />
          </SliderTrack>
        </ColorSlider>
        <Line>
          <ColorField aria-label="Colour as hex code" value={colour} onChange={(c) => c && take(c)}>
            <Input />
          </ColorField>
          <ToggleButton
            isSelected={tool === 'recolourPick'}
            onChange={(x) => set({ tool: x ? 'recolourPick' : 'none', curveFor: { use: use.id, curve: 'to' } })}
            tip="Click on the colour in the picture that it should have"
          >
            From picture
          </ToggleButton>
        </Line>
      </ColorPicker>
      <PatchColours shot={shot} onChoose={(lab) => void recolourTo(shot, corr.id, use.id, lab)} />
      {chosen && r && (
        <p data-recolour>
          <Dim>{said(r)}</Dim>
        </p>
      )}
    </Box>
  );
}

/** Colours that were measured in any shot. */
function PatchColours({ shot, onChoose }: { shot: ShotRecord; onChoose: (lab: Lab) => void }) {
  const all = useDoc(useShallow((s) => shotsOf(s.records).flatMap((x) => patchesOf(s.records, x.id).map((p) => p.id))));
  const records = useDoc((s) => s.records);
  const choose = (id: string): void =>
    void guard('The colour of that patch was not read', async () => {
      const p = records[id];
      const of = p?.type === 'patch' ? records[p.shot] : undefined;
      const media = of?.type === 'shot' ? mediaOf(records, of) : undefined;
      if (p?.type !== 'patch' || of?.type !== 'shot' || !media)
        throw new Error('its shot is not there any more. Choose another one');
      const read = { patches: [patchSpec(p)], skinLineDeg: 123, bits: 16 as const };
      const q = await engine().request('card', cardRequest(shotState(records, of), media, 64, read));
      const reading = q.readings?.[0]?.after;
      if (!reading) throw new Error('it lies outside its picture. Draw it anew');
      onChoose(labOfRgb(ycbcrToRgb(reading.luma, reading.cb, reading.cr), displayOf(of)));
    });
  if (all.length === 0) return null;
  return (
    <Select
      aria-label="Colour of a patch"
      value=""
      onChange={(ev) => choose(ev.target.value)}
      style={{ width: '100%', margin: '2px 0' }}
    >
      <option value="">Colour of a patch, here or in another shot</option>
      {all.map((id) => {
        const p = records[id];
        if (p?.type !== 'patch') return null;
        const of = records[p.shot];
        return (
          <option key={id} value={id}>
            {p.name}
            {p.shot !== shot.id && of?.type === 'shot' ? ` (${of.name})` : ''}
          </option>
        );
      })}
    </Select>
  );
}
