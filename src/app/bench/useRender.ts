/** Draws the open shot: a draft at once after any change, the final when the hand rests; only the newest counts. */
import { useEffect, useRef } from 'react';
import type { RefObject } from 'react';
import type { RenderReply, RenderRequest } from '../../protocol/messages';
import { engine } from '../engine';
import { useLive } from '../live';
import { sayError } from '../notices';

const REST_MS = 130;

/** Called with every drawn frame; the benchmark of the page listens for it. */
export const drawn = new EventTarget();

export function useRender(canvas: RefObject<HTMLCanvasElement | null>, request: Omit<RenderRequest, 'quality'> | null, busy: boolean): void {
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const alive = useRef(true);
  useEffect(() => {
    alive.current = true;
    return () => {
      alive.current = false;
    };
  }, []);
  useEffect(() => {
    if (!request || request.view.w < 2 || request.view.h < 2) return;
    const show = (r: RenderReply | null): void => {
      const el = canvas.current;
      if (!r || !el || !alive.current) return;
      if (el.width !== r.w || el.height !== r.h) [el.width, el.height] = [r.w, r.h];
      el.getContext('2d', { alpha: false })!.putImageData(new ImageData(r.rgba, r.w, r.h), 0, 0);
      useLive.setState((s) => ({ scopes: r.scopes, readings: Object.fromEntries(r.readings.map((x) => [x.id, x])), quality: r.quality, ms: r.ms, finals: s.finals + (r.quality === 'final' ? 1 : 0) }));
      drawn.dispatchEvent(new CustomEvent('drawn', { detail: { quality: r.quality, ms: r.ms, at: performance.now(), computed: r.computed } }));
    };
    const go = async (quality: 'draft' | 'final'): Promise<void> => {
      try {
        show(await engine().render({ ...request, quality }));
      } catch (e) {
        sayError((e as Error).message);
      }
    };
    void go('draft');
    if (timer.current) clearTimeout(timer.current);
    timer.current = setTimeout(() => void go('final'), busy ? REST_MS * 2 : REST_MS);
    return () => {
      if (timer.current) clearTimeout(timer.current);
    };
  }, [request, busy, canvas]);
}
