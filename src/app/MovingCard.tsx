/** What leaves of a shot that moves: numbered pictures, or a clip. */
import { useState } from 'react';
import { Film } from 'lucide-react';
import { hasRegion } from '../core/graph/region';
import { correctionsOf } from '../document/records';
import type { MediaRecord, ShotRecord } from '../document/records';
import { displayEncoding } from '../core/graph/plan';
import type { ClipCurve, WriteFormat } from '../protocol/messages';
import { Button, Dim, Select, ToggleButton } from '../ui/controls';
import { NumberBox } from '../ui/NumberBox';
import { useJobs } from './jobs';
import { guard } from './notices';
import { renderRange } from './renderJob';
import { useHeard } from './sound';
import { useDoc } from './store';

const FORMATS: Record<string, { title: string; format: WriteFormat; says: string }> = {
  png16: {
    title: 'PNG, 16 bit',
    format: { kind: 'png', bits: 16 },
    says: 'Numbered pictures in one archive, lossless. Where nothing is corrected they equal a render without it.',
  },
  tiff16: {
    title: 'TIFF, 16 bit',
    format: { kind: 'tiff', bits: 16 },
    says: 'Numbered pictures in one archive, lossless and uncompressed: three times as large as PNG.',
  },
  exr: {
    title: 'OpenEXR, half',
    format: { kind: 'exr', bits: 'half' },
    says:
      'Numbered pictures in one archive: linear light in half floats, primaries said, nothing cut off above white. ' +
      'Half floats have 11 bits: a value is rounded by less than 0.05 %.',
  },
  png8: {
    title: 'PNG, 8 bit',
    format: { kind: 'png', bits: 8 },
    says: 'Numbered pictures in one archive, rounded to the nearest of 256 values.',
  },
  vp9: {
    title: 'WebM, VP9',
    format: { kind: 'webm', codec: 'vp9', quantizer: 16, curve: 'bt709' },
    says: 'A clip of 8 bit, 4:2:0, BT.709, narrow range, tagged so. Quantizer 0 is the finest, 63 the coarsest.',
  },
  vp9ten: {
    title: 'WebM, VP9, 10 bit',
    format: { kind: 'webm', codec: 'vp9', depth: 10, quantizer: 16, curve: 'bt709' },
    says: 'A clip of 10 bit, 4:2:0, BT.709, narrow range, tagged so. Quantizer 0 is the finest, 63 the coarsest.',
  },
  av1: {
    title: 'WebM, AV1',
    format: { kind: 'webm', codec: 'av1', quantizer: 20, curve: 'bt709' },
    says: 'A clip of 8 bit, 4:2:0, BT.709, narrow range, tagged so; slow. Quantizer 0 is the finest, 63 the coarsest.',
  },
  avc: {
    title: 'MP4, H.264',
    format: { kind: 'mp4', codec: 'avc', megabits: 20, curve: 'bt709' },
    says: 'A clip of 8 bit, 4:2:0, BT.709, narrow range, tagged so, at so many megabits a second.',
  },
};

export const DITHER =
  'Noise of one step of the file where the matte of a correction is above 0: soft ramps do not band. ' +
  'Elsewhere codes stay what they are.';
