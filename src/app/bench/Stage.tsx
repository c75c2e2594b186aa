/**
 * The picture with what lies on it: tools, handles, wipe. All tools also work from the keyboard by a cross that arrow
 * keys move.
 */
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import styled from 'styled-components';
import { patchesOf } from '../../document/records';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../../document/records';
import type { View } from '../../protocol/messages';
import { engine } from '../engine';
import { asideFailed } from '../notices';
import { useLive } from '../live';
import { player, usePlay } from '../player';
import { aspectOf, WideProvider } from '../pixelAspect';
import { otherOf } from '../reference';
import { useFrame } from '../values';
import { useDoc, useSession } from '../store';
import { pieceOf, placing, zoomAbout } from './geometry';
import type { Piece } from './geometry';
import { shiftOf } from './hold';
import { Legend } from './Legend';
import { Overlay } from './Overlay';
import { PressBar } from './PressBar';
import { atFrame, partAlone, requestOf } from './request';
import type { Looking } from './request';
import { useScopePx } from './scopeSlots';
import { toolOf } from './tools';
import type { Hand, Point } from './tools';
import { useBlink } from './useBlink';
import { drawReply, useRender } from './useRender';
import { WipeLine } from './WipeLine';

const Area = styled.div`
  position: relative;
  height: 100%;
  min-height: 0;
  background: var(--stage);
  overflow: hidden;
  touch-action: none;
  outline: none;
  contain: strict;
  &:focus-visible {
    box-shadow: inset 0 0 0 2px var(--bright);
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    will-change: transform;
  }
`;
const Hint = styled.div`
  position: absolute;
  left: 50%;
  top: 10px;
  transform: translateX(-50%);
  background: rgb(20 20 20 / 85%);
  color: #f2f2f2;
  padding: 4px 12px;
  border-radius: 4px;
  font-size: 12.5px;
  pointer-events: none;
  max-width: 92%;
  text-align: center;
`;
/** A pointer that has not moved for so long rests. */
const RESTS_MS = 120;
const samePlace = (a: Point, b: Point): boolean => a.x === b.x && a.y === b.y;
const FLAT = { position: 'absolute', inset: 0, transformOrigin: '0 0' } as const;

