/** The thread of clips: frames by number, one clip at a time is asked; and checksums of files of any size. */
import { createSHA256 } from 'hash-wasm';
import { Clip } from '../media/clip';
import { errorOf } from '../media/errors';
import { readParts } from '../media/fingerprint';
import { pieces } from '../media/pieces';
import { buffersOf, MediaError } from '../media/picture';
import type { ClipReply, ClipRequest } from '../protocol/messages';

const scope = self as unknown as { postMessage(m: ClipReply, t?: Transferable[]): void };
/** Decoders hold tens of megabytes each: of clips that were looked at earlier none is kept but these. */
const OPEN = 2;
const clips = new Map<string, Promise<Clip>>();

function open(key: string, file: Blob, counted: (n: number) => void): Promise<Clip> {
  const known = clips.get(key);
  if (known) {
    clips.delete(key);
    clips.set(key, known);
    return known;
  }
  const clip = Clip.open(file, true, counted);
  clips.set(key, clip);
  clip.catch(() => clips.delete(key));
  for (const [k, c] of clips) {
    if (clips.size <= OPEN) break;
    clips.delete(k);
    void c.then((x) => x.close()).catch(() => {});
  }
  return clip;
}
/** Told every so many bytes. */
const SAID = 8 * 2 ** 20;
async function sum(file: Blob, what: 'whole' | 'parts', so: (bytes: number) => void): Promise<string> {
  const hash = await createSHA256();
  if (what === 'parts') {
    await readParts(file, (b) => hash.update(b));
    return hash.digest('hex');
  }
  let [bytes, said] = [0, 0];
  for await (const piece of pieces(file)) {
    hash.update(piece);
    bytes += piece.byteLength;
    if (bytes - said < SAID && bytes < file.size) continue;
    said = bytes;
    so(bytes);
  }
  return hash.digest('hex');
}

self.onmessage = async ({ data }: MessageEvent<ClipRequest>) => {
  const { id } = data;
  const so = (n: number): void => scope.postMessage({ id, so: n });
  try {
    if (data.kind === 'open') scope.postMessage({ id, ok: true, info: (await open(data.key, data.file, so)).info });
    else if (data.kind === 'sum') scope.postMessage({ id, ok: true, sum: await sum(data.file, data.what, so) });
    else {
      const clip = clips.get(data.key);
      // Closed for others: whoever asks opens it again.
      if (!clip) throw new MediaError('unknown', 'closed', '');
      const picture = await (await clip).frame(data.frame, data.meaning);
      scope.postMessage({ id, ok: true, picture }, buffersOf(picture));
    }
  } catch (e) {
    scope.postMessage({ id, ok: false, error: errorOf(e) });
  }
};
