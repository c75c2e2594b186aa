import { num } from '../../op/params';

export const params = {
  amountPct: num({
    default: 0,
    min: 0,
    max: 100,
    ui: [0, 100],
    step: 1,
    unit: 'pct',
    label: 'Amount',
    doc: "How much of what lies behind is taken out of the edge's colour before the correction.",
  }),
  reachPx: num({
    default: 14,
    min: 2,
    max: 64,
    ui: [2, 40],
    step: 1,
    unit: 'px',
    label: 'Reach',
    doc: 'How far about the edge the colours on both its sides are looked for: more than the edge is wide.',
  }),
};
