/** A figure that an adjustment shows about itself, read again when another picture has been drawn. */
import { useEffect, useState } from 'react';
import type { ShotRecord } from '../../document/records';
import { asking } from '../asking';
import { useLive } from '../live';
import { wordsOf } from '../words';

/**
 * @param ask must not change but with what it asks about
 * @returns what was read last, or why not in words
 */
export function useRead<T>(
  shot: ShotRecord,
  corr: string,
  use: string,
  ask: (shot: ShotRecord, corr: string, use: string, signal: AbortSignal) => Promise<T>,
): { is: T | null; fault: string } {
  const [read, setRead] = useState<{ is: T | null; fault: string }>({ is: null, fault: '' });
  const finals = useLive((s) => s.finals);
  useEffect(
    () =>
      asking(
        (signal) => ask(shot, corr, use, signal),
        (is) => setRead({ is, fault: '' }),
        (e) => setRead({ is: null, fault: wordsOf(e) }),
      ),
    // What was drawn last is what is read.
    [finals, shot, corr, use, ask],
  );
  return read;
}
