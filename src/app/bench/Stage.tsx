/** The picture with what lies on it: tools, handles, wipe. All tools also work from the keyboard by a cross that arrow keys move. */
import { useEffect, useMemo, useRef, useState } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import styled from 'styled-components';
import { patchesOf, projectOf } from '../../document/records';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../../document/records';
import type { RenderRequest, View } from '../../protocol/messages';
import { addCorrection, addPatch, addTerm, applyKeyFit, placeChart, shotState } from '../actions';
import { boundsOf } from '../../core/math/polygon';
import { pointFromPicture } from '../curvePoint';
import { engine } from '../engine';
import { useLive } from '../live';
import { guard } from '../notices';
import { useDoc, useSession } from '../store';
import { placing, zoomAbout } from './geometry';
import { Legend } from './Legend';
import { Overlay } from './Overlay';
import { patchSpec, scopeRequests, useScopePx } from './scopeSlots';
import { useRender } from './useRender';

const Area = styled.div`
  position: relative; height: 100%; min-height: 0; background: var(--stage); overflow: hidden; touch-action: none; outline: none; contain: strict;
  &:focus-visible { box-shadow: inset 0 0 0 2px var(--bright); }
  canvas { position: absolute; inset: 0; width: 100%; height: 100%; will-change: transform; }
`;
const Hint = styled.div`
  position: absolute; left: 50%; top: 10px; transform: translateX(-50%); background: rgb(20 20 20 / 85%); color: #f2f2f2; padding: 4px 12px; border-radius: 4px; font-size: 12.5px; pointer-events: none; max-width: 92%; text-align: center;
`;
const WipeBar = styled.div`
  position: absolute; top: 0; bottom: 0; width: 13px; margin-left: -6px; cursor: ew-resize; outline: none;
  &::after { content: ''; position: absolute; left: 6px; top: 0; bottom: 0; width: 1px; background: #fff; box-shadow: 0 0 0 1px rgb(0 0 0 / 40%); }
  &:focus-visible::after { width: 3px; left: 5px; }
`;
const hints = {
  key: 'Drag across what you want to isolate. Keys: arrows move the cross, Enter begins and ends the stroke, Escape leaves.',
  ellipse: 'Drag a box round it. Keys: arrows move the cross, Enter sets two corners, Escape leaves.',
  patch: 'Drag a box over clean skin: no lips, eyes or glints. Keys: arrows move the cross, Enter sets two corners, Escape leaves.',
  curvePoint: 'Click on a tone of the picture: the curve gets a point there. Keys: arrows move the cross, Enter twice sets it, Escape leaves.',
  patchFree: 'Click round clean skin or grey, corner by corner; a double click or Enter on the last closes it.',
  chart: 'Drag a box over the whole chart, then pull its corners onto the corner patches.',
} as const;

type Point = { x: number; y: number };

