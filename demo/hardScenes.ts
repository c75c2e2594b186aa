/**
 * Scenes that are harder than the demo's, for tests only: other people, seeds, lights, colours and depths of skin;
 * walls of the skin's own colour, hard shadows, two lights, low light, freckles, beards, blocks of JPEG.
 * `npm run demo -- --hard` renders them at 800x450 into tests/data/scenes.
 */
import { fbm, noise } from './noise';
import { cap, head, helmet, torso } from './people';
import type { HeadSpec, TorsoSpec } from './people';
import { dough, loaf, pan, slab, tiles, tube, windowPane } from './props';
import type { Scene, Thing, V3 } from './render';

/** A painted wall without joints, uneven as brushes leave it. */
const plaster = (z: number, colour: V3): Thing => ({
  centre: [0, 0, z],
  radius: 60,
  cls: 'wall',
  tag: 'plaster',
  dist: (_x, _y, p) => p - z,
  surface: (x, y) => {
    const k = 1 + 0.1 * fbm(x * 2, y * 2, 5, 4) + 0.05 * noise(x * 24, y * 60, 2);
    return { albedo: colour.map((v) => v * k) as V3, spec: 0.01, gloss: 8, scatter: 0, metal: 0 };
  },
});
const EYE: V3 = [0, 0.2, 7];

const someone: HeadSpec = {
  tag: 'face',
  at: [0, 0.35, 0],
  yaw: 0,
  pitch: 4,
  roll: 0,
  scale: 1,
  skin: [0.5, 0.27, 0.18],
  flush: 0.9,
  lip: [0.36, 0.13, 0.115],
  iris: [0.1, 0.12, 0.12],
  hair: [0.06, 0.035, 0.02],
  hairStyle: 'short',
  beard: 0,
  brow: 1,
  wide: 1,
  jaw: 1,
  noseWide: 1,
  lipFull: 1,
  smile: 0.5,
  gaze: [0, 0],
  age: 0.5,
};
const body = (h: HeadSpec, cloth: V3, more: Partial<TorsoSpec> = {}) =>
  torso({
    tag: 'jacket',
    at: [h.at[0], h.at[1] - 0.5, h.at[2] - 0.1],
    yaw: h.yaw * 0.7,
    scale: 1,
    cloth,
    apron: null,
    rain: false,
    skin: h.skin,
    arms: [
      { side: -1, elbow: [-0.76, -1, 0.25], hand: [-0.4, -1.3, 0.95] },
      { side: 1, elbow: [0.76, -1, 0.25], hand: [0.4, -1.3, 0.95] },
    ],
    ...more,
  });

