import type { PixelVector } from '../../../../testkit/vectors';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { params } from './params';

interface Case {
  slope: number[];
  offset: number[];
  power: number[];
  sat: number;
  input: number[][];
  asc_clamped_ocio: number[][];
  no_clamp_ocio: number[][];
}
const file = JSON.parse(readFileSync(join(import.meta.dirname, '../../../../tests/data/cdl_cases.json'), 'utf8')) as {
  cases: Case[];
};
const SOURCE = 'PyOpenColorIO 2.1.2 (CDL_ASC, CDL_NO_CLAMP): tests/data/cdl_cases.json';
/** Three colours of each published case, in both styles. */
const cases: PixelVector<typeof params>[] = file.cases.flatMap((c) =>
  [0, 1, 3].flatMap((i) =>
    [true, false].map((clamp) => ({
      params: {
        slopeR: c.slope[0]!,
        slopeG: c.slope[1]!,
        slopeB: c.slope[2]!,
        offsetR: c.offset[0]!,
        offsetG: c.offset[1]!,
        offsetB: c.offset[2]!,
        powerR: c.power[0]!,
        powerG: c.power[1]!,
        powerB: c.power[2]!,
        saturation: c.sat,
        clamp,
      },
      in: c.input[i] as [number, number, number],
      out: (clamp ? c.asc_clamped_ocio : c.no_clamp_ocio)[i] as [number, number, number],
      tol: 4e-6,
      source: SOURCE,
    })),
  ),
);

export const vectors: PixelVector<typeof params>[] = [
  {
    params: { slopeR: 1.5, powerR: 2 },
    in: [0.4, 0.3, 0.2],
    out: [0.36, 0.3, 0.2],
    tol: 2e-6,
    source: 'ASC CDL 1.2: (in x slope + offset)^power',
  },
  ...cases,
];
