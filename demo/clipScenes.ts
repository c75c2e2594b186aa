/**
 * The two clips of *Small Hours*, and two for tests with other seeds: what moves in them, frame by frame, and the path
 * of what is rigid.
 */
import { hardScenes } from './hardScenes';
import { slab } from './props';
import type { Scene, Thing, V3 } from './render';
import { scenes } from './scenes';

export const FRAMES = 72;
export const CLIP_W = 960;
export const CLIP_H = 540;
export interface ClipScene {
  name: string;
  forTests: boolean;
  size: readonly [number, number];
  frames: number;
  /** Share of a frame's time that its shutter is open. */
  shutter: number;
  /** What stands still, for the one picture that every frame begins with. */
  still: Scene;
  /** The same with what moves, at a frame or between two. */
  at(frame: number): Scene;
  /** Light of a frame over that of the first, R, G, B. */
  light(frame: number): V3;
  /** Tags whose mattes are kept as truth. */
  truth: readonly string[];
  /** Where places on a rigid thing lie, in pixels, where there is one: four corners and the middle between them. */
  places?: (frame: number) => [number, number][];
}

const moved = (t: Thing, [dx, dy, dz]: V3): Thing => ({
  ...t,
  centre: [t.centre[0] + dx, t.centre[1] + dy, t.centre[2] + dz],
  dist: (x, y, z) => t.dist(x - dx, y - dy, z - dz),
  surface: (x, y, z) => {
    const s = t.surface(x - dx, y - dy, z - dz);
    const { bump } = s;
    return bump ? { ...s, bump: (a, b, c) => bump(a - dx, b - dy, c - dz) } : s;
  },
});
/** A point of the world on the frame. The camera looks along -z, nearly: `look` is that of the scene. */
export function project(s: Scene, p: V3, w = CLIP_W, h = CLIP_H): [number, number] {
  const sub = (a: V3, b: V3): V3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
  const dot = (a: V3, b: V3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const norm = (a: V3): V3 => {
    const l = Math.hypot(...a);
    return [a[0] / l, a[1] / l, a[2] / l];
  };
  const fwd = norm(sub(s.look, s.eye));
  const right = norm([-fwd[2], 0, fwd[0]]);
  const up: V3 = [
    right[1] * fwd[2] - right[2] * fwd[1],
    right[2] * fwd[0] - right[0] * fwd[2],
    right[0] * fwd[1] - right[1] * fwd[0],
  ];
  const d = sub(p, s.eye);
  const depth = dot(d, fwd);
  const k = s.fov / 2;
  const [u, v] = [dot(d, right) / depth / k, dot(d, up) / depth / k];
  return [(u * h + w) / 2, ((1 - v) * h) / 2];
}

/**
 * Where the line of sight through a point of the world meets things: a place on their surface. A point that floats
 * before it would go at another speed than what is seen there. To a hundredth of a thousandth: the tracer's own stops
 * are a thousandth off, which is a tenth of a pixel over a clip.
 */
function seen(s: Scene, things: readonly Thing[], through: V3): V3 {
  const d = through.map((v, k) => v - s.eye[k]!);
  const far = Math.hypot(...d);
  for (let t = 0; t < 2 * far;) {
    const p = d.map((v, k) => s.eye[k]! + (t * v) / far) as V3;
    const gap = Math.min(...things.map((q) => q.dist(...p)));
    if (gap < 1e-5) return p;
    t += 0.7 * Math.max(1e-5, gap);
  }
  throw new Error('Nothing is seen there');
}

/** Corners and middle of a piece of a jacket's front: on its cloth, where that is most nearly flat. */
function frontOf(s: Scene, left: number, top: number, right: number, bottom: number): V3[] {
  const jacket = s.things.filter((t) => t.tag === 'rain jacket');
  return [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
    [(left + right) / 2, (top + bottom) / 2],
  ].map(([x, y]) => seen(s, jacket, [x!, y!, 0.3]));
}
const added = (p: V3, by: V3): V3 => [p[0] + by[0], p[1] + by[1], p[2] + by[2]];

const RIDER = ['courier', 'helmet', 'rain jacket', 'rain jacket hand'];
/** How far the courier has come: even but for a small sway. */
const ride = (frame: number): V3 => {
  const t = frame / (FRAMES - 1);
  return [-1.75 + 3.1 * t, 0.03 * Math.sin(2 * Math.PI * 1.5 * t), 0];
};
const OF_THE_DEMO = { forTests: false, size: [CLIP_W, CLIP_H], frames: FRAMES, shutter: 0 } as const;
function crossing(): ClipScene {
  const base = scenes().find((s) => s.name === 'courier')!;
  const rides = (t: Thing): boolean => RIDER.some((r) => t.tag.startsWith(r)) || t.tag === 'bicycle';
  const movers = base.things.filter(rides);
  if (movers.length < 5) throw new Error('The courier was not found among the things of the scene');
  // A post that the courier passes behind, near the camera.
  const post = slab([0.62, 0, 1.9], [0.07, 2.2, 0.07], 'steel', 'post');
  const still: Scene = { ...base, things: [...base.things.filter((t) => !rides(t)), post] };
  const front = frontOf(base, 0.28, -0.5, 0.56, -0.9);
  return {
    name: 'courier-crossing',
    ...OF_THE_DEMO,
    still,
    at: (f) => ({ ...still, things: [...movers.map((t) => moved(t, ride(f))), ...still.things] }),
    light: () => [1, 1, 1],
    truth: ['rain jacket', 'skin courier'],
    places: (f) => front.map((p) => project(base, added(p, ride(f)))),
  };
}

const turnAt = (frame: number): number => 24 - 52 * (0.5 - 0.5 * Math.cos((Math.PI * frame) / (FRAMES - 1)));
function turning(): ClipScene {
  const of = (f: number): Scene => {
    const s = scenes(turnAt(f)).find((x) => x.name === 'proofing-table')!;
    // Nearer, so that the face has the room of a close picture.
    return { ...s, eye: [-0.75, 0.25, 7.2], look: [-0.75, 0.02, 0], fov: 0.26, noise: 0.012 };
  };
  const turns = (t: Thing): boolean => t.tag.startsWith('left baker') || t.tag === 'left cap';
  const first = of(0);
  return {
    name: 'baker-turning',
    ...OF_THE_DEMO,
    still: { ...first, things: first.things.filter((t) => !turns(t)) },
    at: of,
    // Everything here is lit by the tubes: they flicker, and grow warmer.
    light: (f) => {
      const t = f / (FRAMES - 1);
      const k = 1 + 0.05 * Math.sin(2 * Math.PI * 5.3 * t) + 0.04 * Math.sin(2 * Math.PI * 13.7 * t + 1);
      return [k * (1 + 0.1 * t), k, k * (1 - 0.14 * t)];
    },
    truth: ['skin left baker'],
  };
}
/** For tests: somebody of a harder scene crosses, nearer by and by, with the shutter open for half of each frame. */
function hard(name: string, front: readonly [number, number, number, number]): ClipScene {
  const scene = hardScenes().find((s) => s.name === name)!;
  const base: Scene = { ...scene, look: [0, -0.45, 0], fov: 0.25 };
  const moves = (t: Thing): boolean => /^(face|cap|helmet|rain jacket)/.test(t.tag);
  const still = { ...base, things: base.things.filter((t) => !moves(t)) };
  const [w, h, frames] = [480, 270, 24];
  const walk = (f: number): V3 => {
    const t = f / (frames - 1);
    return [-0.6 + 1.1 * t, 0.04 * Math.sin(2 * Math.PI * 1.2 * t), 0.25 * t];
  };
  const places = frontOf(base, ...front);
  return {
    name: `${name}-crossing`,
    forTests: true,
    size: [w, h],
    frames,
    shutter: 0.5,
    still,
    at: (f) => ({ ...still, things: [...base.things.filter(moves).map((t) => moved(t, walk(f))), ...still.things] }),
    light: () => [1, 1, 1],
    truth: [],
    places: (f) => places.map((p) => project(base, added(p, walk(f)), w, h)),
  };
}
export const clipScenes = (): ClipScene[] => [
  crossing(),
  turning(),
  hard('hard-sun', [0.2, -0.65, 0.5, -1.15]),
  hard('wood-panels', [0.25, -0.65, 0.55, -1.1]),
];