/** How a clip of the shot's numbers is tagged; null where they are neither sRGB nor BT.709 for a BT.1886 screen. */
function curveOf(shot: ShotRecord): ClipCurve | null {
  const { id } = displayEncoding(shot);
  return id === 'srgb' ? 'iec61966-2-1' : id === 'bt1886' ? 'bt709' : null;
}
export function MovingCard({ shot, media }: { shot: ShotRecord; media: MediaRecord }) {
  const records = useDoc((s) => s.records);
  const mattes = correctionsOf(records, shot.id).filter(hasRegion);
  const [what, setWhat] = useState('picture');
  const [choice, setChoice] = useState('png16');
  const [quantizer, setQuantizer] = useState<number | null>(null);
  const [megabits, setMegabits] = useState(20);
  const [dither, setDither] = useState(true);
  const heard = useHeard(media);
  const [sound, setSound] = useState(true);
  // What was typed is for the in and out points of then: moved, or moved back, they count again.
  const [typed, setTyped] = useState<{ of: readonly number[]; range: [number, number] } | null>(null);
  const range = typed?.of === shot.range ? typed.range : shot.range;
  const setRange = (next: [number, number]): void => setTyped({ of: shot.range, range: next });
  const running = useJobs((s) => s.jobs.some((j) => j.state === 'running'));
  const { format, says } = FORMATS[choice]!;
  const curve = curveOf(shot);
  // A clip carries tags: one that says what is not so is not written.
  const untold = !('bits' in format) && curve === null;
  const told: WriteFormat =
    format.kind === 'webm'
      ? { ...format, quantizer: quantizer ?? format.quantizer, curve: curve ?? 'bt709' }
      : format.kind === 'mp4'
        ? { ...format, megabits, curve: curve ?? 'bt709' }
        : format;
  const beside =
    heard && (format.kind === 'webm' || format.kind === 'mp4') && !heard.held[format.kind] ? heard.end : null;
  const whose = heard && `${heard.title}${heard.tracks > 1 ? `, the first of ${heard.tracks} tracks` : ''}`;
  const soundSays = !heard
    ? ''
    : 'bits' in format
      ? `Its sound (${whose}) lies in the archive as it is.`
      : beside
        ? `Its sound (${whose}) does not fit into such a file: it comes as a .${beside} file beside it, as it is.`
        : `Its sound (${whose}) goes along as it is.`;
  const matte = mattes.find((c) => c.id === what);
  // What ends with 8 or 10 bits may band: numbered pictures of 16 do not.
  const eight = !('bits' in format) || format.bits === 8;
  const frames = range[1] - range[0] + 1;
  return (
    <>
      <h2>Moving picture</h2>
      <p>
        <Dim>
          {says}
          {heard && what === 'picture' && ` ${sound ? soundSays : 'The sound of the clip is left out.'}`}
        </Dim>
      </p>
      {media.pixelAspect[0] !== media.pixelAspect[1] && (
        <p>
          <Dim>
            Its pixels are {media.pixelAspect[0]}:{media.pixelAspect[1]} wide. They go out one for one, and every file
            says how wide they are.
          </Dim>
        </p>
      )}
      {untold && (
        <p role="alert">
          The numbers of this shot are neither sRGB nor BT.709, and a clip would be tagged wrongly: switch the
          conversion on in the Bench, or render numbered pictures.
        </p>
      )}
      <div className="row">
        <Select aria-label="What is rendered" value={what} onChange={(e) => setWhat(e.target.value)}>
          <option value="picture">the corrected picture</option>
          {mattes.map((c) => (
            <option key={c.id} value={c.id}>
              the matte of {c.name}
            </option>
          ))}
        </Select>
        <Select aria-label="Format of the moving picture" value={choice} onChange={(e) => setChoice(e.target.value)}>
          {Object.entries(FORMATS).map(([id, f]) => (
            <option key={id} value={id}>
              {f.title}
            </option>
          ))}
        </Select>
        {format.kind === 'webm' && (
          <>
            <Dim>quantizer</Dim>
            <span style={{ width: 52 }}>
              <NumberBox
                label="Quantizer"
                suffix=""
                value={quantizer ?? format.quantizer}
                min={0}
                max={63}
                digits={0}
                onChange={(v) => setQuantizer(Math.round(v))}
              />
            </span>
          </>
        )}
        {format.kind === 'mp4' && (
          <span style={{ width: 82 }}>
            <NumberBox
              label="Megabits a second"
              value={megabits}
              min={0.5}
              max={200}
              digits={1}
              suffix=" Mb/s"
              onChange={setMegabits}
            />
          </span>
        )}
        {eight && what === 'picture' && (
          <ToggleButton isSelected={dither} onChange={setDither} tip={DITHER}>
            Dither
          </ToggleButton>
        )}
        {heard && what === 'picture' && (
          <ToggleButton
            isSelected={sound}
            onChange={setSound}
            tip="Copied, never coded anew; cut at whole packets: it may begin a few milliseconds late"
          >
            Sound
          </ToggleButton>
        )}
      </div>
      <div className="row">
        <Dim>frames</Dim>
        <span style={{ width: 60 }}>
          <NumberBox
            label="First frame"
            suffix=""
            value={range[0]}
            min={0}
            max={range[1]}
            digits={0}
            onChange={(v) => setRange([Math.round(v), range[1]])}
          />
        </span>
        <Dim>to</Dim>
        <span style={{ width: 60 }}>
          <NumberBox
            label="Last frame"
            suffix=""
            value={range[1]}
            min={range[0]}
            max={media.frames - 1}
            digits={0}
            onChange={(v) => setRange([range[0], Math.round(v)])}
          />
        </span>
        <Button
          look="strong"
          isDisabled={running || untold}
          onPress={() =>
            void guard('It was not rendered', () =>
              renderRange({
                shot,
                range,
                what: matte ?? 'picture',
                sound: heard && sound && !matte ? { media, beside } : null,
                format: told.kind === 'exr' ? told : { ...told, dither: eight && dither },
              }),
            )
          }
        >
          <Film />
          {running ? 'Rendering \u2026' : `Render ${frames} frames`}
        </Button>
      </div>
    </>
  );
}
