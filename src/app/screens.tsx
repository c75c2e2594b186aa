/** The screens, each in a file of its own that is fetched when it is wanted, or shortly before. */
import { createElement, startTransition, useEffect, useState } from 'react';
import type { ComponentType } from 'react';

interface Screen {
  (): React.ReactNode;
  /** Fetches its code; ends when it is there. */
  load(): Promise<unknown>;
}
/**
 * Not by `lazy` and `Suspense`: once a fallback was shown, React lets what comes after it wait for 300 ms, also where
 * the code was there long before.
 */
/** The first screen is built in pieces, as those that follow are by the router: one task would hold up input. */
let first = true;
function screen(fetch: () => Promise<{ default: ComponentType }>): Screen {
  let there: ComponentType | null = null;
  let coming: Promise<unknown> | null = null;
  const load = (): Promise<unknown> => (coming ??= fetch().then((m) => (there = m.default)));
  function Shown() {
    const [state, setState] = useState(() => ({ shown: first ? null : there, fault: null as unknown }));
    useEffect(() => {
      first = false;
      if (state.shown) return;
      load().then(
        () => startTransition(() => setState({ shown: there, fault: null })),
        (fault: unknown) => {
          // The next one who opens it tries again.
          coming = null;
          setState({ shown: null, fault });
        },
      );
    }, [state.shown]);
    if (state.fault) throw state.fault as Error;
    return state.shown ? createElement(state.shown) : <p style={{ padding: 24 }}>Opening {'\u2026'}</p>;
  }
  return Object.assign(Shown, { load });
}
export const Bench = screen(() => import('./bench/Bench'));
export const Shots = screen(() => import('./Shots'));
export const HandOff = screen(() => import('./HandOff'));

/** The screen of a path begins to come before anything else is known. */
export function loadScreenOf(path: string): void {
  const s = path.startsWith('/bench') ? Bench : path.startsWith('/hand-off') ? HandOff : Shots;
  // What fails is said when it is shown.
  s.load().catch(() => {});
}
