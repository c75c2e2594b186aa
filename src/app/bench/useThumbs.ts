/** The pictures of the time strip. */
import { useEffect, useRef } from 'react';
import type { MediaRecord, ShotRecord } from '../../document/records';
import { shotState } from '../actions';
import { engine } from '../engine';
import { asideFailed } from '../notices';
import { aspectOf } from '../pixelAspect';
import { usePlay } from '../player';
import { useDoc } from '../store';

/** Small pictures of the shot as it came, one after another when nothing else is asked for. */
export function useThumbs(shot: ShotRecord, media: MediaRecord): React.RefObject<HTMLCanvasElement | null> {
  const canvas = useRef<HTMLCanvasElement>(null);
  const key = `${shot.id} ${media.id} ${media.frames} ${JSON.stringify([shot.encoding, shot.conversion, media.yuv])}`;
  const playing = usePlay((s) => s.playing);
  const done = useRef<{ key: string; frames: Set<number> }>({ key: '', frames: new Set() });
  useEffect(() => {
    const el = canvas.current;
    if (!el || playing) return;
    const height = 38;
    const square = Math.max(12, Math.round((height * media.width) / media.height));
    const wide = Math.max(24, Math.round(square * aspectOf(media)));
    const across = el.clientWidth;
    const n = Math.max(1, Math.min(media.frames, Math.ceil(across / wide)));
    const name = `${key} ${n}`;
    if (done.current.key !== name) {
      [el.width, el.height] = [across, height];
      done.current = { key: name, frames: new Set() };
    }
    const stop = new AbortController();
    const { records } = useDoc.getState();
    const state = { ...shotState(records, shot), corrections: [] };
    void (async () => {
      for (let i = 0; i < n && !stop.signal.aborted; i++) {
        if (done.current.frames.has(i)) continue;
        const frame = Math.min(media.frames - 1, Math.floor(((i + 0.5) / n) * media.frames));
        const x0 = Math.round((i / n) * across);
        const w = Math.round(((i + 1) / n) * across) - x0;
        const scale = square / media.width;
        const view = {
          w: square,
          h: height,
          scale,
          offX: 0,
          offY: 0,
          mode: 'picture',
          compare: 'off',
          wipeX: 0,
        } as const;
        const r = await engine().request(
          'card',
          {
            shot: { ...state, frame },
            focus: null,
            view,
            quality: 'draft',
            scopes: [],
            patches: [],
            skinLineDeg: 123,
            bits: 8,
          },
          stop.signal,
        );
        if (stop.signal.aborted) return;
        const small = new OffscreenCanvas(r.w, r.h);
        small.getContext('2d')!.putImageData(new ImageData(r.rgba, r.w, r.h), 0, 0);
        // Cut at the sides where there is less room than the picture is wide.
        const cut = (Math.max(0, wide - w) / 2) * (square / wide);
        el.getContext('2d')!.drawImage(small, cut, 0, square - 2 * cut, height, x0, 0, w, height);
        done.current.frames.add(i);
      }
    })().catch((e: unknown) => {
      if (!stop.signal.aborted) asideFailed('The pictures of the time strip could not be made')(e);
    });
    return () => stop.abort();
  }, [key, playing, shot, media]);
  return canvas;
}
