/**
 * A range with softness on both sides, over the picture's own distribution. Edges, softness and the whole range are
 * dragged on the chart or moved by keys; centre, width and softness are typed below it. Hue is cyclic.
 */
import { lazy, memo, Suspense, useRef } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import styled from 'styled-components';
import { Switch } from './controls';
import { NumberBox } from './NumberBox';
import type { Gesture } from './ParamSlider';

const Distribution = lazy(() => import('./Distribution'));

export interface RangeValue {
  on: boolean;
  centre: number;
  width: number;
  soft: number;
}
export interface RangeControlProps extends Gesture {
  label: string;
  unit: string;
  value: RangeValue;
  /** Length of the axis from 0: 360 for hue, 100 otherwise. */
  span: number;
  cyclic: boolean;
  limits: { width: number; soft: number };
  bins: readonly number[];
  colours: readonly string[] | null;
  defaults: RangeValue;
  onChange(v: RangeValue): void;
}

const Frame = styled.div`
  padding: 5px 0 3px;
  &[data-off='true'] .chart, &[data-off='true'] .typed { opacity: 0.4; }
`;
const Head = styled.div`
  display: flex; align-items: center; gap: 8px; height: 24px;
`;
const Chart = styled.div`
  position: relative; height: 46px; background: var(--deep); border-radius: 3px; overflow: hidden; touch-action: none; cursor: grab;
  svg { position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none; }
`;
const Handle = styled.div`
  position: absolute; top: 0; bottom: 0; width: 15px; margin-left: -8px; cursor: ew-resize; outline: none; touch-action: none;
  &::after { content: ''; position: absolute; left: 7px; top: 0; bottom: 0; width: 2px; background: #fff; box-shadow: 0 0 0 1px rgb(0 0 0 / 50%); }
  &[data-soft='true']::after { top: 32px; bottom: 0; width: 6px; left: 5px; border-radius: 3px 3px 0 0; background: #cfcfcf; }
  &:focus-visible::after { background: #fff; box-shadow: 0 0 0 3px #777; }
`;
const Typed = styled.div`
  display: grid; grid-template-columns: auto 1fr auto 1fr auto 1fr; gap: 2px 3px; align-items: center; font-size: 12px; color: var(--dim); height: 24px;
`;

type Part = 'lo' | 'hi' | 'softLo' | 'softHi' | 'body';
const mod = (a: number, n: number): number => ((a % n) + n) % n;

