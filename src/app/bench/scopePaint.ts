/**
 * One scope on a canvas: traces, the mark of a colour, and the hand that marks in it. Knows where values lie, nothing
 * of React.
 */
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr } from '../../core/color/ycbcr';
import { wrap180 } from '../../core/math/angle';
import { SCOPE_KINDS, STRIP_DEG } from '../../core/scopes/reduce';
import type { WaveName } from '../../core/scopes/reduce';
import type { ScopeSelect } from '../../core/scopes/select';
import type { ShotRecord } from '../../document/records';
import type { ScopeReply } from '../../protocol/messages';
import {
  drawHistogram,
  drawLasso,
  drawMark,
  drawStrip,
  drawVector,
  drawWaves,
  histogramField,
  histogramLevel,
  histogramX,
  levelAt,
  stripX,
  stripY,
  vectorGeometry,
  waveFields,
  waveX,
  waveY,
} from '../../ui/scopes/draw';
import type { Field, LineLook, Look, Pen } from '../../ui/scopes/draw';
import { addCorrection, applyKeyFit, chosenCorrection, chosenKey, readAs, shotState } from '../actions';
import { engine } from '../engine';
import { guard } from '../notices';
import { useDoc, useSession } from '../store';
import type { ScopeSlot } from './scopeSlots';

const split = (s: ScopeSlot): boolean => s.kind === 'parade' || s.kind === 'ycbcr';
const fieldsOf = (s: ScopeSlot, w: number, h: number): Field[] =>
  s.kind === 'histogram' ? [histogramField(w, h)] : waveFields(w, h, split(s) ? SCOPE_KINDS[s.kind].length : 1);

export function paintScope(
  p: Pen,
  s: ScopeSlot,
  r: ScopeReply | undefined,
  ghost: ScopeReply | undefined,
  line: LineLook,
  look: Look,
  targetPct: 75 | 100,
): void {
  const planes = r?.planes ?? [];
  const ghosts = ghost?.planes ?? [];
  if (s.kind === 'vector') drawVector(p, planes[0], ghosts[0], line, look, s.zoom, targetPct);
  else if (s.kind === 'strip') drawStrip(p, planes[0], ghosts[0], line, look);
  else if (s.kind === 'histogram') drawHistogram(p, SCOPE_KINDS.histogram, planes, ghosts, look);
  else drawWaves(p, SCOPE_KINDS[s.kind], planes, ghosts, look, split(s));
}

/** Where a colour lies in each part of a scope; x is its share of the picture's width. */
export function paintMark(p: Pen, s: ScopeSlot, rgb: readonly [number, number, number], x: number, line: number): void {
  const [y, cb, cr] = rgbToYcbcr(...rgb);
  const value: Record<WaveName, number> = { y, r: rgb[0], g: rgb[1], b: rgb[2], cb: cb + 0.5, cr: cr + 0.5 };
  if (s.kind === 'vector') {
    const g = vectorGeometry(p.w, p.h, s.zoom);
    drawMark(p, g.x + cb * g.k, g.y - cr * g.k);
  } else if (s.kind === 'strip') {
    const off = chromaPct(cb, cr) >= NEUTRAL_CHROMA_PCT ? wrap180(hueDeg(cb, cr) - line) : null;
    if (off !== null && Math.abs(off) <= STRIP_DEG) drawMark(p, stripX(off, p.w), stripY(y, p.h));
  } else if (s.kind === 'histogram') {
    const f = histogramField(p.w, p.h);
    SCOPE_KINDS.histogram.forEach((n, i) => i === 0 && drawMark(p, histogramX(value[n], f), f.y + f.h - 6));
  } else {
    const names = SCOPE_KINDS[s.kind];
    const fields = fieldsOf(s, p.w, p.h);
    // A patch fills the width: the place across means nothing there.
    const wide = s.over === 'whole' || s.over === 'region' || s.over === 'outside';
    names.forEach((n, i) => {
      const f = fields[split(s) ? i : 0]!;
      drawMark(p, wide ? waveX(x, f) : f.x + f.w / 2, waveY(value[n], f), names.length > 1 ? 4 : 5);
    });
  }
}

export function paintSelect(p: Pen, s: ScopeSlot, what: ScopeSelect): void {
  if (what.kind === 'vector' && s.kind === 'vector') {
    const g = vectorGeometry(p.w, p.h, s.zoom);
    drawLasso(
      p,
      what.points.map(([cb, cr]) => [g.x + cb * g.k, g.y - cr * g.k]),
    );
  } else if (what.kind === 'strip' && s.kind === 'strip')
    drawLasso(
      p,
      what.points.map(([d, y]) => [stripX(d, p.w), stripY(y, p.h)]),
    );
  else if (what.kind === 'band' && s.kind !== 'vector' && s.kind !== 'strip') {
    const names: readonly string[] = SCOPE_KINDS[s.kind];
    const f = fieldsOf(s, p.w, p.h)[split(s) ? Math.max(0, names.indexOf(what.channel)) : 0]!;
    const shift = what.channel === 'cb' || what.channel === 'cr' ? 0.5 : 0;
    const [lo, hi] = [what.lo + shift, what.hi + shift];
    drawLasso(
      p,
      s.kind === 'histogram'
        ? [
            [histogramX(lo, f), f.y],
            [histogramX(hi, f), f.y],
            [histogramX(hi, f), f.y + f.h],
            [histogramX(lo, f), f.y + f.h],
          ]
        : [
            [f.x, waveY(lo, f)],
            [f.x + f.w, waveY(lo, f)],
            [f.x + f.w, waveY(hi, f)],
            [f.x, waveY(hi, f)],
          ],
    );
  }
}

