/** The contact sheet: every shot with its corrected picture and readings; import by button and by dropping. */
import { useState } from 'react';
import { FolderOpen, ImagePlus, SlidersHorizontal } from 'lucide-react';
import { Dialog, DialogTrigger, FileTrigger } from 'react-aria-components';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import { projectOf, shotsOf } from '../document/records';
import { Button, Dim, Line, Select } from '../ui/controls';
import { MenuBox } from '../ui/MenuBox';
import { ContactSheet } from './ContactSheet';
import { Guide } from './Guide';
import { importFiles } from './importFiles';
import { guard, sayNews } from './notices';
import { fetchDemo } from './opening';
import { SequenceImport } from './SequenceImport';
import { Storage } from './Storage';
import { useDoc, useSession } from './store';

const Page = styled.main`
  height: 100%;
  overflow: auto;
  padding: 18px 22px 28px;
  background: var(--bg);
  .head {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 16px;
  }
  h1 {
    font:
      italic 500 22px/1.2 'Source Serif 4 Variable',
      serif;
    margin-right: auto;
  }
`;
const Drop = styled.div`
  position: fixed;
  inset: 40px 0 0;
  display: grid;
  place-items: center;
  background: rgb(20 20 20 / 78%);
  color: #fff;
  font-size: 20px;
  z-index: 20;
  pointer-events: none;
  &::after {
    content: '';
    position: absolute;
    inset: 14px;
    border: 2px dashed #ddd;
    border-radius: 10px;
  }
`;

/** What is done with transparency and with profiles that cannot be applied exactly. */
function ImportOptions() {
  const { importing, set } = useSession();
  return (
    <DialogTrigger>
      <Button look="outline" tip="How transparency and colour profiles are read">
        <SlidersHorizontal />
        Options
      </Button>
      <MenuBox placement="bottom start">
        <Dialog
          aria-label="Options for pictures that come in"
          style={{ outline: 'none', padding: '6px 8px', width: 300 }}
        >
          <Line>
            <span>Transparency</span>
            <Select
              aria-label="Transparency"
              value={importing.alpha}
              onChange={(e) => set({ importing: { ...importing, alpha: e.target.value as 'keep' | 'flatten' } })}
            >
              <option value="flatten">laid over black</option>
              <option value="keep">kept</option>
            </Select>
          </Line>
          <Line>
            <span>Profiles that cannot be applied</span>
            <Select
              aria-label="Profiles that cannot be applied"
              value={importing.profile}
              onChange={(e) => set({ importing: { ...importing, profile: e.target.value as 'refuse' | 'assume' } })}
            >
              <option value="refuse">refused</option>
              <option value="assume">taken as sRGB</option>
            </Select>
          </Line>
          <Dim>Other profiles are always applied. These count for the pictures that come in next.</Dim>
        </Dialog>
      </MenuBox>
    </DialogTrigger>
  );
}

export default function Shots() {
  const records = useDoc((s) => s.records);
  const change = useDoc((s) => s.change);
  const go = useNavigate();
  const [over, setOver] = useState(false);
  const [page, setPage] = useState<HTMLElement | null>(null);
  const shots = shotsOf(records);
  const take = async (files: File[]): Promise<void> => {
    const last = await importFiles(files);
    if (last && files.length === 1) void go(`/bench/${last.id}`);
  };
  return (
    <Page
      ref={setPage}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget as Node)) setOver(false);
      }}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void take([...e.dataTransfer.files]);
      }}
    >
      <div className="head">
        <h1>{projectOf(records)?.name ?? 'No project'}</h1>
        <FileTrigger
          acceptedFileTypes={[
            'image/png',
            'image/jpeg',
            'image/tiff',
            'image/webp',
            'image/avif',
            '.tif',
            '.tiff',
            '.exr',
            'video/mp4',
            'video/webm',
            '.mov',
            '.mkv',
          ]}
          allowsMultiple
          onSelect={(l) => void take([...(l ?? [])])}
        >
          <Button look="strong">
            <ImagePlus />
            Import
          </Button>
        </FileTrigger>
        <SequenceImport done={(s) => void go(`/bench/${s.id}`)} />
        <ImportOptions />
        <FileTrigger acceptedFileTypes={['.json']} onSelect={(l) => void take([...(l ?? [])])}>
          <Button
            look="outline"
            tip="A *.rowanleaf.json file; it takes the place of what is open, and undo brings that back"
          >
            <FolderOpen />
            Open a project
          </Button>
        </FileTrigger>
        <Button
          look="outline"
          tip="Opens the demo film as it was shipped; undo brings the present project back"
          onPress={() =>
            void guard('The demo was not opened', async () => {
              const r = await fetchDemo();
              change('Open the demo', () => r);
              useSession.getState().set({ guide: true });
              sayNews('The demo is open as it was shipped.');
            })
          }
        >
          Demo
        </Button>
        <Storage />
      </div>
      <Guide />
      {shots.length === 0 ? (
        <p>
          <Dim>No shot yet. Import a picture, or drop one anywhere on this page.</Dim>
        </p>
      ) : (
        page && <ContactSheet shots={shots} scroller={page} />
      )}
      {over && <Drop>Drop pictures (PNG, JPEG, TIFF, EXR, WebP, AVIF), clips (MP4, WebM) or a project here</Drop>}
    </Page>
  );
}
