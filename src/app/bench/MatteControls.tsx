/** A part of a region that is a matte from outside: which number of it counts, and which frame it begins at. */
import { useRef } from 'react';
import type { ChangeEvent } from 'react';
import { FolderOpen } from 'lucide-react';
import { OWN } from '../../core/graph/region';
import type { MatteTerm } from '../../core/graph/plan';
import type { CorrectionRecord, Records, ShotRecord } from '../../document/records';
import { Button, Dim, Line, Select } from '../../ui/controls';
import { NumberBox } from '../../ui/NumberBox';
import { addMatteFrom } from '../importMatte';
import { guard } from '../notices';
import { editTerm } from '../region';

export const MATTE_FILES = '.png,.jpg,.jpeg,.tif,.tiff,.exr,.webp,.avif,.mp4,.m4v,.mov,.webm,.mkv';

/** A file chooser that anything can open: `[input, open]`. */
export function useMatteFiles(corr: CorrectionRecord, shot: ShotRecord): [React.ReactNode, () => void] {
  const input = useRef<HTMLInputElement>(null);
  const take = (e: ChangeEvent<HTMLInputElement>): void => {
    const list = [...(e.target.files ?? [])];
    // The same file may be chosen again after it was mended.
    e.target.value = '';
    void guard('The matte was not added', () => addMatteFrom(list, corr.id, shot));
  };
  return [
    <input
      key="files"
      ref={input}
      type="file"
      multiple
      hidden
      accept={MATTE_FILES}
      aria-label="Files of a matte"
      onChange={take}
    />,
    () => input.current?.click(),
  ];
}

export function MatteControls({
  corr,
  term,
  shot,
  records,
}: {
  corr: CorrectionRecord;
  term: MatteTerm;
  shot: ShotRecord;
  records: Records;
}) {
  const own = term.matte === OWN;
  const media = records[own ? shot.media : term.matte];
  const shown = records[shot.media];
  const [files, choose] = useMatteFiles(corr, shot);
  if (media?.type !== 'media' || shown?.type !== 'media') return null;
  const other = media.width !== shown.width || media.height !== shown.height;
  return (
    <>
      <Line>
        <span>Counts</span>
        <Select
          aria-label="What of the matte counts"
          value={term.channel}
          onChange={(e) => editTerm(corr.id, term.id, { channel: e.target.value as MatteTerm['channel'] })}
        >
          <option value="luma">its brightness</option>
          <option value="alpha">its transparency</option>
        </Select>
      </Line>
      {!own && media.frames > 1 && (
        <Line>
          <span>Its first frame stands at</span>
          <span style={{ width: 64 }}>
            <NumberBox
              label="Frame of the shot that the matte begins at"
              suffix=""
              value={term.from}
              min={0}
              max={shown.frames - 1}
              digits={0}
              onChange={(v) => editTerm(corr.id, term.id, { from: Math.round(v) })}
            />
          </span>
        </Line>
      )}
      <Dim>
        {own
          ? 'The picture’s own transparency, where it was kept as it came in.'
          : `${media.width} × ${media.height}, ${media.bits === 32 ? 'floating point' : `${media.bits} bit`}` +
            (media.frames > 1 ? `, ${media.frames} frames` : '') +
            (other ? `, brought to ${shown.width} × ${shown.height}` : ', number for number') +
            (media.frames > 1 && media.frames + term.from < shot.range[1] + 1
              ? `. It ends before the shot: its last frame stays from ${media.frames + term.from} on`
              : '') +
            '.'}
      </Dim>
      {!own && (
        <Button look="outline" onPress={choose} tip="Adds the chosen file as another part">
          <FolderOpen />
          Another file
        </Button>
      )}
      {files}
    </>
  );
}
