/** Rooms and things: tiles, steel, dough, bread, wood, an oven, a bicycle. */
import { chart24 } from '../src/core/color/chart';
import { cell, fbm, noise } from './noise';
import { box, capsule, cylinder, ellipsoid, mix, smin, step01, torus } from './sdf';
import type { Thing, V3 } from './render';

const matt = (albedo: V3, spec = 0.01, gloss = 8) => ({ albedo, spec, gloss, scatter: 0, metal: 0 });

/** A wall at z of glazed tiles, each its own shade. */
export function tiles(z: number, size: number, base: V3, spread: number, grout: V3): Thing {
  const at = (x: number, y: number): { ix: number; iy: number; e: number } => {
    const iy = Math.floor(y / size);
    const sx = x / size + (iy & 1) * 0.5;
    const ix = Math.floor(sx);
    const e = Math.min(sx - ix, 1 - (sx - ix), y / size - iy, 1 - (y / size - iy)) * size;
    return { ix, iy, e };
  };
  return {
    centre: [0, 0, z],
    radius: 60,
    cls: 'wall',
    tag: 'tiles',
    dist: (_x, _y, p) => p - z,
    surface: (x, y) => {
      const { ix, iy, e } = at(x, y);
      if (e < 0.012) return matt(grout.map((v) => v * (1 + 0.15 * noise(x * 30, y * 30, 1))) as V3);
      const r = cell(ix, iy, 3);
      const k = 1 + spread * (r - 0.5) * 2;
      const warm = (cell(ix, iy, 9) - 0.5) * 0.16;
      const g = 1 + 0.06 * fbm(x * 5, y * 5, ix, 3);
      return {
        albedo: [base[0] * k * g * (1 + warm), base[1] * k * g, base[2] * k * g * (1 - warm)],
        spec: 0.07,
        gloss: 120,
        scatter: 0,
        metal: 0,
        bump: (a, b) => {
          const q = at(a, b);
          const tilt = 0.006 * ((cell(q.ix, q.iy, 5) - 0.5) * a + (cell(q.ix, q.iy, 7) - 0.5) * b);
          return tilt - 0.008 * (1 - step01(0.008, 0.035, q.e)) + 0.0006 * noise(a * 9, b * 9, q.ix);
        },
      };
    },
  };
}

/** Bricks about an oven mouth, with fire behind it. */
export function oven(z: number, cx: number, cy: number): Thing[] {
  const mouth = (x: number, y: number): number => {
    const dx = x - cx;
    const dy = y - cy;
    return dy > 0 ? Math.hypot(dx, dy) - 0.85 : Math.max(Math.abs(dx) - 0.85, -dy - 0.55);
  };
  const brick = (x: number, y: number): { e: number; i: number; j: number } => {
    const d = mouth(x, y);
    let u = x / 0.62;
    let v = y / 0.2;
    if (d < 0.3 && y > cy) {
      // voussoirs
      u = Math.atan2(y - cy, x - cx) * 4.1;
      v = 0.5;
    } else u += (Math.floor(v) & 1) * 0.5;
    const i = Math.floor(u);
    const j = Math.floor(v);
    return { e: Math.min((u - i) * 0.62, (1 - u + i) * 0.62, (v - j) * 0.2, (1 - v + j) * 0.2), i, j };
  };
  return [
    {
      centre: [0, 0, z],
      radius: 60,
      cls: 'wall',
      tag: 'brick',
      dist: (x, y, p) => {
        const d = p - z;
        const hole = mouth(x, y);
        return hole < 0.1 ? Math.max(d, -hole - 0.0) : d;
      },
      surface: (x, y) => {
        const { e, i, j } = brick(x, y);
        const soot = 1 - 0.75 * step01(0.7, 0, mouth(x, y)) * step01(cy - 0.2, cy + 1.2, y);
        if (e < 0.014) return matt([0.2 * soot, 0.18 * soot, 0.16 * soot]);
        const r = cell(i, j, 4);
        const k = (0.75 + 0.5 * r) * (1 + 0.25 * fbm(x * 9, y * 9, i, 3)) * soot;
        return {
          ...matt([0.3 * k, (0.115 + 0.03 * r) * k, 0.062 * k], 0.008, 8),
          bump: (a, b) => 0.012 * fbm(a * 14, b * 14, 2, 3) - 0.02 * (1 - step01(0.01, 0.03, brick(a, b).e)),
        };
      },
    },
    {
      centre: [cx, cy, z - 1.6],
      radius: 2.6,
      cls: 'glow',
      tag: 'fire',
      dist: (_x, _y, p) => p - (z - 1.5),
      surface: (x, y) => {
        const d = Math.hypot((x - cx) * 0.9, y - cy + 0.5);
        const flame = Math.max(0, 1.15 - d) * (0.75 + 0.55 * fbm(x * 3, y * 2.2 - 3, 1, 4));
        const ember = step01(-0.25, -0.6, y - cy) * (0.5 + 0.7 * Math.max(0, noise(x * 14, y * 14, 3)));
        const k = flame + 0.7 * ember;
        return { ...matt([0.02, 0.015, 0.01]), emit: [2.6 * k, 0.86 * k * (0.7 + 0.5 * flame), 0.17 * k * k] };
      },
    },
  ];
}

