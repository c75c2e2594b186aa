/** A small final picture of a shot, drawn as wide as its pixels are; made when nothing else is asked for. */
import { useEffect, useRef } from 'react';
import { useQuery } from '@tanstack/react-query';
import type { MediaRecord } from '../../document/records';
import type { ShotState } from '../../protocol/messages';
import { cardRequest } from '../cardRequest';
import { engine } from '../engine';
import { cssAspect } from '../pixelAspect';

interface Props {
  media: MediaRecord;
  state: ShotState;
  /** Pixels across that are made. */
  wide: number;
  says: string;
  /** Told of what went wrong, null when all is well. */
  fault?: (e: Error | null) => void;
}
export function SmallPicture({ media, state, wide, says, fault }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { data, error } = useQuery({
    queryKey: ['small', wide, JSON.stringify(state)],
    staleTime: Infinity,
    retry: false,
    queryFn: ({ signal }) => engine().request('card', cardRequest(state, media, wide), signal),
  });
  useEffect(() => fault?.(error), [error]);
  useEffect(() => {
    const el = canvas.current;
    if (!el || !data) return;
    [el.width, el.height] = [data.w, data.h];
    el.getContext('2d', { alpha: false })!.putImageData(new ImageData(data.rgba, data.w, data.h), 0, 0);
  }, [data]);
  return (
    <canvas ref={canvas} style={{ aspectRatio: cssAspect(media) }} aria-label={says} role="img" data-there={!!data} />
  );
}
