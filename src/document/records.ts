/**
 * Records of a project: flat, with typed ids. `document` records are saved and undone; what a person merely looks at
 * (chosen shot, zoom, open step) is session state and lives in the application.
 */
import type { CorrectionSpec, Fit, OpUse, Term } from '../core/graph/plan';
import type { Track } from '../core/graph/track';
import type { EncodingRef, CustomEncoding } from '../core/color/encodings';
import type { Box } from '../core/skin/reading';
import type { Corner } from '../core/math/polygon';
import type { YuvMeaning } from '../core/color/yuv';

export type Id<K extends string> = `${K}:${string}`;
export type MediaId = Id<'media'>;
export type ShotId = Id<'shot'>;
export type CorrectionId = Id<'corr'>;
export type PatchId = Id<'patch'>;
export type EncodingRecordId = Id<'encoding'>;
export type TableId = Id<'table'>;
export type ProjectId = Id<'project'>;
export type SceneId = Id<'scene'>;
/** What a correction belongs to. */
export type OwnerId = ShotId | SceneId;
/** Frames a second, as a fraction: 24000/1001 is not 23.976. */
export type Rate = readonly [num: number, den: number];

export interface ProjectRecord {
  type: 'project';
  id: ProjectId;
  name: string;
  skinLineDeg: number;
}
export type MediaFormat = 'png' | 'jpeg' | 'tiff' | 'exr' | 'webp' | 'avif' | 'mp4' | 'webm';
/** Where a shot's frames come from. A still is a source of one frame; a sequence has a file for each. */
export interface MediaRecord {
  type: 'media';
  id: MediaId;
  kind: 'still' | 'clip' | 'sequence';
  fileName: string;
  format: MediaFormat;
  /** 32 stands for floating point, half or full. */
  bits: 8 | 10 | 12 | 16 | 32;
  width: number;
  height: number;
  frames: number;
  /** Width of a pixel over its height, as a fraction. */
  pixelAspect: readonly [num: number, den: number];
  /** SHA-256 of the file, hex: how a picture is known again when it is relinked. Of a sequence, of its files' sums. */
  sha256: string;
  /** Of a large clip: the checksum is that of its size and of parts of it (`media/fingerprint.ts`). */
  ofParts?: true;
  /** Of a sequence: its files, one a frame. */
  files?: { name: string; sha256: string }[];
  /** Of a clip: how its Y', Cb, Cr are read, and whether that is only a guess. */
  yuv?: YuvMeaning & { guessed: boolean };
  /** A picture that ships with the application, or one kept in the browser's storage. */
  source: { from: 'demo'; path: string } | { from: 'file' };
  /** How it is to be read; left out: over black, other profiles refused. */
  decode?: { alpha: 'keep' | 'flatten'; profile: 'refuse' | 'assume' };
}
export interface ShotRecord {
  type: 'shot';
  id: ShotId;
  name: string;
  media: MediaId;
  encoding: EncodingRef;
  /** True while nobody has confirmed what was guessed from the file. */
  encodingGuessed: boolean;
  /** Operation `convert`; off: the picture stays as it is, bit for bit. */
  conversion: OpUse;
  /** First and last frame used, within the media. */
  range: [number, number];
  rate: Rate;
  /** Timecode of the media's first frame, as a count of frames, and whether it is told with dropped numbers. */
  timecode: { start: number; drop: boolean };
  /** The scene that it belongs to. */
  scene?: SceneId;
  /** By rising frames of the media. */
  markers?: { frame: number; note: string }[];
  order: number;
}
/** Shots that belong together: its corrections act on all of them, after their own. */
export interface SceneRecord {
  type: 'scene';
  id: SceneId;
  name: string;
  /** The frame that places and lengths of its corrections are in. */
  width: number;
  height: number;
  order: number;
}
/** What was drawn on the picture: corners or a path in picture pixels, at a frame of the media. */
export interface Stroke {
  frame: number;
  points: [number, number][];
}
export interface CorrectionRecord extends Omit<CorrectionSpec, 'id' | 'fit'> {
  type: 'correction';
  id: CorrectionId;
  owner: OwnerId;
  order: number;
}
/** A log curve of the user's, to choose for any shot. */
export interface EncodingRecord extends CustomEncoding {
  type: 'encoding';
  id: EncodingRecordId;
}
/** A lookup table: its numbers as base64 of little-endian float32, red fastest. */
export interface TableRecord {
  type: 'table';
  id: TableId;
  name: string;
  kind: '1d' | '3d';
  size: number;
  domainMin: readonly [number, number, number];
  domainMax: readonly [number, number, number];
  data: string;
}
/** What a patch should read. */
export type PatchKind = 'skin' | 'black' | 'grey' | 'white' | 'other';
export interface PatchRecord {
  type: 'patch';
  id: PatchId;
  shot: ShotId;
  name: string;
  kind: PatchKind;
  box: Box;
  /** Freeform: corners in picture pixels; `box` is their bounds. */
  points?: [number, number][];
  /** How what lies under it moves, from the frame it was drawn at. */
  track?: Track;
  order: number;
}
/** A test chart or grey strip in a shot's picture; one a shot. */
export interface ChartRecord {
  type: 'chart';
  id: Id<'chart'>;
  shot: ShotId;
  kind: 'chart24' | 'strip';
  /** Left top, right top, right bottom, left bottom, in picture pixels. */
  corners: [Corner, Corner, Corner, Corner];
  steps: number;
  greyStep: number | null;
}
/** A shot's own corrections, kept by name as they were. */
export interface VersionRecord {
  type: 'version';
  id: Id<'version'>;
  shot: ShotId;
  name: string;
  /** When, as ISO 8601. */
  at: string;
  /** Version of the format that what follows was written in: it is migrated when somebody goes back. */
  form: number;
  encoding: EncodingRef;
  conversion: OpUse;
  corrections: unknown[];
  order: number;
}
export type AnyRecord =
  | ProjectRecord
  | MediaRecord
  | ShotRecord
  | SceneRecord
  | CorrectionRecord
  | PatchRecord
  | EncodingRecord
  | TableRecord
  | ChartRecord
  | VersionRecord;
