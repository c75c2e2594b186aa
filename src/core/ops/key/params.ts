import { bool, choice, num } from '../../op/params';

type Init = Omit<Parameters<typeof num>[0], 'label' | 'doc'>;
/** From, to, and the fade outside of each. */
function range<N extends string, U extends string>(name: N, unit: U, what: string, at: Init, fade: Init, to: number) {
  const one = (end: string, init: Init, doc: string) => num({ ...init, label: `${what} ${end}`, doc });
  return {
    [`${name}From${unit}`]: one('from', at, `Where the ${what.toLowerCase()} range begins.`),
    [`${name}To${unit}`]: one('to', { ...at, default: to }, `Where the ${what.toLowerCase()} range ends.`),
    [`${name}FadeFrom${unit}`]: one('fade below', fade, 'Fall from full to nothing before its beginning.'),
    [`${name}FadeTo${unit}`]: one('fade above', fade, 'Fall from full to nothing behind its end.'),
  } as Record<`${N}${'From' | 'To' | 'FadeFrom' | 'FadeTo'}${U}`, ReturnType<typeof num>>;
}

export const params = {
  space: choice({
    default: 'scope',
    options: { scope: 'Scope (BT.709)', oklch: 'OKLCh' },
    label: 'Measured in',
    doc:
      'What the ranges mean: angle, chroma and luma as the scopes show them, or hue, chroma (in % of 0.4) and ' +
      'lightness of OKLCh, where equal steps look about equal.',
  }),
  hueOn: bool({ default: true, label: 'Hue', doc: 'Limit by hue.' }),
  ...range(
    'hue',
    'Deg',
    'Hue',
    // Degrees counter-clockwise from +Cb; `to` lies counter-clockwise of `from`, a whole turn beyond it at most.
    { default: 108, min: -360, max: 1080, ui: [0, 360], step: 0.5, unit: 'deg' },
    { default: 10, min: 0, max: 180, ui: [0, 60], step: 0.5, unit: 'deg' },
    138,
  ),
  satOn: bool({ default: true, label: 'Saturation', doc: 'Limit by saturation, measured as chroma in %.' }),
  ...range(
    'sat',
    'Pct',
    'Saturation',
    { default: 10, min: -150, max: 300, ui: [0, 100], step: 0.5, unit: 'pct' },
    { default: 5, min: 0, max: 100, ui: [0, 40], step: 0.5, unit: 'pct' },
    40,
  ),
  lumaOn: bool({ default: true, label: 'Luma', doc: 'Limit by luma.' }),
  ...range(
    'luma',
    'Pct',
    'Luma',
    { default: 20, min: -200, max: 300, ui: [0, 100], step: 0.5, unit: 'pct' },
    { default: 10, min: 0, max: 100, ui: [0, 40], step: 0.5, unit: 'pct' },
    80,
  ),
  neutralPct: num({
    default: 2,
    min: 0,
    max: 20,
    ui: [0, 10],
    step: 0.1,
    unit: 'pct',
    label: 'Neutral guard',
    doc:
      'Below this chroma a hue means nothing: the hue limit lets nothing through at half of it, ' +
      'everything from one and a half of it on.',
  }),
  leanPct: num({
    default: 0,
    min: -200,
    max: 200,
    ui: [0, 100],
    step: 0.5,
    unit: 'pct',
    label: 'Lean with light',
    doc:
      'How much saturation the thing gains from black to white; saturation is then measured as it would be at a luma ' +
      'of 50 %, so that the light and the dark side of one thing belong together.',
  }),
};
