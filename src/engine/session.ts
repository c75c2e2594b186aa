/** What the engine can be asked for, on one thread's behalf: the worker and the command line both drive this. */
import { encodePng } from '../media/pngWrite';
import type { Codes, Halves } from '../media/picture';
import type { ChartPlace } from '../core/match/chart';

import type { Separation } from '../core/matte/separate';
import type { Limits } from '../core/skin/limits';
import type { SurroundFigures } from '../core/skin/surround';
import type {
  ChartReading,
  Distributions,
  HealthReply,
  HelperReply,
  HelperRequest,
  LutReply,
  PickReply,
  RecolourReply,
  RecolourRequest,
  RenderReply,
  RenderRequest,
  Sampled,
  Requests,
  SampleArea,
  ScopeReply,
  ScopeRequest,
  ShotState,
  LimitsReply,
  SidesReply,
  SolveReply,
  SolveRequest,
} from '../protocol/messages';
import { patchAt } from '../core/graph/patch';
import * as charts from './session/charts';
import * as files from './session/files';
import { about, Follows } from './session/follow';
import { glimpse } from './session/glimpse';
import { moment } from './session/moment';
import { reaches } from './session/reaches';
import * as healths from './session/health';
import { Held } from './session/held';
import { Looks } from './session/look';
import type { SampleOptions } from './session/sample';
import * as recolouring from './session/recolour';
import * as skins from './session/skin';
import * as sample from './session/sample';
import * as solving from './session/solve';

export { RunEnded } from './session/follow';
export { MissingPicture, MissingTable, PICTURE_BYTES, TABLE_BYTES } from './session/held';

/** Scopes that look at a patch look at it where it lies on the frame. */
const placed = (list: readonly ScopeRequest[], frame: number): ScopeRequest[] =>
  list.map((s) => (typeof s.over === 'string' ? s : { ...s, over: patchAt(s.over, frame) }));

export class Session extends Held {
  private readonly looks = new Looks(this);
  private readonly follows = new Follows(this);

