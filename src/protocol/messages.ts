/** Typed messages between the interface and the engine. Every request has one reply or one error. */
import type { ClipInfo, DecodedPicture, DecodeOptions } from '../media/picture';
import type { YuvMeaning } from '../core/color/yuv';
import type { Homography } from '../core/graph/track';
import type { MotionKind } from '../core/track/fit';
import type { Glimpse } from '../core/track/cuts';
import type { Line } from '../core/ops/freeform/line';
import type { Followed } from '../core/track/follow';
import type { PatchPlace } from '../core/graph/patch';
import type { CorrectionSpec, OpUse } from '../core/graph/plan';
import type { Along, Aspect, Codes, Halves, SoundCopied, SoundPart } from '../media/picture';
import type { Cube } from '../core/formats/cube';
import type { Triple } from '../core/graph/evaluate';
import type { ChartPlace } from '../core/match/chart';
import type { Separation } from '../core/matte/separate';
import type { OpTerm } from '../core/graph/plan';
import type { NearColours } from '../core/matte/near';
import type { Beyond } from '../core/color/beyond';
import type { Even } from '../core/skin/evenness';
import type { LightGains } from '../core/matte/keyLight';
import type { Limits, OutsideLimits } from '../core/skin/limits';
import type { SideMeans } from '../core/skin/sides';
import type { Flicker } from '../core/matte/still';
import type { Health } from '../core/matte/health';
import type { KeyFit } from '../core/skin/fitKey';
import type { KeySpace } from '../core/matte/keySpace';
import type { BringToLine, KeepChroma, WantedLevel } from '../core/skin/bringToLine';
import type { PushKind } from '../core/skin/pushes';
import type { Box, Reading, UsedPixels } from '../core/skin/reading';
import type { SurroundFigures } from '../core/skin/surround';
import type { Encoding, EncodingRef } from '../core/color/encodings';
import type { ScopeKind } from '../core/scopes/reduce';
import type { ScopeSelect } from '../core/scopes/select';
import type { ColourContrast } from '../core/scopes/contrast';
import type { FalseColour } from '../core/view/falseColour';

export type ViewMode = 'picture' | 'cutout' | 'matte' | 'tint' | 'change' | 'edge';
/** What a cut-out lies on. */
export type Ground = 'grey' | 'black' | 'checker';
export type CompareMode = 'off' | 'wipe' | 'side';

