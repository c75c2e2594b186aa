/** Mattes that were made elsewhere: a picture, a clip or numbered pictures that limit a correction. */
import { OWN } from '../core/graph/region';
import type { MatteTerm } from '../core/graph/plan';
import { put } from '../document/history';
import { newId } from '../document/records';
import type { MediaRecord, ShotRecord } from '../document/records';
import { openClip, sumOf } from './clips';
import { sha256Hex } from './db';
import { decode } from './decoder';
import { correction, editCorrection, useId } from './edit';
import { findSequence, isClip, mediaOfClip } from './importClip';
import { keeping } from './importFiles';
import { files as kept } from './kept';
import { sayNews } from './notices';
import { sumsOf } from './persist';
import { useDoc, useSession } from './store';

/** A matte's numbers are what counts: no profile changes them, and its transparency stays. */
const AS_IT_IS = { alpha: 'keep', profile: 'assume' } as const;
type Found = { media: MediaRecord; files: { sha256: string; name: string; file: File }[]; alpha: boolean };

async function ofClip(file: File): Promise<Found> {
  const info = await openClip(file, () => {});
  const sha256 = await sumOf(file, 'whole', () => {});
  const media = mediaOfClip(file, info, sha256);
  return { media, files: [{ sha256, name: file.name, file }], alpha: false };
}
async function ofPictures(title: string, list: readonly File[]): Promise<Found> {
  const first = await decode(await list[0]!.arrayBuffer(), AS_IT_IS, 'import');
  const files: Found['files'] = [];
  // One after another: a thousand pictures at once would not fit into memory.
  for (const file of list) files.push({ sha256: await sha256Hex(await file.arrayBuffer()), name: file.name, file });
  const moves = list.length > 1;
  const media: MediaRecord = {
    type: 'media',
    id: newId('media'),
    kind: moves ? 'sequence' : 'still',
    fileName: title,
    format: first.format,
    bits: first.bits,
    width: first.width,
    height: first.height,
    frames: list.length,
    pixelAspect: [1, 1],
    sha256: moves
      ? await sha256Hex(new TextEncoder().encode(files.map((f) => f.sha256).join('')).buffer)
      : files[0]!.sha256,
    ...(moves ? { files: files.map(({ name, sha256 }) => ({ name, sha256 })) } : {}),
    source: { from: 'file' },
    decode: AS_IT_IS,
  };
  return { media, files, alpha: first.alpha };
}
async function find(list: readonly File[]): Promise<Found> {
  const [one] = list;
  if (list.length === 1 && one) return (await isClip(one)) ? ofClip(one) : ofPictures(one.name, [one]);
  const run = findSequence(list);
  if (!run)
    throw new Error(
      'these are no numbered pictures of one name: choose one picture, one clip, or the pictures of one sequence',
    );
  if (run.gaps)
    throw new Error(`the numbers ${run.gaps} are missing, and a matte must have every frame: write it again`);
  return ofPictures(run.title, run.files);
}

/** Adds a matte from files to a region, as one step; where its first frame belongs is told by how many it has. */
export async function addMatteFrom(list: readonly File[], corr: string, shot: ShotRecord): Promise<void> {
  if (list.length === 0) return;
  const shown = useDoc.getState().records[shot.media] as MediaRecord;
  const { media, files, alpha } = await find(list);
  if (Math.abs((media.width * shown.height) / (media.height * shown.width) - 1) > 0.01)
    throw new Error(
      `it has ${media.width} x ${media.height} pixels, the picture ${shown.width} x ${shown.height}: it is of ` +
        'another form. Write it at the size of the picture',
    );
  // Held until the record that speaks of them is there.
  await keeping(() =>
    kept.during(sumsOf(media), async () => {
      for (const f of files) await kept.put(f.sha256, f.name, f.file);
      const cut = media.frames > 1 && media.frames !== shown.frames;
      addMatte(corr, {
        name: media.fileName,
        matte: media.id,
        channel: alpha ? 'alpha' : 'luma',
        from: cut ? shot.range[0] : 0,
        media,
      });
    }),
  );
  const size =
    media.width === shown.width
      ? ''
      : `; it is brought from ${media.width} x ${media.height} pixels to the picture's size`;
  sayNews(
    `${media.fileName} limits the correction by its ${alpha ? 'transparency' : 'brightness'}` +
      `${media.frames > 1 ? `, ${media.frames} frames` : ''}${size}.`,
  );
}
export const addOwnAlpha = (corr: string): void =>
  addMatte(corr, { name: 'Transparency', matte: OWN, channel: 'alpha', from: 0 });

function addMatte(
  corr: string,
  { media, ...m }: Pick<MatteTerm, 'name' | 'matte' | 'channel' | 'from'> & { media?: MediaRecord },
): void {
  const id = useId();
  const { begin, end, bail } = useDoc.getState();
  // The picture and the part that rests on it: one step.
  begin('Add a matte');
  if (media) useDoc.getState().change('Add a matte', put(media));
  editCorrection(corr, 'Add a matte', (c) => ({
    ...c,
    terms: [...c.terms, { id, join: 'and', not: false, on: true, ...m }],
  }));
  // A region that is full takes nothing, and no picture stays for it.
  if (!correction(corr)?.terms.some((t) => t.id === id)) return bail();
  end();
  useSession.getState().set({ term: id });
}
