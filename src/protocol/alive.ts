/**
 * Whether a thread lives, told by a lock that it holds as long as it does: the browser gives the lock on when the
 * thread ends, however it ends. No waiting tells a dead thread from one that a busy machine does not let run.
 */

/** In the thread: holds the lock for good. False where locks cannot be had. */
export function holdLife(name: string): Promise<boolean> {
  const { locks } = navigator as Partial<Navigator>;
  if (!locks) return Promise.resolve(false);
  return new Promise((held) => {
    locks
      .request(name, () => {
        held(true);
        return new Promise<never>(() => {});
      })
      .catch(() => held(false));
  });
}
/** Elsewhere: when the thread that holds it has ended. Only for names that a thread said it holds. */
export const whenGone = (name: string, gone: () => void): void =>
  void navigator.locks.request(name, gone).catch(() => {});
