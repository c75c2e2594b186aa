import { num } from '../../op/params';

const colour = (label: string, doc: string) =>
  num({ default: 0, min: -200, max: 200, ui: [-40, 40], step: 0.2, unit: 'pct', label, doc });
const level = (label: string, doc: string, min = -200) =>
  num({ default: 0, min, max: 200, ui: [-50, 50], step: 0.5, unit: 'pct', label, doc });

/** The range that the wheels act over: that of the display, or of what is there. */
const end = (d: number, label: string, doc: string) =>
  num({ default: d, min: -50, max: 200, ui: [0, 100], step: 0.5, unit: 'pct', label, doc });

export const params = {
  liftCb: colour('Lift Cb', 'Push of the dark end towards blue (+) or yellow (-); white stays.'),
  liftCr: colour('Lift Cr', 'Push of the dark end towards red (+) or cyan (-); white stays.'),
  liftLevel: level('Lift', 'Level of the dark end; white stays.'),
  gammaCb: colour('Gamma Cb', 'Push of the middle towards blue (+) or yellow (-); black and white stay.'),
  gammaCr: colour('Gamma Cr', 'Push of the middle towards red (+) or cyan (-); black and white stay.'),
  gammaLevel: level('Gamma', 'Level of the middle, 100 % doubles gamma; black and white stay.'),
  gainCb: colour('Gain Cb', 'Push of the bright end towards blue (+) or yellow (-); black stays.'),
  gainCr: colour('Gain Cr', 'Push of the bright end towards red (+) or cyan (-); black stays.'),
  gainLevel: level('Gain', 'Level of the bright end; black stays.', -100),
  offsetCb: colour('Offset Cb', 'Push of everything towards blue (+) or yellow (-).'),
  offsetCr: colour('Offset Cr', 'Push of everything towards red (+) or cyan (-).'),
  offsetLevel: level('Offset', 'Level of everything.'),
  fromPct: end(0, 'Dark end', 'What lift moves most and gain leaves, in % of the signal: 0 is black.'),
  toPct: end(100, 'Bright end', 'What gain moves most and lift leaves, in % of the signal: 100 is white.'),
};