  render(q: RenderRequest, into?: ArrayBuffer): Promise<RenderReply> {
    const { frame } = q.shot;
    return this.looks.render(
      { ...q, patches: q.patches.map((p) => patchAt(p, frame)), scopes: placed(q.scopes, frame) },
      into,
    );
  }
  scopes(q: Requests['scopes']['in']): Promise<ScopeReply[]> {
    return this.looks.scopes({ ...q, scopes: placed(q.scopes, q.shot.frame) });
  }
  pick(shot: ShotState, x: number, y: number): Promise<PickReply | null> {
    return this.looks.pick(shot, x, y);
  }
  matteThumbs(shot: ShotState, width: number): Promise<{ id: string; grey: Uint8Array; w: number; h: number }[]> {
    return this.looks.matteThumbs(shot, width);
  }
  distributions(shot: ShotState, correction: string, how?: SampleOptions): Promise<Distributions> {
    return sample.distributions(this, shot, correction, how);
  }
  fitKey(shot: ShotState, correction: string | null, area: SampleArea, how?: SampleOptions): Promise<Sampled> {
    return sample.fitKey(this, shot, correction, area, how);
  }
  glimpse(at: Requests['glimpse']['in']): Promise<Requests['glimpse']['out']> {
    return glimpse(this, at);
  }
  follow(q: Requests['follow']['in']): Promise<Requests['follow']['out']> {
    return this.follows.step(q);
  }
  holdRegion(q: Requests['holdRegion']['in']): Promise<Requests['holdRegion']['out']> {
    return this.follows.hold(q);
  }
  about(q: Requests['about']['in']): Promise<Requests['about']['out']> {
    return about(this, q);
  }
  skinPress(q: Requests['skinPress']['in']): Promise<Requests['skinPress']['out']> {
    return skins.skinPress(this, q);
  }
  usedPixels(q: Requests['usedPixels']['in']): Promise<Requests['usedPixels']['out']> {
    return skins.usedOf(this, q);
  }
  regionReads(q: Requests['regionReads']['in']): Promise<Requests['regionReads']['out']> {
    return skins.regionReads(this, q);
  }
  reaches(q: Requests['reaches']['in']): Promise<Requests['reaches']['out']> {
    return reaches(this, q);
  }
  solve(q: SolveRequest): Promise<SolveReply> {
    return solving.solve(this, q);
  }
  chart(shot: ShotState, chart: ChartPlace): Promise<ChartReading> {
    return charts.chart(this, shot, chart);
  }
  helper(q: HelperRequest): Promise<HelperReply> {
    return charts.helper(this, q);
  }
  figures(shot: ShotState, correction: string): Promise<SurroundFigures> {
    return files.figures(this, shot, correction);
  }
  pictureCodes(shot: ShotState, bits: 8 | 16, dither = false): Promise<Codes> {
    return files.pictureCodes(this, shot, bits, dither);
  }
  recolour(q: RecolourRequest): Promise<RecolourReply> {
    return recolouring.recolourTo(this, q);
  }
  levelsGiven(q: Requests['levelsGiven']['in']): Promise<Requests['levelsGiven']['out']> {
    return recolouring.levelsGiven(this, q);
  }
  evenness(q: Requests['evenness']['in']): Promise<Requests['evenness']['out']> {
    return recolouring.evenness(this, q);
  }
  beyond(q: Requests['beyond']['in']): Promise<Requests['beyond']['out']> {
    return recolouring.beyond(this, q);
  }
  limits(shot: ShotState, limits: Limits): Promise<LimitsReply> {
    return files.limits(this, shot, limits);
  }
  sides(shot: ShotState, correction: string): Promise<SidesReply> {
    return files.sides(this, shot, correction);
  }
  halves(shot: ShotState, correction: string | null): Promise<Halves> {
    return files.halves(this, shot, correction);
  }
  matteCodes(shot: ShotState, correction: string, bits: 8 | 16): Promise<Codes> {
    return files.matteCodes(this, shot, correction, bits);
  }
  /** The same as PNG bytes, where the thread has nothing better to do than to write them. */
  async exportPicture(shot: ShotState, bits: 8 | 16): Promise<Uint8Array<ArrayBuffer>> {
    return encodePng(await this.pictureCodes(shot, bits));
  }
  async exportMatte(shot: ShotState, correction: string, bits: 8 | 16): Promise<Uint8Array<ArrayBuffer>> {
    return encodePng(await this.matteCodes(shot, correction, bits));
  }
  lut(shot: ShotState, size: number, title: string): Promise<LutReply> {
    return files.lut(this, shot, size, title);
  }
  separates(shot: ShotState, correction: string, term: string): Promise<Separation | null> {
    return sample.separates(this, shot, correction, term);
  }
  keyIn(q: Requests['keyIn']['in']): Promise<Requests['keyIn']['out']> {
    return sample.keyIn(this, q);
  }
  keyLight(q: Requests['keyLight']['in']): Promise<Requests['keyLight']['out']> {
    return sample.keyLight(this, q);
  }
  strokeFit(q: Requests['strokeFit']['in']): Promise<Requests['strokeFit']['out']> {
    return sample.strokeFit(this, q);
  }
  moment(q: Requests['moment']['in']): Promise<Requests['moment']['out']> {
    return moment(this, q);
  }
  health(shot: ShotState, correction: string, untidied = false): Promise<HealthReply | null> {
    return healths.health(this, shot, correction, untidied);
  }
  /** R'G'B' under a stroke, one after the other. */
  samples(shot: ShotState, points: { x: number; y: number }[], radiusPx: number, quietPct?: number): Promise<number[]> {
    return sample.samplesUnder(this, shot, { points, radiusPx }, quietPct);
  }
  heldColours(shot: ShotState, correction: string): Promise<number[]> {
    return sample.heldInside(this, shot, correction);
  }
}
