/**
 * Two strokes and nothing else, or in a loose ellipse, or one in a freeform, on rendered scenes with their renderer's
 * own truth (tests/data/scenes): before version 4 of the operation they ran into walls of the face's own colour, and
 * stopped at the folds of a jacket; before version 6 they filled the ellipse with the wall; before version 7 what an
 * arm's fold parted from the freeform's jacket was missing, and hair came with a face.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { beforeAll, describe, expect, it } from 'vitest';
import { newUse } from '../src/core/graph/plan.defaults';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { soloSession } from '../src/engine/node';
import type { Session } from '../src/engine/session';
import { decodeStill } from '../src/media/decode';
import { nodeCodecs } from '../src/media/node';
import type { DecodedPicture } from '../src/media/picture';
import { wasmBytes } from '../testkit/bench';

const of = (name: string): Buffer => readFileSync(join(import.meta.dirname, 'data/scenes', name));
type Points = [number, number][];
interface Case {
  scene: string;
  object: string;
  keep: Points[];
}
type Ellipse = Readonly<Record<'cxPx' | 'cyPx' | 'rxPx' | 'ryPx', number>>;
interface Shaped {
  within?: Ellipse;
  outline?: Points;
  apart?: boolean;
}
const scenes: (Case & { before: number; now: number })[] = [
  {
    scene: 'plaster-wall',
    object: 'skin-face',
    keep: [
      [
        [299, 143],
        [325, 94],
      ],
      [
        [324, 166],
        [353, 138],
      ],
    ],
    before: 0.75,
    now: 0.95,
  },
  {
    scene: 'cellar',
    object: 'skin-face',
    keep: [
      [
        [379, 176],
        [409, 182],
      ],
      [
        [362, 170],
        [413, 212],
      ],
    ],
    before: 0.6,
    now: 0.9,
  },
  {
    scene: 'hard-sun',
    object: 'rain-jacket',
    keep: [
      [
        [355, 367],
        [381, 442],
      ],
      [
        [279, 407],
        [336, 365],
      ],
    ],
    before: 0.6,
    now: 0.88,
  },
  {
    scene: 'wood-panels',
    object: 'rain-jacket',
    keep: [
      [
        [419, 340],
        [518, 311],
      ],
      [
        [382, 315],
        [331, 355],
      ],
    ],
    before: 0.75,
    now: 0.92,
  },
];
let s: Session;
const pictures = new Map<string, DecodedPicture>();
beforeAll(async () => {
  nodeCodecs();
  s = await soloSession({ wasm: wasmBytes() });
  for (const { scene } of scenes) {
    const p = await decodeStill(new Uint8Array(of(`${scene}.jpg`)));
    pictures.set(scene, p);
    s.open(scene, p);
  }
});
const partOf = (name: string): Float32Array => {
  const png = decode(of(name));
  return Float32Array.from({ length: png.width * png.height }, (_, i) => png.data[i * png.channels]! / 255);
};
/** Intersection over union with the truth; its soft edge, eyes and lips are nobody's. */
async function found(
  { scene, object, keep, within, outline, apart = false }: Case & Shaped,
  fits: 'thing' | 'whole' | 'found' | 'filled' | 'asked',
): Promise<number> {
  const p = pictures.get(scene)!;
  const head = { join: 'and' as const, not: false };
  const c: CorrectionSpec = {
    id: 'c',
    name: 'c',
    on: true,
    mixPct: 100,
    terms: [
      {
        ...head,
        id: 's',
        name: 's',
        use: newUse('s', 'spread', { brushPx: 4, fits, apart }),
        strokes: keep.map((points) => ({ keep: true, frame: 0, points })),
      },
      ...(within ? [{ ...head, id: 'e', name: 'e', use: newUse('e', 'ellipse', { ...within }) }] : []),
      ...(outline ? [{ ...head, id: 'f', name: 'f', use: newUse('f', 'freeform', { points: outline.flat() }) }] : []),
    ],
    tidy: [],
    adjustments: [],
  };
  const m = (await s.matteCodes({ media: scene, encoding: p.encoding, frame: 0, corrections: [c] }, 'c', 16)).data;
  const truth = partOf(`${scene}.truth-${object}.png`);
  const either = object.startsWith('skin') ? ['eyes', 'lips'].map((part) => partOf(`${scene}.truth-${part}.png`)) : [];
  let [both, any] = [0, 0];
  for (let i = 0; i < m.length; i++) {
    const t = truth[i]!;
    if ((t > 0.02 && t < 0.98) || either.some((e) => e[i]! > 0.02)) continue;
    const [a, b] = [m[i]! >= 32768, t > 0.5];
    both += a && b ? 1 : 0;
    any += a || b ? 1 : 0;
  }
  return both / any;
}

