/** Runs damaged files through decoding processes, which are ended when a file takes longer than its limit. */
import { fork } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { limitSec } from '../src/media/errors';
import { damagedFile, goodFiles } from './damage';
import type { Outcome } from './decodeServer';

export interface FilesResult {
  from: number;
  to: number;
  opened: number;
  refused: number;
  /**
   * Files that gave an error of the machine's own, a silent crash, or took longer than their limit: none is
   * allowed.
   */
  faults: string[];
  slowestMs: number;
  peakMb: number;
}
const server = async (): Promise<ChildProcess> => {
  const p = fork(join(import.meta.dirname, 'decodeServer.ts'), [], {
    execArgv: ['--import', import.meta.resolve('tsx')],
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  await new Promise((done) => p.once('message', done));
  return p;
};

export async function soakFiles(
  seed: number,
  from: number,
  to: number,
  each: (r: FilesResult) => void = () => {},
): Promise<FilesResult> {
  const files = goodFiles();
  const out: FilesResult = { from, to: from, opened: 0, refused: 0, faults: [], slowestMs: 0, peakMb: 0 };
  let p = await server();
  try {
    for (let n = from; n < to; n++) {
      const f = damagedFile(files, seed, n);
      const r = await new Promise<Outcome | string>((done) => {
        const limit = 1000 * limitSec(f.bytes.length);
        const end = (x: Outcome | string): void => {
          clearTimeout(timer);
          p.off('message', heard).off('exit', died);
          done(x);
        };
        const heard = (m: Outcome): void => end(m);
        const died = (code: number | null): void => end(`the process ended (${code})`);
        const timer = setTimeout(() => end('took longer than its limit'), limit);
        p.on('message', heard).on('exit', died);
        p.send({ n, bytes: f.bytes });
      });
      const name = `${seed}/${n} ${f.name} ${f.how}`;
      if (typeof r === 'string') {
        // Being ended is what the application does with it too: it is a fault only when that does not help.
        out.faults.push(`${name}: ${r}`);
        p.kill('SIGKILL');
        p = await server();
      } else {
        if (r.how === 'untyped') out.faults.push(`${name}: ${r.words}`);
        else out[r.how]++;
        out.slowestMs = Math.max(out.slowestMs, r.ms);
        out.peakMb = Math.max(out.peakMb, r.peakMb);
      }
      out.to = n + 1;
      if (n % 100 === 99) each(out);
    }
  } finally {
    p.kill('SIGKILL');
  }
  return out;
}
