/** The conversion: one visible step of the rail, between camera side and display side. */
import { memo } from 'react';
import { ArrowRightLeft } from 'lucide-react';
import styled from 'styled-components';
import { resolveEncoding } from '../../core/color/encodings';
import { matrixTitles } from '../../core/color/yuv';
import type { MatrixId, Siting } from '../../core/color/yuv';
import { mediaOf } from '../../document/records';
import type { ShotRecord } from '../../document/records';
import { Button, Dim, Line, Select, Switch } from '../../ui/controls';
import { editMedia, editShot, setConversion } from '../actions';
import { encodingName, EncodingSelect } from '../EncodingSelect';
import { ASPECTS } from '../pixelAspect';
import { useDoc, useSession } from '../store';
import { useFrame, valuesOf } from '../values';
import { Params } from './Adjustment';

const Bar = styled.div`
  display: grid;
  grid-template-columns: 18px 1fr auto;
  gap: 9px;
  align-items: center;
  min-height: 38px;
  padding: 3px 10px 3px 14px;
  border-top: 1px solid var(--line);
  background: var(--well);
  cursor: default;
  &[data-chosen='true'] {
    background: var(--chosen);
    box-shadow: inset 3px 0 var(--bright);
  }
  svg {
    width: 15px;
    height: 15px;
    color: var(--dim);
  }
  b {
    font-weight: 600;
    display: block;
  }
  small {
    display: block;
    font-size: 12px;
    color: var(--dim);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  button.open {
    border: none;
    background: none;
    padding: 0;
    text-align: left;
    min-width: 0;
  }
`;
const titleOf = (shot: ShotRecord): string =>
  String(shot.conversion.params['display'] ?? 'bt1886') === 'srgb' ? 'sRGB' : 'BT.709, gamma 2.4';

export const ConversionCard = memo(function ConversionCard({ shot }: { shot: ShotRecord }) {
  const open = useSession((s) => s.conversionOpen);
  const name = useDoc((s) => encodingName(shot.encoding, s.records));
  const { on } = shot.conversion;
  return (
    <Bar data-chosen={open}>
      <ArrowRightLeft aria-hidden />
      <button
        type="button"
        className="open"
        aria-expanded={open}
        onClick={() => useSession.getState().set({ conversionOpen: !open })}
        title={`${name}${on ? ` to ${titleOf(shot)}` : ': numbers stay as they are'}`}
      >
        <b>Conversion</b>
        <small>
          {on ? `${name} to ${titleOf(shot)}` : `${name}, as it is`}
          {shot.encodingGuessed ? ' \u00b7 a guess' : ''}
        </small>
      </button>
      <Switch
        aria-label="Conversion on or off"
        isSelected={on}
        onChange={(x) =>
          editShot(shot.id, x ? 'Switch the conversion on' : 'Switch the conversion off', (s) => ({
            ...s,
            conversion: { ...s.conversion, on: x },
          }))
        }
      />
    </Bar>
  );
});

