/** Guards against data that unpack to far more than a picture needs. */
import { MediaError } from './picture';

/** Below this a stream of zeros unpacks to half a gigabyte at the most (deflate's ratio is 1032 to 1): not worth a look. */
export const SMALL_PACK = 2 ** 19;
/** Unpacks without keeping, and stops where more comes out than the size asks for: a small file must not fill the memory. */
export async function checkUnpacked(parts: Uint8Array[], most: number): Promise<void> {
  const reader = new Blob(parts as BlobPart[]).stream().pipeThrough(new DecompressionStream('deflate')).getReader();
  let total = 0;
  for (;;) {
    let r: ReadableStreamReadResult<Uint8Array>;
    try {
      r = await reader.read();
    } catch {
      // Damaged data: the decoder says it better.
      return;
    }
    if (r.done) return;
    total += r.value.length;
    if (total > most) {
      await reader.cancel().catch(() => {});
      throw new MediaError('truncated', 'its data unpack to more than its size asks for', 'Export it again from where it came.');
    }
  }
}
