/** People who are nobody: heads, necks, hair, caps and clothes as distance fields with painted surfaces. */
import { fbm, noise } from './noise';
import { capsule, cylinder, ellipsoid, mix, smax, smin, sphere, step01, torus } from './sdf';
import type { Class, Surface, Thing, V3 } from './render';

export interface HeadSpec {
  tag: string;
  at: V3;
  /** Degrees: turn to the viewer's right, nod down, tilt. */
  yaw: number;
  pitch: number;
  roll: number;
  scale: number;
  /** Linear albedo of skin. */
  skin: V3;
  flush: number;
  lip: V3;
  iris: V3;
  hair: V3;
  hairStyle: 'short' | 'bun' | 'none';
  beard: number;
  brow: number;
  wide: number;
  jaw: number;
  noseWide: number;
  lipFull: number;
  smile: number;
  /** Where the eyes look, in the head's coordinates. */
  gaze: [number, number];
  age: number;
  /** 0..1: small brown spots on cheeks and nose; none by default. */
  freckles?: number;
}

interface Frame {
  toLocal(x: number, y: number, z: number): V3;
}
function frame(at: V3, yaw: number, pitch: number, roll: number, scale: number): Frame {
  const [cy, sy, cp, sp, cr, sr] = [yaw, pitch, roll].flatMap((d) => [
    Math.cos((d * Math.PI) / 180),
    Math.sin((d * Math.PI) / 180),
  ]) as [number, number, number, number, number, number];
  return {
    toLocal(x, y, z) {
      let a = (x - at[0]) / scale;
      let b = (y - at[1]) / scale;
      let c = (z - at[2]) / scale;
      [a, c] = [a * cy - c * sy, a * sy + c * cy];
      [b, c] = [b * cp + c * sp, -b * sp + c * cp];
      [a, b] = [a * cr + b * sr, -a * sr + b * cr];
      return [a, b, c];
    },
  };
}

/** The lid line: height of the upper (+1) and lower (-1) rim at x from the eye's middle. */
function lid(dx: number, side: number): number {
  const q = dx / 0.083;
  const t = Math.max(0, 1 - q * q);
  return side > 0 ? -0.008 + 0.041 * Math.sqrt(t) : -0.012 - 0.021 * t;
}

