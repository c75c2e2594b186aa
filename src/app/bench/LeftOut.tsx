/** On the picture, in blue: the pixels of a patch that its reading leaves out. */
import { useEffect, useState } from 'react';
import type { PatchRecord, ShotRecord } from '../../document/records';
import type { Requests } from '../../protocol/messages';
import { shotState } from '../actions';
import { asking } from '../asking';
import { engine } from '../engine';
import { useLive } from '../live';
import { sayError } from '../notices';
import { useDoc, useSession } from '../store';
import { wordsOf } from '../words';
import type { Placing } from './geometry';

type Used = NonNullable<Requests['usedPixels']['out']>;
/** A colour that no skin has, and that every eye tells from it. */
const BLUE = [30, 120, 255, 230] as const;
const OUT = 2;

/** One pixel of the image for each of the picture. */
function imageOf({ box, used }: Used): string {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [box.w, box.h];
  const data = new ImageData(box.w, box.h);
  used.forEach((v, i) => v === OUT && data.data.set(BLUE, 4 * i));
  canvas.getContext('2d')!.putImageData(data, 0, 0);
  return canvas.toDataURL();
}

interface LeftOutProps {
  shot: ShotRecord;
  /** As it is kept: the engine moves it to the frame that is shown. */
  patch: PatchRecord;
  place: Placing;
}
export function LeftOut({ shot, patch, place }: LeftOutProps) {
  const finals = useLive((s) => s.finals);
  const bits = useSession((s) => s.bits);
  const [read, setRead] = useState<{ used: Used; image: string } | null>(null);
  useEffect(
    () =>
      asking(
        (signal) => {
          const now = shotState(useDoc.getState().records, shot);
          return engine().request('usedPixels', { shot: now, patch, bits }, signal);
        },
        (used) => setRead(used && { used, image: imageOf(used) }),
        (e) => sayError(`What is left out of ${patch.name} cannot be shown: ${wordsOf(e)}`),
      ),
    // What was drawn last is what is read.
    [finals, shot, patch, bits],
  );
  if (!read) return null;
  const { box, used } = read.used;
  return (
    <image
      href={read.image}
      data-left-out={used.reduce((n, v) => n + (v === OUT ? 1 : 0), 0)}
      x={(box.x - place.offX) * place.scale}
      y={(box.y - place.offY) * place.scale}
      width={box.w * place.scale}
      height={box.h * place.scale}
      preserveAspectRatio="none"
      // Made smaller, single pixels would fall between those of the screen.
      style={{ imageRendering: place.scale >= 1 ? 'pixelated' : 'auto' }}
    />
  );
}
