/** Typed messages between the interface and the engine. Every request has one reply or one error. */
import type { DecodedPicture, DecodeOptions } from '../media/picture';
import type { CorrectionSpec, OpUse } from '../core/graph/plan';
import type { Cube } from '../core/formats/cube';
import type { Triple } from '../core/graph/evaluate';
import type { ChartPlace } from '../core/match/chart';
import type { KeyFit } from '../core/skin/fitKey';
import type { BringToLine, KeepChroma, PushKind } from '../core/skin/bringToLine';
import type { Box, Reading } from '../core/skin/reading';
import type { SurroundFigures } from '../core/skin/surround';
import type { EncodingRef } from '../core/color/encodings';
import type { ScopeKind } from '../core/scopes/reduce';
import type { ScopeSelect } from '../core/scopes/select';
import type { ColourContrast } from '../core/scopes/contrast';
import type { FalseColour } from '../core/view/falseColour';

export type ViewMode = 'picture' | 'cutout' | 'matte' | 'tint' | 'change';
export type CompareMode = 'off' | 'wipe' | 'side';

/** A shot as the engine needs it. */
export interface ShotState {
  pictureId: string;
  encoding: EncodingRef;
  /** Operation `convert`; left out or off: none. */
  conversion?: OpUse;
  frame: number;
  corrections: CorrectionSpec[];
}
export interface View {
  /** Pixels of the canvas. */
  w: number;
  h: number;
  /** Canvas pixels per picture pixel; picture position at the canvas' left top corner. */
  scale: number;
  offX: number;
  offY: number;
  mode: ViewMode;
  compare: CompareMode;
  /** Picture x of the wipe's edge. */
  wipeX: number;
  falseColour?: FalseColour;
  /** What is marked in a scope: the rest of the picture is shown dim. */
  select?: (ScopeSelect & { when: 'after' | 'before' }) | null;
  /** For the false colours of tonal zones: the operation that has them. */
  zonesOf?: { correction: string; use: string } | null;
}
/** What a scope looks at. */
export type ScopeOver = 'whole' | 'region' | 'outside' | PatchSpec;
export interface ScopeRequest {
  kind: ScopeKind;
  over: ScopeOver;
  when: 'after' | 'before';
  /** Of the vectorscope, 1 to 8. */
  zoom: number;
  /** Cells wanted, which are pixels of the screen: the reply never has more. */
  px: readonly [number, number];
}
export interface ScopeReply {
  /** One for each group of its kind (core/scopes/reduce.ts), row 0 at the top. A histogram has one row. */
  planes: { w: number; h: number; counts: Uint32Array<ArrayBuffer> }[];
}
export interface Clipped {
  low: number;
  high: number;
  pixels: number;
}
export interface PatchSpec {
  id: string;
  box: Box;
  points?: readonly (readonly [number, number])[];
}
export interface PatchReadings {
  id: string;
  before: Reading | null;
  after: Reading | null;
}
export interface RenderRequest {
  shot: ShotState;
  focus: string | null;
  view: View;
  quality: 'draft' | 'final';
  /** Empty: none now. A drag asks for them a dozen times a second. */
  scopes: readonly ScopeRequest[];
  patches: PatchSpec[];
  skinLineDeg: number;
}
export interface RenderReply {
  rgba: Uint8ClampedArray<ArrayBuffer>;
  w: number;
  h: number;
  quality: 'draft' | 'final';
  /** In the order asked for; null when none was. */
  scopes: ScopeReply[] | null;
  /** Of the corrected whole picture, with the scopes. */
  clipped: Clipped | null;
  /** Of finals only. */
  contrast: ColourContrast | null;
  readings: PatchReadings[];
  ms: number;
  /** Stages computed rather than found. */
  computed: string[];
}
export interface SolveRequest {
  shot: ShotState;
  correction: string;
  patch: Box;
  points?: PatchSpec['points'];
  kind: PushKind;
  /** 0..1. */
  strength: number;
  keep: KeepChroma;
  skinLineDeg: number;
}
export type SolveReply = BringToLine & { adjustments: CorrectionSpec['adjustments'] };
/** Picture points (centre of a stroke) and the brush radius, or a box. */
export type SampleArea = { points: { x: number; y: number }[]; radiusPx: number } | { box: Box } | { select: ScopeSelect; skinLineDeg: number };

