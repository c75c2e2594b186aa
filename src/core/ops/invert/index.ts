import { defineTidyPointOp } from '../../op/contract';
import { params } from './params';

export default defineTidyPointOp<typeof params>({
  id: 'invert',
  title: 'Invert',
  doc: 'Turns the matte round: one minus its value.',
  version: 1,
  params,
  refs: ['complement: common practice'],
  edge: 'NaN and below 0 count as 0, above 1 as 1.',
  migrations: [],
  prepare: ({ invert }) => Float32Array.of(invert ? 1 : 0),
  kernel(k, { m, n }) {
    const on = k[0]! > 0;
    for (let i = 0; i < n; i++) {
      const v = m[i]!;
      const held = v > 0 ? (v < 1 ? v : 1) : 0;
      m[i] = on ? 1 - held : held;
    }
  },
  isNoOp: (p) => !p.invert,
  place: 90,
  added: { invert: true },
  say: () => ['turned round'],
});
