/** Handles of shapes and patches on the picture. Every handle can be dragged, and moved by arrow keys when focused. */
import { useRef } from 'react';
import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import styled from 'styled-components';
import type { Term } from '../../core/graph/plan';
import { DEG } from '../../core/math/angle';
import { chartCells, quadFault } from '../../core/match/chart';
import { boundsOf } from '../../core/math/polygon';
import type { Corner } from '../../core/math/polygon';
import { chartOf } from '../../document/records';
import type { ChartRecord, CorrectionRecord, PatchRecord, ShotRecord } from '../../document/records';
import { editChart, editPatch, setParams } from '../actions';
import { useDoc, useSession } from '../store';
import { valuesOf } from '../values';
import type { Placing } from './geometry';

const Svg = styled.svg`
  position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none; overflow: hidden;
  .grab { pointer-events: all; cursor: move; outline: none; }
  .grab:focus-visible .dot { stroke: #fff; stroke-width: 3px; }
  .line { fill: none; stroke: #fff; stroke-width: 1.5; vector-effect: non-scaling-stroke; }
  .under { fill: none; stroke: #000; stroke-opacity: 0.5; stroke-width: 3.5; vector-effect: non-scaling-stroke; }
  text { fill: #fff; font-size: 12px; paint-order: stroke; stroke: rgb(0 0 0 / 65%); stroke-width: 3px; }
`;

interface HandleProps {
  x: number;
  y: number;
  name: string;
  shape: 'square' | 'round' | 'hollow' | 'area';
  children?: ReactNode;
  /** Movement in picture pixels since the drag began. */
  onDrag(dx: number, dy: number, start: boolean): void;
  label: string;
  scale: number;
  onPick?: () => void;
}
function Handle({ x, y, name, shape, children, onDrag, label, scale, onPick }: HandleProps) {
  const from = useRef<{ x: number; y: number } | null>(null);
  const doc = useDoc.getState;
  const down = (e: PointerEvent<SVGGElement>): void => {
    if (e.button !== 0) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    e.currentTarget.focus();
    from.current = { x: e.clientX, y: e.clientY };
    onPick?.();
    doc().begin(label);
    onDrag(0, 0, true);
  };
  const move = (e: PointerEvent): void => {
    if (from.current) onDrag((e.clientX - from.current.x) / scale, (e.clientY - from.current.y) / scale, false);
  };
  const up = (): void => {
    if (from.current) doc().end();
    from.current = null;
  };
  const key = (e: KeyboardEvent): void => {
    if (e.key === 'Escape' && from.current) {
      e.stopPropagation();
      from.current = null;
      doc().bail();
      return;
    }
    const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!d) return;
    e.preventDefault();
    e.stopPropagation();
    const k = (e.shiftKey ? 20 : e.altKey ? 0.2 : 2) / Math.min(1, scale);
    doc().begin(label);
    onDrag(0, 0, true);
    onDrag(d[0]! * k, d[1]! * k, false);
    doc().end();
  };
  return (
    <g className="grab" tabIndex={0} role="button" aria-label={`${name}: arrow keys move it`} onPointerDown={down} onPointerMove={move} onPointerUp={up} onPointerCancel={up} onKeyDown={key} onFocus={onPick}>
      {shape === 'area' ? children : shape === 'square' ? (
        <rect className="dot" x={x - 4.5} y={y - 4.5} width={9} height={9} fill="#fff" stroke="#000" strokeOpacity={0.6} />
      ) : (
        <circle className="dot" cx={x} cy={y} r={5} fill={shape === 'round' ? '#fff' : '#3a3a3a'} stroke={shape === 'round' ? '#000' : '#fff'} strokeWidth={1.5} />
      )}
    </g>
  );
}