export interface Distributions {
  /** Shares of the largest bin, 0..1: hue 0..360 degrees in 2-degree bins, chroma 0..100 %, luma 0..100 % in 1 % bins. */
  hue: number[];
  sat: number[];
  luma: number[];
}
export interface ChartReading {
  /** Shown colours, signal; differences in CIEDE2000. */
  patches: { name: string; before: Triple; after: Triple; reference: Triple; deBefore: number; deAfter: number }[];
  meanBefore: number;
  meanAfter: number;
  maxAfter: number;
}
/** What a helper would set: the correction's adjustments as they would be, and what changes by it. */
export interface HelperReply {
  adjustments: CorrectionSpec['adjustments'];
  set: Record<string, Record<string, number>>;
  before: number;
  after: number;
  unit: string;
}
export type HelperTask =
  | { kind: 'chart'; chart: ChartPlace; parts: { balance: boolean; levels: boolean; saturation: boolean } }
  | { kind: 'neutral'; patches: (PatchSpec & { neutral: 'black' | 'grey' | 'white' })[] }
  | { kind: 'points'; lowPct: number; highPct: number; blackPct: number; whitePct: number };
export interface HelperRequest {
  shot: ShotState;
  /** A correction of the whole picture. */
  correction: string;
  strength: number;
  task: HelperTask;
}
export interface LutReply {
  text: string;
  /** In words: what the table cannot carry. */
  leftOut: string[];
  /** CIEDE2000 between the picture through the table (tetrahedral) and the real result. */
  regionMeanDe: number;
  regionMaxDe: number;
  surroundMeanDe: number;
  surroundMaxDe: number;
}
export interface PickReply {
  before: [number, number, number];
  after: [number, number, number];
}

export interface Requests {
  open: { in: { pictureId: string; picture: DecodedPicture }; out: boolean };
  table: { in: { id: string; cube: Cube }; out: boolean };
  has: { in: { pictureId: string }; out: boolean };
  render: { in: RenderRequest; out: RenderReply };
  scopes: { in: { shot: ShotState; focus: string | null; scopes: readonly ScopeRequest[]; skinLineDeg: number }; out: ScopeReply[] };
  pick: { in: { shot: ShotState; x: number; y: number }; out: PickReply | null };
  distributions: { in: { shot: ShotState; correction: string }; out: Distributions };
  fitKey: { in: { shot: ShotState; correction: string; area: SampleArea }; out: KeyFit };
  solve: { in: SolveRequest; out: SolveReply };
  chart: { in: { shot: ShotState; chart: ChartPlace }; out: ChartReading };
  helper: { in: HelperRequest; out: HelperReply };
  figures: { in: { shot: ShotState; correction: string }; out: SurroundFigures };
  exportPicture: { in: { shot: ShotState; bits: 8 | 16 }; out: { bytes: Uint8Array<ArrayBuffer> } };
  exportMatte: { in: { shot: ShotState; correction: string; bits: 8 | 16 }; out: { bytes: Uint8Array<ArrayBuffer> } };
  lut: { in: { shot: ShotState; size: number; title: string }; out: LutReply };
  thumb: { in: { shot: ShotState; width: number }; out: { rgba: Uint8ClampedArray<ArrayBuffer>; w: number; h: number } };
  matteThumbs: { in: { shot: ShotState; width: number }; out: { id: string; grey: Uint8Array; w: number; h: number }[] };
}
/** To the decoding thread and back; progress is said by stages. */
export interface DecodeRequest {
  id: number;
  bytes: ArrayBuffer;
  options: DecodeOptions;
}
export type DecodeReply = { id: number; ok: true; picture: DecodedPicture } | { id: number; ok: false; error: ErrorReply };

export type RequestName = keyof Requests;
export type RequestMessage = { [K in RequestName]: { id: number; name: K; body: Requests[K]['in']; /** Given up when a newer one is asked for. */ abortable?: boolean } }[RequestName];

export type ErrorCode = 'stale' | 'missing-picture' | 'missing-table' | 'media' | 'memory' | 'cannot' | 'failed';
export interface ErrorReply {
  code: ErrorCode;
  message: string;
  remedy?: string;
}
export type ReplyMessage = { id: number; ok: true; body: unknown } | { id: number; ok: false; error: ErrorReply };
export interface InitMessage {
  id: 0;
  name: 'init';
  wasm: ArrayBuffer;
  wasmShared: ArrayBuffer | null;
  /** Int32: [0] id of the newest render asked for; null without shared memory. */
  newest: SharedArrayBuffer | null;
  helpers: number;
}