describe('two strokes alone hold the whole thing', () => {
  it.each(scenes)('$scene, $object', async (scene) => {
    const [before, now] = [await found(scene, 'asked'), await found(scene, 'thing')];
    expect(before).toBeGreaterThan(0.03);
    expect(before).toBeLessThan(scene.before);
    expect(now).toBeGreaterThan(scene.now);
  });
});

describe('a loose shape is not filled with what lies beyond an edge and has another colour', () => {
  it('a face before plaster, in an ellipse 1.7 times its box', async () => {
    // Of four pairs by chance one that ran into the wall.
    const keep: Points[] = [
      [
        [304, 127],
        [361, 103],
      ],
      [
        [330, 180],
        [337, 211],
      ],
    ];
    const within = { cxPx: 328.5, cyPx: 169, rxPx: 155.75, ryPx: 183.8 };
    const c = { scene: 'plaster-wall', object: 'skin-face', keep, within };
    const [before, now] = [await found(c, 'filled'), await found(c, 'thing')];
    expect(before).toBeGreaterThan(0.1);
    expect(before).toBeLessThan(0.5);
    // Half of the face in shade is still missing: strokes say so.
    expect(now).toBeGreaterThan(0.65);
  });
});

describe('in a freeform one stroke holds what a fold parts from it', () => {
  it('a jacket in hard sun', async () => {
    // Of six strokes by chance one that stopped there; the outline has a hurried hand's twelve points.
    const keep: Points[] = [
      [
        [450, 318],
        [404, 291],
        [358, 264],
      ],
    ];
    const outline: Points = [
      [400, 214],
      [426, 230],
      [481, 215],
      [593, 233],
      [631, 268],
      [626, 339],
      [631, 468],
      [627, 479],
      [249, 476],
      [227, 456],
      [272, 290],
      [310, 229],
    ];
    const c = { scene: 'hard-sun', object: 'rain-jacket', keep, outline, apart: true };
    const [before, now] = [await found(c, 'found'), await found(c, 'thing')];
    expect(before).toBeGreaterThan(0.85);
    expect(before).toBeLessThan(0.94);
    expect(now).toBeGreaterThan(0.955);
  });
});

describe('in a freeform about a head the hair is left', () => {
  it('in a cellar, where it goes over into the skin', async () => {
    const keep: Points[] = [
      [
        [371, 152],
        [323, 139],
      ],
    ];
    const outline: Points = [
      [306, 82],
      [408, 80],
      [438, 116],
      [478, 133],
      [474, 183],
      [450, 240],
      [426, 266],
      [381, 282],
      [334, 282],
      [288, 247],
      [265, 182],
      [274, 123],
    ];
    const c = { scene: 'cellar', object: 'skin-face', keep, outline };
    const [before, now] = [await found(c, 'found'), await found(c, 'thing')];
    expect(before).toBeGreaterThan(0.75);
    expect(before).toBeLessThan(0.87);
    expect(now).toBeGreaterThan(0.94);
  });
});

describe('what lies beside skin behind an edge is left', () => {
  const keep: Points[] = [
    [
      [374, 132],
      [405, 131],
    ],
    [
      [402, 190],
      [453, 194],
    ],
  ];
  const outline: Points = [
    [374, 80],
    [459, 72],
    [501, 115],
    [531, 112],
    [539, 139],
    [535, 192],
    [531, 224],
    [479, 291],
    [416, 285],
    [360, 241],
    [347, 183],
    [348, 115],
  ];
  it.each([
    ['in a freeform', { outline }, 0.9, 0.96],
    ['with strokes alone', {}, 0.935, 0.945],
  ])('hair under a cap, %s', async (_, shaped, less, more) => {
    const c = { scene: 'hard-sun', object: 'skin-face', keep, ...shaped };
    const [before, now] = [await found(c, 'whole'), await found(c, 'thing')];
    expect(before).toBeGreaterThan(0.8);
    expect(before).toBeLessThan(less);
    expect(now).toBeGreaterThan(more);
  });
});