export function head(h: HeadSpec): Thing[] {
  const f = frame(h.at, h.yaw, h.pitch, h.roll, h.scale);
  const EX = 0.15;
  const EY = 0.005;
  const EZ = 0.275;
  const ER = 0.088;

  const skull = (X: number, y: number, z: number): number => {
    const x = Math.abs(X);
    let d = ellipsoid(x, y - 0.13, z + 0.04, 0.37 * h.wide, 0.4, 0.43);
    d = smin(d, ellipsoid(x, y + 0.13, z - 0.07, 0.29 * h.wide, 0.34, 0.285), 0.16);
    // jaw corner, chin
    d = smin(d, sphere(x - 0.2 * h.wide * h.jaw, y + 0.27, z - 0.02, 0.075), 0.2);
    d = smin(d, ellipsoid(x, y + 0.435, z - 0.225, 0.1 * h.jaw, 0.07, 0.075), 0.15);
    // cheekbone and cheek
    d = smin(d, ellipsoid(x - 0.2 * h.wide, y + 0.085, z - 0.2, 0.1, 0.075, 0.09), 0.13);
    d = smin(d, sphere(x - 0.14, y + 0.19, z - 0.235, 0.085 + 0.015 * h.smile), 0.13);
    // brow
    d = smin(d, capsule(x, y, z, [0.02, 0.1, 0.345], [0.2, 0.115, 0.262], 0.03, 0.028), 0.11);
    // eye socket
    d = smax(d, -ellipsoid(x - EX, y - EY, z - 0.405, 0.1, 0.062, 0.085), 0.1);
    return d;
  };
  const nose = (X: number, y: number, z: number): number => {
    const x = Math.abs(X);
    let d = capsule(x, y, z, [0, 0.075, 0.345], [0, -0.115, 0.435], 0.03, 0.043);
    d = smin(d, ellipsoid(x, y + 0.135, z - 0.437, 0.052 * h.noseWide, 0.046, 0.048), 0.05);
    d = smin(d, ellipsoid(x - 0.058 * h.noseWide, y + 0.15, z - 0.385, 0.034, 0.032, 0.04), 0.035);
    return smax(d, -ellipsoid(x - 0.03 * h.noseWide, y + 0.182, z - 0.412, 0.016, 0.016, 0.024), 0.02);
  };
  const MY = -0.285;
  const mouthCurve = (x: number): number =>
    MY + 0.55 * h.smile * x * x * 4 - 0.004 * (x < 0.1 ? Math.cos(x * 60) * Math.exp(-(x * x) / 0.0009) : 0);
  const mouth = (X: number, y: number, z: number, d0: number): number => {
    const x = Math.abs(X);
    const yy = y - mouthCurve(x) + MY;
    const back = 0.9 * x * x;
    let d = smin(d0, ellipsoid(x, y + 0.285, z - 0.255, 0.12, 0.085, 0.105), 0.1);
    const w = 0.108 + 0.012 * h.smile;
    const upper = smin(
      ellipsoid(x - 0.03, yy - MY - 0.019, z + back - 0.352, 0.055, 0.021 * h.lipFull, 0.027),
      ellipsoid(x, yy - MY - 0.016, z + back - 0.35, w, 0.016 * h.lipFull, 0.024),
      0.02,
    );
    const lower = ellipsoid(x, yy - MY + 0.026 * h.lipFull, z + back - 0.349, w * 0.82, 0.026 * h.lipFull, 0.03);
    d = smin(d, upper, 0.018);
    d = smin(d, lower, 0.02);
    // the line between the lips, and the dimples where it ends
    d = smax(d, -ellipsoid(x, yy - MY, z + back - 0.385, w * 0.96, 0.0065, 0.034), 0.012);
    d = smax(d, -sphere(x - w, yy - MY, z - 0.345 + back, 0.004), 0.022);
    // groove under the nose
    return smax(d, -capsule(x, y, z, [0, -0.2, 0.4], [0, -0.245, 0.39], 0.012, 0.016), 0.03);
  };
  const lidShell = (X: number, y: number, z: number): number => {
    const x = Math.abs(X);
    const dx = x - EX;
    const dy = y - EY;
    const ball = sphere(dx, dy, z - EZ, ER + 0.011);
    const up = smax(ball, lid(dx, 1) - dy, 0.008);
    const low = smax(ball, dy - lid(dx, -1), 0.008);
    return Math.min(up, low);
  };
  const ear = (X: number, y: number, z: number): number => {
    const x = Math.abs(X) - 0.365 * h.wide;
    const yy = y + 0.01;
    const zz = z + 0.05;
    let d = ellipsoid(x - 0.012, yy, zz, 0.032, 0.115, 0.075);
    d = smax(d, -ellipsoid(x - 0.045, yy - 0.005, zz - 0.012, 0.03, 0.075, 0.045), 0.025);
    return smin(d, sphere(x - 0.006, yy + 0.1, zz - 0.022, 0.03), 0.03);
  };
  const faceDist = (x: number, y: number, z: number): number => {
    let d = skull(x, y, z);
    // Features are only worth their cost near the surface; farther off the rough head less their height is a safe step.
    if (d > 0.25)
      return Math.min(d - 0.13, capsule(x, y, z, [0, -0.3, -0.08], [0, -0.85, -0.14], 0.2 * h.wide, 0.225 * h.wide));
    if (z > 0.1) {
      d = mouth(x, y, z, d);
      d = smin(d, nose(x, y, z), 0.055);
      d = smin(d, lidShell(x, y, z), 0.022);
    }
    d = smin(d, ear(x, y, z), 0.03);
    d = smin(d, capsule(x, y, z, [0, -0.3, -0.08], [0, -0.85, -0.14], 0.2 * h.wide, 0.225 * h.wide), 0.1);
    return d;
  };

  const browLine = (x: number): number => 0.135 - 0.75 * (Math.abs(x) - 0.14) * (Math.abs(x) - 0.14) + 0.012 * h.age;
  const skinSurface = (wx: number, wy: number, wz: number): Surface => {
    const [x, y, z] = f.toLocal(wx, wy, wz);
    const ax = Math.abs(x);
    const albedo: V3 = [...h.skin];
    // Blood: cheeks, nose, ears, chin are redder; the forehead yellower; darker round the eyes.
    const flush =
      h.flush *
      (Math.exp(-(((ax - 0.2) / 0.11) ** 2 + ((y + 0.12) / 0.1) ** 2)) +
        0.9 * Math.exp(-((x / 0.07) ** 2 + ((y + 0.14) / 0.06) ** 2)) * (z > 0.38 ? 1 : 0) +
        0.6 * step01(0.34, 0.38, ax) +
        0.4 * Math.exp(-((x / 0.1) ** 2 + ((y + 0.45) / 0.06) ** 2)));
    const mottle = fbm(x * 9 + 3, y * 9, z * 9, 4);
    const fine = fbm(x * 55, y * 55, z * 55, 3);
    const red = flush + 0.2 * h.flush * mottle;
    albedo[0] *= 1 + 0.05 * red + 0.05 * fine + 0.04 * mottle;
    albedo[1] *= 1 - 0.26 * red + 0.06 * fine + 0.02 * mottle;
    albedo[2] *= 1 - 0.16 * red + 0.1 * fine - 0.18 * mottle;
    const socket = Math.exp(-(((ax - EX) / 0.095) ** 2 + ((y - EY + 0.015) / 0.06) ** 2)) * (z > 0.2 ? 1 : 0);
    for (let c = 0; c < 3; c++) albedo[c]! *= 1 - socket * (c === 0 ? 0.14 : c === 1 ? 0.2 : 0.16);
    if (h.freckles) {
      const where = Math.exp(-(((ax - 0.14) / 0.16) ** 2 + ((y + 0.08) / 0.14) ** 2)) * (z > 0.1 ? 1 : 0);
      const spot = h.freckles * (0.25 + 0.75 * where) * step01(0.32, 0.6, noise(x * 58 + 11, y * 58, z * 58));
      albedo[0] *= 1 - 0.22 * spot;
      albedo[1] *= 1 - 0.42 * spot;
      albedo[2] *= 1 - 0.48 * spot;
    }
    let spec = 0.028 + 0.01 * Math.exp(-((x / 0.1) ** 2 + ((y - 0.2) / 0.12) ** 2));
    let gloss = 26;
    // stubble or beard
    if (h.beard > 0) {
      const area =
        step01(-0.1, -0.22, y + 0.25 * Math.max(0, 0.3 - ax)) *
        step01(-0.62, -0.5, y) *
        step01(-0.12, 0.05, z) *
        (1 - 0.85 * Math.exp(-((x / 0.1) ** 2 + ((y + 0.29) / 0.045) ** 2)));
      const hairs = 0.55 + 0.45 * noise(x * 160, y * 60, z * 160);
      const k = h.beard * area * hairs;
      for (let c = 0; c < 3; c++) albedo[c] = mix(albedo[c]!, h.hair[c]! * 0.8, Math.min(0.95, k));
      spec *= 1 - 0.6 * k;
    }
    // brows: hairs on the skin
    const by = browLine(x) - y;
    const bw = 0.024 * h.brow * (1 - 0.55 * step01(0.16, 0.25, ax));
    const brow =
      Math.exp(-((by / bw) ** 4)) * step01(0.035, 0.055, ax) * (1 - step01(0.23, 0.262, ax)) * (z > 0.1 ? 1 : 0);
    if (brow > 0.01) {
      const k = brow * (0.78 + 0.22 * noise(x * 45 + y * 60, y * 70 - ax * 30, 3));
      for (let c = 0; c < 3; c++) albedo[c] = mix(albedo[c]!, h.hair[c]! * 0.7, Math.min(0.92, k));
      spec *= 1 - 0.7 * k;
    }
    // lash line: a dark rim where lid meets eye
    const dx = ax - EX;
    const dy = y - EY;
    if (z > 0.2 && Math.abs(dx) < 0.09) {
      const rimUp = Math.exp(-(((dy - lid(dx, 1)) / 0.009) ** 2)) * step01(0.088, 0.06, Math.abs(dx));
      const rimLow = 0.45 * Math.exp(-(((dy - lid(dx, -1)) / 0.007) ** 2));
      const k = Math.min(0.95, rimUp + rimLow);
      for (let c = 0; c < 3; c++) albedo[c] = mix(albedo[c]!, h.hair[c]! * 0.35, k);
    }
    // lips
    const yy = y - mouthCurve(ax) + MY;
    const w = 0.112 + 0.012 * h.smile;
    const edge = 1 - (ax / w) ** 2;
    const hi = (0.033 - 0.012 * Math.exp(-((x / 0.02) ** 2))) * h.lipFull * edge;
    const lo = 0.052 * h.lipFull * edge;
    const k = edge > 0 && z > 0.2 ? step01(0.006, -0.004, yy - MY - hi) * step01(0.006, -0.004, -(yy - MY) - lo) : 0;
    if (k > 0) {
      const crease = 0.9 + 0.1 * noise(x * 150, y * 20, 7);
      for (let c = 0; c < 3; c++) albedo[c] = mix(albedo[c]!, h.lip[c]! * crease * (yy > MY ? 0.86 : 1), k * 0.9);
      spec = mix(spec, 0.05, k);
      gloss = mix(gloss, 46, k);
    }
    const pore = h.scale;
    return {
      albedo,
      spec,
      gloss,
      scatter: 1 - 0.3 * h.beard,
      metal: 0,
      ...(k > 0.5 && { part: 'lips' as const }),
      bump: (a, b, c) => {
        const [p, q, r] = f.toLocal(a, b, c);
        return (
          pore *
          (0.0011 * fbm(p * 75, q * 75, r * 75, 2) + 0.0008 * h.age * noise(p * 9, q * 95, 1) * step01(0.14, 0.22, q))
        );
      },
    };
  };
  const things: Thing[] = [
    {
      centre: h.at,
      radius: 0.98 * h.scale,
      cls: 'skin',
      tag: h.tag,
      dist: (x, y, z) => faceDist(...f.toLocal(x, y, z)) * h.scale * 0.92,
      surface: skinSurface,
    },
  ];

  // Eyes: a white ball with a painted iris, a clear wet highlight from its gloss.
  for (const side of [-1, 1]) {
    const c: V3 = [side * EX, EY, EZ];
    const axis: V3 = [h.gaze[0], h.gaze[1], Math.sqrt(Math.max(0, 1 - h.gaze[0] ** 2 - h.gaze[1] ** 2))];
    things.push({
      centre: h.at,
      radius: 0.55 * h.scale,
      cls: 'eye',
      tag: h.tag,
      dist: (x, y, z) => {
        const p = f.toLocal(x, y, z);
        return sphere(p[0] - c[0], p[1] - c[1], p[2] - c[2], ER) * h.scale;
      },
      surface: (x, y, z) => {
        const p = f.toLocal(x, y, z);
        const q: V3 = [(p[0] - c[0]) / ER, (p[1] - c[1]) / ER, (p[2] - c[2]) / ER];
        const d = Math.acos(Math.min(1, Math.max(-1, q[0] * axis[0] + q[1] * axis[1] + q[2] * axis[2])));
        const ang = Math.atan2(q[1] - axis[1], q[0] - axis[0]);
        const ray = 0.75 + 0.35 * noise(Math.cos(ang) * 7, Math.sin(ang) * 7, d * 6);
        const white: V3 = [0.62, 0.57, 0.54];
        const k = step01(0.47, 0.42, d);
        const rim = step01(0.3, 0.45, d);
        const pupil = step01(0.2, 0.165, d);
        const albedo = [0, 1, 2].map(
          (i) =>
            mix(white[i]! * (1 - 0.25 * Math.abs(q[0])), mix(h.iris[i]! * ray, h.iris[i]! * 0.25, rim), k) *
            (1 - 0.97 * pupil),
        ) as V3;
        return { albedo, spec: 0.3, gloss: 420, scatter: 0, metal: 0 };
      },
    });
  }

  if (h.hairStyle !== 'none') {
    const hairDist = (x: number, y: number, z: number): number => {
      const outer = ellipsoid(x, y - 0.135, z + 0.055, 0.4 * h.wide, 0.425, 0.45);
      if (outer > 0.25 && h.hairStyle !== 'bun') {
        return outer - 0.03;
      }
      const strand = 0.01 * noise(x * 60, y * 9, z * 22) + 0.012 * fbm(x * 8, y * 8, z * 8, 2);
      let d = outer - strand;
      // The face stays free: a soft cut in front, and below the ears.
      d = smax(d, -ellipsoid(x, y + 0.12, z - 0.4, 0.31 * h.wide, 0.47, 0.4), 0.05);
      d = smax(d, -(y + (h.hairStyle === 'bun' ? 0.3 : 0.16) + 0.25 * Math.max(0, z)), 0.05);
      if (h.hairStyle === 'bun') d = smin(d, sphere(x, y - 0.3, z + 0.5, 0.2) - strand, 0.04);
      return d;
    };
    things.push({
      centre: h.at,
      radius: 0.85 * h.scale,
      cls: 'hair',
      tag: h.tag,
      dist: (x, y, z) => hairDist(...f.toLocal(x, y, z)) * h.scale * 0.75,
      surface: (wx, wy, wz) => {
        const [x, y, z] = f.toLocal(wx, wy, wz);
        const s = 0.72 + 0.4 * noise(x * 110, y * 12, z * 40) + 0.18 * noise(x * 30, y * 5, z * 12);
        return { albedo: h.hair.map((v) => v * s) as V3, spec: 0.035, gloss: 28, scatter: 0, metal: 0 };
      },
    });
  }
  return things;
}

