import { useEffect, useState } from 'react';

/** Long enough to see what differs, and far under three changes a second (WCAG 2.2, 2.3.1). */
export const BLINK_MS = 800;
/** Before (true) and after in turn while it is on; it begins with before. */
export function useBlink(on: boolean): boolean {
  const [before, setBefore] = useState(true);
  useEffect(() => {
    if (!on) return undefined;
    setBefore(true);
    const timer = setInterval(() => setBefore((b) => !b), BLINK_MS);
    return () => clearInterval(timer);
  }, [on]);
  return before;
}