export function hardScenes(): Scene[] {
  const freckled: HeadSpec = {
    ...someone,
    at: [-0.35, 0.4, 0],
    yaw: 14,
    skin: [0.62, 0.35, 0.24],
    flush: 1.2,
    freckles: 1,
    hair: [0.3, 0.12, 0.04],
    hairStyle: 'bun',
    iris: [0.12, 0.2, 0.16],
    jaw: 0.88,
    smile: 0.9,
  };
  const bearded: HeadSpec = {
    ...someone,
    at: [0.2, 0.36, 0],
    yaw: -22,
    skin: [0.4, 0.21, 0.135],
    beard: 1,
    hair: [0.035, 0.022, 0.014],
    age: 0.9,
    jaw: 1.1,
  };
  const deep: HeadSpec = {
    ...someone,
    at: [0.1, 0.38, 0],
    yaw: 8,
    skin: [0.15, 0.07, 0.042],
    flush: 0.4,
    lip: [0.14, 0.055, 0.048],
    hair: [0.014, 0.011, 0.01],
    noseWide: 1.25,
    lipFull: 1.25,
  };
  const cellar: HeadSpec = {
    ...someone,
    at: [-0.15, 0.34, 0.1],
    yaw: -12,
    pitch: 8,
    skin: [0.33, 0.165, 0.1],
    beard: 0.6,
    hair: [0.03, 0.02, 0.014],
    noseWide: 1.1,
    age: 0.8,
  };
  const tanned: HeadSpec = {
    ...someone,
    at: [0.3, 0.4, 0],
    yaw: -16,
    skin: [0.46, 0.24, 0.14],
    hair: [0.2, 0.1, 0.045],
    jaw: 0.95,
    smile: 0.7,
  };
  const fairOne: HeadSpec = {
    ...someone,
    tag: 'left face',
    at: [-0.62, 0.38, 0.1],
    yaw: 24,
    skin: [0.58, 0.32, 0.22],
    freckles: 0.4,
    hair: [0.1, 0.06, 0.035],
  };
  const deepOne: HeadSpec = {
    ...someone,
    tag: 'right face',
    at: [0.5, 0.44, -0.1],
    yaw: -22,
    skin: [0.24, 0.115, 0.07],
    flush: 0.5,
    lip: [0.2, 0.075, 0.065],
    hair: [0.016, 0.012, 0.01],
    beard: 0.4,
    noseWide: 1.2,
  };
  const common = { eye: EYE, look: [0, 0, 0] as V3, fov: 0.33 };
  return [
    {
      ...common,
      name: 'plaster-wall',
      title: 'Plaster wall',
      things: [
        ...head(freckled),
        ...body(freckled, [0.12, 0.3, 0.2]),
        plaster(-1.5, [0.58, 0.37, 0.27]),
        slab([1.9, -0.5, -1], [0.8, 0.06, 0.4], 'wood', 'shelf'),
        loaf([1.6, -0.26, -0.9], 0.34, 0.21, 60, 21),
        loaf([2.1, -0.26, -0.9], 0.36, 0.22, 80, 22),
      ],
      lights: [
        { at: [-2.6, 3.6, 4.2], colour: [0.82, 0.74, 0.6], size: 1.2, falloff: 0 },
        { at: [3, 2, 3], colour: [0.26, 0.25, 0.24], size: 1, falloff: 0 },
      ],
      ambientTop: [0.28, 0.26, 0.22],
      ambientBottom: [0.18, 0.15, 0.12],
      exposure: 0.8,
      noise: 0.01,
      seed: 211,
    },
    {
      ...common,
      name: 'hard-sun',
      title: 'Hard sun',
      things: [
        ...head(bearded),
        cap(bearded, [0.5, 0.47, 0.42], [0.4, 0.37, 0.33], 'cap'),
        ...body(bearded, [0.48, 0.05, 0.05], { tag: 'rain jacket', rain: true }),
        tiles(-1.7, 0.5, [0.5, 0.36, 0.26], 0.2, [0.4, 0.36, 0.32]),
        slab([-2.1, 0, -1.2], [0.5, 1.6, 0.1], 'wood', 'door'),
        pan([1.9, 0.8, -1.5], 0.28),
      ],
      // A small strong light from the side: edges of shadow across nose and cheek.
      lights: [
        { at: [3.6, 2.6, 2.2], colour: [1.5, 1.3, 0.95], size: 0.12, falloff: 0 },
        { at: [-3, 2, 4], colour: [0.1, 0.13, 0.18], size: 1.5, falloff: 0 },
      ],
      ambientTop: [0.16, 0.2, 0.27],
      ambientBottom: [0.13, 0.11, 0.09],
      exposure: 0.72,
      noise: 0.007,
      seed: 223,
    },
    {
      ...common,
      name: 'two-lights',
      title: 'Two lights',
      things: [
        ...head(deep),
        ...body(deep, [0.5, 0.48, 0.42], { apron: [0.2, 0.09, 0.05] }),
        tiles(-1.8, 0.42, [0.3, 0.3, 0.3], 0.2, [0.2, 0.2, 0.2]),
        windowPane([-1.9, 0.5, -1.5], [0.7, 1, 0.06], [0.6, 0.85, 1.25]),
        slab([1.9, 0, -1.1], [0.55, 1.7, 0.1], 'wood', 'door'),
        dough([-0.9, -1.3, 1], 0.25, 31),
      ],
      lights: [
        { at: [-3.4, 2.2, 2.6], colour: [0.4, 0.72, 1.3], size: 0.9, falloff: 0 },
        { at: [3.2, 2, 2.6], colour: [1.5, 0.72, 0.24], size: 0.7, falloff: 0 },
      ],
      ambientTop: [0.14, 0.16, 0.2],
      ambientBottom: [0.1, 0.09, 0.08],
      exposure: 1.05,
      noise: 0.012,
      seed: 227,
    },
    {
      ...common,
      name: 'cellar',
      title: 'Cellar',
      things: [
        ...head(cellar),
        cap(cellar, [0.26, 0.2, 0.15], [0.2, 0.15, 0.11], 'cap'),
        ...body(cellar, [0.22, 0.21, 0.2], { apron: [0.3, 0.2, 0.13] }),
        tiles(-1.9, 0.42, [0.3, 0.24, 0.19], 0.2, [0.18, 0.15, 0.13]),
        slab([1.7, 0.3, -0.5], [0.95, 0.04, 0.4], 'wood', 'rack'),
        slab([1.7, -0.5, -0.5], [0.95, 0.04, 0.4], 'wood', 'rack'),
        loaf([1.3, 0.54, -0.4], 0.34, 0.21, 80, 41),
        loaf([1.9, 0.54, -0.4], 0.34, 0.21, 72, 42),
        loaf([1.5, -0.27, -0.4], 0.36, 0.22, 78, 43),
        tube([-1.6, 1.5, -1.6], 0.8, [0.5, 0.42, 0.3]),
      ],
      lights: [
        { at: [2.2, 2.8, 3.2], colour: [0.9, 0.62, 0.38], size: 0.4, falloff: 2.4 },
        { at: [-3.2, 1.8, 3], colour: [0.16, 0.2, 0.18], size: 1, falloff: 0 },
      ],
      ambientTop: [0.11, 0.11, 0.1],
      ambientBottom: [0.08, 0.07, 0.055],
      exposure: 0.24,
      noise: 0.026,
      seed: 229,
    },
    {
      ...common,
      name: 'wood-panels',
      title: 'Wood panels',
      things: [
        ...head(tanned),
        helmet(tanned, [0.1, 0.1, 0.11], 'helmet'),
        ...body(tanned, [0.09, 0.16, 0.34], { tag: 'rain jacket', rain: true }),
        plaster(-2.2, [0.4, 0.24, 0.15]),
        ...[-2.4, -1.5, -0.6, 0.3, 1.2, 2.1].map((x) => slab([x, 0, -1.5], [0.44, 2, 0.08], 'wood', 'panel')),
        loaf([-1.7, -1, 0.5], 0.42, 0.24, 30, 51),
      ],
      lights: [
        { at: [-2.4, 3.4, 4.4], colour: [0.9, 0.74, 0.52], size: 1.1, falloff: 0 },
        { at: [3.4, 1.4, 2.4], colour: [0.34, 0.28, 0.2], size: 0.8, falloff: 0 },
      ],
      ambientTop: [0.24, 0.21, 0.17],
      ambientBottom: [0.17, 0.13, 0.1],
      exposure: 0.82,
      noise: 0.012,
      seed: 233,
    },
    {
      ...common,
      name: 'two-faces',
      title: 'Two faces',
      things: [
        ...head(fairOne),
        cap(fairOne, [0.3, 0.1, 0.09], [0.24, 0.08, 0.07], 'left cap'),
        ...body(fairOne, [0.52, 0.4, 0.3], { tag: 'left jacket' }),
        ...head(deepOne),
        ...body(deepOne, [0.3, 0.2, 0.14], { tag: 'right jacket' }),
        tiles(-1.8, 0.5, [0.42, 0.3, 0.22], 0.25, [0.28, 0.24, 0.2]),
        tube([0.2, 1.55, -1.6], 1.4, [0.9, 1.15, 0.8]),
      ],
      lights: [
        { at: [-1.8, 4, 2.8], colour: [0.7, 0.92, 0.58], size: 0.7, falloff: 0 },
        { at: [2.6, 3.4, 2.6], colour: [0.5, 0.58, 0.4], size: 0.7, falloff: 0 },
      ],
      ambientTop: [0.3, 0.38, 0.27],
      ambientBottom: [0.17, 0.17, 0.14],
      exposure: 0.85,
      noise: 0.014,
      seed: 239,
    },
  ];
}