export type Records = Readonly<Record<string, AnyRecord>>;
export type { OpUse, Term };

let counter = 0;
/** A new id; unique among the records of one machine. */
export function newId<K extends string>(kind: K): Id<K> {
  counter++;
  return `${kind}:${Date.now().toString(36)}${counter.toString(36)}${Math.floor(Math.random() * 46656).toString(36)}`;
}

type Of<T extends AnyRecord['type']> = Extract<AnyRecord, { type: T }>;
const byOrder = <T extends { order: number; id: string }>(a: T, b: T): number =>
  a.order - b.order || (a.id < b.id ? -1 : 1);
const sideRank = (c: CorrectionRecord): number => (c.side === 'camera' ? 0 : 1);

/**
 * What belongs to whom, made once for each state of the document: from the state before where it is known what
 * changed, so that an edit among thousands of records looks at a few.
 */
interface Index {
  shots: readonly ShotRecord[];
  scenes: readonly SceneRecord[];
  corrections: Map<string, readonly CorrectionRecord[]>;
  patches: Map<string, readonly PatchRecord[]>;
  charts: Map<string, ChartRecord>;
  project: ProjectRecord | undefined;
  /** What acts on shots that belong to a scene. */
  acting: Map<string, readonly CorrectionRecord[]>;
}
const indices = new WeakMap<Records, Index>();
const origins = new WeakMap<Records, { from: Records; ids: readonly string[] }>();
/** Says that one state came of another by a change of these records. */
export function derived(from: Records, to: Records, ids: readonly string[]): void {
  if (from !== to && indices.has(from)) origins.set(to, { from, ids });
}

