/** Pixels that are not square: how wide a media's are, and what stands on a picture that is shown so. */
import { createContext, useContext } from 'react';
import type { MediaRecord } from '../document/records';

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

/** Usual ones by their fractions: ITU-T H.264 table E-1, and lenses that squeeze. */
export const ASPECTS: readonly (readonly [string, readonly [number, number]])[] = [
  ['square', [1, 1]],
  ['8:9 (0.89)', [8, 9]],
  ['10:11 (0.91)', [10, 11]],
  ['16:15 (1.07)', [16, 15]],
  ['12:11 (1.09)', [12, 11]],
  ['32:27 (1.19)', [32, 27]],
  ['4:3 (1.33)', [4, 3]],
  ['64:45 (1.42)', [64, 45]],
  ['16:11 (1.45)', [16, 11]],
  ['3:2 (1.5)', [3, 2]],
  ['8:5 (1.6)', [8, 5]],
  ['9:5 (1.8)', [9, 5]],
  ['2:1', [2, 1]],
];