/** Floating boards: a table top or a shelf of wood or steel. */
export function slab(at: V3, half: V3, kind: 'steel' | 'wood', tag: string): Thing {
  return {
    centre: at,
    radius: Math.hypot(...half),
    cls: kind === 'steel' ? 'metal' : 'wood',
    tag,
    dist: (x, y, z) => box(x - at[0], y - at[1], z - at[2], half[0], half[1], half[2], 0.03),
    surface: (x, y, z) => {
      if (kind === 'steel') {
        const s = 0.92 + 0.06 * noise(x * 3, 1, z * 160);
        return {
          albedo: [0.52 * s, 0.53 * s, 0.54 * s],
          spec: 0.25,
          gloss: 40,
          scatter: 0,
          metal: 0.85,
          bump: (a, _b, c) => 0.0006 * noise(a * 4, 1, c * 120),
        };
      }
      return wood(x - at[0], y - at[1], z - at[2]);
    },
  };
}

function wood(x: number, y: number, z: number) {
  const ring = Math.sin(26 * (z + 0.12 * fbm(x * 0.8, y * 3, z * 3, 3)) + 5 * fbm(x * 0.5, y, z * 2, 2));
  const grain = 0.86 + 0.1 * ring + 0.12 * noise(x * 3, y * 50, z * 70);
  return {
    ...matt([0.46 * grain, 0.238 * grain, 0.132 * grain], 0.025, 18),
    bump: (a: number, b: number, c: number) => 0.001 * noise(a * 4, b * 60, c * 60),
  };
}

/** A peel: the flat wooden shovel of a baker, blade towards -x or +x. */
export function peel(at: V3, yaw: number, tilt: number): Thing {
  const c = Math.cos((yaw * Math.PI) / 180);
  const s = Math.sin((yaw * Math.PI) / 180);
  const ct = Math.cos((tilt * Math.PI) / 180);
  const st = Math.sin((tilt * Math.PI) / 180);
  const local = (X: number, Y: number, Z: number): V3 => {
    const a = X - at[0];
    const b = Y - at[1];
    const d = Z - at[2];
    const x = a * c - d * s;
    const z = a * s + d * c;
    return [x * ct + b * st, -x * st + b * ct, z];
  };
  return {
    centre: at,
    radius: 3.2,
    cls: 'wood',
    tag: 'peel',
    dist: (X, Y, Z) => {
      const [x, y, z] = local(X, Y, Z);
      const blade = box(x - 0.2, y, z, 0.72, 0.035, 0.5, 0.035) + 0.06 * step01(0.3, 1, x);
      return smin(blade, capsule(x, y, z, [-0.5, 0, 0], [-3, 0, 0], 0.055, 0.05), 0.1);
    },
    surface: (X, Y, Z) => wood(...local(X, Y, Z)),
  };
}

