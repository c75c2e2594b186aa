/** Records as tests need them: a still of 16:9, and a shot of it. */
import { newUse } from '../src/core/graph/plan.defaults';
import type { MediaRecord, ShotRecord } from '../src/document/records';

export const stillRecord = (id: string, width: number): MediaRecord => ({
  type: 'media',
  id: `media:${id}`,
  kind: 'still',
  fileName: `${id}.png`,
  format: 'png',
  bits: 8,
  width,
  height: (width * 9) / 16,
  frames: 1,
  pixelAspect: [1, 1],
  sha256: id.repeat(64),
  source: { from: 'file' },
});
export const shotRecord = (id: string, order: number): ShotRecord => ({
  type: 'shot',
  id: `shot:${id}`,
  name: id.toUpperCase(),
  media: `media:${id}`,
  encoding: 'srgb',
  encodingGuessed: false,
  conversion: newUse('conversion', 'convert', {}, false),
  range: [0, 0],
  rate: [24, 1],
  timecode: { start: 0, drop: false },
  order,
});
