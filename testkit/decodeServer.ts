/** A process that decodes what it is sent, one file at a time, and says how it went and what memory it took. */
import { decodeStill, MediaError } from '../src/media/decode';
import { errorOf } from '../src/media/errors';
import { nodeCodecs } from '../src/media/node';

export interface Outcome {
  n: number;
  how: 'opened' | 'refused' | 'untyped';
  words: string;
  ms: number;
  /** Largest resident memory of this process so far, MB. */
  peakMb: number;
  pixels: number;
}
nodeCodecs();
const log = console.error;
// What would be an untyped error is printed by errorOf: here it is counted.
console.error = () => {};
process.on('message', ({ n, bytes }: { n: number; bytes: Uint8Array }) => {
  const at = performance.now();
  const answer = (how: Outcome['how'], words: string, pixels = 0): void =>
    void process.send!({
      n,
      how,
      words,
      ms: performance.now() - at,
      peakMb: process.resourceUsage().maxRSS / 1024,
      pixels,
    } satisfies Outcome);
  decodeStill(new Uint8Array(bytes)).then(
    (p) => answer(p.rgb.length === 3 * p.width * p.height ? 'opened' : 'untyped', 'opened', p.width * p.height),
    (e: unknown) => {
      const typed = e instanceof MediaError || errorOf(e).code !== 'failed';
      if (!typed) log(e);
      answer(typed ? 'refused' : 'untyped', (e as Error).message ?? String(e));
    },
  );
});
process.send!('ready');