/** A loaf: crust with slashes and flour. */
export function loaf(at: V3, len: number, fat: number, yaw: number, seed: number): Thing {
  const c = Math.cos((yaw * Math.PI) / 180);
  const s = Math.sin((yaw * Math.PI) / 180);
  const local = (X: number, Y: number, Z: number): V3 => [
    (X - at[0]) * c - (Z - at[2]) * s,
    Y - at[1],
    (X - at[0]) * s + (Z - at[2]) * c,
  ];
  const slash = (x: number, z: number): number => {
    const t = (x + 0.35 * z) / (len * 0.42);
    return Math.abs(t - Math.round(t)) * len * 0.42;
  };
  const shape = (x: number, y: number, z: number): number => {
    let d = ellipsoid(x, y, z, len, fat * 0.72, fat);
    if (y > 0 && Math.abs(x) < len * 0.8) d += 0.05 * fat * Math.exp(-((slash(x, z) / 0.05) ** 2));
    return d - 0.02 * fat * fbm(x * 6 + seed, y * 6, z * 6, 3);
  };
  return {
    centre: at,
    radius: len * 1.1,
    cls: 'bread',
    tag: 'bread',
    dist: (X, Y, Z) => shape(...local(X, Y, Z)) * 0.8,
    surface: (X, Y, Z) => {
      const [x, y, z] = local(X, Y, Z);
      const open = y > 0 ? Math.exp(-((slash(x, z) / 0.055) ** 2)) : 0;
      const bake = 0.75 + 0.3 * fbm(x * 5 + seed, y * 5, z * 5, 4) + 0.2 * step01(-0.2, 0.6, y / fat);
      const crust: V3 = [0.47 / (0.6 + 0.5 * bake), 0.222 / (0.45 + 0.65 * bake), 0.12 / (0.4 + 0.8 * bake)];
      const flour = step01(0.2, 0.6, fbm(x * 12 + seed, y * 12, z * 12, 3)) * step01(0, 0.5, y / fat) * 0.45;
      const albedo = [0, 1, 2].map((i) => mix(mix(crust[i]!, [0.68, 0.44, 0.28][i]!, open * 0.8), 0.7, flour)) as V3;
      return {
        albedo,
        spec: 0.02,
        gloss: 14,
        scatter: 0.1,
        metal: 0,
        bump: (a, b, d) => 0.006 * fbm(a * 40, b * 40, d * 40, 2),
      };
    },
  };
}

/** A ball of proofing dough. */
export function dough(at: V3, r: number, seed: number): Thing {
  return {
    centre: at,
    radius: r * 1.15,
    cls: 'prop',
    tag: 'dough',
    dist: (x, y, z) =>
      (ellipsoid(x - at[0], y - at[1], z - at[2], r, r * 0.66, r) - 0.012 * fbm(x * 5 + seed, y * 5, z * 5, 3)) * 0.9,
    surface: (x, y, z) => {
      const flour = 0.9 + 0.1 * noise(x * 40, y * 40, z * 40 + seed);
      return { albedo: [0.68 * flour, 0.6 * flour, 0.47 * flour], spec: 0.02, gloss: 10, scatter: 0.5, metal: 0 };
    },
  };
}

/** Copper pan on the wall or a shelf, mouth towards the viewer. */
export function pan(at: V3, r: number): Thing {
  return {
    centre: at,
    radius: r * 2.6,
    cls: 'metal',
    tag: 'copper',
    dist: (x, y, z) => {
      const p: V3 = [x - at[0], y - at[1], z - at[2]];
      const d = Math.max(
        cylinder(p[0], p[2], p[1], r, 0.13, 0.03),
        -cylinder(p[0], p[2] - 0.05, p[1], r * 0.93, 0.12, 0.02),
      );
      return smin(d, capsule(p[0], p[1], p[2], [0, r, 0], [0, r * 2.3, 0.03], 0.035, 0.028), 0.03);
    },
    surface: (x, y, z) => {
      const k = 0.85 + 0.2 * noise(x * 5, y * 5, z * 5);
      return { albedo: [0.72 * k, 0.36 * k, 0.2 * k], spec: 0.3, gloss: 50, scatter: 0, metal: 0.9 };
    },
  };
}

/** The front of a bicycle: bar, stem, brake levers, lamp; the rider's hands lie at (+-0.62, 0, 0). */
export function handlebar(at: V3): Thing {
  return {
    centre: at,
    radius: 1.6,
    cls: 'metal',
    tag: 'bicycle',
    dist: (X, Y, Z) => {
      const x = X - at[0];
      const y = Y - at[1];
      const z = Z - at[2];
      const ax = Math.abs(x);
      let d = capsule(ax, y, z, [0, 0.02, 0], [0.82, 0, -0.05], 0.042, 0.05);
      d = smin(d, capsule(x, y, z, [0, 0, 0], [0, -1.2, -0.4], 0.06, 0.07), 0.04);
      d = Math.min(d, capsule(ax, y, z, [0.45, -0.02, 0.08], [0.7, -0.09, 0.13], 0.02, 0.018));
      return Math.min(d, cylinder(x, z - 0.14, y + 0.02, 0.11, 0.1, 0.03));
    },
    surface: (X, Y, Z) => {
      const lamp = Math.abs(X - at[0]) < 0.1 && Math.abs(Y - at[1] + 0.02) < 0.1 && Z - at[2] > 0.2;
      if (lamp) return { ...matt([0.8, 0.8, 0.75], 0.1, 60), emit: [0.9, 0.88, 0.75] };
      const grip = Math.abs(X - at[0]) > 0.5;
      return grip
        ? matt([0.02, 0.02, 0.022], 0.03, 20)
        : { albedo: [0.3, 0.31, 0.32], spec: 0.3, gloss: 60, scatter: 0, metal: 0.7 };
    },
  };
}

