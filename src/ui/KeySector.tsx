/**
 * A key's limits as one control: hue and chroma together as a sector on a small vectorscope of the picture, luma as an
 * upright column beside it. Sides, inner and outer radius are dragged or moved by keys, fades are the lighter rims;
 * every number is typed below: from, to, fade.
 */
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import { Link2, Unlink2 } from 'lucide-react';
import styled from 'styled-components';
import { ycbcrToRgb } from '../core/color/ycbcr';
import { measure } from '../core/matte/keySpace';
import type { Encoding } from '../core/color/encodings';
import type { KeySpace } from '../core/matte/keySpace';
import { DEG, wrap360 } from '../core/math/angle';
import { IconButton, Switch } from './controls';
import { NumberBox } from './NumberBox';
import { HueRim } from './HueRim';
import { colourAt } from './keyColours';
import type { Gesture } from './ParamSlider';

export interface Limit {
  on: boolean;
  from: number;
  to: number;
  /** Outside of either end. */
  fadeFrom: number;
  fadeTo: number;
}
export type Axis = 'hue' | 'sat' | 'luma';
export interface KeySectorProps extends Gesture {
  space: KeySpace;
  /** Of the pictures' signal, for OKLCh. */
  encoding: Encoding;
  value: Record<Axis, Limit>;
  defaults: Record<Axis, Limit>;
  /** Density of the picture over Cb and Cr (see Distributions), and over luma. */
  plane: Uint8Array;
  cells: number;
  bins: readonly number[];
  /** Sampled pixels: Cb, Cr, luma, one after the other. */
  dots: readonly number[];
  onChange(axis: Axis, v: Limit): void;
}

const SIZE = 206;
const R = SIZE / 2;
/** Room for the rim of colours. */
const INNER = R - 6;
const COLUMN = 34;
/** Chroma at the rim, one of these: enough for the range and the picture. */
const SCALES = [30, 40, 50, 60, 75, 100, 150];

const Both = styled.div`
  display: grid;
  grid-template-columns: ${SIZE}px ${COLUMN}px;
  justify-content: space-between;
  margin: 8px 0 6px;
  svg {
    display: block;
    overflow: visible;
    touch-action: none;
    position: absolute;
    inset: 0;
  }
  > div {
    position: relative;
    height: ${SIZE}px;
  }
  canvas {
    position: absolute;
    inset: 6px;
    width: ${2 * INNER}px;
    height: ${2 * INNER}px;
    border-radius: 50%;
  }
  .grip {
    outline: none;
    cursor: grab;
  }
  .grip circle,
  .grip rect {
    stroke: #000;
    stroke-opacity: 0.65;
  }
  .grip:focus-visible circle,
  .grip:focus-visible rect {
    stroke: #fff;
    stroke-opacity: 1;
    stroke-width: 3;
  }
  .full {
    fill: #fff;
    fill-opacity: 0.14;
    stroke: #fff;
    stroke-width: 1.3;
  }
  .fade {
    fill: #fff;
    fill-opacity: 0.08;
    stroke: #fff;
    stroke-opacity: 0.45;
    stroke-dasharray: 2 3;
  }
  text {
    fill: #c8c8c8;
    font-size: 10.5px;
  }
`;
const Rows = styled.div`
  display: grid;
  grid-template-columns: 32px 64px repeat(4, 1fr) 24px;
  gap: 0 1px;
  align-items: center;
  font-size: 12.5px;
  height: 26px;
  input {
    padding: 0 2px;
  }
  &.heads {
    color: var(--dim);
    font-size: 12px;
    height: 18px;
    text-align: right;
  }
  &[data-off='true'] input,
  &[data-off='true'] b {
    color: var(--dim);
  }
  b {
    font-weight: 600;
    white-space: nowrap;
  }
`;

const tenth = (v: number): number => Math.round(v * 10) / 10;
const polar = (r: number, deg: number): [number, number] => [R + r * Math.cos(deg / DEG), R - r * Math.sin(deg / DEG)];
/** Width of a hue range counter-clockwise, as the key understands it. */
const widthOf = (l: Limit): number =>
  l.to - l.from >= 360 ? 360 : l.to >= l.from ? l.to - l.from : wrap360(l.to - l.from);

