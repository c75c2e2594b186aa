/** A small final render of a shot, as cards show it, with readings of patches at full resolution. */
import type { MediaRecord } from '../document/records';
import type { PatchSpec, RenderRequest, ShotState } from '../protocol/messages';

export function cardRequest(
  shot: ShotState,
  media: Pick<MediaRecord, 'width' | 'height'>,
  w: number,
  read: { patches: PatchSpec[]; skinLineDeg: number; bits: 8 | 16 } = { patches: [], skinLineDeg: 123, bits: 16 },
): RenderRequest {
  const h = Math.max(1, Math.round((w * media.height) / media.width));
  const view = { w, h, scale: w / media.width, offX: 0, offY: 0, mode: 'picture', compare: 'off', wipeX: 0 } as const;
  return { shot, focus: null, view, quality: 'final', scopes: [], ...read };
}
