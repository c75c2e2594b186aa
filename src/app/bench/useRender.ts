/** Draws the open shot: a draft at once after any change, the final when the hand rests; only the newest counts. */
import { useCallback, useEffect, useLayoutEffect, useRef } from 'react';
import type { RefObject } from 'react';
import type { Records } from '../../document/records';
import type { RenderReply, ScopeRequest, View } from '../../protocol/messages';
import { engine } from '../engine';
import { useLive } from '../live';
import { sayError } from '../notices';
import { wordsOf } from '../words';
import { useDoc } from '../store';
import { atFrame, requestOf } from './request';
import type { Asked, Looking } from './request';
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

/** What lies round a picture (engine/tasks/view.ts). */
const STAGE = '#6e6e6e';
/**
 * Puts a render where it is seen, and what came with it where it is read.
 *
 * @param at of a view of such a size it is the piece at this place, the rest is empty; left out: it is all of it
 */
export function drawReply(
  el: HTMLCanvasElement,
  r: RenderReply,
  keys: readonly string[],
  at: { w: number; h: number; x: number; y: number } = { w: r.w, h: r.h, x: 0, y: 0 },
): void {
  if (el.width !== at.w || el.height !== at.h) [el.width, el.height] = [at.w, at.h];
  const ctx = el.getContext('2d', { alpha: false })!;
  ctx.fillStyle = STAGE;
  for (const [x, y, w, h] of [
    [0, 0, at.w, at.y],
    [0, at.y + r.h, at.w, at.h],
    [0, at.y, at.x, r.h],
    [at.x + r.w, at.y, at.w, r.h],
  ] as const)
    if (w > 0 && h > 0 && x < at.w && y < at.h) ctx.fillRect(x, y, w, h);
  ctx.putImageData(new ImageData(r.rgba, r.w, r.h), at.x, at.y);
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

/** What is to be seen: of which document, looked at how, at which frame. */
export interface Seen {
  records: Records;
  look: Looking;
  frame: number;
  /** `requestOf` these. */
  asked: Asked | null;
}

/**
 * A step of a drag is asked for as soon as it is made, before the interface is drawn anew for it: the engine makes the
 * picture meanwhile. Whatever else changes it, or how it is looked at, is asked for in the commit.
 */
export function useRender(
  canvas: RefObject<HTMLCanvasElement | null>,
  seen: Seen,
  dragging: boolean,
  /** Somebody else draws: the player. */
  idle = false,
): void {
  const alive = useRef(true);
  const scopesAt = useRef(0);
  /** The draft that was asked for before the commit it belongs to. */
  const early = useRef<{ records: Records; look: Looking; frame: number; draft: Promise<void> } | null>(null);
  useEffect(() => {
    alive.current = true;
    return () => {
      alive.current = false;
    };
  }, []);
  const go = useCallback(
    async ({ request, keys }: Asked, quality: 'draft' | 'final', coarse: boolean): Promise<void> => {
      try {
        const now = performance.now();
        const scopes = quality === 'final' || now - scopesAt.current > SCOPES_MS;
        if (scopes) scopesAt.current = now;
        const r = await engine().render({
          ...request,
          quality,
          scopes: !scopes ? [] : coarse ? request.scopes.map(coarser) : request.scopes,
          view: coarse ? halved(request.view) : request.view,
        });
        if (r && canvas.current && alive.current) drawReply(canvas.current, r, keys);
      } catch (e) {
        sayError(`The picture could not be drawn: ${wordsOf(e)}`);
      }
    },
    [canvas],
  );
  const { records, look, frame, asked } = seen;
  useLayoutEffect(() => {
    if (idle) return;
    return useDoc.subscribe((s, before) => {
      // A hand changes one thing a step; what changes in several at once is asked for when all of it is there.
      if (s.mark === null || s.records === before.records) return;
      const next = requestOf(s.records, look);
      if (!next) return;
      const draft = go({ ...next, request: atFrame(next, frame) }, 'draft', true);
      early.current = { records: s.records, look, frame, draft };
    });
  }, [look, frame, idle, go]);
  // In the commit itself: after the paint would be a frame later.
  useLayoutEffect(() => {
    if (idle || !asked) return;
    const at: Asked = { ...asked, request: atFrame(asked, frame) };
    const e = early.current;
    const mine = e && e.records === records && e.look === look && e.frame === frame;
    // Once: the same document without a hand on it is a finer draft.
    if (mine) early.current = null;
    const draft = mine ? e.draft : go(at, 'draft', dragging);
    // The canvas says whether what it shows is what is asked for, in full.
    const busy = (v: boolean): void => canvas.current?.setAttribute('aria-busy', String(v));
    busy(true);
    let over = false;
    const final = setTimeout(
      // Where the picture has still to come, the draft is what is seen first.
      () =>
        void draft.then(async () => {
          if (over) return;
          await go(at, 'final', false);
          if (!over) busy(false);
        }),
      dragging ? REST_MS * 2 : REST_MS,
    );
    return () => {
      over = true;
      clearTimeout(final);
    };
  }, [canvas, records, look, frame, asked, dragging, idle, go]);
}