/** A piece of a ring; a whole turn is two circles. */
function ring(r0: number, r1: number, from: number, width: number): string {
  const p = (r: number, a: number): string =>
    polar(r, a)
      .map((v) => v.toFixed(2))
      .join(',');
  if (width >= 360)
    return (
      `M${p(r1, 0)}A${r1},${r1},0,1,0,${p(r1, 180)}A${r1},${r1},0,1,0,${p(r1, 360)}Z` +
      (r0 > 0 ? `M${p(r0, 0)}A${r0},${r0},0,1,1,${p(r0, 180)}A${r0},${r0},0,1,1,${p(r0, 360)}Z` : '')
    );
  const big = width > 180 ? 1 : 0;
  const to = from + width;
  return (
    `M${p(r0, from)}L${p(r1, from)}A${r1},${r1},0,${big},0,${p(r1, to)}L${p(r0, to)}` +
    `A${r0},${r0},0,${big},1,${p(r0, from)}Z`
  );
}

type End = 'from' | 'to' | 'fadeFrom' | 'fadeTo' | 'body';
const MOST: Record<Axis, { lo: number; hi: number; fade: number }> = {
  hue: { lo: -360, hi: 720, fade: 180 },
  sat: { lo: 0, hi: 150, fade: 100 },
  luma: { lo: -20, hi: 120, fade: 100 },
};
/** One end of a limit moved by d; ends stop at each other. */
export function moved(axis: Axis, l: Limit, end: End, d: number, linked: boolean): Limit {
  const m = MOST[axis];
  const fit = (v: number): number => tenth(Math.min(m.hi, Math.max(m.lo, v)));
  if (end === 'fadeFrom' || end === 'fadeTo') {
    const v = tenth(Math.min(m.fade, Math.max(0, l[end] + d)));
    return linked ? { ...l, fadeFrom: v, fadeTo: v } : { ...l, [end]: v };
  }
  if (axis !== 'hue') {
    if (end === 'from') return { ...l, from: fit(Math.min(l.to, l.from + d)) };
    if (end === 'to') return { ...l, to: fit(Math.max(l.from, l.to + d)) };
    return { ...l, from: fit(l.from + d), to: fit(l.to + d) };
  }
  const w = widthOf(l);
  const at = (from: number, width: number): Limit => {
    const start = tenth(wrap360(from)) % 360;
    // Told as an angle, but for the whole circle.
    const stop = tenth(start + width);
    return { ...l, from: start, to: width < 360 && stop >= 360 ? tenth(stop - 360) : stop };
  };
  if (end === 'from') return at(l.from + w - Math.min(360, Math.max(0, w - d)), Math.min(360, Math.max(0, w - d)));
  if (end === 'to') return at(l.from, Math.min(360, Math.max(0, w + d)));
  return at(l.from + d, w);
}

type Words = Record<Axis, { name: string; unit: string }>;
const NAMES: Record<KeySpace, Words> = {
  scope: {
    hue: { name: 'Hue', unit: '\u00b0' },
    sat: { name: 'Saturation', unit: ' %' },
    luma: { name: 'Luma', unit: ' %' },
  },
  oklch: {
    hue: { name: 'Hue', unit: '\u00b0' },
    sat: { name: 'Chroma', unit: ' %' },
    luma: { name: 'Lightness', unit: ' %' },
  },
};
const ENDS: Record<Exclude<End, 'body'>, string> = {
  from: 'from',
  to: 'to',
  fadeFrom: 'fade before it',
  fadeTo: 'fade behind it',
};