/** A soft baker's cap: band and puffed top. */
export function cap(h: HeadSpec, colour: V3, band: V3, tag: string): Thing {
  const f = frame(h.at, h.yaw, h.pitch, h.roll, h.scale);
  const dist = (x: number, y: number, z: number): number => {
    const yy = y - 0.3 - 0.16 * (z + 0.05);
    const fold = 0.012 * Math.sin(Math.atan2(x, z) * 17 + 2 * noise(x * 4, y * 4, z * 4)) * step01(0.02, 0.12, yy);
    const bandD = cylinder(x / (0.93 * h.wide), yy, (z + 0.05) * 0.93, 0.405, 0.075, 0.02);
    const top = ellipsoid(x, yy - 0.12, z + 0.06, 0.435 * h.wide, 0.15, 0.47) - fold;
    return smin(bandD, smax(top, -(yy - 0.03), 0.03), 0.02);
  };
  return {
    centre: [h.at[0], h.at[1] + 0.35 * h.scale, h.at[2]],
    radius: 0.72 * h.scale,
    cls: 'garment',
    tag,
    dist: (x, y, z) => dist(...f.toLocal(x, y, z)) * h.scale * 0.8,
    surface: (wx, wy, wz) => {
      const [x, y, z] = f.toLocal(wx, wy, wz);
      const yy = y - 0.3 - 0.16 * (z + 0.05);
      const c = yy < 0.062 ? band : colour;
      const weave = 1 + 0.04 * noise(x * 140, y * 140, z * 140) + 0.05 * fbm(x * 6, y * 6, z * 6, 3);
      return { albedo: c.map((v) => v * weave) as V3, spec: 0.012, gloss: 8, scatter: 0, metal: 0 };
    },
  };
}