const inActingOrder = (a: CorrectionRecord, b: CorrectionRecord): number => sideRank(a) - sideRank(b) || byOrder(a, b);
/** A list in order without one record and with another. */
function swap<T extends { order: number; id: string }>(
  list: readonly T[] | undefined,
  out: T | undefined,
  add: T | undefined,
  compare: (a: T, b: T) => number = byOrder,
): readonly T[] {
  const next = (list ?? []).filter((x) => x !== out);
  if (add) next.push(add);
  return next.sort(compare);
}
function change(x: Index, out: AnyRecord | undefined, add: AnyRecord | undefined): void {
  const is = <T extends AnyRecord['type']>(r: AnyRecord | undefined, type: T): Of<T> | undefined =>
    r?.type === type ? (r as Of<T>) : undefined;
  for (const [r, adding] of [
    [out, false],
    [add, true],
  ] as const) {
    if (!r) continue;
    const [o, a] = adding ? [undefined, r] : [r, undefined];
    if (r.type === 'correction')
      x.corrections.set(
        r.owner,
        swap(x.corrections.get(r.owner), is(o, 'correction'), is(a, 'correction'), inActingOrder),
      );
    else if (r.type === 'patch') x.patches.set(r.shot, swap(x.patches.get(r.shot), is(o, 'patch'), is(a, 'patch')));
    else if (r.type === 'shot') x.shots = swap(x.shots, is(o, 'shot'), is(a, 'shot'));
    else if (r.type === 'scene') x.scenes = swap(x.scenes, is(o, 'scene'), is(a, 'scene'));
  }
}
function indexOf(r: Records): Index {
  let x = indices.get(r);
  if (x) return x;
  const origin = origins.get(r);
  const before = origin && indices.get(origin.from);
  if (before && origin.ids.length < 50 && !origin.ids.some((id) => /^(chart|project):/.test(id))) {
    x = {
      ...before,
      corrections: new Map(before.corrections),
      patches: new Map(before.patches),
      acting: new Map(),
    };
    for (const id of new Set(origin.ids)) if (origin.from[id] !== r[id]) change(x, origin.from[id], r[id]);
  } else x = indexAll(r);
  indices.set(r, x);
  origins.delete(r);
  return x;
}
function indexAll(r: Records): Index {
  const lists = {
    shots: [] as ShotRecord[],
    scenes: [] as SceneRecord[],
    corrections: new Map<string, CorrectionRecord[]>(),
    patches: new Map<string, PatchRecord[]>(),
  };
  const charts = new Map<string, ChartRecord>();
  let project: ProjectRecord | undefined;
  const add = <T>(m: Map<string, T[]>, owner: string, v: T): void => {
    const l = m.get(owner);
    if (l) l.push(v);
    else m.set(owner, [v]);
  };
  for (const id in r) {
    const v = r[id]!;
    if (v.type === 'correction') add(lists.corrections, v.owner, v);
    else if (v.type === 'patch') add(lists.patches, v.shot, v);
    else if (v.type === 'shot') lists.shots.push(v);
    else if (v.type === 'scene') lists.scenes.push(v);
    else if (v.type === 'chart') charts.set(v.shot, charts.get(v.shot) ?? v);
    else if (v.type === 'project') project ??= v;
  }
  for (const l of lists.corrections.values()) l.sort(inActingOrder);
  for (const l of [lists.shots, lists.scenes, ...lists.patches.values()]) (l as ShotRecord[]).sort(byOrder);
  return { ...lists, charts, project, acting: new Map() };
}

const NONE: readonly never[] = [];
export const shotsOf = (r: Records): readonly ShotRecord[] => indexOf(r).shots;
export const scenesOf = (r: Records): readonly SceneRecord[] => indexOf(r).scenes;
/** A shot's or a scene's own, camera side first. */
export const ownCorrectionsOf = (r: Records, owner: OwnerId): readonly CorrectionRecord[] =>
  indexOf(r).corrections.get(owner) ?? NONE;