function KeySectorView(p: KeySectorProps) {
  const { value: v, space, encoding } = p;
  const WORDS = NAMES[space];
  const dots = useMemo(() => {
    if (space === 'scope') return p.dots;
    const measured = measure(space, encoding);
    return Array.from({ length: p.dots.length / 3 }, (_, i) => {
      const [l, a, b] = measured(...ycbcrToRgb(p.dots[3 * i + 2]!, p.dots[3 * i]!, p.dots[3 * i + 1]!));
      return [a, b, l];
    }).flat();
  }, [p.dots, space, encoding]);
  const latest = useRef(p);
  latest.current = p;
  const [unlinked, setUnlinked] = useState<Partial<Record<Axis, boolean>>>({});
  const isLinked = (a: Axis): boolean => !unlinked[a] && v[a].fadeFrom === v[a].fadeTo;
  const drag = useRef<{ axis: Axis; end: End; start: Limit; x: number; y: number; linked: boolean } | null>(null);
  const disc = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState<number | null>(null);

  const wants = v.sat.on ? v.sat.to : 0;
  const scale = held ?? SCALES.find((s) => s >= Math.max(30, wants, reach(p.plane, p.cells))) ?? 150;
  const radius = (pct: number): number => (Math.min(scale, Math.max(0, pct)) / scale) * INNER;

  // The picture's own colours, drawn once per distribution and scale.
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const el = canvas.current;
    if (!el) return;
    const n = p.cells;
    const img = new ImageData(n, n);
    for (let i = 0; i < n * n; i++) {
      // Most of the plane holds nothing: its colours are not worked out.
      const k = Math.min(255, p.plane[i]! * 3);
      if (k === 0) continue;
      const [cb, cr] = [((i % n) + 0.5) / n - 0.5, 0.5 - (Math.floor(i / n) + 0.5) / n];
      const f = 90 / Math.max(20, 200 * Math.hypot(cb, cr));
      const c = colourAt(space, cb * f * 0.5, cr * f * 0.5);
      for (let j = 0; j < 3; j++) img.data[4 * i + j] = 255 * c[j]!;
      img.data[4 * i + 3] = k;
    }
    const whole = document.createElement('canvas');
    whole.width = whole.height = n;
    whole.getContext('2d')!.putImageData(img, 0, 0);
    el.width = el.height = 2 * INNER * 2;
    const g = el.getContext('2d')!;
    const part = (n * scale) / 100;
    g.drawImage(whole, (n - part) / 2, (n - part) / 2, part, part, 0, 0, el.width, el.height);
  }, [p.plane, p.cells, scale, space]);

  const begin = (axis: Axis, end: End) => (e: PointerEvent<Element>) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    (e.currentTarget as HTMLElement).focus?.();
    drag.current = { axis, end, start: v[axis], x: e.clientX, y: e.clientY, linked: isLinked(axis) };
    setHeld(scale);
    p.onBegin();
  };
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d) return;
    const fine = e.altKey ? 0.1 : 1;
    let by: number;
    if (d.axis === 'luma') by = (-(e.clientY - d.y) / SIZE) * 100;
    else {
      const b = disc.current!.getBoundingClientRect();
      const at = (x: number, y: number): [number, number] => [x - b.left - R, b.top + R - y];
      const [x0, y0] = at(d.x, d.y);
      const [x1, y1] = at(e.clientX, e.clientY);
      by =
        d.axis === 'hue'
          ? (((Math.atan2(y1, x1) - Math.atan2(y0, x0)) * DEG + 540) % 360) - 180
          : ((Math.hypot(x1, y1) - Math.hypot(x0, y0)) / INNER) * scale;
    }
    // A fade grows away from its range.
    const sign = d.end === 'fadeFrom' ? -1 : 1;
    p.onChange(d.axis, moved(d.axis, d.start, d.end, sign * by * fine, d.linked));
  };
  const up = (): void => {
    if (drag.current) p.onEnd();
    drag.current = null;
    setHeld(null);
  };
  const once = (axis: Axis, l: Limit): void => {
    p.onBegin();
    p.onChange(axis, l);
    p.onEnd();
  };
  const key = (axis: Axis, end: End) => (e: KeyboardEvent) => {
    if (e.key === 'Escape' && drag.current) {
      e.stopPropagation();
      drag.current = null;
      setHeld(null);
      p.onBail();
      return;
    }
    const dir = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
    if (dir === undefined) return;
    e.preventDefault();
    e.stopPropagation();
    once(axis, moved(axis, v[axis], end, dir * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1), isLinked(axis)));
  };
  const grip = (axis: Axis, end: Exclude<End, 'body'>, x: number, y: number, shape: ReactNode): ReactNode => (
    <g
      key={`${axis}${end}`}
      className="grip"
      role="slider"
      tabIndex={0}
      aria-label={`${WORDS[axis].name} ${ENDS[end]}`}
      aria-valuenow={v[axis][end]}
      aria-valuetext={`${v[axis][end]}${WORDS[axis].unit}`}
      transform={`translate(${x.toFixed(2)} ${y.toFixed(2)})`}
      onPointerDown={begin(axis, end)}
      onKeyDown={key(axis, end)}
    >
      <circle r={9} fill="transparent" style={{ stroke: 'none' }} />
      {shape}
    </g>
  );

  const hueOn = v.hue.on;
  const w = hueOn ? widthOf(v.hue) : 360;
  const from = hueOn ? v.hue.from : 0;
  const middle = hueOn ? from + w / 2 : 90;
  const [r0, r1] = v.sat.on ? [radius(v.sat.from), radius(v.sat.to)] : [0, INNER];
  const [f0, f1] = v.sat.on ? [radius(v.sat.from - v.sat.fadeFrom), radius(v.sat.to + v.sat.fadeTo)] : [0, INNER];
  const fadeFrom = hueOn ? Math.min(v.hue.fadeFrom, (360 - w) / 2) : 0;
  const fadeTo = hueOn ? Math.min(v.hue.fadeTo, (360 - w) / 2) : 0;
  const side = Math.max(18, (r0 + r1) / 2);
  const dot = <circle r={4.5} fill="#fff" />;
  const soft = <circle r={3.6} fill="#4a4a4a" style={{ stroke: '#fff', strokeOpacity: 0.9 }} />;
  const Y = (luma: number): number => SIZE - (Math.min(100, Math.max(0, luma)) / 100) * SIZE;
  const l = v.luma;
  return (
    <div onPointerMove={move} onPointerUp={up} onPointerCancel={up}>
      <Both>
        <div ref={disc} role="group" aria-label={`Hue and ${WORDS.sat.name.toLowerCase()} of the key`}>
          <canvas ref={canvas} style={{ background: 'var(--deep)' }} aria-hidden />
          <svg width={SIZE} height={SIZE}>
            <HueRim r={R} space={space} />
            <path d={`M${R},7V${SIZE - 7}M7,${R}H${SIZE - 7}`} stroke="#5a5a5a" />
            <text x={R + 4} y={17}>{`${scale} %`}</text>
            {Array.from({ length: dots.length / 3 }, (_, i) => {
              const [cb, cr] = [dots[3 * i]!, dots[3 * i + 1]!];
              const k = (200 / scale) * INNER;
              return <circle key={i} cx={R + cb * k} cy={R - cr * k} r={1.1} fill="#fff" fillOpacity={0.85} />;
            })}
            <path
              className="fade"
              d={ring(f0, f1, from - fadeFrom, Math.min(360, w + fadeFrom + fadeTo))}
              pointerEvents="none"
            />
            <path
              className="full"
              fillRule="evenodd"
              d={ring(r0, r1, from, w)}
              style={{ cursor: hueOn ? 'grab' : 'default' }}
              onPointerDown={hueOn ? begin('hue', 'body') : undefined}
              onDoubleClick={() => {
                once('hue', { ...p.defaults.hue, on: v.hue.on });
                once('sat', { ...p.defaults.sat, on: v.sat.on });
              }}
            />
            {hueOn && (
              <>
                {grip('hue', 'fadeFrom', ...polar(INNER - 3, from - fadeFrom), soft)}
                {grip('hue', 'fadeTo', ...polar(INNER - 3, from + w + fadeTo), soft)}
                {grip('hue', 'from', ...polar(side, from), dot)}
                {grip('hue', 'to', ...polar(side, from + w), dot)}
              </>
            )}
            {v.sat.on && (
              <>
                {grip('sat', 'fadeFrom', ...polar(f0, middle), soft)}
                {grip('sat', 'fadeTo', ...polar(f1, middle), soft)}
                {grip('sat', 'from', ...polar(r0, middle), dot)}
                {grip('sat', 'to', ...polar(r1, middle), dot)}
              </>
            )}
          </svg>
        </div>
        <div role="group" aria-label={`${WORDS.luma.name} of the key`} style={{ opacity: l.on ? 1 : 0.45 }}>
          <svg width={COLUMN} height={SIZE}>
            <rect width={COLUMN} height={SIZE} rx={3} fill="var(--deep)" />
            {p.bins.map((b, i) => (
              <rect
                key={i}
                x={COLUMN - 2 - b * (COLUMN - 6)}
                width={b * (COLUMN - 6)}
                y={SIZE - ((i + 1) / p.bins.length) * SIZE}
                height={SIZE / p.bins.length}
                fill="#9a9a9a"
              />
            ))}
            {Array.from({ length: dots.length / 3 }, (_, i) => (
              <circle key={i} cx={4} cy={Y(100 * dots[3 * i + 2]!)} r={1.1} fill="#fff" fillOpacity={0.85} />
            ))}
            {l.on && (
              <>
                <rect
                  className="fade"
                  x={1}
                  width={COLUMN - 2}
                  y={Y(l.to + l.fadeTo)}
                  height={Y(l.from - l.fadeFrom) - Y(l.to + l.fadeTo)}
                  pointerEvents="none"
                />
                <rect
                  className="full"
                  x={1}
                  width={COLUMN - 2}
                  y={Y(l.to)}
                  height={Math.max(0, Y(l.from) - Y(l.to))}
                  style={{ cursor: 'grab' }}
                  onPointerDown={begin('luma', 'body')}
                  onDoubleClick={() => once('luma', { ...p.defaults.luma, on: true })}
                />
                {grip('luma', 'fadeFrom', COLUMN / 2, Y(l.from - l.fadeFrom), <rect {...bar(1.5)} fill="#4a4a4a" />)}
                {grip('luma', 'fadeTo', COLUMN / 2, Y(l.to + l.fadeTo), <rect {...bar(1.5)} fill="#4a4a4a" />)}
                {grip('luma', 'from', COLUMN / 2, Y(l.from), <rect {...bar(2.5)} fill="#fff" />)}
                {grip('luma', 'to', COLUMN / 2, Y(l.to), <rect {...bar(2.5)} fill="#fff" />)}
              </>
            )}
          </svg>
        </div>
      </Both>
      <Rows className="heads" aria-hidden>
        <span />
        <span />
        <span>from</span>
        <span>to</span>
        <span>fade</span>
        <span>fade</span>
      </Rows>
      {(['hue', 'sat', 'luma'] as const).map((a) => {
        const { name, unit } = WORDS[a];
        const linked = isLinked(a);
        const box = (end: Exclude<End, 'body'>, min: number, max: number): ReactNode => (
          <NumberBox
            label={`${name} ${ENDS[end]}, typed`}
            value={v[a][end]}
            min={min}
            max={max}
            digits={0}
            suffix={unit.trim() === '%' ? '' : unit}
            onChange={(x) =>
              once(a, end.startsWith('fade') && linked ? { ...v[a], fadeFrom: x, fadeTo: x } : { ...v[a], [end]: x })
            }
          />
        );
        return (
          <Rows key={a} data-off={!v[a].on}>
            <Switch
              aria-label={`Limit by ${name.toLowerCase()}`}
              isSelected={v[a].on}
              onChange={(on) => once(a, { ...v[a], on })}
            />
            <b>{name}</b>
            {box('from', a === 'hue' ? 0 : MOST[a].lo, a === 'hue' ? 360 : MOST[a].hi)}
            {box('to', a === 'hue' ? 0 : MOST[a].lo, a === 'hue' ? 720 : MOST[a].hi)}
            {box('fadeFrom', 0, MOST[a].fade)}
            {box('fadeTo', 0, MOST[a].fade)}
            <IconButton
              aria-label={
                linked ? `Fades of ${name.toLowerCase()} on their own` : `Fades of ${name.toLowerCase()} alike`
              }
              tip={
                linked ? 'Both fades are alike: press to set each by itself' : 'Each fade by itself: press to link them'
              }
              onPress={() => {
                setUnlinked((u) => ({ ...u, [a]: linked }));
                if (!linked && v[a].fadeFrom !== v[a].fadeTo) once(a, { ...v[a], fadeTo: v[a].fadeFrom });
              }}
            >
              {linked ? <Link2 /> : <Unlink2 />}
            </IconButton>
          </Rows>
        );
      })}
    </div>
  );
}
const bar = (h: number) => ({ x: -COLUMN / 2 + 3, width: COLUMN - 6, y: -h, height: 2 * h, rx: 1 });