/** A frame of a picture or clip. */
export interface FrameRef {
  media: string;
  /** Counted from 0; of a still every frame is the one it has. */
  frame: number;
}
/** A shot as the engine needs it, at one frame. */
export interface ShotState extends FrameRef {
  encoding: EncodingRef;
  /** Operation `convert`; left out or off: none. */
  conversion?: OpUse;
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
  /** Picture x of the wipe's edge; of an edge that is turned, with `wipeY`, the point that it turns about. */
  wipeX: number;
  wipeY?: number;
  /** How far the edge is turned, clockwise; left out: 0, before on the left. At 90 before is on top. */
  wipeDeg?: number;
  falseColour?: FalseColour;
  /** Of a cut-out; left out: grey. */
  ground?: Ground;
  /**
   * `numbers` (left out): the signal goes to the sRGB page as it is. `light`: where the shot is meant for a BT.1886
   * display, the page shows the light that such a display would.
   */
  shown?: 'numbers' | 'light';
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
/** As it was drawn: the engine moves it to the frame of the shot that is asked about. */
export interface PatchSpec extends PatchPlace {
  id: string;
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
  /** What the picture is compared with in a wipe or side by side; left out: as converted, without any correction. */
  against?: ShotState;
  /** Of another media: how wide its pixels are, over how wide those of the picture are. It is fitted into its frame. */
  againstAspect?: number;
  quality: 'draft' | 'final';
  /** Empty: none now. A drag asks for them a dozen times a second. */
  scopes: readonly ScopeRequest[];
  patches: PatchSpec[];
  skinLineDeg: number;
  /** Of the file that the readings after the corrections are about. */
  bits: 8 | 16;
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
  /** Null: this draft was of the part in view alone, the readings of before stand. */
  readings: PatchReadings[] | null;
  ms: number;
  /** Stages computed rather than found. */
  computed: string[];
}
export interface SolveRequest {
  shot: ShotState;
  correction: string;
  /** As they were drawn; several are brought by one push, as one colour. */
  patches: readonly PatchPlace[];
  kind: PushKind;
  /** 0..1. */
  strength: number;
  keep: KeepChroma;
  /** Left out: level stays as it is. */
  level?: WantedLevel | null;
  skinLineDeg: number;
  /** Of the file whose reading is brought to the line. */
  bits: 8 | 16;
}
export type SolveReply = BringToLine & {
  bits: 8 | 16;
  /** How much of the patch the region holds, 0..1; of several the least. */
  held: number;
  adjustments: CorrectionSpec['adjustments'];
  /** Of a pull: so long for its reach that colours change their order. */
  folds: boolean;
};
/** Picture points (centre of a stroke) and the brush radius, or a box. */
export type SampleArea =
  | { points: { x: number; y: number }[]; radiusPx: number }
  | { box: Box }
  | { select: ScopeSelect; skinLineDeg: number };

export const PLANE_CELLS = 192;
export interface Distributions {
  /**
   * Root of the share of the largest cell, 0..255: colour difference as PLANE_CELLS rows of as many, Cb to the right
   * and Cr upwards (the first row is +0.5), each -0.5..0.5; in OKLCh a and b, times 1.25, instead.
   */
  plane: Uint8Array;
  /** Root of the share of the largest bin, 0..1: luma (lightness) 0..100 % in 1 % bins. */
  luma: number[];
}
/** Some of the pixels that a key was fitted to: Cb, Cr, luma 0..1, one after the other. */
export type KeyDots = number[];
/** Before any correction and as the picture leaves; CIEDE2000 between inside and outside, before and after. */
export interface LimitsReply {
  before: OutsideLimits;
  after: OutsideLimits;
}
export interface SidesReply {
  before: SideMeans;
  after: SideMeans;
  apart: [number | null, number | null];
}
/** Lists are OKLab. `to` left out: what is there is measured, nothing is solved. */
export interface RecolourRequest {
  shot: ShotState;
  correction: string;
  /** The adjustment. */
  use: string;
  to?: [number, number, number];
  bits: 8 | 16;
}
export interface RecolourReply {
  /** Of the adjustment, when it was solved. */
  params: Record<'from' | 'to' | 'trim', [number, number, number]> | null;
  /** Mean of what the adjustment is given. */
  from: [number, number, number];
  /** Means of what leaves, without it and with it. */
  was: [number, number, number];
  is: [number, number, number];
  /** CIEDE2000 from the colour asked for, and degrees of hue; null where there is hardly a colour. */
  apart: number;
  /** The same of what the adjustment itself gives, before the mix, the matte and whatever comes after it. */
  givesApart: number;
  hueOffDeg: number | null;
  /** Shares of the region with a channel at either end of its codes. */
  clippedBefore: number;
  clippedAfter: number;
}
/** Beside the measures: shares of what is in that are blown in a channel, or black in all. */
export type HealthReply = Health & { blown: number; crushed: number };
/** How a key reads its picture: before any correction, on a quieter copy, measured in that space. */
export interface ReadAs {
  base: boolean;
  quietPct: number;
  space: KeySpace;
  /** In the light that the key was made in; left out or empty: as it is lit. */
  light?: readonly number[] | undefined;
}
export interface Sampled {
  fit: KeyFit;
  /** Of the colours. */
  encoding: Encoding;
  /** Neutral guard that the noise of the picture asks for, in % of chroma. */
  neutralPct: number;
  /** Light of the frame, before it is brought to any other (core/matte/keyLight.ts). */
  light: readonly number[];
  /** Some of the same pixels in OKLab, one after the other. */
  lab: number[];
  dots: KeyDots;
  /** Colours that the correction's region holds now, R'G'B' one after the other. */
  held: number[];
}
export interface ChartReading {
  /** Shown colours, signal; differences in CIEDE2000. */
  patches: { name: string; before: Triple; after: Triple; reference: Triple; deBefore: number; deAfter: number }[];
  meanBefore: number;
  meanAfter: number;
  maxAfter: number;
  found: ChartFound;
}
/** What was found under the grid. */
export interface ChartFound {
  /** In words, when it is not the chart (or no strip): nothing is solved then. */
  fault: string | null;
  /** How it lies there, when not as drawn; it is read that way. */
  turned: string | null;
  /** Mean CIEDE2000 that no light explains; null for a strip. */
  misfit: number | null;
  /** Light at the right (lower) edge over that at the left (upper) one, as a share; 0 for a strip. */
  across: number;
  down: number;
}
/** What a helper would set: the correction's adjustments as they would be, and what changes by it. */
export interface HelperReply {
  adjustments: CorrectionSpec['adjustments'];
  set: Record<string, Record<string, number>>;
  before: number;
  after: number;
  unit: string;
  /** Of a chart: what was found, and that unevenness was taken out. */
  found?: ChartFound;
  /** Of the light of the picture: how sure it is, in words. */
  sure?: string;
}
export type HelperTask =
  | { kind: 'chart'; chart: ChartPlace; parts: { balance: boolean; levels: boolean; saturation: boolean } }
  | { kind: 'neutral'; patches: (PatchSpec & { neutral: 'black' | 'grey' | 'white' })[] }
  /** From the picture's own statistics. */
  | { kind: 'light' }
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
  regionMeanDe: number | null;
  regionMaxDe: number | null;
  surroundMeanDe: number | null;
  surroundMaxDe: number | null;
  /** Pixels that were compared; where there is none, the figures above are null. */
  comparedInRegion: number;
  comparedInSurround: number;
}
export interface PickReply {
  before: [number, number, number];
  after: [number, number, number];
}

