/** Messages to the person: what is wrong, where, what to do. They stay until closed; plain news goes by itself. */
import { create } from 'zustand';
import { EngineError } from './engineError';
import { wordsOf } from './words';

export interface Notice {
  id: number;
  kind: 'error' | 'news';
  text: string;
}
interface Notices {
  list: Notice[];
  say(kind: Notice['kind'], text: string): void;
  close(id: number): void;
}
let next = 1;
export const useNotices = create<Notices>((set) => ({
  list: [],
  say: (kind, text) => {
    const id = next++;
    set((s) => ({ list: [...s.list.filter((n) => n.text !== text).slice(-4), { id, kind, text }] }));
    if (kind === 'news') setTimeout(() => set((s) => ({ list: s.list.filter((n) => n.id !== id) })), 5000);
  },
  close: (id) => set((s) => ({ list: s.list.filter((n) => n.id !== id) })),
}));
export const sayError = (text: string): void => useNotices.getState().say('error', text);
export const sayNews = (text: string): void => useNotices.getState().say('news', text);
/**
 * For what stands beside the picture: that it was replaced is no fault, and what is wrong with the picture itself is
 * said where that is drawn; whatever else went wrong is said.
 */
export const asideFailed =
  (what: string) =>
  (e: unknown): void => {
    const code = e instanceof EngineError ? e.reply.code : '';
    if (code === 'stale' || code === 'cannot' || (e as Error).name === 'MissingFile') return;
    sayError(`${what}: ${wordsOf(e)}`);
  };
/** Runs work and turns a failure into a message. */
export async function guard<T>(what: string, work: () => Promise<T>): Promise<T | null> {
  try {
    return await work();
  } catch (e) {
    sayError(`${what}: ${wordsOf(e)}`);
    return null;
  }
}