function RangeControlView(p: RangeControlProps) {
  const { value: v, span, cyclic } = p;
  const chart = useRef<HTMLDivElement>(null);
  const drag = useRef<{ part: Part; x: number; from: RangeValue } | null>(null);
  const round = (x: number): number => Math.round(x * 10) / 10;

  const moved = (part: Part, d: number, from: RangeValue): RangeValue => {
    const fit = (c: number): number => (cyclic ? mod(c, span) : Math.min(150, Math.max(-50, c)));
    if (part === 'body') return { ...from, centre: round(fit(from.centre + d)) };
    if (part === 'softLo' || part === 'softHi') return { ...from, soft: round(Math.min(p.limits.soft, Math.max(0, from.soft + (part === 'softHi' ? d : -d)))) };
    const sign = part === 'hi' ? 1 : -1;
    const width = Math.min(p.limits.width, Math.max(0, from.width + sign * d));
    // The other edge stays where it is.
    return { ...from, width: round(width), centre: round(fit(from.centre + (sign * (width - from.width)) / 2)) };
  };
  const once = (next: RangeValue): void => {
    p.onBegin();
    p.onChange(next);
    p.onEnd();
  };
  const toUnits = (dx: number): number => (dx / chart.current!.clientWidth) * span;
  const down = (part: Part) => (e: PointerEvent): void => {
    if (e.button !== 0) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    drag.current = { part, x: e.clientX, from: v };
    p.onBegin();
  };
  const move = (e: PointerEvent): void => {
    if (drag.current) p.onChange(moved(drag.current.part, toUnits(e.clientX - drag.current.x) * (e.altKey ? 0.1 : 1), drag.current.from));
  };
  const up = (): void => {
    if (drag.current) p.onEnd();
    drag.current = null;
  };
  const key = (part: Part) => (e: KeyboardEvent): void => {
    if (e.key === 'Escape' && drag.current) {
      e.stopPropagation();
      drag.current = null;
      p.onBail();
      return;
    }
    const dir = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
    if (dir === undefined) return;
    e.preventDefault();
    e.stopPropagation();
    once(moved(part, dir * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1), v));
  };

  const lo = v.centre - v.width / 2;
  const hi = v.centre + v.width / 2;
  const pos = (x: number): number => ((cyclic ? mod(x, span) : Math.min(span, Math.max(0, x))) / span) * 100;
  const whole = cyclic && v.width >= span;
  // The shape of the range, drawn three times when cyclic so that it runs over the ends.
  const shape = (o: number): string => {
    const X = (x: number): number => ((x + o) / span) * 100;
    return `M${X(lo - v.soft)},46 L${X(lo)},3 L${X(hi)},3 L${X(hi + v.soft)},46`;
  };
  const handles: [Part, number, string][] = [
    ['softLo', lo - v.soft, `${p.label} softness, lower side`],
    ['lo', lo, `${p.label} lower edge`],
    ['hi', hi, `${p.label} upper edge`],
    ['softHi', hi + v.soft, `${p.label} softness, upper side`],
  ];
  return (
    <Frame data-off={!v.on} onPointerMove={move} onPointerUp={up} onPointerCancel={up}>
      <Head>
        <Switch aria-label={`Limit by ${p.label.toLowerCase()}`} isSelected={v.on} onChange={(on) => once({ ...v, on })} />
        <b style={{ fontWeight: 600 }}>{p.label}</b>
        <span style={{ marginLeft: 'auto', color: 'var(--dim)', fontSize: 12 }}>{v.on ? `${Math.round(cyclic ? mod(lo, span) : lo)}\u2013${Math.round(cyclic ? mod(hi, span) : hi)}${p.unit}` : 'off'}</span>
      </Head>
      <Chart ref={chart} className="chart" onPointerDown={down('body')} onDoubleClick={() => once({ ...p.defaults, on: v.on })} role="group" aria-label={`${p.label} range`}>
        <Suspense fallback={null}>
          <Distribution bins={p.bins} colours={p.colours} />
        </Suspense>
        <svg viewBox="0 0 100 46" preserveAspectRatio="none" aria-hidden>
          {whole ? <rect width="100" height="46" fill="#fff" fillOpacity="0.2" /> : (cyclic ? [-span, 0, span] : [0]).map((o) => <path key={o} d={shape(o)} fill="#fff" fillOpacity="0.2" stroke="#fff" strokeOpacity="0.85" strokeWidth="1.2" vectorEffect="non-scaling-stroke" />)}
        </svg>
        {handles.map(([part, x, name]) => (
          <Handle
            key={part} role="slider" tabIndex={0} aria-label={name} aria-valuenow={round(x)} aria-valuemin={0} aria-valuemax={span} data-soft={part.startsWith('soft')}
            style={{ left: `${pos(x)}%` }} onPointerDown={down(part)} onKeyDown={key(part)}
          />
        ))}
      </Chart>
      <Typed className="typed">
        centre <NumberBox label={`${p.label} centre`} value={v.centre} min={cyclic ? 0 : -50} max={cyclic ? 360 : 150} digits={0} suffix={p.unit} onChange={(centre) => once({ ...v, centre: cyclic ? mod(centre, span) : centre })} />
        width <NumberBox label={`${p.label} width`} value={v.width} min={0} max={p.limits.width} digits={0} suffix={p.unit} onChange={(width) => once({ ...v, width })} />
        soft <NumberBox label={`${p.label} softness`} value={v.soft} min={0} max={p.limits.soft} digits={0} suffix={p.unit} onChange={(soft) => once({ ...v, soft })} />
      </Typed>
    </Frame>
  );
}

/** As with sliders: drawn again only when the range or the distribution changed. */
export const RangeControl = memo(RangeControlView, (a, b) => a.bins === b.bins && a.label === b.label && (['on', 'centre', 'width', 'soft'] as const).every((k) => a.value[k] === b.value[k]));
