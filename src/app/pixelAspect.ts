/** Pixels that are not square: how wide a media's are, and what stands on a picture that is shown so. */
import { createContext, useContext } from 'react';
import type { MediaRecord } from '../document/records';
import { USUAL } from '../media/aspect';
import type { Aspect } from '../media/picture';

/** Width of a pixel over its height. */
export const aspectOf = (m: Pick<MediaRecord, 'pixelAspect'>): number => m.pixelAspect[0] / m.pixelAspect[1];
/** Of a media as it is looked at, for CSS. */
export const cssAspect = (m: Pick<MediaRecord, 'pixelAspect' | 'width' | 'height'>): string =>
  `${Math.round(m.width * aspectOf(m))} / ${m.height}`;

/**
 * How much wider the picture is drawn than its pixels are counted: everything that lies on it keeps to pixels, and is
 * stretched with it; what a hand points at is divided by this.
 */
const Wide = createContext(1);
export const WideProvider = Wide.Provider;
export const useWide = (): number => useContext(Wide);

/** Usual ones, as they are offered. */
export const ASPECTS: readonly (readonly [string, Aspect])[] = USUAL.map((u) => {
  const [a, b] = u;
  const title = a === b ? 'square' : b === 1 ? `${a}:1` : `${a}:${b} (${Number((a / b).toFixed(2))})`;
  return [title, u];
});