export interface Requests {
  /** A decoded frame; `frames`: how many its media has. */
  /** Answers with the frames that had to go for it. */
  open: { in: FrameRef & { frames: number; picture: DecodedPicture }; out: FrameRef[] };
  table: { in: { id: string; cube: Cube }; out: boolean };
  has: { in: FrameRef; out: boolean };
  /** `into`: pixels that nobody looks at any more; those of the view are written there where they are as many. */
  render: { in: RenderRequest & { into?: ArrayBuffer }; out: RenderReply };
  /** A render that nobody waits for at the picture: it gives way to those of the Bench. */
  card: { in: RenderRequest; out: RenderReply };
  scopes: {
    in: { shot: ShotState; focus: string | null; scopes: readonly ScopeRequest[]; skinLineDeg: number };
    out: ScopeReply[];
  };
  /** Under the pointer: only the newest one counts. */
  pick: { in: { shot: ShotState; x: number; y: number }; out: PickReply | null };
  /** The same where a person pressed: a pointer that moves on does not take its place. */
  colourAt: { in: { shot: ShotState; x: number; y: number }; out: PickReply | null };
  /** Of what a correction is given, or of the picture before any correction. */
  distributions: { in: { shot: ShotState; correction: string } & ReadAs; out: Distributions };
  /** Of what the correction is given; of the picture before any correction where there is none yet, or by `base`. */
  fitKey: {
    in: { shot: ShotState; correction: string | null; area: SampleArea } & ReadAs;
    out: Sampled;
  };
  /** What tells the strokes of a painted part apart, read as that part reads; null where one kind is missing. */
  separates: { in: { shot: ShotState; correction: string; term: string }; out: Separation | null };
  /** What a key is set to for strokes, read as that part reads. */
  strokeFit: {
    in: {
      shot: ShotState;
      correction: string;
      term: string;
      strokes: NonNullable<OpTerm['strokes']>;
      brushPx: number;
      space: KeySpace;
    };
    out: { fit: KeyFit; near: NearColours; light: readonly number[] };
  };
  /** The light of the frame as a key reads it, and what brings that to the light that the key was made in. */
  keyLight: { in: { shot: ShotState; correction: string; term: string }; out: { light: number[] } & LightGains };
  /** What is wrong with a matte, or with a region before it is tidied; null where there is none. */
  health: { in: { shot: ShotState; correction: string; untidied: boolean }; out: HealthReply | null };
  /** Colours of what a correction is given inside its region, R'G'B' one after the other. */
  held: { in: { shot: ShotState; correction: string }; out: number[] };
  /**
   * Of a correction whose region was found by a press: a clean patch in it, the push that brings that to the line, and
   * what the whole region reads before and after, as the file has it.
   */
  skinPress: {
    in: {
      shot: ShotState;
      correction: string;
      kind: PushKind;
      strength: number;
      skinLineDeg: number;
      bits: 8 | 16;
    };
    out: {
      patch: Box | null;
      solved: SolveReply | null;
      /** In words, why nothing was solved. */
      fault: string | null;
      before: Reading | null;
      after: Reading | null;
      /** Share of the picture that is in. */
      coverage: number;
      /** What the person should know or do. */
      said: string[];
    };
  };
  /** A key by ranges told in another space; refused where it holds no colour. */
  keyIn: {
    in: { shot: ShotState; correction: string; term: string; space: KeySpace };
    out: KeyFit & { neutralPct: number };
  };
  /** An outline about the region of a correction, in picture pixels; null where it is empty. */
  about: { in: { shot: ShotState; correction: string }; out: [number, number][] | null };
  /**
   * One frame of a run that follows: `begin` starts it at its first frame. The map is from that frame, in picture
   * pixels; null for the first. With the line of a freeform each of its points is followed by itself: `own` says how
   * far it goes before the map.
   */
  follow: {
    in: { run: string; at: FrameRef; begin?: { outline: [number, number][]; kind: MotionKind; line?: Line } };
    out: (Followed & { own?: readonly number[] }) | null;
  };
  /**
   * One frame of a run that holds what was pressed or painted (core/track/hold.ts): `begin` starts it at its first
   * frame, with places there over what goes along with the thing, if anything does (a patch on it). The maps are
   * from that frame, in picture pixels: `h` is of the press, which goes wherever it finds the thing, `along` of what
   * goes along, which stays on what was found. `share` is of the picture, 0..1, what the region holds.
   */
  holdRegion: {
    in: {
      run: string;
      shot: ShotState;
      correction: string;
      term: string;
      begin: boolean;
      goes?: readonly (readonly [number, number])[];
    };
    out: Followed & { along: Homography; share: number };
  };
  /**
   * What one frame tells, for readings over time: patches where they stand on it, the matte's share of the picture
   * (null without a region), its change from the frame `before` (null: none), the mean level of what leaves, in %.
   */
  moment: {
    in: {
      shot: ShotState;
      before: number | null;
      correction: string | null;
      patches: PatchSpec[];
      skinLineDeg: number;
      bits: 8 | 16;
    };
    out: {
      coverage: number | null;
      /** Share of the picture in pieces that lie away from what is meant; null without a region. */
      leaks: number | null;
      flicker: Flicker | null;
      levelPct: number;
      patches: PatchReadings[];
    };
  };
  /** A small copy of a frame as it came, to look for cuts. */
  glimpse: { in: FrameRef; out: Glimpse };
  solve: { in: SolveRequest; out: SolveReply };
  /** The same of one frame of a job. */
  frameSolve: { in: SolveRequest; out: SolveReply };
  /** What a whole region reads, as the picture came and as it leaves; null where it holds nothing. */
  regionReads: {
    in: { shot: ShotState; correction: string; skinLineDeg: number; bits: 8 | 16 };
    out: { before: Reading | null; after: Reading | null };
  };
  /** Which pixels of a patch count in its reading of what leaves; null where it lies outside the picture. */
  usedPixels: { in: { shot: ShotState; patch: PatchPlace; bits: 8 | 16 }; out: UsedPixels | null };
  /** Of each patch: the corrections with a region, and how much of each lies there, 0..1. */
  reaches: {
    in: { shot: ShotState; patches: readonly PatchPlace[] };
    out: { correction: string; share: number }[][];
  };
  chart: { in: { shot: ShotState; chart: ChartPlace }; out: ChartReading };
  helper: { in: HelperRequest; out: HelperReply };
  figures: { in: { shot: ShotState; correction: string }; out: SurroundFigures };
  /** The same of one frame of a job: what the panel asks meanwhile does not take its place. */
  frameFigures: { in: { shot: ShotState; correction: string }; out: SurroundFigures };
  recolour: { in: RecolourRequest; out: RecolourReply };
  /** The same without a colour asked for: figures of what is there, that nobody's hand waits for. */
  recoloured: { in: Omit<RecolourRequest, 'to'>; out: RecolourReply };
  /** How even a region is where the adjustment begins, and as it leaves, in a file of so many bits. */
  evenness: {
    in: { shot: ShotState; correction: string; use: string | null; bits: 8 | 16 };
    out: { given: Even; leaves: Even | null };
  };
  /** What lies beyond the range in a region: of what an adjustment is given, and of what it gives. */
  beyond: { in: { shot: ShotState; correction: string; use: string }; out: { given: Beyond; gives: Beyond } };
  /** Luma of a region where an adjustment begins, signal: its mean, and its ends without the outermost. */
  levelsGiven: {
    in: { shot: ShotState; correction: string; use: string };
    out: { mean: number; low: number; high: number };
  };
  /** Mean colours of a region and of its outside. */
  /** Of the whole shot, as converted and as it leaves. */
  limits: { in: { shot: ShotState; limits: Limits }; out: LimitsReply };
  sides: { in: { shot: ShotState; correction: string }; out: SidesReply };
  /** As a file holds them; a thread for files writes them. */
  pictureCodes: { in: { shot: ShotState; bits: 8 | 16; dither?: boolean }; out: Codes };
  matteCodes: { in: { shot: ShotState; correction: string; bits: 8 | 16 }; out: Codes };
  /** The same in linear light: of the matte where a correction is named. */
  halves: { in: { shot: ShotState; correction: string | null }; out: Halves };
  lut: { in: { shot: ShotState; size: number; title: string }; out: LutReply };
  matteThumbs: {
    in: { shot: ShotState; width: number };
    out: { id: string; grey: Uint8Array; w: number; h: number }[];
  };
}
/** To a decoding thread and back. */
export type DecodeRequest =
  | { id: number; kind: 'still'; bytes: ArrayBuffer; options: DecodeOptions }
  /** A lookup table: .cube or CLF. */
  | { id: number; kind: 'table'; bytes: ArrayBuffer; name: string }
  /** Numbers to a file, halves to OpenEXR and the others to PNG; `bytes` are those of the numbers. */
  | {
      id: number;
      kind: 'encode';
      bytes: ArrayBuffer;
      codes: Omit<Codes, 'data'> | Omit<Halves, 'data'>;
      aspect: Aspect;
    };
