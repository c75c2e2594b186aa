/** Scope requests answered from planes: requests that look at the same pixels are counted in one pass. */
import { GROUPS, groupOf, histogramOf, resizeCounts, SCOPE_KINDS, VECTOR_RANGE, ZOOMED } from '../core/scopes/reduce';
import type { Group } from '../core/scopes/reduce';
import { colourContrast } from '../core/scopes/contrast';
import type { ColourContrast } from '../core/scopes/contrast';
import { polygonMask } from '../core/math/polygon';
import { clipBox } from '../core/skin/reading';
import type { Box } from '../core/skin/reading';
import type { Clipped, ScopeReply, ScopeRequest } from '../protocol/messages';
import type { Evaluator } from './evaluator';
import type { Matte, Planes, ScopeQuery } from './pictures';

export interface ScopeSource {
  after: Planes;
  before: Planes;
  /** Of the chosen correction; null when it acts on the whole picture or none is chosen. */
  matte: Matte | null;
  /** Size of the planes over that of the picture. */
  scale: number;
  stride: number;
  skinLineDeg: number;
}
type Query = ScopeQuery & { planes: Planes };

/** Null: nothing to look at (the outside of the whole picture, a patch beside it). */
async function queryOf(
  ev: Evaluator,
  s: ScopeSource,
  r: Pick<ScopeRequest, 'over' | 'when' | 'zoom'>,
): Promise<Query | null> {
  const planes = r.when === 'before' ? s.before : s.after;
  const base = {
    planes,
    matte: null,
    mode: 1 as const,
    box: null,
    bits: 0,
    range: VECTOR_RANGE / r.zoom,
    stride: s.stride,
    skinLineDeg: s.skinLineDeg,
  };
  if (r.over === 'whole') return base;
  if (r.over === 'region') return { ...base, matte: s.matte };
  if (r.over === 'outside') return s.matte ? { ...base, matte: s.matte, mode: 2 } : null;
  const { box, points } = r.over;
  const scaled: Box = { x: box.x * s.scale, y: box.y * s.scale, w: box.w * s.scale, h: box.h * s.scale };
  const b = clipBox(scaled, planes.w, planes.h);
  if (!b) return null;
  // A patch is small: every pixel of it counts.
  if (!points) return { ...base, box: b, stride: 1 };
  const corners = points.map(([x, y]) => [x * s.scale, y * s.scale] as const);
  const matte = await ev.plane(`polygon|${planes.w}x${planes.h}|${corners.join(';')}`, planes.w, planes.h, (p) => {
    p.fill(0);
    const mask = polygonMask(
      corners.map(([x, y]) => [x - b.x, y - b.y]),
      b.w,
      b.h,
    );
    for (let y = 0; y < b.h; y++) for (let x = 0; x < b.w; x++) p[(y + b.y) * planes.w + x + b.x] = mask[y * b.w + x]!;
  });
  return { ...base, matte, box: b, stride: 1 };
}
const bitsOf = (groups: readonly Group[]): number => groups.reduce((a, g) => a | GROUPS[g].bit, 0);

export async function readScopes(
  ev: Evaluator,
  s: ScopeSource,
  requests: readonly ScopeRequest[],
): Promise<{ replies: ScopeReply[]; clipped: Clipped | null; contrast: ColourContrast | null }> {
  // The figures of the whole picture come with the scopes; colour contrast with every pixel only.
  const whole = (await queryOf(ev, s, { over: 'whole', when: 'after', zoom: 1 }))!;
  whole.bits = GROUPS.clip.bit | GROUPS.vector.bit;
  const passes: Query[] = [whole];
  const same = (a: Query, b: Query): boolean =>
    a.planes.key === b.planes.key &&
    a.matte?.key === b.matte?.key &&
    a.mode === b.mode &&
    a.stride === b.stride &&
    JSON.stringify(a.box) === JSON.stringify(b.box);
  const of: (Query | null)[] = [];
  for (const r of requests) {
    const q = await queryOf(ev, s, r);
    if (!q) {
      of.push(null);
      continue;
    }
    const bits = bitsOf(SCOPE_KINDS[r.kind]);
    // A zoom matters to the vectorscope alone.
    if (r.kind !== 'vector') q.range = VECTOR_RANGE;
    let pass = passes.find(
      (p) => same(p, q) && (p.range === q.range || !(p.bits & GROUPS.vector.bit && bits & GROUPS.vector.bit)),
    );
    if (!pass) passes.push((pass = q));
    pass.bits |= bits;
    if (r.kind === 'vector' && q.range !== VECTOR_RANGE) {
      pass.bits |= ZOOMED;
      pass.range = q.range;
    }
    of.push(pass);
  }
  let clipped: Clipped | null = null;
  let contrast: ColourContrast | null = null;
  const replies = requests.map((): ScopeReply => ({ planes: [] }));
  // Counts of a pass are read before the next one begins.
  for (const pass of passes) {
    const { planes, ...query } = pass;
    await ev.scopes(planes, query, (counts) => {
      if (pass === whole) {
        const [low, high, pixels] = groupOf(counts, 'clip');
        clipped = { low: low!, high: high!, pixels: pixels! };
        // Ten milliseconds that a drag does without.
        if (s.stride === 1) contrast = colourContrast(groupOf(counts, 'vector'), s.skinLineDeg);
      }
      requests.forEach((r, i) => {
        if (of[i] !== pass) return;
        const groups = SCOPE_KINDS[r.kind];
        const w = r.kind === 'parade' || r.kind === 'ycbcr' ? Math.floor(r.px[0] / groups.length) : r.px[0];
        replies[i] = {
          planes: groups.map((g) => {
            const own = groupOf(counts, g);
            if (r.kind === 'histogram') return { w: 600, h: 1, counts: histogramOf(own) as Uint32Array<ArrayBuffer> };
            const out = resizeCounts(g, own, w, r.px[1]);
            return { ...out, counts: out.counts as Uint32Array<ArrayBuffer> };
          }),
        };
      });
    });
  }
  return { replies, clipped, contrast };
}