export function Stage({ shot, media, corr }: { shot: ShotRecord; media: MediaRecord; corr: CorrectionRecord | null }) {
  const area = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  /** The stage in pixels of a picture whose own are square: it is drawn `wide` times as wide. */
  const [size, setSize] = useState({ w: 0, h: 0, k: 1 });
  const wide = aspectOf(media);
  const records = useDoc((s) => s.records);
  const dragging = useDoc((s) => s.mark !== null);
  const {
    tool,
    mode,
    ground,
    alone,
    compare,
    against,
    reference,
    wipe,
    wipeY,
    wipeDeg,
    zoom,
    bypass,
    slots,
    select,
    falseColour,
    shown,
    zonesOf,
    bits,
    hold,
    set,
  } = useSession();
  const blink = useBlink(compare === 'blink');
  const px = useScopePx((s) => s.px);
  const [stroke, setStroke] = useState<Point[] | null>(null);
  const [cross, setCross] = useState<Point | null>(null);
  /** Asked for once an entry or change of size: asking while the page is dirty forces a layout. */
  const rect = useRef<DOMRect | null>(null);
  const pan = useRef<{ x: number; y: number; cx: number; cy: number } | null>(null);

  useLayoutEffect(() => {
    const el = area.current!;
    const measure = (across: number, h: number): void => {
      const w = across / wide;
      const k = Math.min(2, window.devicePixelRatio || 1);
      rect.current = null;
      setSize((s) =>
        s.w === Math.round(w) && s.h === Math.round(h) && s.k === k ? s : { w: Math.round(w), h: Math.round(h), k },
      );
    };
    // Before the first paint: the engine makes the picture while the browser draws what stands round it.
    measure(el.clientWidth, el.clientHeight);
    const ro = new ResizeObserver(([e]) => measure(e!.contentRect.width, e!.contentRect.height));
    ro.observe(el);
    return () => ro.disconnect();
  }, [wide]);

  const side = compare === 'side';
  const fixed = placing(size.w || 1, size.h || 1, media.width, media.height, zoom, side);
  const patches = patchesOf(records, shot.id);
  const corrId = corr?.id ?? null;
  const preview = useLive((l) => l.preview);
  const trial = useLive((l) => l.trial);
  // Held to the shot: another one may have been longer.
  const frame = Math.max(shot.range[0], Math.min(shot.range[1], useFrame()));
  const [dx, dy] = useMemo(() => shiftOf(records, shot.id, hold), [records, shot.id, hold])(frame);
  /** Where the picture lies at this frame. */
  const place = { ...fixed, offX: fixed.offX + dx, offY: fixed.offY + dy };
  const showing = usePlay((x) => x.frame !== null);
  const look = useMemo((): Looking => {
    const view: View = {
      w: Math.round(size.w * size.k),
      h: Math.round(size.h * size.k),
      scale: fixed.scale * size.k,
      offX: fixed.offX,
      offY: fixed.offY,
      // What is being taken is shown as what it takes.
      mode: preview ? 'tint' : mode,
      ground,
      // Before and after in turn are a wipe that is over, and one that has not begun.
      compare: compare === 'blink' ? 'wipe' : compare,
      wipeX: compare === 'blink' ? (blink ? media.width : 0) : wipe * media.width,
      ...(compare === 'wipe' && { wipeY: wipeY * media.height, wipeDeg }),
      falseColour,
      shown,
      select: select ? { ...select.what, when: select.when } : null,
      zonesOf,
    };
    const held = reference;
    return {
      shot: shot.id,
      correction: corrId,
      alone,
      bypass,
      preview,
      view,
      slots,
      px,
      bits,
      against,
      held,
      hold,
      trial,
    };
  }, [
    shot.id,
    corrId,
    alone,
    bypass,
    preview,
    trial,
    size,
    fixed.scale,
    fixed.offX,
    fixed.offY,
    hold,
    mode,
    ground,
    compare,
    wipe,
    wipeY,
    wipeDeg,
    blink,
    media.width,
    media.height,
    falseColour,
    shown,
    select,
    zonesOf,
    slots,
    px,
    bits,
    against,
    reference,
  ]);
  const asked = useMemo(() => requestOf(records, look), [records, look]);
  const part = partAlone(records, shot.id, look);
  const other = useMemo(() => otherOf(records, shot, against, reference), [records, shot, against, reference]);
  useRender(canvas, { records, look, frame, asked }, dragging || preview !== null, showing);
  useEffect(() => {
    const piece = (f: number): Piece => pieceOf(atFrame(asked!, f).view, media.width, media.height);
    player.attach(
      area,
      asked && shot.range[1] > shot.range[0]
        ? {
            base: asked.request,
            request: (f) => ({ ...atFrame(asked, f), view: piece(f).view }),
            fps: shot.rate[0] / shot.rate[1],
            range: { first: shot.range[0], last: shot.range[1] },
            media,
            draw: (r, f) => {
              const { w, h } = asked.request.view;
              if (canvas.current) drawReply(canvas.current, r, asked.keys, { ...piece(f), w, h });
            },
          }
        : null,
    );
  }, [asked, shot.range, shot.rate, media]);
  useEffect(() => () => player.attach(area, null), []);

  const toPicture = (e: { clientX: number; clientY: number }): Point => {
    const r = rect.current ?? (rect.current = area.current!.getBoundingClientRect());
    let x = (e.clientX - r.left) / wide;
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
    while (want.current && asked) {
      const p = want.current;
      want.current = null;
      try {
        const r = await engine().request('pick', { shot: { ...asked.request.shot, frame }, x: p.x, y: p.y });
        useLive.setState({ pick: r ? { ...r, ...p } : null });
      } catch (e) {
        asideFailed('The colour under the pointer could not be read')(e);
        useLive.setState({ pick: null });
      }
    }
    asking.current = false;
  };
  // With a tool in hand that begins where it rests.
  const resting = useRef<ReturnType<typeof setTimeout>>(undefined);
  const begun = useRef<{ at: Point; stop: () => void } | null>(null);
  const rest = (p: Point | null): void => {
    clearTimeout(resting.current);
    const { rests } = drawing ?? {};
    if (!p || !rests || stroke) return;
    resting.current = setTimeout(() => {
      if (begun.current && samePlace(begun.current.at, p)) return;
      begun.current?.stop();
      begun.current = { at: p, stop: rests(handOf([p])) };
    }, RESTS_MS);
  };
  useEffect(
    () => () => {
      clearTimeout(resting.current);
      begun.current?.stop();
      begun.current = null;
    },
    [tool, shot.id],
  );
  const over = useRef<Point | null>(null);
  const hover = (p: Point): void => {
    const moved = !over.current || !samePlace(over.current, p);
    over.current = p;
    // A hand that presses where it rests has not moved: what was begun there is not disturbed.
    if (!moved && begun.current && samePlace(begun.current.at, p)) return;
    rest(inside(p) && !dragging ? p : null);
    if (!inside(p) || dragging) {
      want.current = null;
      useLive.setState({ pick: null });
      return;
    }
    want.current = p;
    void ask();
  };

  const drawing = toolOf(tool);
  const corners = drawing?.draws === 'corners';
  const handOf = (points: readonly Point[]): Hand => {
    const [a, b] = [points[0]!, points.at(-1)!];
    const box = { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), w: Math.abs(b.x - a.x), h: Math.abs(b.y - a.y) };
    const least = 8 / place.scale;
    const isClick = box.w < least && box.h < least;
    return { shot, media, corr, points, box, isClick, scale: place.scale };
  };
  const finish = async (points: readonly Point[]): Promise<void> => {
    latest.current = null;
    setStroke(null);
    // What was shown stays until it is true.
    try {
      await drawing?.finish(handOf(points));
    } finally {
      useLive.setState({ preview: null });
    }
  };
  /** One question at a time, about the newest points. */
  const latest = useRef<readonly Point[] | null>(null);
  const previewing = useRef(false);
  const show = async (points: readonly Point[]): Promise<void> => {
    latest.current = points;
    if (!drawing?.during || previewing.current) return;
    previewing.current = true;
    while (latest.current) {
      const now: readonly Point[] = latest.current;
      const term = await drawing.during(handOf(now)).catch(asideFailed('What is taken could not be shown'));
      if (latest.current && term) useLive.setState({ preview: { correction: corrId, term } });
      if (latest.current === now) break;
    }
    previewing.current = false;
  };
  useEffect(() => () => useLive.setState({ preview: null }), [shot.id]);
  const leave = (): void => {
    latest.current = null;
    setStroke(null);
    useLive.setState({ preview: null });
  };
  /** Corner by corner: one that is set again on the last closes it. */
  const corner = (p: Point, close: boolean): void => {
    const list = stroke ?? [];
    const last = list.at(-1);
    if (close || (!!last && Math.hypot(last.x - p.x, last.y - p.y) < 3 / place.scale)) void finish(list);
    else setStroke([...list, p]);
  };

  const down = (e: PointerEvent<HTMLDivElement>): void => {
    rest(null);
    rect.current = null;
    area.current?.focus({ preventScroll: true });
    if (e.button === 1 || (e.button === 0 && tool === 'none')) {
      e.currentTarget.setPointerCapture(e.pointerId);
      pan.current = {
        x: e.clientX,
        y: e.clientY,
        cx: fixed.offX + (side ? size.w / 4 : size.w / 2) / place.scale,
        cy: fixed.offY + size.h / 2 / place.scale,
      };
      return;
    }
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    setCross(null);
    if (corners) corner(toPicture(e), e.detail >= 2);
    else setStroke([toPicture(e)]);
  };
  const move = (e: PointerEvent): void => {
    const p = toPicture(e);
    if (pan.current) {
      const d = pan.current;
      if (Math.hypot(e.clientX - d.x, e.clientY - d.y) > 3 && zoom)
        set({
          zoom: {
            scale: place.scale,
            cx: d.cx - (e.clientX - d.x) / wide / place.scale,
            cy: d.cy - (e.clientY - d.y) / place.scale,
          },
        });
      return;
    }
    if (stroke && !corners) {
      setStroke([...stroke, p]);
      void show([...stroke, p]);
    }
    hover(p);
  };
  const up = (): void => {
    pan.current = null;
    if (stroke && !corners) void finish(stroke);
  };
  const key = (e: KeyboardEvent): void => {
    if (e.ctrlKey || e.metaKey) return;
    const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (e.key === 'Escape') {
      if (stroke) leave();
      else if (tool !== 'none') set({ tool: 'none' });
      setCross(null);
    } else if (d && cross) {
      e.preventDefault();
      e.stopPropagation();
      const k = (e.shiftKey ? 40 : e.altKey ? 1 : 8) / place.scale;
      const p = {
        x: Math.min(media.width - 1, Math.max(0, cross.x + d[0]! * k)),
        y: Math.min(media.height - 1, Math.max(0, cross.y + d[1]! * k)),
      };
      setCross(p);
      hover(p);
      if (stroke && !corners) {
        setStroke([...stroke, p]);
        void show([...stroke, p]);
      }
    } else if (e.key === 'Enter') {
      e.preventDefault();
      // The first one places the cross, in the middle; arrows move it, the next ones use the tool there.
      if (!cross) {
        const middle = { x: media.width / 2, y: media.height / 2 };
        setCross(middle);
        hover(middle);
      } else if (corners) corner(cross, false);
      else if (stroke) void finish([...stroke, cross]);
      else if (tool !== 'none') setStroke([cross]);
    }
  };
  // React's wheel listeners are passive: the page would scroll.
  const wheel = useRef<(e: WheelEvent) => void>(() => {});
  wheel.current = (e) => {
    e.preventDefault();
    const r = area.current!.getBoundingClientRect();
    const x = (e.clientX - r.left) / wide;
    set({
      zoom: zoomAbout(
        fixed,
        size.w,
        size.h,
        side,
        side && x > size.w / 2 ? x - size.w / 2 : x,
        e.clientY - r.top,
        Math.exp(-e.deltaY * 0.0015),
      ),
    });
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
  return (
    <Area
      ref={area}
      tabIndex={0}
      role="application"
      aria-label={`Picture of ${shot.name}. Enter places a cross that reads the colour, arrow keys move it.`}
      style={{ cursor: tool === 'none' ? (zoom ? 'grab' : 'default') : 'crosshair' }}
      onPointerEnter={() => void (rect.current = null)}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerLeave={() => !stroke && hover({ x: -1, y: -1 })}
      onKeyDown={key}
    >
      <WideProvider value={wide}>
        <div style={wide === 1 ? FLAT : { ...FLAT, width: `${100 / wide}%`, transform: `scaleX(${wide})` }}>
          <canvas ref={canvas} />
          <Overlay
            shot={shot}
            corr={corr}
            patches={patches}
            place={place}
            plain={tool !== 'none' || mode === 'change' || side}
          />
          {(stroke || cross) && (
            <svg style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}>
              {stroke && drawing?.draws === 'stroke' && (
                <polyline
                  points={stroke.map((p) => S(p).join(',')).join(' ')}
                  fill="none"
                  stroke="#fff"
                  strokeOpacity={0.85}
                  strokeWidth={8}
                  strokeLinecap="round"
                  strokeLinejoin="round"
                />
              )}
              {stroke && corners && (
                <polygon
                  points={stroke.map((p) => S(p).join(',')).join(' ')}
                  fill="rgb(255 255 255 / 15%)"
                  stroke="#fff"
                  strokeWidth={1.5}
                />
              )}
              {stroke && drawing?.draws === 'line' && (
                <line
                  x1={S(stroke[0]!)[0]}
                  y1={S(stroke[0]!)[1]}
                  x2={S(stroke.at(-1)!)[0]}
                  y2={S(stroke.at(-1)!)[1]}
                  stroke="#fff"
                  strokeWidth={1.5}
                />
              )}
              {stroke &&
                (drawing?.draws === 'box' || drawing?.draws === 'ellipse') &&
                (() => {
                  const [x0, y0] = S(stroke[0]!);
                  const [x1, y1] = S(stroke.at(-1)!);
                  const r = {
                    x: Math.min(x0, x1),
                    y: Math.min(y0, y1),
                    width: Math.abs(x1 - x0),
                    height: Math.abs(y1 - y0),
                  };
                  return drawing.draws === 'ellipse' ? (
                    <ellipse
                      cx={(x0 + x1) / 2}
                      cy={(y0 + y1) / 2}
                      rx={r.width / 2}
                      ry={r.height / 2}
                      fill="none"
                      stroke="#fff"
                      strokeWidth={1.5}
                      strokeDasharray="7 5"
                    />
                  ) : (
                    <rect {...r} fill="none" stroke="#fff" strokeWidth={1.5} />
                  );
                })()}
              {cross && (
                <path
                  d={`M${S(cross)[0] - 12},${S(cross)[1]}h24M${S(cross)[0]},${S(cross)[1] - 12}v24`}
                  stroke="#fff"
                  strokeWidth={1.5}
                  style={{ filter: 'drop-shadow(0 0 1px #000)' }}
                />
              )}
            </svg>
          )}
        </div>
      </WideProvider>
      {compare === 'wipe' && (
        <WipeLine
          other={other?.name ?? null}
          at={[
            (wipe * media.width - place.offX) * place.scale * wide,
            (wipeY * media.height - place.offY) * place.scale,
          ]}
          size={size}
          wide={wide}
          picture={media}
          toPicture={toPicture}
        />
      )}
      {mode === 'picture' && <Legend kind={falseColour} shot={shot} />}
      {drawing && <Hint role="status">{typeof drawing.hint === 'string' ? drawing.hint : drawing.hint()}</Hint>}
      {tool === 'none' && part && !bypass && <Hint>{`Only ${part.name} is looked at, as it is before tidying`}</Hint>}
      {tool === 'none' && <PressBar />}
      {compare === 'blink' && <Hint data-blink={blink}>{blink ? (other?.name ?? 'Before') : 'After'}</Hint>}
      {tool === 'none' && bypass && <Hint>All corrections are off while you compare</Hint>}
    </Area>
  );
}
