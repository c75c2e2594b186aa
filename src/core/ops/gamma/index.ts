import { defineTidyPointOp } from '../../op/contract';
import { short } from '../../op/words';
import { params } from './params';

/** Less is nothing: the twin's logarithm ends there. */
const LEAST = 1e-37;

export default defineTidyPointOp<typeof params>({
  id: 'gamma',
  title: 'Gamma of the matte',
  doc: 'Bends the matte by a power, so that soft parts grow fuller or thinner.',
  version: 1,
  params,
  refs: ['power law v^(1 / gamma): common practice'],
  edge: 'NaN and what is below 1e-37 become 0, above 1 becomes 1. 0 and 1 keep their bits.',
  migrations: [],
  /** Block: the exponent. */
  prepare: ({ gamma }) => Float32Array.of(1 / gamma),
  kernel(k, { m, n }) {
    const e = k[0]!;
    for (let i = 0; i < n; i++) {
      const v = m[i]!;
      m[i] = v > LEAST ? (v < 1 ? v ** e : 1) : 0;
    }
  },
  isNoOp: (p) => p.gamma === 1,
  place: 80,
  say: (p) => [`matte gamma ${short(p.gamma, 2)}`],
});