const reached = new WeakMap<Uint8Array, number>();
/** Chroma in % that nearly all of the picture keeps to. */
function reach(plane: Uint8Array, n: number): number {
  let r = reached.get(plane);
  if (r === undefined) {
    const sums = new Float64Array(151);
    let all = 0;
    for (let i = 0; i < n * n; i++) {
      const share = plane[i]! ** 2;
      if (!share) continue;
      const [cb, cr] = [((i % n) + 0.5) / n - 0.5, (Math.floor(i / n) + 0.5) / n - 0.5];
      sums[Math.min(150, Math.round(200 * Math.hypot(cb, cr)))]! += share;
      all += share;
    }
    let sum = 0;
    r = sums.findIndex((s) => (sum += s) >= 0.985 * all);
    reached.set(plane, r);
  }
  return r;
}

const sameLimit = (a: Limit, b: Limit): boolean =>
  a.on === b.on && a.from === b.from && a.to === b.to && a.fadeFrom === b.fadeFrom && a.fadeTo === b.fadeTo;
/** As with sliders: drawn again only when a limit or the picture's distribution changed. */
export const KeySector = memo(
  KeySectorView,
  (a, b) =>
    a.space === b.space &&
    a.encoding.id === b.encoding.id &&
    a.plane === b.plane &&
    a.bins === b.bins &&
    a.dots === b.dots &&
    (['hue', 'sat', 'luma'] as const).every((k) => sameLimit(a.value[k], b.value[k])),
);
