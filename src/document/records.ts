/**
 * Records of a project: flat, with typed ids. `document` records are saved and undone; what a person merely looks at
 * (chosen shot, zoom, open step) is session state and lives in the application.
 */
import type { CorrectionSpec, OpUse, Term } from '../core/graph/plan';
import type { EncodingRef, CustomEncoding } from '../core/color/encodings';
import type { Box } from '../core/skin/reading';
import type { Corner } from '../core/math/polygon';

export type Id<K extends string> = `${K}:${string}`;
export type MediaId = Id<'media'>;
export type ShotId = Id<'shot'>;
export type CorrectionId = Id<'corr'>;
export type PatchId = Id<'patch'>;
export type EncodingRecordId = Id<'encoding'>;
export type TableId = Id<'table'>;
export type ProjectId = Id<'project'>;

export interface ProjectRecord {
  type: 'project';
  id: ProjectId;
  name: string;
  skinLineDeg: number;
}
/** Where a shot's frames come from. A still is a source of one frame. */
export type MediaFormat = 'png' | 'jpeg' | 'tiff' | 'exr' | 'webp' | 'avif';
export interface MediaRecord {
  type: 'media';
  id: MediaId;
  kind: 'still';
  fileName: string;
  format: MediaFormat;
  /** 32 stands for floating point, half or full. */
  bits: 8 | 10 | 12 | 16 | 32;
  width: number;
  height: number;
  frames: number;
  /** SHA-256 of the file, hex: how a picture is known again when it is relinked. */
  sha256: string;
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
  fps: number;
  order: number;
}
export interface CorrectionRecord extends Omit<CorrectionSpec, 'id'> {
  type: 'correction';
  id: CorrectionId;
  shot: ShotId;
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
export type AnyRecord = ProjectRecord | MediaRecord | ShotRecord | CorrectionRecord | PatchRecord | EncodingRecord | TableRecord | ChartRecord;
export type Records = Readonly<Record<string, AnyRecord>>;
export type { OpUse, Term };

let counter = 0;
/** A new id; unique among the records of one machine. */
export function newId<K extends string>(kind: K): Id<K> {
  counter++;
  return `${kind}:${Date.now().toString(36)}${counter.toString(36)}${Math.floor(Math.random() * 46656).toString(36)}`;
}

const byOrder = <T extends { order: number; id: string }>(a: T, b: T): number => a.order - b.order || (a.id < b.id ? -1 : 1);

export const shotsOf = (r: Records): ShotRecord[] => Object.values(r).filter((x): x is ShotRecord => x.type === 'shot').sort(byOrder);
const sideRank = (c: CorrectionRecord): number => (c.side === 'camera' ? 0 : 1);
/** In the order in which they act: camera side first. */
export const correctionsOf = (r: Records, shot: ShotId): CorrectionRecord[] => Object.values(r).filter((x): x is CorrectionRecord => x.type === 'correction' && x.shot === shot).sort((a, b) => sideRank(a) - sideRank(b) || byOrder(a, b));
export const patchesOf = (r: Records, shot: ShotId): PatchRecord[] => Object.values(r).filter((x): x is PatchRecord => x.type === 'patch' && x.shot === shot).sort(byOrder);
export const chartOf = (r: Records, shot: ShotId): ChartRecord | undefined => Object.values(r).find((x): x is ChartRecord => x.type === 'chart' && x.shot === shot);
export const projectOf = (r: Records): ProjectRecord | undefined => Object.values(r).find((x): x is ProjectRecord => x.type === 'project');
export function mediaOf(r: Records, shot: ShotRecord): MediaRecord | undefined {
  const m = r[shot.media];
  return m?.type === 'media' ? m : undefined;
}

/** A correction as the engine needs it. */
export const toSpec = ({ id, name, on, mixPct, terms, tidy, adjustments, side }: CorrectionRecord): CorrectionSpec => ({ id, name, on, mixPct, terms, tidy, adjustments, side: side ?? 'display' });