/** What acts on a shot, in that order: on each side of the conversion its own, then its scene's. */
export function correctionsOf(r: Records, shot: ShotId): readonly CorrectionRecord[] {
  const own = ownCorrectionsOf(r, shot);
  const s = r[shot];
  if (s?.type !== 'shot' || !s.scene) return own;
  const { acting } = indexOf(r);
  const known = acting.get(shot);
  if (known) return known;
  const scene = ownCorrectionsOf(r, s.scene);
  const of = (l: readonly CorrectionRecord[], rank: number): CorrectionRecord[] =>
    l.filter((c) => sideRank(c) === rank);
  const list = [...of(own, 0), ...of(scene, 0), ...of(own, 1), ...of(scene, 1)];
  acting.set(shot, list);
  return list;
}
export const patchesOf = (r: Records, shot: ShotId): readonly PatchRecord[] => indexOf(r).patches.get(shot) ?? NONE;
export const chartOf = (r: Records, shot: ShotId): ChartRecord | undefined => indexOf(r).charts.get(shot);
export const projectOf = (r: Records): ProjectRecord | undefined => indexOf(r).project;
export const recordOf = <T extends AnyRecord['type']>(
  r: Records,
  id: string | undefined,
  type: T,
): Of<T> | undefined => {
  const x = id === undefined ? undefined : r[id];
  return x?.type === type ? (x as Of<T>) : undefined;
};
export const mediaOf = (r: Records, shot: ShotRecord): MediaRecord | undefined => recordOf(r, shot.media, 'media');
export const sceneOf = (r: Records, shot: ShotRecord): SceneRecord | undefined => recordOf(r, shot.scene, 'scene');

/**
 * How places and lengths in a scene's frame come into a picture: about the middle of the frame, as large as the frame
 * fits in.
 */
export function fitOf(scene: Pick<SceneRecord, 'width' | 'height'>, m: Pick<MediaRecord, 'width' | 'height'>): Fit {
  const s = Math.min(m.width / scene.width, m.height / scene.height);
  return { s, dx: (m.width - s * scene.width) / 2, dy: (m.height - s * scene.height) / 2 };
}
export const SAME: Fit = { s: 1, dx: 0, dy: 0 };
/** Of a correction, in a shot's picture. */
export function fitFor(r: Records, c: Pick<CorrectionRecord, 'owner'>, shot: ShotRecord): Fit {
  const scene = recordOf(r, c.owner, 'scene');
  const media = mediaOf(r, shot);
  return scene && media ? fitOf(scene, media) : SAME;
}

/** A correction as the engine needs it. */
export const toSpec = (
  { id, name, on, mixPct, terms, tidy, adjustments, side, start }: CorrectionRecord,
  fit: Fit = SAME,
): CorrectionSpec => ({
  id,
  name,
  on,
  mixPct,
  terms,
  tidy,
  adjustments,
  side: side ?? 'display',
  ...(start === 'beside' ? { start } : {}),
  ...(fit.s === 1 && fit.dx === 0 && fit.dy === 0 ? {} : { fit }),
});
/** Whether a correction stands beside the one before it: of the same owner, on the same side. */
export const isBeside = (c: CorrectionRecord, before: CorrectionRecord | undefined): boolean =>
  c.start === 'beside' && before !== undefined && before.owner === c.owner && sideRank(before) === sideRank(c);
/** All that acts on a shot, as the engine needs it. */
export const specsOf = (r: Records, shot: ShotRecord): CorrectionSpec[] =>
  correctionsOf(r, shot.id).map((c, i, list) => {
    const spec = toSpec(c, fitFor(r, c, shot));
    return spec.start && !isBeside(c, list[i - 1]) ? { ...spec, start: 'after' } : spec;
  });