/** To the thread of clips and back: a clip is opened once under a name, its frames are asked for by number. */
export type ClipRequest =
  | { id: number; kind: 'open'; key: string; file: Blob }
  | { id: number; kind: 'frame'; key: string; frame: number; meaning: YuvMeaning }
  /** The SHA-256 of a file of any size, or of some parts of it. */
  | { id: number; kind: 'sum'; file: Blob; what: 'whole' | 'parts' };
export type ClipReply =
  | { id: number; ok: true; info: ClipInfo }
  | { id: number; ok: true; picture: DecodedPicture }
  | { id: number; ok: true; sum: string }
  /** On the way: frames that were counted, or bytes that were summed. */
  | { id: number; so: number }
  | { id: number; ok: false; error: ErrorReply };
/** What a job writes: numbered pictures in an archive, or a clip by its quantizer or its megabits a second. */
export type WriteFormat =
  | { kind: 'png' | 'tiff'; bits: 8 | 16; dither?: boolean }
  | { kind: 'exr'; bits: 'half' }
  | { kind: 'webm'; codec: 'vp9' | 'av1'; depth?: 10; quantizer: number; curve: ClipCurve; dither?: boolean }
  | { kind: 'mp4'; codec: 'avc'; megabits: number; curve: ClipCurve; dither?: boolean };
