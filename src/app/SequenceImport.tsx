/** Numbered pictures that come in as one shot: chosen, looked through, told how fast they run. */
import { useState } from 'react';
import { Film, FolderOpen, ImagePlus } from 'lucide-react';
import { Dialog, FileTrigger } from 'react-aria-components';
import type { Rate, ShotRecord } from '../document/records';
import { Button, Dim, Line, Select } from '../ui/controls';
import { Sheet, Veil } from '../ui/Sheet';
import { findSequence } from './importClip';
import { importFrames } from './importFiles';

export const RATES: readonly (readonly [string, Rate])[] = [
  ['24', [24, 1]],
  ['23.976', [24000, 1001]],
  ['25', [25, 1]],
  ['29.97', [30000, 1001]],
  ['30', [30, 1]],
  ['48', [48, 1]],
  ['50', [50, 1]],
  ['60', [60, 1]],
];
const PICTURES = ['.png', '.jpg', '.jpeg', '.tif', '.tiff', '.exr', '.webp', '.avif'];

export function SequenceImport({ done }: { done: (shot: ShotRecord) => void }) {
  const [open, setOpen] = useState(false);
  const [files, setFiles] = useState<File[] | null>(null);
  const [rate, setRate] = useState('24');
  const pictures = files?.filter((f) => PICTURES.some((e) => f.name.toLowerCase().endsWith(e))) ?? null;
  const found = pictures && findSequence(pictures);
  const close = (): void => {
    setOpen(false);
    setFiles(null);
  };
  const take = (): void => {
    if (!found) return;
    close();
    void importFrames(found, RATES.find(([n]) => n === rate)![1]).then((s) => s && done(s));
  };
  return (
    <>
      <Button look="outline" onPress={() => setOpen(true)} tip="Numbered pictures that come in as one moving shot">
        <Film />
        Import a sequence
      </Button>
      <Veil isOpen={open} onOpenChange={(x) => !x && close()} isDismissable>
        <Sheet style={{ width: 'min(520px, 94vw)' }}>
          <Dialog aria-label="Import a sequence" style={{ outline: 'none' }}>
            <h2>A sequence</h2>
            <p style={{ margin: '8px 0' }}>
              <Dim>Pictures whose names end with a number, one for each frame: PNG, TIFF, EXR, JPEG, WebP, AVIF.</Dim>
            </p>
            <div style={{ display: 'flex', gap: 8 }}>
              <FileTrigger acceptedFileTypes={PICTURES} allowsMultiple onSelect={(l) => setFiles(l ? [...l] : null)}>
                <Button look="outline">
                  <ImagePlus />
                  Choose the pictures
                </Button>
              </FileTrigger>
              <FileTrigger acceptDirectory onSelect={(l) => setFiles(l ? [...l] : null)}>
                <Button look="outline">
                  <FolderOpen />
                  Choose a folder
                </Button>
              </FileTrigger>
            </div>
            {files && !found && (
              <p role="alert" style={{ margin: '10px 0' }}>
                No two of these {files.length} files share a name that ends with a number, as scene_0001.png and
                scene_0002.png do. Choose others.
              </p>
            )}
            {found && (
              <>
                <p style={{ margin: '10px 0 2px' }} data-found={found.files.length}>
                  <b>{found.title}</b>, {found.files.length} frames
                </p>
                {found.gaps && <p>Missing numbers: {found.gaps}. What stands beside a gap follows at once.</p>}
                {found.odd.length > 0 && (
                  <p>
                    Not of it, left out: {found.odd.slice(0, 6).join(', ')}
                    {found.odd.length > 6 ? ` and ${found.odd.length - 6} more` : ''}
                  </p>
                )}
                <Line style={{ margin: '8px 0' }}>
                  <span>Frames a second</span>
                  <Select aria-label="Frames a second" value={rate} onChange={(e) => setRate(e.target.value)}>
                    {RATES.map(([n]) => (
                      <option key={n} value={n}>
                        {n}
                      </option>
                    ))}
                  </Select>
                </Line>
              </>
            )}
            <div style={{ display: 'flex', gap: 8, justifyContent: 'flex-end', marginTop: 12 }}>
              <Button onPress={close}>Cancel</Button>
              <Button look="strong" isDisabled={!found} onPress={take}>
                Import
              </Button>
            </div>
          </Dialog>
        </Sheet>
      </Veil>
    </>
  );
}