function EllipseHandles({ corr, term, place, chosen }: { corr: CorrectionRecord; term: Term; place: Placing; chosen: boolean }) {
  const v = valuesOf(term.use, 0) as { cxPx: number; cyPx: number; rxPx: number; ryPx: number; angleDeg: number; softPx: number };
  const start = useRef(v);
  const s = place.scale;
  const X = (v.cxPx - place.offX) * s;
  const Y = (v.cyPx - place.offY) * s;
  const [ca, sa] = [Math.cos(v.angleDeg / DEG), Math.sin(v.angleDeg / DEG)];
  /** Stage position of a point given along the ellipse's own axes, in stage pixels. */
  const at = (a: number, b: number): [number, number] => [X + a * ca + b * sa, Y - a * sa + b * ca];
  const put = (p: Record<string, number>): void => setParams(corr.id, term.use.id, Object.fromEntries(Object.entries(p).map(([k, n]) => [k, Math.round(n * 10) / 10])), 'Change the ellipse');
  const begin = (first: boolean): void => {
    if (first) start.current = v;
  };
  const pick = (): void => useSession.getState().set({ correction: corr.id, term: term.use.id });
  const ring = (grow: number) => ({ cx: X, cy: Y, rx: Math.max(0.5, (v.rxPx + grow) * s), ry: Math.max(0.5, (v.ryPx + grow) * s), transform: `rotate(${-v.angleDeg} ${X} ${Y})` });
  const half = v.softPx / 2;
  const along = (dx: number, dy: number): number => dx * ca - dy * sa;
  const across = (dx: number, dy: number): number => -(dx * sa + dy * ca);
  return (
    <g opacity={chosen ? 1 : 0.55}>
      <ellipse className="under" {...ring(0)} />
      <ellipse className="line" {...ring(0)} strokeDasharray="7 5" />
      {chosen && half > 1 && (
        <>
          <ellipse className="line" {...ring(half)} strokeOpacity={0.45} strokeWidth={1} />
          {Math.min(v.rxPx, v.ryPx) > half && <ellipse className="line" {...ring(-half)} strokeOpacity={0.45} strokeWidth={1} />}
        </>
      )}
      <Handle x={X} y={Y} name={`${term.name}, centre`} shape="round" label="Move the ellipse" scale={s} onPick={pick} onDrag={(dx, dy, first) => { begin(first); put({ cxPx: start.current.cxPx + dx, cyPx: start.current.cyPx + dy }); }} />
      {chosen && (
        <>
          {[1, -1].map((side) => (
            <Handle key={`x${side}`} {...xy(at(side * v.rxPx * s, 0))} name={`${term.name}, ${side > 0 ? 'right' : 'left'} side`} shape="square" label="Size the ellipse" scale={s} onDrag={(dx, dy, first) => { begin(first); put({ rxPx: Math.max(2, start.current.rxPx + side * along(dx, dy)) }); }} />
          ))}
          {[1, -1].map((side) => (
            <Handle key={`y${side}`} {...xy(at(0, -side * v.ryPx * s))} name={`${term.name}, ${side > 0 ? 'top' : 'bottom'}`} shape="square" label="Size the ellipse" scale={s} onDrag={(dx, dy, first) => { begin(first); put({ ryPx: Math.max(2, start.current.ryPx + side * across(dx, dy)) }); }} />
          ))}
          <line className="line" x1={at(0, -v.ryPx * s)[0]} y1={at(0, -v.ryPx * s)[1]} x2={at(0, -v.ryPx * s - 26)[0]} y2={at(0, -v.ryPx * s - 26)[1]} strokeOpacity={0.7} />
          <Handle
            {...xy(at(0, -v.ryPx * s - 26))} name={`${term.name}, turn`} shape="hollow" label="Turn the ellipse" scale={s}
            onDrag={(dx, dy, first) => {
              begin(first);
              const st = start.current;
              const r = st.ryPx + 26 / s;
              const hx = Math.sin(-st.angleDeg / DEG) * r + dx;
              const hy = -Math.cos(st.angleDeg / DEG) * r + dy;
              put({ angleDeg: Math.atan2(-hx, -hy) * DEG });
            }}
          />
          <Handle {...xy(at((v.rxPx + half) * s * Math.SQRT1_2, (v.ryPx + half) * s * Math.SQRT1_2))} name={`${term.name}, softness`} shape="hollow" label="Soften the ellipse" scale={s} onDrag={(dx, dy, first) => { begin(first); put({ softPx: Math.max(0, start.current.softPx + 2 * Math.SQRT1_2 * (along(dx, dy) - across(dx, dy))) }); }} />
        </>
      )}
    </g>
  );
}
const xy = ([x, y]: [number, number]): { x: number; y: number } => ({ x, y });

function PatchBox({ patch, place, chosen }: { patch: PatchRecord; place: Placing; chosen: boolean }) {
  const start = useRef(patch.box);
  const s = place.scale;
  const { box } = patch;
  const X = (box.x - place.offX) * s;
  const Y = (box.y - place.offY) * s;
  const [W, H] = [box.w * s, box.h * s];
  const put = (b: Partial<typeof box>): void => editPatch(patch.id, 'Change a patch', { box: { ...start.current, ...Object.fromEntries(Object.entries(b).map(([k, v]) => [k, Math.round(v)])) } });
  const begin = (first: boolean): void => {
    if (first) start.current = box;
  };
  return (
    <g opacity={chosen ? 1 : 0.7}>
      <Handle x={X} y={Y} name={`Patch ${patch.name}`} shape="area" label="Move a patch" scale={s} onPick={() => useSession.getState().set({ patch: patch.id })} onDrag={(dx, dy, first) => { begin(first); put({ x: start.current.x + dx, y: start.current.y + dy }); }}>
        <rect x={X} y={Y} width={W} height={H} fill="transparent" />
        <rect className="under dot" x={X} y={Y} width={W} height={H} />
        <rect className="line" x={X} y={Y} width={W} height={H} />
      </Handle>
      {chosen && <text x={X + W + 6} y={Y + 11}>{patch.name}</text>}
      {chosen && <Handle x={X + W} y={Y + H} name={`${patch.name}, size`} shape="square" label="Size a patch" scale={s} onDrag={(dx, dy, first) => { begin(first); put({ w: Math.max(4, start.current.w + dx), h: Math.max(4, start.current.h + dy) }); }} />}
    </g>
  );
}

