import { num } from '../../op/params';

export const params = {
  reachFrames: num({
    default: 0,
    min: 0,
    max: 6,
    ui: [0, 4],
    step: 1,
    unit: 'none',
    label: 'Frames around',
    doc: 'How many frames before and after have a say in the matte.',
  }),
  strengthPct: num({
    default: 100,
    min: 0,
    max: 100,
    step: 1,
    unit: 'pct',
    label: 'Strength',
    doc: 'How much of the way from the matte of this frame alone to the mean over the frames.',
  }),
  stillPct: num({
    default: 8,
    min: 0.5,
    max: 30,
    ui: [1, 15],
    step: 0.5,
    unit: 'pct',
    label: 'Still up to',
    doc: 'A frame whose picture differs by this much beyond noise has no say there: something moved.',
  }),
  rarePct: num({
    default: 100,
    min: 0,
    max: 100,
    step: 1,
    unit: 'pct',
    label: 'Fade what is rare',
    doc: 'How far what is in the matte on fewer than half of these frames fades. On half of them or more it stays.',
  }),
};