/** A cycling helmet: smooth shell with vents. */
export function helmet(h: HeadSpec, colour: V3, tag: string): Thing {
  const f = frame(h.at, h.yaw, h.pitch, h.roll, h.scale);
  const dist = (x: number, y: number, z: number): number => {
    let d = ellipsoid(x, y - 0.2, z + 0.03, 0.44 * h.wide, 0.41, 0.54);
    d = smax(d, -(y - 0.19 - 0.1 * z), 0.03);
    for (const vx of [-0.2, 0, 0.2])
      d = smax(d, -ellipsoid(x - vx, y - 0.52 + Math.abs(vx) * 0.5, z - 0.16, 0.045, 0.14, 0.32), 0.03);
    return d;
  };
  return {
    centre: h.at,
    radius: 0.95 * h.scale,
    cls: 'garment',
    tag,
    dist: (x, y, z) => dist(...f.toLocal(x, y, z)) * h.scale * 0.85,
    surface: () => ({ albedo: colour, spec: 0.06, gloss: 60, scatter: 0, metal: 0 }),
  };
}

export interface TorsoSpec {
  tag: string;
  /** Base of the neck. */
  at: V3;
  yaw: number;
  scale: number;
  cloth: V3;
  apron: V3 | null;
  /** A rain jacket: glossy, with a zip, seams and a reflecting band. */
  rain: boolean;
  arms: { side: -1 | 1; elbow: V3; hand: V3 }[];
  skin: V3;
}

