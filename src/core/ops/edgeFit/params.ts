import { num } from '../../op/params';

export const params = {
  radiusPx: num({
    default: 0,
    min: 0,
    max: 250,
    ui: [0, 60],
    step: 0.5,
    unit: 'px',
    label: 'Edge fit',
    doc: 'Within this distance the edge of the matte is laid onto edges of the picture.',
  }),
  edgePct: num({
    default: 3,
    min: 0.2,
    max: 50,
    ui: [0.5, 20],
    step: 0.1,
    unit: 'pct',
    label: 'Edges over',
    doc: 'How large a step of the signal must be to be followed; smaller ones only soften the edge.',
  }),
  holdPct: num({
    default: 10,
    min: 0,
    max: 45,
    ui: [0, 30],
    step: 1,
    unit: 'pct',
    label: 'Hold',
    doc: 'What was wholly in or out stays so where the fit differs by less than this; the rest is stretched to it.',
  }),
};
