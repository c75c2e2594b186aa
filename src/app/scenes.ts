/** Scenes: shots that belong together, and corrections that act on all of them. */
import type { OpTerm, OpUse } from '../core/graph/plan';
import { opById } from '../core/graph/plan';
import type { Fit } from '../core/graph/plan';
import { isOp, linksOf, mapTerms } from '../core/graph/region';
import { defaultsOf, mapNumber } from '../core/op/params';
import { put, remove } from '../document/history';
import { fitOf, mediaOf, newId, ownCorrectionsOf, sceneOf, scenesOf, shotsOf } from '../document/records';
import type { CorrectionRecord, OwnerId, Records, SceneId, SceneRecord, ShotId } from '../document/records';
import { settle } from './actions';
import { correction, freeName, tooDeep } from './edit';
import { sayError } from './notices';
import { withoutLinks } from './region';
import { useDoc } from './store';

const doc = () => useDoc.getState();

/** A scene that nothing belongs to any more goes. */
function swept(r: Records): Records {
  const gone = scenesOf(r).filter(
    (s) => ownCorrectionsOf(r, s.id).length === 0 && !shotsOf(r).some((x) => x.scene === s.id),
  );
  return gone.length ? remove(...gone.map((s) => s.id))(r) : r;
}
/** Puts a shot into a scene, a new one, or none. */
export function setScene(shot: ShotId, to: SceneId | 'new' | null): void {
  const r = doc().records;
  const s = r[shot];
  const media = s?.type === 'shot' ? mediaOf(r, s) : undefined;
  if (s?.type !== 'shot') return;
  const { scene: _, ...alone } = s;
  if (to === null) {
    doc().change('Take a shot out of its scene', (x) => swept(put(alone)(x)));
    return;
  }
  if (to !== 'new') {
    doc().change('Put a shot into a scene', (x) => swept(put({ ...alone, scene: to })(x)));
    return;
  }
  const list = scenesOf(r);
  const scene: SceneRecord = {
    type: 'scene',
    id: newId('scene'),
    name: freeName(
      'Scene',
      list.map((x) => x.name),
    ),
    width: media?.width ?? 1920,
    height: media?.height ?? 1080,
    order: (list.at(-1)?.order ?? 0) + 1,
  };
  doc().change('Make a scene', (x) => swept(put(scene, { ...alone, scene: scene.id })(x)));
}
export function renameScene(id: SceneId, name: string): void {
  doc().change('Rename a scene', (r) => {
    const s = r[id];
    return s?.type === 'scene' ? put({ ...s, name })(r) : r;
  });
}

/** An operation whose places and lengths are told in another frame; defaults in pixels become values. */
export function refit(u: OpUse, fit: Fit): OpUse {
  if (fit.s === 1 && fit.dx === 0 && fit.dy === 0) return u;
  const specs = opById(u.op).params;
  const params = { ...u.params };
  for (const [name, s] of Object.entries(specs))
    if ((s.kind === 'num' || s.kind === 'list') && s.unit === 'px')
      params[name] = mapNumber(
        params[name] ?? (defaultsOf(specs)[name] as number | readonly number[]),
        // To a hundredth of a pixel: what a person reads in the box is what stands.
        (x, i) => {
          const axis = s.kind === 'num' ? s.axis : s.axes?.[i % s.axes.length];
          return Math.round((x * fit.s + (axis ? fit[`d${axis}`] : 0)) * 100) / 100;
        },
      );
  return { ...u, params };
}
/** A part with what was painted for it. */
export const refitTerm = (t: OpTerm, f: Fit): OpTerm =>
  ({
    ...t,
    use: refit(t.use, f),
    ...(t.strokes
      ? {
          strokes: t.strokes.map((s) => ({ ...s, points: s.points.map(([x, y]) => [x * f.s + f.dx, y * f.s + f.dy]) })),
        }
      : {}),
  }) as OpTerm;
export const inverse = (f: Fit): Fit => ({ s: 1 / f.s, dx: -f.dx / f.s, dy: -f.dy / f.s });

/** Gives a correction to the scene of a shot, or takes it back to the shot alone. */
export function setOwner(id: string, shot: ShotId, to: 'scene' | 'shot'): void {
  const r = doc().records;
  const c = correction(id);
  const s = r[shot];
  if (!c || s?.type !== 'shot') return;
  const scene = sceneOf(r, s);
  const media = mediaOf(r, s);
  if (!scene || !media) {
    sayError(`"${s.name}" belongs to no scene: put it into one under Shots first.`);
    return;
  }
  const owner: OwnerId = to === 'scene' ? scene.id : s.id;
  if (c.owner === owner) return;
  const fit = to === 'scene' ? inverse(fitOf(scene, media)) : fitOf(scene, media);
  // Links lead to corrections of the same owner: those from and to this one give way to copies.
  const mates = ownCorrectionsOf(r, c.owner).filter((x) => x.id !== id && linksOf(x).includes(id));
  const moved: CorrectionRecord = {
    ...c,
    owner,
    order: (ownCorrectionsOf(r, owner).at(-1)?.order ?? 0) + 1,
    terms: mapTerms(
      withoutLinks(c.terms, r, () => true),
      (t) => (isOp(t) ? refitTerm(t, fit) : t),
    ),
    tidy: c.tidy.map((u) => refit(u, fit)),
    adjustments: c.adjustments.map((u) => refit(u, fit)),
    start: 'after',
  };
  const kept = mates.map((m) => ({ ...m, terms: withoutLinks(m.terms, r, (l) => l === id) }));
  if ([moved, ...kept].some((x) => tooDeep(x, x.terms))) return;
  const label = to === 'scene' ? 'Act on the whole scene' : 'Act on this shot alone';
  doc().change(label, (x) => settle(put(moved, ...kept)(x), c.owner));
}
