/** What went wrong with a file, in words: nothing of the machine's own reaches people. */
import { CubeError } from '../core/formats/cube';
import { XmlError } from './xml';
import { MediaError } from './picture';

export interface FileFault {
  code: 'media' | 'memory' | 'failed';
  message: string;
  remedy: string;
}
const again = 'Copy or export it again.';
export function errorOf(e: unknown): FileFault {
  if (e instanceof MediaError) return { code: 'media', message: e.message, remedy: e.remedy };
  if (e instanceof CubeError || e instanceof XmlError) return { code: 'media', message: e.message, remedy: again };
  const text = e instanceof Error ? e.message : String(e);
  // What the machine says when there is no memory left for it.
  if (e instanceof RangeError && /allocation|array length|buffer|memory|size/i.test(text))
    return {
      code: 'memory',
      message: 'it needs more memory than the browser gives',
      remedy: 'Close other tabs, or save it smaller and import that.',
    };
  if (e instanceof RangeError && /^it has \d/.test(text)) return { code: 'media', message: text, remedy: again };
  console.error(e);
  return {
    code: 'failed',
    message: 'it could not be read',
    remedy: `${again} If that does not help, save it in another format.`,
  };
}

/** Seconds that a file may take: far more than the slowest sound one of its size took here (403 MB of TIFF: 16 s). */
export const limitSec = (bytes: number): number => Math.min(240, 12 + bytes / 2e6);
export const tookTooLong = (bytes: number): FileFault => ({
  code: 'media',
  message: `it was still not read after ${Math.round(limitSec(bytes))} s: its data lead the decoder astray`,
  remedy: again,
});
