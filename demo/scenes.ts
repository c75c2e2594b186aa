/** The stills of *Small Hours*. Each gives the boxes of clean skin that the demo project measures. */
import { cap, head, helmet, torso } from './people';
import type { HeadSpec } from './people';
import { chart, dough, handlebar, loaf, oven, pan, peel, slab, tiles, tube, windowPane } from './props';
import type { Scene, V3 } from './render';

const FAIR: V3 = [0.6, 0.33, 0.225];
const DEEP: V3 = [0.2, 0.094, 0.056];
const OLIVE: V3 = [0.4, 0.205, 0.13];

const face: HeadSpec = {
  tag: 'someone', at: [0, 0, 0], yaw: 0, pitch: 0, roll: 0, scale: 1, skin: FAIR, flush: 1, lip: [0.42, 0.15, 0.13], iris: [0.12, 0.2, 0.24], hair: [0.06, 0.035, 0.02],
  hairStyle: 'short', beard: 0, brow: 1, wide: 1, jaw: 1, noseWide: 1, lipFull: 1, smile: 0.6, gaze: [0, 0], age: 0.4,
};

export function scenes(): Scene[] {
  const ada: HeadSpec = { ...face, tag: 'left baker', at: [-0.95, 0.3, 0], yaw: 20, pitch: 7, roll: -3, skin: FAIR, hair: [0.17, 0.075, 0.032], hairStyle: 'bun', brow: 0.8, jaw: 0.86, wide: 0.96, lipFull: 1.1, smile: 0.9, gaze: [-0.1, -0.12], age: 0.2, iris: [0.1, 0.2, 0.2] };
  const sam: HeadSpec = { ...face, tag: 'right baker', at: [1.02, 0.42, -0.15], yaw: -18, pitch: 6, roll: 2, skin: DEEP, flush: 0.45, lip: [0.17, 0.065, 0.055], hair: [0.016, 0.012, 0.01], iris: [0.05, 0.028, 0.016], beard: 0.75, brow: 1.2, jaw: 1.12, wide: 1.02, noseWide: 1.28, lipFull: 1.25, smile: 0.4, gaze: [0.08, -0.12], age: 0.7 };
  const tubes: Scene = {
    name: 'proofing-table', title: 'Proofing table',
    things: [
      ...head(ada), cap(ada, [0.6, 0.6, 0.58], [0.5, 0.5, 0.49], 'left cap'),
      ...torso({ tag: 'left jacket', at: [-0.98, -0.2, -0.05], yaw: 14, scale: 1, cloth: [0.6, 0.6, 0.58], apron: [0.1, 0.14, 0.19], rain: false, skin: FAIR, arms: [{ side: -1, elbow: [-0.72, -1.05, 0.25], hand: [-0.3, -1.42, 0.95] }, { side: 1, elbow: [0.72, -1.05, 0.2], hand: [0.25, -1.42, 0.95] }] }),
      ...head(sam), cap(sam, [0.055, 0.06, 0.07], [0.04, 0.045, 0.05], 'right cap'),
      ...torso({ tag: 'right jacket', at: [1.04, -0.08, -0.22], yaw: -14, scale: 1.06, cloth: [0.32, 0.33, 0.34], apron: [0.5, 0.46, 0.38], rain: false, skin: DEEP, arms: [{ side: -1, elbow: [-0.74, -1.02, 0.22], hand: [-0.3, -1.42, 0.95] }, { side: 1, elbow: [0.74, -1.02, 0.2], hand: [0.3, -1.42, 0.95] }] }),
      tiles(-1.9, 0.42, [0.4, 0.42, 0.4], 0.12, [0.22, 0.22, 0.21]),
      slab([0, -1.62, 0.75], [4.5, 0.07, 0.9], 'steel', 'table'),
      dough([-1.75, -1.38, 0.85], 0.25, 1), dough([-0.42, -1.38, 1.15], 0.24, 2), dough([0.1, -1.39, 0.75], 0.23, 3), dough([0.62, -1.38, 1.2], 0.25, 4), dough([2.05, -1.38, 0.9], 0.25, 5), dough([-2.35, -1.38, 1.15], 0.24, 6),
      pan([-2.45, 0.72, -1.72], 0.3), pan([-0.02, 0.95, -1.72], 0.26), pan([2.55, 0.7, -1.72], 0.3),
      tube([0.2, 1.62, -1.6], 1.6, [0.95, 1.25, 0.82]),
    ],
    lights: [
      { at: [-1.6, 4.2, 2.8], colour: [0.7, 0.98, 0.56], size: 0.95, falloff: 0 },
      { at: [2.3, 4.0, 2.4], colour: [0.42, 0.62, 0.35], size: 0.95, falloff: 0 },
      { at: [0.2, 1.7, -1.2], colour: [0.3, 0.45, 0.26], size: 0.6, falloff: 1.1 },
    ],
    ambientTop: [0.34, 0.46, 0.29], ambientBottom: [0.17, 0.19, 0.15],
    eye: [0.05, 0.2, 7.2], look: [0.05, -0.05, 0], fov: 0.345, exposure: 0.86, noise: 0.0075, seed: 11,
  };
  const ines: HeadSpec = { ...face, tag: 'oven baker', at: [-0.42, 0.12, 0.2], yaw: 16, pitch: 3, roll: 3, skin: OLIVE, flush: 0.8, lip: [0.3, 0.105, 0.085], hair: [0.022, 0.015, 0.012], iris: [0.09, 0.05, 0.025], beard: 0.3, brow: 1.15, jaw: 1.04, noseWide: 1.06, smile: 0.55, gaze: [0.18, -0.05], age: 0.8 };
  const mouth: Scene = {
    name: 'oven-mouth', title: 'Oven mouth',
    things: [
      ...head(ines), cap(ines, [0.52, 0.5, 0.46], [0.42, 0.4, 0.37], 'cap'),
      ...torso({ tag: 'jacket', at: [-0.5, -0.4, 0.12], yaw: 10, scale: 1, cloth: [0.55, 0.54, 0.51], apron: null, rain: false, skin: OLIVE, arms: [{ side: -1, elbow: [-0.76, -1.0, 0.1], hand: [-0.45, -0.62, 0.95] }, { side: 1, elbow: [0.72, -0.95, 0.3], hand: [0.25, -0.5, 0.95] }] }),
      ...oven(-1.8, 1.75, -0.1),
      peel([0.9, -0.8, 1.05], 10, 4),
      loaf([0.95, -0.58, 1.0], 0.42, 0.24, 20, 3), loaf([1.4, -0.56, 1.2], 0.34, 0.21, -12, 8),
      slab([-1.9, -0.62, -1.3], [0.9, 0.05, 0.4], 'wood', 'shelf'),
      loaf([-2.2, -0.38, -1.2], 0.36, 0.22, 70, 11), loaf([-1.7, -0.38, -1.25], 0.36, 0.22, 80, 14), loaf([-1.25, -0.38, -1.2], 0.34, 0.21, 75, 17),
      pan([-1.62, 0.62, -1.62], 0.24),
    ],
    lights: [
      { at: [2.5, 0.1, 1.3], colour: [1.75, 0.62, 0.24], size: 0.9, falloff: 1.9 },
      { at: [-3.0, 3.2, 4.2], colour: [0.34, 0.31, 0.29], size: 1.4, falloff: 0 },
      { at: [2.0, -0.1, -1.2], colour: [1.0, 0.4, 0.1], size: 0.7, falloff: 0.9 },
    ],
    ambientTop: [0.15, 0.135, 0.125], ambientBottom: [0.15, 0.09, 0.05],
    eye: [0.2, 0.1, 6.4], look: [0.2, -0.1, 0], fov: 0.325, exposure: 1.02, noise: 0.014, seed: 23,
  };
  const noor: HeadSpec = { ...face, tag: 'courier', at: [0.35, 0.62, 0.05], yaw: -17, pitch: 2, roll: -3, skin: [0.36, 0.18, 0.115], flush: 1.0, lip: [0.3, 0.1, 0.09], hair: [0.02, 0.014, 0.01], hairStyle: 'short', iris: [0.08, 0.05, 0.03], brow: 1, wide: 0.95, jaw: 0.9, noseWide: 1, lipFull: 1.15, smile: 1, gaze: [0.12, 0], age: 0.2 };
  const courier: Scene = {
    name: 'courier', title: 'Courier',
    things: [
      ...head(noor), helmet(noor, [0.07, 0.075, 0.08], 'helmet'),
      ...torso({ tag: 'rain jacket', at: [0.3, 0.1, -0.05], yaw: -12, scale: 1.04, cloth: [0.56, 0.3, 0.018], apron: null, rain: true, skin: [0.36, 0.18, 0.115], arms: [{ side: -1, elbow: [-0.86, -0.86, 0.35], hand: [-0.56, -1.12, 1.0] }, { side: 1, elbow: [0.86, -0.86, 0.35], hand: [0.56, -1.12, 1.0] }] }),
      tiles(-1.6, 0.5, [0.045, 0.15, 0.25], 0.28, [0.3, 0.31, 0.31]),
      handlebar([0.1, -1.14, 1.08]),
      slab([-2.1, -0.6, -1.2], [0.7, 0.06, 0.35], 'wood', 'bench'),
      loaf([-2.2, -0.35, -1.1], 0.32, 0.2, 60, 5), loaf([-1.75, -0.35, -1.15], 0.32, 0.2, 85, 9),
      pan([-1.95, 0.95, -1.42], 0.26),
      slab([2.45, 0, -1.2], [0.5, 1.6, 0.1], 'wood', 'door'),
    ],
    lights: [
      { at: [-3.4, 4.0, 4.6], colour: [0.86, 0.98, 1.1], size: 1.7, falloff: 0 },
      { at: [3.4, 1.6, 2.6], colour: [0.5, 0.36, 0.22], size: 0.8, falloff: 2.6 },
    ],
    ambientTop: [0.33, 0.4, 0.47], ambientBottom: [0.16, 0.17, 0.18],
    eye: [0, 0.25, 7.0], look: [0.05, -0.06, 0], fov: 0.395, exposure: 0.84, noise: 0.008, seed: 37,
  };
  const jo: HeadSpec = { ...face, tag: 'assistant', at: [0.62, 0.46, -0.1], yaw: -12, pitch: 3, roll: 2, skin: [0.46, 0.245, 0.16], flush: 0.9, lip: [0.34, 0.12, 0.1], hair: [0.05, 0.028, 0.016], iris: [0.1, 0.1, 0.06], hairStyle: 'bun', brow: 0.9, wide: 0.97, jaw: 0.92, smile: 0.7, gaze: [-0.06, -0.04], age: 0.35 };
  const call: Scene = {
    name: 'chart-call', title: 'Chart call', recorded: true,
    things: [
      ...head(jo), cap(jo, [0.6, 0.6, 0.58], [0.5, 0.5, 0.49], 'cap'),
      ...torso({ tag: 'jacket', at: [0.64, -0.05, -0.15], yaw: -8, scale: 1, cloth: [0.5, 0.5, 0.49], apron: [0.12, 0.16, 0.21], rain: false, skin: jo.skin, arms: [{ side: -1, elbow: [-0.82, -0.78, 0.42], hand: [-0.72, -0.72, 1.02] }, { side: 1, elbow: [0.74, -1.0, 0.2], hand: [0.3, -1.35, 0.95] }] }),
      chart([-0.8, -0.08, 0.98], 4, 1.22),
      tiles(-1.9, 0.42, [0.3, 0.36, 0.4], 0.14, [0.22, 0.22, 0.21]),
      slab([0, -1.62, 0.4], [4.5, 0.07, 0.7], 'steel', 'table'),
      loaf([1.7, -1.36, 0.6], 0.4, 0.23, 25, 3), loaf([2.2, -1.36, 0.4], 0.36, 0.22, -20, 8),
      pan([2.1, 0.75, -1.72], 0.3), pan([-2.3, 0.9, -1.72], 0.26),
    ],
    lights: [
      { at: [-1.2, 4.4, 7.5], colour: [0.74, 0.62, 0.46], size: 2.2, falloff: 0 },
      { at: [3.2, 2.6, 4.0], colour: [0.36, 0.3, 0.22], size: 1.2, falloff: 0 },
    ],
    ambientTop: [0.3, 0.27, 0.22], ambientBottom: [0.2, 0.17, 0.13],
    eye: [0, 0.2, 7.2], look: [0, 0.02, 0], fov: 0.345, exposure: 0.8, noise: 0.0016, seed: 53,
  };
  const bo: HeadSpec = { ...face, tag: 'night baker', at: [-0.35, 0.34, 0.1], yaw: 24, pitch: 8, roll: -2, skin: [0.3, 0.15, 0.095], flush: 0.6, lip: [0.22, 0.08, 0.07], hair: [0.016, 0.012, 0.01], iris: [0.05, 0.03, 0.02], beard: 0.9, brow: 1.2, jaw: 1.08, noseWide: 1.1, smile: 0.2, gaze: [0.1, -0.15], age: 0.9 };
  const night: Scene = {
    name: 'night-rack', title: 'Night rack',
    things: [
      ...head(bo), cap(bo, [0.3, 0.3, 0.3], [0.22, 0.22, 0.22], 'cap'),
      ...torso({ tag: 'jacket', at: [-0.4, -0.16, 0], yaw: 18, scale: 1.03, cloth: [0.42, 0.42, 0.41], apron: [0.36, 0.32, 0.26], rain: false, skin: bo.skin, arms: [{ side: -1, elbow: [-0.74, -1.0, 0.3], hand: [-0.35, -1.1, 0.98] }, { side: 1, elbow: [0.78, -0.86, 0.35], hand: [0.5, -0.72, 0.98] }] }),
      tiles(-1.9, 0.42, [0.36, 0.38, 0.38], 0.12, [0.2, 0.2, 0.2]),
      slab([1.75, 0.35, -0.4], [0.95, 0.04, 0.4], 'wood', 'rack'), slab([1.75, -0.5, -0.4], [0.95, 0.04, 0.4], 'wood', 'rack'), slab([1.75, 1.15, -0.4], [0.95, 0.04, 0.4], 'wood', 'rack'),
      loaf([1.25, 0.58, -0.35], 0.34, 0.21, 75, 3), loaf([1.75, 0.58, -0.3], 0.34, 0.21, 85, 6), loaf([2.25, 0.58, -0.35], 0.34, 0.21, 70, 9),
      loaf([1.3, -0.27, -0.35], 0.34, 0.21, 80, 12), loaf([1.85, -0.27, -0.3], 0.36, 0.22, 78, 15), loaf([2.35, -0.27, -0.35], 0.34, 0.21, 72, 18),
      pan([-2.2, 0.8, -1.72], 0.32), pan([-1.5, 0.95, -1.72], 0.24),
      dough([0.35, -1.38, 1.1], 0.24, 2), slab([0, -1.62, 0.75], [4.5, 0.07, 0.9], 'steel', 'table'),
    ],
    lights: [
      { at: [2.6, 3.0, 3.0], colour: [0.95, 0.66, 0.4], size: 0.5, falloff: 2.4 },
      { at: [-3.2, 2.2, 3.0], colour: [0.2, 0.25, 0.3], size: 1.2, falloff: 0 },
    ],
    ambientTop: [0.12, 0.12, 0.125], ambientBottom: [0.09, 0.075, 0.06],
    eye: [0.2, 0.15, 7.0], look: [0.2, -0.05, 0], fov: 0.345, exposure: 0.21, noise: 0.021, seed: 71,
  };
  const eli: HeadSpec = { ...face, tag: 'window baker', at: [0.3, 0.34, 0.1], yaw: -26, pitch: 4, roll: 2, skin: [0.52, 0.285, 0.195], flush: 1, lip: [0.38, 0.13, 0.115], hair: [0.24, 0.13, 0.06], iris: [0.1, 0.18, 0.24], hairStyle: 'short', beard: 0.15, brow: 0.9, jaw: 1, smile: 0.35, gaze: [-0.14, -0.02], age: 0.55 };
  const window: Scene = {
    name: 'cold-window', title: 'Cold window',
    things: [
      ...head(eli), cap(eli, [0.58, 0.58, 0.56], [0.48, 0.48, 0.47], 'cap'),
      ...torso({ tag: 'jacket', at: [0.34, -0.16, 0], yaw: -20, scale: 1.02, cloth: [0.55, 0.55, 0.54], apron: [0.3, 0.12, 0.08], rain: false, skin: eli.skin, arms: [{ side: -1, elbow: [-0.76, -1.0, 0.3], hand: [-0.45, -1.2, 1.0] }, { side: 1, elbow: [0.76, -1.0, 0.2], hand: [0.35, -1.35, 0.95] }] }),
      tiles(-1.9, 0.42, [0.3, 0.33, 0.35], 0.12, [0.2, 0.21, 0.22]),
      windowPane([-1.75, 0.45, -1.6], [0.85, 1.05, 0.06], [0.82, 1.02, 1.3]),
      slab([-1.75, -0.68, -1.3], [1.0, 0.05, 0.4], 'wood', 'sill'),
      loaf([-2.1, -0.44, -1.15], 0.34, 0.21, 60, 4), loaf([-1.5, -0.44, -1.15], 0.34, 0.21, 80, 7),
      slab([0, -1.62, 0.75], [4.5, 0.07, 0.9], 'wood', 'table'),
      dough([-0.5, -1.38, 1.1], 0.25, 2), dough([-1.1, -1.38, 0.9], 0.24, 5), peel([1.5, -1.46, 1.1], 35, 2),
      pan([2.0, 0.8, -1.72], 0.3), pan([2.65, 0.6, -1.72], 0.25),
    ],
    lights: [
      { at: [-4.2, 2.6, 2.4], colour: [0.68, 0.92, 1.28], size: 1.3, falloff: 0 },
      { at: [3.6, 2.2, 3.4], colour: [0.2, 0.19, 0.17], size: 1.4, falloff: 0 },
    ],
    ambientTop: [0.22, 0.28, 0.36], ambientBottom: [0.12, 0.14, 0.16],
    eye: [-0.15, 0.15, 7.0], look: [-0.15, -0.05, 0], fov: 0.35, exposure: 0.8, noise: 0.009, seed: 89,
  };
  return [tubes, mouth, courier, call, night, window];
}
