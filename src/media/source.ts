/** Where frames come from, whatever is behind it: a still is a source of one frame. */
import type { DecodedPicture } from './picture';

export interface FrameSource {
  readonly frames: number;
  /**
   * Frame n, counted from 0; beyond the ends the nearest there is. Rejects with the signal's reason when it is aborted.
   */
  frame(n: number, signal?: AbortSignal): Promise<DecodedPicture>;
}
export const clampFrame = (n: number, frames: number): number => Math.max(0, Math.min(frames - 1, Math.round(n)));

export const stillSource = (read: (signal?: AbortSignal) => Promise<DecodedPicture>): FrameSource => ({
  frames: 1,
  frame: (_, signal) => read(signal),
});

/** Frames that were used last, by what they are of, as many bytes of them as may be kept; the newest always stays. */
export class FrameCache<T> {
  private readonly entries = new Map<string, { value: T; bytes: number }>();
  private held = 0;
  constructor(private readonly most: number) {}

  get bytes(): number {
    return this.held;
  }
  has(key: string): boolean {
    return this.entries.has(key);
  }
  /** Most recently used last. */
  get(key: string): T | undefined {
    const e = this.entries.get(key);
    if (!e) return undefined;
    this.entries.delete(key);
    this.entries.set(key, e);
    return e.value;
  }
  /** Answers with what had to go for it. */
  put(key: string, value: T, bytes: number): T[] {
    this.drop(key);
    this.entries.set(key, { value, bytes });
    this.held += bytes;
    const gone: T[] = [];
    for (const [k, e] of this.entries) {
      if (this.held <= this.most || k === key) break;
      this.drop(k);
      gone.push(e.value);
    }
    return gone;
  }
  private drop(key: string): void {
    const e = this.entries.get(key);
    if (!e) return;
    this.entries.delete(key);
    this.held -= e.bytes;
  }
}