function FreePatch({ patch, place, chosen }: { patch: PatchRecord; place: Placing; chosen: boolean }) {
  const start = useRef(patch.points!);
  const s = place.scale;
  const points = patch.points!;
  const at = points.map(([x, y]) => [(x - place.offX) * s, (y - place.offY) * s] as const);
  const put = (list: [number, number][]): void => editPatch(patch.id, 'Change a patch', { points: list.map(([x, y]) => [Math.round(x * 10) / 10, Math.round(y * 10) / 10]), box: boundsOf(list) });
  const begin = (first: boolean): void => {
    if (first) start.current = points;
  };
  const line = at.map((p) => p.join(',')).join(' ');
  return (
    <g opacity={chosen ? 1 : 0.7}>
      <Handle x={at[0]![0]} y={at[0]![1]} name={`Patch ${patch.name}`} shape="area" label="Move a patch" scale={s} onPick={() => useSession.getState().set({ patch: patch.id })} onDrag={(dx, dy, first) => { begin(first); put(start.current.map(([x, y]) => [x + dx, y + dy])); }}>
        <polygon points={line} fill="transparent" />
        <polygon className="under dot" points={line} />
        <polygon className="line" points={line} />
      </Handle>
      {chosen && <text x={Math.max(...at.map((p) => p[0])) + 6} y={Math.min(...at.map((p) => p[1])) + 11}>{patch.name}</text>}
      {chosen && at.map(([x, y], i) => <Handle key={i} x={x} y={y} name={`${patch.name}, corner ${i + 1}`} shape="square" label="Move a corner" scale={s} onDrag={(dx, dy, first) => { begin(first); put(start.current.map(([px, py], k) => (k === i ? [px + dx, py + dy] : [px, py]))); }} />)}
    </g>
  );
}

/** The grid on a chart: its corners are pulled onto the corner patches, its cells show where is measured. */
function ChartGrid({ chart, place }: { chart: ChartRecord; place: Placing }) {
  const start = useRef(chart.corners);
  const s = place.scale;
  const S = ([x, y]: Corner): [number, number] => [(x - place.offX) * s, (y - place.offY) * s];
  const put = (corners: Corner[]): void => editChart(chart.id, 'Move the chart', { corners: corners.map(([x, y]): Corner => [Math.round(x * 10) / 10, Math.round(y * 10) / 10]) as unknown as ChartRecord['corners'] });
  const begin = (first: boolean): void => {
    if (first) start.current = chart.corners;
  };
  const line = chart.corners.map((c) => S(c).join(',')).join(' ');
  const fine = quadFault(chart.corners) === null;
  return (
    <g>
      <Handle x={0} y={0} name="Chart" shape="area" label="Move the chart" scale={s} onDrag={(dx, dy, first) => { begin(first); put(start.current.map(([x, y]) => [x + dx, y + dy])); }}>
        <polygon points={line} fill="transparent" />
        <polygon className="under dot" points={line} />
        <polygon className="line" points={line} strokeDasharray={fine ? undefined : '3 3'} />
      </Handle>
      {fine && chartCells(chart).map((c) => <polygon key={c.name} className="line" points={c.polygon.map((p) => S(p).join(',')).join(' ')} strokeWidth={1} />)}
      {chart.corners.map((c, i) => <Handle key={i} x={S(c)[0]} y={S(c)[1]} name={`Chart, ${['left top', 'right top', 'right bottom', 'left bottom'][i]} corner`} shape={i === 0 ? 'round' : 'square'} label="Move a corner of the chart" scale={s} onDrag={(dx, dy, first) => { begin(first); put(start.current.map(([x, y], k) => (k === i ? [x + dx, y + dy] : [x, y]))); }} />)}
    </g>
  );
}

export function Overlay({ shot, corr, patches, place, plain }: { shot: ShotRecord; corr: CorrectionRecord | null; patches: PatchRecord[]; place: Placing; plain: boolean }) {
  const { term, patch, step, compare, shelf, shelfTab, conversionOpen } = useSession();
  const chart = useDoc((r) => chartOf(r.records, shot.id));
  if (plain) return null;
  // When judging, nothing lies over the picture but the patches.
  const shapes = step !== 'check' && compare === 'off' && !conversionOpen;
  const charting = shelf && shelfTab === 'chart';
  return (
    <Svg aria-label="Handles on the picture">
      {charting && chart && <ChartGrid chart={chart} place={place} />}
      {!charting && patches.map((p) => (p.points ? <FreePatch key={p.id} patch={p} place={place} chosen={p.id === patch} /> : <PatchBox key={p.id} patch={p} place={place} chosen={p.id === patch} />))}
      {shapes && corr?.terms.filter((t) => t.use.op === 'ellipse' && t.use.on).map((t) => <EllipseHandles key={t.use.id} corr={corr} term={t} place={place} chosen={t.use.id === term || corr.terms.filter((x) => x.use.op === 'ellipse').length === 1} />)}
    </Svg>
  );
}