/** Shoulders, chest, arms and hands. */
export function torso(t: TorsoSpec): Thing[] {
  const f = frame(t.at, t.yaw, 0, 0, t.scale);
  const creases = (x: number, y: number, z: number): number =>
    (t.rain ? 0.05 : 0.04) * fbm(x * 1.9 + 0.9 * y, y * 2.6 - x, z * 2 + 5, 2);
  const shoulders = t.arms.map((a): V3 => [a.side * 0.62, -0.22, -0.12]);
  const wrists = t.arms.map((a) => [0, 1, 2].map((i) => mix(a.elbow[i]!, a.hand[i]!, 0.86)) as V3);
  const body = (x: number, y: number, z: number): number => {
    const ax = Math.abs(x);
    let d = ellipsoid(ax, y + 1.0, z + 0.1, 0.72, 1.05, 0.44);
    d = smin(d, capsule(ax, y, z, [0.05, -0.12, -0.1], [0.58, -0.26, -0.12], 0.16, 0.21), 0.18);
    // collar
    d = smin(d, torus(x, z + 0.1, y + 0.02 - 0.28 * (z + 0.1), 0.25, t.rain ? 0.075 : 0.05), 0.03);
    for (let i = 0; i < t.arms.length; i++) {
      const a = t.arms[i]!;
      d = smin(d, capsule(x, y, z, shoulders[i]!, a.elbow, 0.2, 0.165), 0.1);
      d = smin(d, capsule(x, y, z, a.elbow, wrists[i]!, 0.16, 0.125), 0.06);
    }
    // the neck hole
    d = smax(d, -capsule(x, y, z, [0, 0.35, -0.1], [0, -0.1, -0.1], 0.2, 0.2), 0.03);
    if (d > 0.3) {
      return d - 0.02;
    }
    return d - creases(x, y, z);
  };
  const things: Thing[] = [
    {
      centre: [t.at[0], t.at[1] - 0.9 * t.scale, t.at[2]],
      radius: 2.1 * t.scale,
      cls: 'garment',
      tag: t.tag,
      dist: (x, y, z) => body(...f.toLocal(x, y, z)) * t.scale * 0.78,
      surface: (wx, wy, wz) => {
        const [x, y, z] = f.toLocal(wx, wy, wz);
        let c: V3 = t.cloth;
        let spec = t.rain ? 0.05 : 0.01;
        let gloss = t.rain ? 30 : 7;
        const onApron = t.apron && z > 0 && Math.abs(x) < 0.4 + 0.15 * step01(-0.5, -1.1, y) && y < -0.42;
        const strap = t.apron && z > -0.1 && y >= -0.46 && Math.abs(Math.abs(x) - 0.27 - 0.1 * (y + 0.42)) < 0.05;
        if (t.apron && (onApron || strap)) {
          c = t.apron;
          const seam =
            onApron &&
            (Math.abs(y + 0.44) < 0.008 || Math.abs(Math.abs(x) - 0.385 - 0.15 * step01(-0.5, -1.1, y)) < 0.006);
          if (seam) c = c.map((v) => v * 0.72) as V3;
          // flour and stains
          const dust = step01(0.1, 0.55, fbm(x * 5, y * 5, 2, 4));
          c = c.map((v) => mix(v, 0.72, 0.35 * dust)) as V3;
        }
        if (t.rain && z > 0) {
          if (Math.abs(x) < 0.016) [c, spec, gloss] = [[0.05, 0.05, 0.05], 0.2, 40];
          else if (Math.abs(Math.abs(x) - 0.075) < 0.006) c = c.map((v) => v * 0.55) as V3;
          else if (Math.abs(y + 0.72) < 0.055) [c, spec, gloss] = [[0.55, 0.56, 0.57], 0.1, 18];
        }
        const weave =
          1 + (t.rain ? 0.02 : 0.05) * noise(x * 120, y * 120, z * 120) + 0.06 * fbm(x * 4, y * 4, z * 4, 3);
        return {
          albedo: c.map((v) => v * weave) as V3,
          spec,
          gloss,
          scatter: 0,
          metal: 0,
          // Creases run slantwise from the arms; cloth falls straighter than rain proof stuff.
          bump: (a, b, d) => {
            const [p, q, r] = f.toLocal(a, b, d);
            const side = Math.max(-1, Math.min(1, p * 4));
            return (
              t.scale *
              (t.rain ? 0.02 : 0.015) *
              fbm(p * 2.2 + side * q * 1.6, q * 3.4 - side * p * 1.2, r * 2 + 5, 3) *
              (0.4 + step01(0.15, 0.6, Math.abs(p)))
            );
          },
        };
      },
    },
  ];
  const handCls: Class = 'skin';
  for (const a of t.arms) {
    const dir = [a.hand[0] - a.elbow[0], a.hand[1] - a.elbow[1], a.hand[2] - a.elbow[2]];
    const len = Math.hypot(...dir);
    const u = dir.map((v) => v / len) as V3;
    const palm = (x: number, y: number, z: number): number => {
      const p: V3 = [x - a.hand[0], y - a.hand[1], z - a.hand[2]];
      let d = capsule(
        p[0],
        p[1],
        p[2],
        [-0.2 * u[0], -0.2 * u[1], -0.2 * u[2]],
        [0.02 * u[0], 0.02 * u[1], 0.02 * u[2]],
        0.085,
        0.1,
      );
      for (let i = 0; i < 4; i++) {
        const o = (i - 1.5) * 0.052;
        d = smin(
          d,
          capsule(
            p[0] - o,
            p[1],
            p[2],
            [0.06 * u[0], 0.06 * u[1], 0.06 * u[2] + 0.03],
            [0.16 * u[0], 0.16 * u[1] - 0.05, 0.16 * u[2] + 0.02],
            0.036,
            0.028,
          ),
          0.02,
        );
      }
      d = smin(
        d,
        capsule(p[0] + a.side * 0.1, p[1], p[2], [0, -0.02, 0.02], [0.05 * a.side, -0.05, 0.1], 0.036, 0.03),
        0.03,
      );
      return d;
    };
    const at: V3 = [t.at[0], t.at[1], t.at[2]];
    const cy = Math.cos((t.yaw * Math.PI) / 180);
    const sy = Math.sin((t.yaw * Math.PI) / 180);
    const lx = a.hand[0] * t.scale;
    const lz = a.hand[2] * t.scale;
    const centre: V3 = [at[0] + lx * cy + lz * sy, at[1] + a.hand[1] * t.scale, at[2] - lx * sy + lz * cy];
    things.push({
      centre,
      radius: 0.42 * t.scale,
      cls: handCls,
      tag: `${t.tag} hand`,
      dist: (x, y, z) => palm(...f.toLocal(x, y, z)) * t.scale * 0.9,
      surface: (wx, wy, wz) => {
        const [x, y, z] = f.toLocal(wx, wy, wz);
        const v = 1 + 0.08 * fbm(x * 22, y * 22, z * 22, 3);
        return {
          albedo: [t.skin[0] * v, t.skin[1] * v * 0.95, t.skin[2] * v * 0.94],
          spec: 0.025,
          gloss: 22,
          scatter: 1,
          metal: 0,
          bump: (p, q, r) => 0.001 * noise(p * 60, q * 60, r * 60),
        };
      },
    });
  }
  return things;
}