const CHANNEL_NAMES: Record<WaveName, string> = { y: 'luma', r: "R'", g: "G'", b: "B'", cb: 'Cb', cr: 'Cr' };
export function selectSaid(what: ScopeSelect): string {
  if (what.kind === 'band')
    return `${CHANNEL_NAMES[what.channel]} ${(100 * what.lo).toFixed(0)} to ${(100 * what.hi).toFixed(0)} %`;
  return what.kind === 'vector' ? 'a part of the vectorscope' : 'a part of the skin strip';
}

/** What pressing, dragging and keys do in a scope: positions to a selection in the session. */
export function marking(index: number, s: ScopeSlot, _line: number) {
  const put = (what: ScopeSelect | null): void =>
    useSession.getState().set({
      select: what ? { slot: index, when: s.when, what } : null,
      ...(what ? { mode: 'picture' as const, falseColour: 'off' as const } : {}),
    });
  const plane = s.kind === 'vector' || s.kind === 'strip';
  const value = (x: number, y: number, w: number, h: number): readonly [number, number] => {
    if (s.kind === 'vector') {
      const g = vectorGeometry(w, h, s.zoom);
      return [(x - g.x) / g.k, (g.y - y) / g.k];
    }
    return [((x - w / 2) / (w / 2 - 4)) * STRIP_DEG, 1 - (y - 4) / (h - 24)];
  };
  let points: (readonly [number, number])[] = [];
  let from: { level: number; channel: WaveName; shift: number; f: Field } | null = null;
  const levelOf = (x: number, y: number, f: Field): number =>
    s.kind === 'histogram' ? histogramLevel(x, f) : levelAt(y, f);
  /** One mark of the size that keys move. */
  const disc = (cx: number, cy: number, r: number): ScopeSelect => ({
    kind: s.kind === 'vector' ? 'vector' : 'strip',
    points: Array.from(
      { length: 24 },
      (_, i) =>
        [
          cx + r * (s.kind === 'strip' ? 120 : 1) * Math.cos((i * Math.PI) / 12),
          cy + r * Math.sin((i * Math.PI) / 12),
        ] as const,
    ),
  });
  let keyed = { x: 0, y: s.kind === 'strip' ? 0.5 : 0, r: 0.05, level: 0.5, half: 0.05 };
  return {
    down(x: number, y: number, w: number, h: number): void {
      if (plane) points = [value(x, y, w, h)];
      else {
        const fields = fieldsOf(s, w, h);
        const i = split(s)
          ? Math.max(
              0,
              fields.findIndex((f) => x < f.x + f.w),
            )
          : 0;
        const channel: WaveName = s.kind === 'parade' || s.kind === 'ycbcr' ? SCOPE_KINDS[s.kind][i]! : 'y';
        const f = fields[split(s) ? i : 0]!;
        from = { level: levelOf(x, y, f), channel, shift: channel === 'cb' || channel === 'cr' ? 0.5 : 0, f };
      }
    },
    move(x: number, y: number, w: number, h: number): void {
      if (plane && points.length) {
        const last = points.at(-1)!;
        const next = value(x, y, w, h);
        if (Math.hypot(next[0] - last[0], next[1] - last[1]) < (s.kind === 'strip' ? 0.02 : 0.002 / s.zoom)) return;
        points = [...points.slice(-400), next];
        if (points.length > 2) put({ kind: s.kind as 'vector' | 'strip', points });
      } else if (from) {
        const v = levelOf(x, y, from.f);
        if (Math.abs(v - from.level) > 0.005)
          put({
            kind: 'band',
            channel: from.channel,
            lo: Math.min(v, from.level) - from.shift,
            hi: Math.max(v, from.level) - from.shift,
          });
      }
    },
    up(): void {
      // A press without a drag clears.
      if (plane ? points.length < 3 : from !== null && useSession.getState().select?.what.kind !== 'band') put(null);
      points = [];
      from = null;
    },
    key(k: string, shift: boolean, _w: number, _h: number): boolean {
      if (k === 'Escape') {
        put(null);
        return true;
      }
      const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[k];
      if (!d) return false;
      const sign = d[0]! + d[1]!;
      if (plane) {
        const step = s.kind === 'strip' ? [2, 0.02] : [0.012 / s.zoom, 0.012 / s.zoom];
        keyed = shift
          ? { ...keyed, r: Math.max(0.004, keyed.r * (sign > 0 ? 1.2 : 1 / 1.2)) }
          : { ...keyed, x: keyed.x + d[0]! * step[0]!, y: keyed.y + d[1]! * step[1]! };
        put(disc(keyed.x, keyed.y, keyed.r));
      } else {
        keyed = shift
          ? { ...keyed, half: Math.max(0.005, keyed.half + 0.01 * sign) }
          : { ...keyed, level: keyed.level + 0.01 * sign };
        put({ kind: 'band', channel: 'y', lo: keyed.level - keyed.half, hi: keyed.level + keyed.half });
      }
      return true;
    },
  };
}

/** Fits a key to what is marked, in the chosen correction or a new one. */
export async function keyFromScope(shot: ShotRecord, what: ScopeSelect, skinLineDeg: number): Promise<void> {
  const doc = useDoc.getState();
  const corr = chosenCorrection(doc.records, shot.id, useSession.getState().correction);
  const sampled = await guard('The key was not set', () =>
    engine().request('fitKey', {
      shot: shotState(doc.records, shot),
      correction: corr?.id ?? null,
      ...readAs(chosenKey(corr), 'again'),
      area: { select: what, skinLineDeg },
    }),
  );
  if (!sampled) return;
  useDoc.getState().begin('Key what is marked');
  const c = corr ?? addCorrection(shot.id);
  applyKeyFit(c.id, sampled, 'again');
  useDoc.getState().end();
  useSession.getState().set({ select: null, step: 'isolate', correction: c.id, conversionOpen: false });
}
