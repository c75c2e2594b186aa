import { num } from '../../op/params';

export const zoneNames = ['deep', 'low', 'middle', 'high', 'top'] as const;
export type ZoneName = (typeof zoneNames)[number];
const border = (d: number, label: string) =>
  num({
    default: d,
    min: 0,
    max: 100,
    ui: [0, 100],
    step: 0.5,
    unit: 'pct',
    label,
    doc: 'Luma of the border between two zones.',
  });
const level = (name: string) =>
  num({
    default: 0,
    min: -100,
    max: 100,
    ui: [-20, 20],
    step: 0.1,
    unit: 'pct',
    label: `${name} level`,
    doc: 'Added to all channels, in % of the signal.',
  });
const cb = (name: string) =>
  num({
    default: 0,
    min: -100,
    max: 100,
    ui: [-20, 20],
    step: 0.1,
    unit: 'pct',
    label: `${name} Cb`,
    doc: 'Added to Cb, in % chroma.',
  });
const cr = (name: string) =>
  num({
    default: 0,
    min: -100,
    max: 100,
    ui: [-20, 20],
    step: 0.1,
    unit: 'pct',
    label: `${name} Cr`,
    doc: 'Added to Cr, in % chroma.',
  });
const sat = (name: string) =>
  num({
    default: 100,
    min: 0,
    max: 400,
    ui: [0, 200],
    step: 1,
    unit: 'pct',
    label: `${name} saturation`,
    doc: 'Chroma as a share of what it was.',
  });

export const params = {
  border1Pct: border(10, 'Deep | low'),
  border2Pct: border(30, 'Low | middle'),
  border3Pct: border(60, 'Middle | high'),
  border4Pct: border(85, 'High | top'),
  softPct: num({
    default: 14,
    min: 1,
    max: 60,
    ui: [1, 40],
    step: 0.5,
    unit: 'pct',
    label: 'Softness',
    doc: 'Width of luma over which one zone passes into the next.',
  }),
  deepLevel: level('Deep'),
  deepCb: cb('Deep'),
  deepCr: cr('Deep'),
  deepSat: sat('Deep'),
  lowLevel: level('Low'),
  lowCb: cb('Low'),
  lowCr: cr('Low'),
  lowSat: sat('Low'),
  middleLevel: level('Middle'),
  middleCb: cb('Middle'),
  middleCr: cr('Middle'),
  middleSat: sat('Middle'),
  highLevel: level('High'),
  highCb: cb('High'),
  highCr: cr('High'),
  highSat: sat('High'),
  topLevel: level('Top'),
  topCb: cb('Top'),
  topCr: cr('Top'),
  topSat: sat('Top'),
};
