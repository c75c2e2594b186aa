/** Draws the open shot: a draft at once after any change, the final when the hand rests; only the newest counts. */
import { useEffect, useLayoutEffect, useRef } from 'react';
import type { RefObject } from 'react';
import type { RenderReply, RenderRequest, ScopeRequest, View } from '../../protocol/messages';
import { engine } from '../engine';
import { useLive } from '../live';
import { sayError } from '../notices';
import { wordsOf } from '../words';
import { byKey } from './scopeSlots';

const REST_MS = 130;
/** During a drag the scopes follow more than a dozen times a second: they cost more to draw than the picture. */
const SCOPES_MS = 55;
/** A draft of a large view has half its resolution; the canvas stretches it. */
const DRAFT_VIEW = 400_000;
function halved(v: View): View {
  return v.w * v.h <= DRAFT_VIEW ? v : { ...v, w: Math.ceil(v.w / 2), h: Math.ceil(v.h / 2), scale: v.scale / 2 };
}

/** Half as fine while a hand moves: a quarter of the cells to bring to size and to draw. */
const coarser = (r: ScopeRequest): ScopeRequest => ({ ...r, px: [Math.ceil(r.px[0] / 2), Math.ceil(r.px[1] / 2)] });

/** Puts a render where it is seen, and what came with it where it is read. */
export function drawReply(el: HTMLCanvasElement, r: RenderReply, keys: readonly string[]): void {
  if (el.width !== r.w || el.height !== r.h) [el.width, el.height] = [r.w, r.h];
  el.getContext('2d', { alpha: false })!.putImageData(new ImageData(r.rgba, r.w, r.h), 0, 0);
  useLive.setState((s) => ({
    ...(r.scopes
      ? { scopes: byKey(keys, r.scopes), clipped: r.clipped, ...(r.contrast ? { contrast: r.contrast } : {}) }
      : {}),
    ...(r.readings ? { readings: Object.fromEntries(r.readings.map((x) => [x.id, x])) } : {}),
    quality: r.quality,
    ms: r.ms,
    finals: s.finals + (r.quality === 'final' ? 1 : 0),
  }));
  // The benchmark of the page (scripts/bench-ui.mjs) listens for this.
  window.dispatchEvent(
    new CustomEvent('rowanleaf:drawn', {
      detail: {
        quality: r.quality,
        ms: r.ms,
        at: performance.now(),
        computed: r.computed,
        scopes: r.scopes !== null,
      },
    }),
  );
}

export function useRender(
  canvas: RefObject<HTMLCanvasElement | null>,
  request: Omit<RenderRequest, 'quality'> | null,
  keys: readonly string[],
  dragging: boolean,
  /** Somebody else draws: the player. */
  idle = false,
): void {
  const alive = useRef(true);
  const scopesAt = useRef(0);
  useEffect(() => {
    alive.current = true;
    return () => {
      alive.current = false;
    };
  }, []);
  // In the commit itself: after the paint would be a frame later.
  useLayoutEffect(() => {
    if (idle || !request || request.view.w < 2 || request.view.h < 2) return;
    const show = (r: RenderReply | null): void => {
      if (r && canvas.current && alive.current) drawReply(canvas.current, r, keys);
    };
    const go = async (quality: 'draft' | 'final'): Promise<void> => {
      try {
        const now = performance.now();
        const scopes = quality === 'final' || now - scopesAt.current > SCOPES_MS;
        if (scopes) scopesAt.current = now;
        show(
          await engine().render({
            ...request,
            quality,
            scopes: !scopes ? [] : quality === 'draft' && dragging ? request.scopes.map(coarser) : request.scopes,
            view: quality === 'draft' && dragging ? halved(request.view) : request.view,
          }),
        );
      } catch (e) {
        sayError(`The picture could not be drawn: ${wordsOf(e)}`);
      }
    };
    const draft = go('draft');
    let over = false;
    const final = setTimeout(
      // Where the picture has still to come, the draft is what is seen first.
      () =>
        void draft.then(() => {
          if (!over) void go('final');
        }),
      dragging ? REST_MS * 2 : REST_MS,
    );
    return () => {
      over = true;
      clearTimeout(final);
    };
  }, [request, keys, dragging, canvas, idle]);
}
