/** Between picture positions and pixels of the stage. */
import type { View } from '../../protocol/messages';

export interface Placing {
  /** Stage pixels per picture pixel. */
  scale: number;
  /** Picture position at the stage's left top corner. */
  offX: number;
  offY: number;
}
export interface Zoom {
  scale: number;
  cx: number;
  cy: number;
}
export const FIT_MARGIN = 0;

/** `zoom` null: the whole picture, centred. */
export function placing(
  stageW: number,
  stageH: number,
  picW: number,
  picH: number,
  zoom: Zoom | null,
  side: boolean,
): Placing {
  const w = side ? stageW / 2 : stageW;
  const scale = zoom ? zoom.scale : Math.min((w - FIT_MARGIN) / picW, (stageH - FIT_MARGIN) / picH);
  const cx = zoom ? zoom.cx : picW / 2;
  const cy = zoom ? zoom.cy : picH / 2;
  return { scale, offX: cx - w / 2 / scale, offY: cy - stageH / 2 / scale };
}
/** The same picture point stays under the pointer. */
export function zoomAbout(
  p: Placing,
  stageW: number,
  stageH: number,
  side: boolean,
  x: number,
  y: number,
  factor: number,
): Zoom {
  const scale = Math.min(32, Math.max(0.05, p.scale * factor));
  const px = x / p.scale + p.offX;
  const py = y / p.scale + p.offY;
  const w = side ? stageW / 2 : stageW;
  return { scale, cx: px - x / scale + w / 2 / scale, cy: py - y / scale + stageH / 2 / scale };
}

/** A piece of a view, and where in it that lies. */
export interface Piece {
  view: View;
  x: number;
  y: number;
}
/**
 * Of a view, what shows the picture: what lies round it is one grey, which need not be made, sent and kept with every
 * frame. Side by side holds two pictures, and the squares of a cut-out begin at the corner: they stay whole.
 *
 * @param w width and height of the picture, in its own pixels
 */
export function pieceOf(view: View, w: number, h: number): Piece {
  const along = (off: number, size: number, n: number): [number, number] => {
    const from = Math.max(0, Math.floor(-off * view.scale));
    const to = Math.min(n, Math.ceil((size - off) * view.scale));
    return to > from ? [from, to] : [0, n];
  };
  if (view.compare === 'side' || view.mode === 'cutout') return { view, x: 0, y: 0 };
  const [x, right] = along(view.offX, w, view.w);
  const [y, bottom] = along(view.offY, h, view.h);
  const { scale } = view;
  return {
    view: { ...view, w: right - x, h: bottom - y, offX: view.offX + x / scale, offY: view.offY + y / scale },
    x,
    y,
  };
}
