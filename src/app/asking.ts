/**
 * A question of an effect: one that nobody waits for any more is taken back, so that the engine does not work for it.
 * Gives the effect's clean-up.
 */
export function asking<T>(
  ask: (signal: AbortSignal) => Promise<T>,
  got: (answer: T) => void,
  failed: (e: unknown) => void,
): () => void {
  const stop = new AbortController();
  ask(stop.signal).then(
    (x) => {
      if (!stop.signal.aborted) got(x);
    },
    (e: unknown) => {
      if (!stop.signal.aborted) failed(e);
    },
  );
  return () => stop.abort();
}
