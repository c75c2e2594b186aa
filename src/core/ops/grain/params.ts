import { num } from '../../op/params';

const tone = (label: string, where: string) =>
  num({
    default: 100,
    min: 0,
    max: 200,
    ui: [0, 100],
    step: 1,
    unit: 'pct',
    label,
    doc: `Share of the strength that ${where} get.`,
  });
export const params = {
  strengthPct: num({
    default: 0,
    min: 0,
    max: 30,
    ui: [0, 10],
    step: 0.1,
    unit: 'pct',
    label: 'Grain',
    doc: 'Standard deviation of the grain, in % of the signal.',
  }),
  sizePx: num({
    default: 2,
    min: 1,
    max: 40,
    ui: [1, 10],
    step: 0.1,
    unit: 'px',
    label: 'Size',
    doc: 'About how wide a grain is, in pixels of the picture.',
  }),
  colourPct: num({
    default: 0,
    min: 0,
    max: 100,
    step: 1,
    unit: 'pct',
    label: 'Colour',
    doc: 'Share of the grain that every channel has by itself; the rest is of luma alone.',
  }),
  shadowsPct: tone('In shadows', 'blacks'),
  middlePct: tone('In the middle', 'tones about half of the signal'),
  highlightsPct: tone('In highlights', 'whites'),
  seed: num({
    default: 1,
    min: 1,
    max: 9999,
    ui: [1, 100],
    step: 1,
    unit: 'none',
    label: 'Seed',
    doc: 'Another number is another grain; the same is the same, frame by frame.',
  }),
};