const SITINGS: Record<Siting, string> = { left: 'at the left', centre: 'in the middle', topLeft: 'at the left top' };
/** Of a clip: how its luma and colour differences become R'G'B'. */
function YuvPart({ shot }: { shot: ShotRecord }) {
  const media = useDoc((s) => mediaOf(s.records, shot));
  const y = media?.yuv;
  if (!media || !y) return null;
  const set = (p: Partial<typeof y>): void =>
    editMedia(media.id, 'Change how the clip is read', (m) => ({ ...m, yuv: { ...y, ...p, guessed: false } }));
  return (
    <>
      <p style={{ margin: '8px 0 2px' }}>
        The clip is read as{y.guessed ? <Dim> (a guess: the file does not say it)</Dim> : ''}
      </p>
      <Line>
        <span>Matrix</span>
        <Select
          aria-label="Colour matrix of the clip"
          value={y.matrix}
          onChange={(e) => set({ matrix: e.target.value as MatrixId })}
        >
          {Object.entries(matrixTitles).map(([id, title]) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </Select>
      </Line>
      <Line>
        <span>Range</span>
        <Select
          aria-label="Range of the clip"
          value={y.full ? 'full' : 'narrow'}
          onChange={(e) => set({ full: e.target.value === 'full' })}
        >
          <option value="narrow">16 to 235</option>
          <option value="full">0 to 255</option>
        </Select>
      </Line>
      <Line title="Where colour lies between luma samples; it is brought to their places by linear interpolation">
        <span>Chroma lies</span>
        <Select
          aria-label="Place of chroma in the clip"
          value={y.siting}
          onChange={(e) => set({ siting: e.target.value as Siting })}
        >
          {Object.entries(SITINGS).map(([id, title]) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </Select>
      </Line>
    </>
  );
}

/** How wide its pixels are drawn. Nothing is resampled. */
function AspectPart({ shot }: { shot: ShotRecord }) {
  const media = useDoc((s) => mediaOf(s.records, shot));
  if (!media) return null;
  const [w, h] = media.pixelAspect;
  const known = ASPECTS.some(([, [a, b]]) => a * h === b * w);
  return (
    <Line title="How wide a pixel is drawn for its height. Only the view changes: no number of the picture does">
      <span>Pixels</span>
      <Select
        aria-label="Shape of the pixels"
        value={known ? ASPECTS.findIndex(([, [a, b]]) => a * h === b * w) : -1}
        onChange={(e) => {
          const next = ASPECTS[Number(e.target.value)]?.[1];
          if (next) editMedia(media.id, 'Change the shape of the pixels', (m) => ({ ...m, pixelAspect: next }));
        }}
      >
        {!known && (
          <option value={-1}>
            {w}:{h} ({(w / h).toFixed(2)})
          </option>
        )}
        {ASPECTS.map(([title], i) => (
          <option key={title} value={i}>
            {title}
          </option>
        ))}
      </Select>
    </Line>
  );
}

export function ConversionPanel({ shot }: { shot: ShotRecord }) {
  const e = shot.encoding;
  const table = typeof e === 'object' && 'table' in e;
  const scene = !table && resolveEncoding(e).referred === 'scene';
  const v = valuesOf(shot.conversion, useFrame());
  return (
    <>
      <p style={{ margin: '0 0 4px' }}>The shot is encoded as</p>
      <EncodingSelect shot={shot} style={{ width: '100%' }} />
      {shot.encodingGuessed && (
        <p style={{ margin: '8px 0' }}>
          <Dim>This is a guess from the file.</Dim>{' '}
          <Button
            look="outline"
            onPress={() => editShot(shot.id, 'Confirm the encoding', (s) => ({ ...s, encodingGuessed: false }))}
          >
            It is right
          </Button>
        </p>
      )}
      <YuvPart shot={shot} />
      <AspectPart shot={shot} />
      <p style={{ margin: '10px 0 4px' }}>
        <Dim>
          {!shot.conversion.on
            ? 'The conversion is off: corrections and scopes see the numbers of the file.'
            : table
              ? 'The table takes the numbers to the display. It is read tetrahedrally.'
              : scene
                ? 'Scene light: an 18 % grey card comes to the mid grey below, then highlights roll off ' +
                  'to 100 % at white.'
                : 'A picture for a display: curve and primaries are converted, nothing else.'}
        </Dim>
      </p>
      {!table && (
        <Params
          op="convert"
          values={v}
          stored={shot.conversion.params}
          put={(p) => setConversion(shot.id, p)}
          skip={scene ? [] : ['greyPct', 'whiteStops', 'softPct']}
        />
      )}
      <p style={{ margin: '8px 0 0' }}>
        <Dim>
          Corrections on the camera side stand above it and act before; those on the display side stand below. A
          correction{'\u2019'}s menu moves it across.
        </Dim>
      </p>
    </>
  );
}
