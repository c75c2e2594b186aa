/** Between picture positions and pixels of the stage. */
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