export function Stage({ shot, media, corr }: { shot: ShotRecord; media: MediaRecord; corr: CorrectionRecord | null }) {
  const area = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ w: 0, h: 0, k: 1 });
  const records = useDoc((s) => s.records);
  const dragging = useDoc((s) => s.mark !== null);
  const { tool, mode, compare, wipe, zoom, bypass, slots, select, falseColour, zonesOf, set } = useSession();
  const px = useScopePx((s) => s.px);
  const [stroke, setStroke] = useState<Point[] | null>(null);
  const [cross, setCross] = useState<Point | null>(null);
  /** Asked for once an entry or change of size: asking while the page is dirty forces a layout. */
  const rect = useRef<DOMRect | null>(null);
  const pan = useRef<{ x: number; y: number; cx: number; cy: number } | null>(null);

  useEffect(() => {
    const ro = new ResizeObserver(([e]) => {
      const k = Math.min(2, window.devicePixelRatio || 1);
      rect.current = null;
      setSize({ w: Math.round(e!.contentRect.width), h: Math.round(e!.contentRect.height), k });
    });
    ro.observe(area.current!);
    return () => ro.disconnect();
  }, []);

  const side = compare === 'side';
  const place = placing(size.w || 1, size.h || 1, media.width, media.height, zoom, side);
  const line = projectOf(records)?.skinLineDeg ?? 123;
  const patches = useMemo(() => patchesOf(records, shot.id), [records, shot.id]);
  const state = useMemo(() => shotState(records, shot, bypass), [records, shot, bypass]);
  const corrId = corr?.id ?? null;
  const scopes = useMemo(() => scopeRequests(slots, px, patches), [slots, px, patches]);
  const request = useMemo((): Omit<RenderRequest, 'quality'> | null => {
    if (size.w === 0) return null;
    const view: View = { w: Math.round(size.w * size.k), h: Math.round(size.h * size.k), scale: place.scale * size.k, offX: place.offX, offY: place.offY, mode, compare, wipeX: wipe * media.width, falseColour, select: select ? { ...select.what, when: select.when } : null, zonesOf };
    return { shot: state, focus: corrId, view, scopes: scopes.list, patches: patches.map(patchSpec), skinLineDeg: line };
  }, [state, corrId, size, place.scale, place.offX, place.offY, mode, compare, wipe, media.width, scopes, falseColour, select, zonesOf, patches, line]);
  useRender(canvas, request, scopes.keys, dragging);

  const toPicture = (e: { clientX: number; clientY: number }): Point => {
    const r = rect.current ?? (rect.current = area.current!.getBoundingClientRect());
    let x = e.clientX - r.left;
    if (side && x >= size.w / 2) x -= Math.floor(size.w / 2);
    return { x: x / place.scale + place.offX, y: (e.clientY - r.top) / place.scale + place.offY };
  };
  const inside = (p: Point): boolean => p.x >= 0 && p.y >= 0 && p.x < media.width && p.y < media.height;

  // Hover: one question at a time, the newest position next.
  const asking = useRef(false);
  const want = useRef<Point | null>(null);
  const ask = async (): Promise<void> => {
    if (asking.current) return;
    asking.current = true;
    while (want.current) {
      const p = want.current;
      want.current = null;
      try {
        const r = await engine().request('pick', { shot: state, x: p.x, y: p.y });
        useLive.setState({ pick: r ? { ...r, ...p } : null });
      } catch {
        useLive.setState({ pick: null });
      }
    }
    asking.current = false;
  };
  const hover = (p: Point): void => {
    if (!inside(p) || dragging) {
      want.current = null;
      useLive.setState({ pick: null });
      return;
    }
    want.current = p;
    void ask();
  };

  /** A corner of a freeform patch; one that is set again on the last closes it. */
  const corner = (p: Point, close: boolean): void => {
    const list = stroke ?? [];
    const last = list.at(-1);
    const again = close || (!!last && Math.hypot(last.x - p.x, last.y - p.y) < 3 / place.scale);
    if (!again) {
      setStroke([...list, p]);
      return;
    }
    setStroke(null);
    if (list.length < 3) return;
    const points = list.map((q): [number, number] => [Math.round(q.x * 10) / 10, Math.round(q.y * 10) / 10]);
    addPatch(shot.id, boundsOf(points), points);
    set({ tool: 'none' });
  };
  const finish = async (points: Point[]): Promise<void> => {
    setStroke(null);
    const a = points[0]!;
    const b = points.at(-1)!;
    const minSize = 8 / place.scale;
    const w = Math.abs(b.x - a.x);
    const h = Math.abs(b.y - a.y);
    const isClick = w < minSize && h < minSize;
    if (tool === 'patch') {
      const [bw, bh] = isClick ? [media.width / 32, media.width / 40] : [w, h];
      const [x, y] = isClick ? [a.x - bw / 2, a.y - bh / 2] : [Math.min(a.x, b.x), Math.min(a.y, b.y)];
      addPatch(shot.id, { x: Math.round(x), y: Math.round(y), w: Math.max(4, Math.round(bw)), h: Math.max(4, Math.round(bh)) });
      set({ tool: 'none' });
      return;
    }
    if (tool === 'chart') {
      if (isClick) return;
      const [x0, y0, x1, y1] = [Math.min(a.x, b.x), Math.min(a.y, b.y), Math.max(a.x, b.x), Math.max(a.y, b.y)];
      placeChart(shot.id, [[x0, y0], [x1, y0], [x1, y1], [x0, y1]]);
      set({ tool: 'none', shelf: true, shelfTab: 'chart' });
      return;
    }
    if (tool === 'curvePoint') {
      set({ tool: 'none' });
      await pointFromPicture(shot, b);
      return;
    }
    const doc = useDoc.getState();
    doc.begin(tool === 'key' ? 'Set the key' : 'Add an ellipse');
    const c = corr ?? addCorrection(shot.id);
    if (tool === 'ellipse') {
      const [rx, ry] = isClick ? [media.height / 6, media.height / 5] : [w / 2, h / 2];
      const r1 = (v: number): number => Math.round(v * 10) / 10;
      addTerm(c.id, 'ellipse', { cxPx: r1(isClick ? a.x : (a.x + b.x) / 2), cyPx: r1(isClick ? a.y : (a.y + b.y) / 2), rxPx: r1(rx), ryPx: r1(ry), softPx: r1(Math.min(rx, ry) * 0.35) });
      set({ tool: 'none', step: 'isolate' });
      doc.end();
      return;
    }
    const now = useDoc.getState().records;
    const fit = await guard('The key was not set', () => engine().request('fitKey', { shot: shotState(now, shot), correction: c.id, area: { points: spread(points, 3 / place.scale), radiusPx: Math.max(2, 4 / place.scale) } }));
    if (fit) {
      applyKeyFit(c.id, fit);
      set({ tool: 'none', step: 'isolate' });
      useDoc.getState().end();
    } else useDoc.getState().bail();
  };

  const down = (e: PointerEvent<HTMLDivElement>): void => {
    rect.current = null;
    area.current?.focus({ preventScroll: true });
    if (e.button === 1 || (e.button === 0 && tool === 'none')) {
      e.currentTarget.setPointerCapture(e.pointerId);
      pan.current = { x: e.clientX, y: e.clientY, cx: place.offX + (side ? size.w / 4 : size.w / 2) / place.scale, cy: place.offY + size.h / 2 / place.scale };
      return;
    }
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    setCross(null);
    if (tool === 'patchFree') corner(toPicture(e), e.detail >= 2);
    else setStroke([toPicture(e)]);
  };
  const move = (e: PointerEvent): void => {
    const p = toPicture(e);
    if (pan.current) {
      const d = pan.current;
      if (Math.hypot(e.clientX - d.x, e.clientY - d.y) > 3 && zoom) set({ zoom: { scale: place.scale, cx: d.cx - (e.clientX - d.x) / place.scale, cy: d.cy - (e.clientY - d.y) / place.scale } });
      return;
    }
    if (stroke && tool !== 'patchFree') setStroke([...stroke, p]);
    hover(p);
  };
  const up = (): void => {
    pan.current = null;
    if (stroke && tool !== 'patchFree') void finish(stroke);
  };
  const key = (e: KeyboardEvent): void => {
    if (e.ctrlKey || e.metaKey) return;
    const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (e.key === 'Escape') {
      if (stroke) setStroke(null);
      else if (tool !== 'none') set({ tool: 'none' });
      setCross(null);
    } else if (d) {
      e.preventDefault();
      const k = (e.shiftKey ? 40 : e.altKey ? 1 : 8) / place.scale;
      const at = cross ?? { x: media.width / 2, y: media.height / 2 };
      const p = { x: Math.min(media.width - 1, Math.max(0, at.x + d[0]! * k)), y: Math.min(media.height - 1, Math.max(0, at.y + d[1]! * k)) };
      setCross(p);
      hover(p);
      if (stroke && tool !== 'patchFree') setStroke([...stroke, p]);
    } else if ((e.key === 'Enter' || e.key === ' ') && tool !== 'none') {
      e.preventDefault();
      const at = cross ?? { x: media.width / 2, y: media.height / 2 };
      if (tool === 'patchFree') {
        setCross(at);
        corner(at, false);
      } else if (stroke) void finish([...stroke, at]);
      else {
        setCross(at);
        setStroke([at]);
      }
    }
  };
  // React's wheel listeners are passive: the page would scroll.
  const wheel = useRef<(e: WheelEvent) => void>(() => {});
  wheel.current = (e) => {
    e.preventDefault();
    const r = area.current!.getBoundingClientRect();
    const x = e.clientX - r.left;
    set({ zoom: zoomAbout(place, size.w, size.h, side, side && x > size.w / 2 ? x - size.w / 2 : x, e.clientY - r.top, Math.exp(-e.deltaY * 0.0015)) });
  };
  useEffect(() => {
    const el = area.current!;
    const f = (e: WheelEvent): void => wheel.current(e);
    el.addEventListener('wheel', f, { passive: false });
    return () => el.removeEventListener('wheel', f);
  }, []);
  useEffect(() => {
    if (tool === 'none') setCross(null);
    else area.current?.focus({ preventScroll: true });
  }, [tool]);

  const S = (p: Point): [number, number] => [(p.x - place.offX) * place.scale, (p.y - place.offY) * place.scale];
  const wipeAt = (wipe * media.width - place.offX) * place.scale;
  return (
    <Area
      ref={area} tabIndex={0} role="application" aria-label={`Picture of ${shot.name}. Arrow keys move a cross that reads the colour.`} style={{ cursor: tool === 'none' ? (zoom ? 'grab' : 'default') : 'crosshair' }}
      onPointerEnter={() => void (rect.current = null)} onPointerDown={down} onPointerMove={move} onPointerUp={up} onPointerLeave={() => !stroke && hover({ x: -1, y: -1 })} onKeyDown={key}
    >
      <canvas ref={canvas} />
      <Overlay shot={shot} corr={corr} patches={patches} place={place} plain={tool !== 'none' || mode === 'change' || side} />
      {(stroke || cross) && (
        <svg style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}>
          {stroke && tool === 'key' && <polyline points={stroke.map((p) => S(p).join(',')).join(' ')} fill="none" stroke="#fff" strokeOpacity={0.85} strokeWidth={8} strokeLinecap="round" strokeLinejoin="round" />}
          {stroke && tool === 'patchFree' && <polygon points={stroke.map((p) => S(p).join(',')).join(' ')} fill="rgb(255 255 255 / 15%)" stroke="#fff" strokeWidth={1.5} />}
          {stroke && tool !== 'key' && tool !== 'none' && tool !== 'patchFree' && (() => {
            const [x0, y0] = S(stroke[0]!);
            const [x1, y1] = S(stroke.at(-1)!);
            const r = { x: Math.min(x0, x1), y: Math.min(y0, y1), width: Math.abs(x1 - x0), height: Math.abs(y1 - y0) };
            return tool === 'ellipse' ? <ellipse cx={(x0 + x1) / 2} cy={(y0 + y1) / 2} rx={r.width / 2} ry={r.height / 2} fill="none" stroke="#fff" strokeWidth={1.5} strokeDasharray="7 5" /> : <rect {...r} fill="none" stroke="#fff" strokeWidth={1.5} />;
          })()}
          {cross && <path d={`M${S(cross)[0] - 12},${S(cross)[1]}h24M${S(cross)[0]},${S(cross)[1] - 12}v24`} stroke="#fff" strokeWidth={1.5} style={{ filter: 'drop-shadow(0 0 1px #000)' }} />}
        </svg>
      )}
      {compare === 'wipe' && wipeAt > -6 && wipeAt < size.w + 6 && (
        <WipeBar
          role="slider" tabIndex={0} aria-label="Wipe: before on the left, after on the right" aria-valuenow={Math.round(wipe * 100)} aria-valuemin={0} aria-valuemax={100} style={{ left: wipeAt }}
          onPointerDown={(e) => { e.stopPropagation(); e.currentTarget.setPointerCapture(e.pointerId); }}
          onPointerMove={(e) => { if (e.buttons & 1) { e.stopPropagation(); set({ wipe: Math.min(1, Math.max(0, toPicture(e).x / media.width)) }); } }}
          onKeyDown={(e) => { const dir = { ArrowLeft: -1, ArrowRight: 1 }[e.key]; if (dir) { e.preventDefault(); e.stopPropagation(); set({ wipe: Math.min(1, Math.max(0, wipe + dir * (e.shiftKey ? 0.1 : 0.01))) }); } }}
        />
      )}
      {mode === 'picture' && <Legend kind={falseColour} shot={shot} />}
      {tool !== 'none' && <Hint role="status">{hints[tool]}</Hint>}
      {tool === 'none' && bypass && <Hint>All corrections are off while you compare</Hint>}
    </Area>
  );
}

/** Points along a stroke at most `step` apart, so that a fast hand leaves no gaps. */
function spread(points: Point[], step: number): Point[] {
  const out: Point[] = [points[0]!];
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1]!;
    const b = points[i]!;
    const n = Math.max(1, Math.ceil(Math.hypot(b.x - a.x, b.y - a.y) / step));
    for (let k = 1; k <= n; k++) out.push({ x: a.x + ((b.x - a.x) * k) / n, y: a.y + ((b.y - a.y) * k) / n });
  }
  return out.slice(0, 4000);
}
