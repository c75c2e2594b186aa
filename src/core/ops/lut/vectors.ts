import type { PixelVector } from '../../../../testkit/vectors';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { plainContext } from '../../op/contract';
import type { OpContext } from '../../op/contract';
import { parseCube } from '../../formats/cube';
import { TABLE } from '../../../../testkit/opContract';
import type { params } from './params';

const data = (f: string): string => readFileSync(join(import.meta.dirname, '../../../../tests/data', f), 'utf8');
const cube = parseCube(data('case5.cube'));
export const context: OpContext = { ...plainContext, table: (id) => (id === TABLE ? cube : null) };
const file = JSON.parse(data('case5.json')) as Record<
  'input' | 'ocio_trilinear' | 'ocio_tetrahedral' | 'ffmpeg_tetrahedral',
  [number, number, number][]
>;
const cases: PixelVector<typeof params>[] = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [
  {
    params: { table: TABLE },
    in: file.input[i]!,
    out: file.ocio_tetrahedral[i]!,
    tol: 1e-6,
    source: 'PyOpenColorIO 2.1.2, tetrahedral',
  },
  {
    params: { table: TABLE },
    in: file.input[i]!,
    out: file.ffmpeg_tetrahedral[i]!,
    tol: 1e-6,
    source: 'ffmpeg 5.1.9 lut3d, tetrahedral',
  },
  {
    params: { table: TABLE, how: 'trilinear' as const },
    in: file.input[i]!,
    out: file.ocio_trilinear[i]!,
    tol: 1e-6,
    source: 'PyOpenColorIO 2.1.2, trilinear',
  },
]);

export const vectors: PixelVector<typeof params>[] = [...cases];