/** A string of round lamps or a tube: only seen, the light itself is a Light. */
export function tube(at: V3, half: number, colour: V3): Thing {
  return {
    centre: at,
    radius: half + 0.2,
    cls: 'glow',
    tag: 'tube',
    dist: (x, y, z) => capsule(x, y, z, [at[0] - half, at[1], at[2]], [at[0] + half, at[1], at[2]], 0.06, 0.06),
    surface: () => ({ ...matt([0.5, 0.5, 0.5]), emit: colour }),
  };
}

export function rim(at: V3, R: number): Thing {
  return {
    centre: at,
    radius: R + 0.2,
    cls: 'prop',
    tag: 'bicycle',
    dist: (x, y, z) => torus(x - at[0], y - at[1], z - at[2], R, 0.06),
    surface: () => matt([0.03, 0.03, 0.03], 0.02, 12),
  };
}

/**
 * Where the chart's board lies: patches in six columns and four rows, a strip of five greys below them. Half sizes,
 * world units.
 */
export const CHART = { half: [0.6, 0.5] as const, grey: [0.031, 0.09, 0.18, 0.36, 0.9] as const };

/** A test chart held up: 24 patches (core/color/chart.ts) and a grey strip on a black board. */
export function chart(at: V3, yaw: number, size: number): Thing {
  const [c, s] = [Math.cos((yaw * Math.PI) / 180), Math.sin((yaw * Math.PI) / 180)];
  const local = (x: number, y: number, z: number): V3 => {
    const [dx, dz] = [x - at[0], z - at[2]];
    return [(c * dx - s * dz) / size, (y - at[1]) / size, (s * dx + c * dz) / size];
  };
  const [hx, hy] = CHART.half;
  return {
    centre: at,
    radius: Math.hypot(hx, hy) * size + 0.05,
    cls: 'prop',
    tag: 'chart',
    dist: (x, y, z) => {
      const [a, b, d] = local(x, y, z);
      return box(a, b, d, hx, hy, 0.012, 0.008) * size;
    },
    surface: (x, y, z) => {
      const [a, b, d] = local(x, y, z);
      if (d < 0) return matt([0.03, 0.03, 0.03], 0, 8);
      // 6 columns of 0.19 over 1.14; 4 rows of 0.19 from the top, then the strip.
      const u = (a + 0.57) / 0.19;
      const v = (hy - 0.03 - b) / 0.19;
      const inset = (t: number): number => Math.min(t - Math.floor(t), 1 - (t - Math.floor(t)));
      const i = Math.floor(u);
      const j = Math.floor(v);
      if (i >= 0 && i < 6 && j >= 0 && j < 4 && inset(u) > 0.06 && inset(v) > 0.06)
        return matt([...chart24[j * 6 + i]!.linear] as V3, 0, 8);
      const g = (a + 0.57) / 0.228;
      const k = Math.floor(g);
      const w = (v - 4.08) / 0.82;
      if (k >= 0 && k < 5 && w > 0 && w < 1 && inset(g) > 0.02)
        return matt([CHART.grey[k]!, CHART.grey[k]!, CHART.grey[k]!], 0, 8);
      return matt([0.028, 0.028, 0.028], 0, 8);
    },
  };
}

/** A window with cold morning behind it: bright panes between dark bars. */
export function windowPane(at: V3, half: V3, colour: V3): Thing {
  return {
    centre: at,
    radius: Math.hypot(...half),
    cls: 'glow',
    tag: 'window',
    dist: (x, y, z) => box(x - at[0], y - at[1], z - at[2], half[0], half[1], half[2], 0.01),
    surface: (x, y) => {
      const u = ((x - at[0]) / half[0] + 1) * 1.5;
      const v = ((y - at[1]) / half[1] + 1) * 2;
      const bar = Math.min(u - Math.floor(u), Math.floor(u) + 1 - u, v - Math.floor(v), Math.floor(v) + 1 - v) < 0.05;
      if (bar) return matt([0.09, 0.085, 0.08]);
      const k = 0.72 + 0.28 * step01(-half[1], half[1], y - at[1]) + 0.1 * fbm(x * 1.4, y * 1.1, 7, 3);
      return { ...matt([0.02, 0.02, 0.02], 0.1, 80), emit: [colour[0] * k, colour[1] * k, colour[2] * k] };
    },
  };
}