/** The curve that a clip is tagged with, by WebCodecs' name; its primaries and matrix are BT.709's. */
export type ClipCurve = 'bt709' | 'iec61966-2-1';
/** To a writing thread and back: every frame is answered when it is written, so that none piles up. */
export type WriteRequest =
  | {
      id: number;
      kind: 'begin';
      file: string;
      format: WriteFormat;
      rate: readonly [number, number];
      aspect: Aspect;
      /** Sound that goes along, where the file can hold it. */
      sound: Along | null;
    }
  /** Sound alone, in a file of its own. */
  | { id: number; kind: 'sound'; file: string; part: SoundPart }
  | { id: number; kind: 'frame'; codes: Codes | Halves; name: string }
  | { id: number; kind: 'end' };
export type WriteReply =
  { id: number; ok: true; bytes: number; sound: SoundCopied | null } | { id: number; ok: false; error: ErrorReply };
export interface TableFile {
  cube: Cube;
  notes: string[];
}
export type DecodeReply =
  | { id: number; ok: true; picture: DecodedPicture }
  | { id: number; ok: true; table: TableFile }
  | { id: number; ok: true; file: Uint8Array<ArrayBuffer> }
  | { id: number; ok: false; error: ErrorReply };

export type RequestName = keyof Requests;
export type RequestMessage = {
  [K in RequestName]: {
    id: number;
    name: K;
    body: Requests[K]['in'];
    /** Given up when a newer one is asked for. */ abortable?: boolean;
  };
}[RequestName];

export type ErrorCode =
  | 'stale'
  | 'missing-picture'
  | 'missing-table'
  | 'media'
  | 'memory'
  | 'cannot'
  | 'failed'
  /** The thread died or fell silent and was started again. */
  | 'restarted'
  /** A run over frames that the engine holds no more: it is begun anew. */
  | 'ended';
export interface ErrorReply {
  code: ErrorCode;
  message: string;
  remedy?: string;
  /** Of a missing picture. */
  missing?: FrameRef;
}
export type ReplyMessage = { id: number; ok: true; body: unknown } | { id: number; ok: false; error: ErrorReply };
/** Whether the engine may do what nobody waits for while it is asked nothing; it may not at first. No reply. */
export interface IdleMessage {
  id: 0;
  name: 'idle';
  on: boolean;
}
export interface InitMessage {
  id: 0;
  name: 'init';
  wasm: ArrayBuffer;
  wasmShared: ArrayBuffer | null;
  /**
   * Int32: [0] id of the newest render asked for; [1] rises while the engine works; [2] milliseconds for which a
   * piece of work that cannot count may be silent, 0 for the usual. Null without shared memory.
   */
  newest: SharedArrayBuffer | null;
  helpers: number;
}
