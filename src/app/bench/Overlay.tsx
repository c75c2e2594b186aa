/** Handles of shapes and patches on the picture. Every handle can be dragged, and moved by arrow keys when focused. */
import { useRef } from 'react';
import styled from 'styled-components';
import { opTerms } from '../../core/graph/region';
import { chartCells, quadFault } from '../../core/match/chart';
import { boundsOf } from '../../core/math/polygon';
import type { Corner } from '../../core/math/polygon';
import { chartOf, fitFor, mediaOf, SAME } from '../../document/records';
import type { ChartRecord, CorrectionRecord, PatchRecord, ShotRecord } from '../../document/records';
import { editChart } from '../actions';
import { placePatch } from '../patchPlace';
import { useFrame } from '../values';
import { patchAt } from '../../core/graph/patch';
import { pointAt, useLive } from '../live';
import { useWide } from '../pixelAspect';
import { useDoc, useSession } from '../store';
import type { Placing } from './geometry';
import { Handle } from './Handle';
import { LeftOut } from './LeftOut';
import { keysAbout, placesAt, shiftOf } from './hold';
import type { Hold } from './hold';
import { handlesOf } from './shapes';

const Svg = styled.svg`
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  overflow: hidden;
  .grab {
    pointer-events: all;
    cursor: move;
    outline: none;
  }
  .grab:focus-visible .dot {
    stroke: #fff;
    stroke-width: 3px;
  }
  .line {
    fill: none;
    stroke: #fff;
    stroke-width: 1.5;
    vector-effect: non-scaling-stroke;
  }
  .under {
    fill: none;
    stroke: #000;
    stroke-opacity: 0.5;
    stroke-width: 3.5;
    vector-effect: non-scaling-stroke;
  }
  text {
    fill: #fff;
    font-size: 12px;
    paint-order: stroke;
    stroke: rgb(0 0 0 / 65%);
    stroke-width: 3px;
  }
`;

/** Letters keep their shape on a picture that is drawn wider than its pixels are counted. */
function Name({ x, y, name }: { x: number; y: number; name: string }) {
  const wide = useWide();
  return (
    <text x={x} y={y} transform={`translate(${x} 0) scale(${1 / wide} 1) translate(${-x} 0)`}>
      {name}
    </text>
  );
}
interface PatchProps {
  /** Where it lies on the frame that is shown. */
  patch: PatchRecord;
  /** As it is kept. */
  kept: PatchRecord;
  frame: number;
  place: Placing;
  chosen: boolean;
}
function PatchBox({ patch, kept, frame, place, chosen }: PatchProps) {
  const start = useRef(patch.box);
  const over = useLive((l) => l.over === patch.id);
  const s = place.scale;
  const { box } = patch;
  const X = (box.x - place.offX) * s;
  const Y = (box.y - place.offY) * s;
  const [W, H] = [box.w * s, box.h * s];
  const put = (b: Partial<typeof box>): void =>
    placePatch(kept, frame, {
      box: { ...start.current, ...Object.fromEntries(Object.entries(b).map(([k, v]) => [k, Math.round(v)])) },
    });
  const begin = (first: boolean): void => {
    if (first) start.current = box;
  };
  return (
    <g opacity={chosen || over ? 1 : 0.7}>
      <Handle
        x={X}
        y={Y}
        name={`Patch ${patch.name}`}
        shape="area"
        label="Move a patch"
        scale={s}
        onPick={() => useSession.getState().set({ patch: patch.id })}
        onPoint={(over) => pointAt(over ? patch.id : null)}
        onDrag={(dx, dy, first) => {
          begin(first);
          put({ x: start.current.x + dx, y: start.current.y + dy });
        }}
      >
        <rect x={X} y={Y} width={W} height={H} fill="transparent" />
        <rect className="under dot" x={X} y={Y} width={W} height={H} />
        <rect className="line" x={X} y={Y} width={W} height={H} />
      </Handle>
      {(chosen || over) && <Name x={X + W + 6} y={Y + 11} name={patch.name} />}
      {chosen && (
        <Handle
          x={X + W}
          y={Y + H}
          name={`${patch.name}, size`}
          shape="square"
          label="Size a patch"
          scale={s}
          onDrag={(dx, dy, first) => {
            begin(first);
            put({ w: Math.max(4, start.current.w + dx), h: Math.max(4, start.current.h + dy) });
          }}
        />
      )}
    </g>
  );
}

function FreePatch({ patch, kept, frame, place, chosen }: PatchProps) {
  const start = useRef(patch.points!);
  const over = useLive((l) => l.over === patch.id);
  const s = place.scale;
  const points = patch.points!;
  const at = points.map(([x, y]) => [(x - place.offX) * s, (y - place.offY) * s] as const);
  const put = (list: [number, number][]): void =>
    placePatch(kept, frame, {
      points: list.map(([x, y]) => [Math.round(x * 10) / 10, Math.round(y * 10) / 10]),
      box: boundsOf(list),
    });
  const begin = (first: boolean): void => {
    if (first) start.current = points;
  };
  const line = at.map((p) => p.join(',')).join(' ');
  return (
    <g opacity={chosen || over ? 1 : 0.7}>
      <Handle
        x={at[0]![0]}
        y={at[0]![1]}
        name={`Patch ${patch.name}`}
        shape="area"
        label="Move a patch"
        scale={s}
        onPick={() => useSession.getState().set({ patch: patch.id })}
        onPoint={(over) => pointAt(over ? patch.id : null)}
        onDrag={(dx, dy, first) => {
          begin(first);
          put(start.current.map(([x, y]) => [x + dx, y + dy]));
        }}
      >
        <polygon points={line} fill="transparent" />
        <polygon className="under dot" points={line} />
        <polygon className="line" points={line} />
      </Handle>
      {(chosen || over) && (
        <Name x={Math.max(...at.map((p) => p[0])) + 6} y={Math.min(...at.map((p) => p[1])) + 11} name={patch.name} />
      )}
      {chosen &&
        at.map(([x, y], i) => (
          <Handle
            key={i}
            x={x}
            y={y}
            name={`${patch.name}, corner ${i + 1}`}
            shape="square"
            label="Move a corner"
            scale={s}
            onDrag={(dx, dy, first) => {
              begin(first);
              put(start.current.map(([px, py], k) => (k === i ? [px + dx, py + dy] : [px, py])));
            }}
          />
        ))}
    </g>
  );
}

/** The grid on a chart: its corners are pulled onto the corner patches, its cells show where is measured. */
function ChartGrid({ chart, place }: { chart: ChartRecord; place: Placing }) {
  const start = useRef(chart.corners);
  const s = place.scale;
  const S = ([x, y]: Corner): [number, number] => [(x - place.offX) * s, (y - place.offY) * s];
  const put = (corners: Corner[]): void =>
    editChart(chart.id, 'Move the chart', {
      corners: corners.map(([x, y]): Corner => [
        Math.round(x * 10) / 10,
        Math.round(y * 10) / 10,
      ]) as unknown as ChartRecord['corners'],
    });
  const begin = (first: boolean): void => {
    if (first) start.current = chart.corners;
  };
  const line = chart.corners.map((c) => S(c).join(',')).join(' ');
  const fine = quadFault(chart.corners) === null;
  return (
    <g>
      <Handle
        x={0}
        y={0}
        loose
        name="Chart"
        shape="area"
        label="Move the chart"
        scale={s}
        onDrag={(dx, dy, first) => {
          begin(first);
          put(start.current.map(([x, y]) => [x + dx, y + dy]));
        }}
      >
        <polygon points={line} fill="transparent" />
        <polygon className="under dot" points={line} />
        <polygon className="line" points={line} strokeDasharray={fine ? undefined : '3 3'} />
      </Handle>
      {fine &&
        chartCells(chart).map((c) => (
          <polygon
            key={c.name}
            className="line"
            points={c.polygon.map((p) => S(p).join(',')).join(' ')}
            strokeWidth={1}
          />
        ))}
      {chart.corners.map((c, i) => (
        <Handle
          key={i}
          x={S(c)[0]}
          y={S(c)[1]}
          name={`Chart, ${['left top', 'right top', 'right bottom', 'left bottom'][i]} corner`}
          shape={i === 0 ? 'round' : 'square'}
          label="Move a corner of the chart"
          scale={s}
          onDrag={(dx, dy, first) => {
            begin(first);
            put(start.current.map(([x, y], k) => (k === i ? [x + dx, y + dy] : [x, y])));
          }}
        />
      ))}
    </g>
  );
}

/** Lines through what a handle is caught at. */
function CaughtLines() {
  const at = useLive((l) => l.caughtAt);
  return (
    <g className="caught" stroke="#fff" strokeWidth={1} strokeDasharray="2 3" opacity={0.8}>
      {at && at.x !== null && <line x1={at.x} x2={at.x} y1={-10_000} y2={10_000} />}
      {at && at.y !== null && <line y1={at.y} y2={at.y} x1={-10_000} x2={10_000} />}
    </g>
  );
}
/** Of what is held still: its outlines at the keys about this frame, where they lie in the view that holds it. */
function Ghosts(p: { shot: ShotRecord; corr: CorrectionRecord | null; hold: Hold; frame: number; place: Placing }) {
  const records = useDoc((s) => s.records);
  const t = p.corr ? opTerms(p.corr.terms).find((x) => x.id === p.hold.term) : undefined;
  if (!t) return null;
  const shift = shiftOf(records, p.shot.id, p.hold);
  const [hx, hy] = shift(p.frame);
  return keysAbout(t, p.frame).map((k) => {
    const [dx, dy] = shift(k);
    const line = placesAt(t, k)
      .map(([x, y]) => [(x - dx + hx - p.place.offX) * p.place.scale, (y - dy + hy - p.place.offY) * p.place.scale])
      .join(' ');
    return <polygon key={k} data-ghost={k} className="line" points={line} strokeDasharray="2 5" strokeOpacity={0.55} />;
  });
}
export function Overlay({
  shot,
  corr,
  patches,
  place,
  plain,
}: {
  shot: ShotRecord;
  corr: CorrectionRecord | null;
  patches: readonly PatchRecord[];
  place: Placing;
  plain: boolean;
}) {
  const { term, patch, step, compare, shelf, shelfTab, conversionOpen, hold, usedOf } = useSession();
  const chart = useDoc((r) => chartOf(r.records, shot.id));
  const media = useDoc((r) => mediaOf(r.records, shot));
  const frame = useFrame();
  if (plain) return null;
  // When judging, nothing lies over the picture but the patches.
  const shapes = step !== 'check' && compare === 'off' && !conversionOpen;
  const drawn = corr ? opTerms(corr.terms).filter((t) => handlesOf(t.use.op)) : [];
  // A position of the picture is s times one of the owner's frame, and d beyond it.
  const fit = corr ? fitFor(useDoc.getState().records, corr, shot) : SAME;
  const own: Placing = {
    ...place,
    scale: place.scale * fit.s,
    offX: (place.offX - fit.dx) / fit.s,
    offY: (place.offY - fit.dy) / fit.s,
  };
  const charting = shelf && shelfTab === 'chart';
  // Edges and middle of the frame.
  const frameX = media ? [0, 0.5, 1].map((k) => (k * media.width - place.offX) * place.scale) : [];
  const frameY = media ? [0, 0.5, 1].map((k) => (k * media.height - place.offY) * place.scale) : [];
  return (
    <Svg aria-label="Handles on the picture" data-snap-x={frameX.join(',')} data-snap-y={frameY.join(',')}>
      <CaughtLines />
      {charting && chart && <ChartGrid chart={chart} place={place} />}
      {!charting &&
        patches.map((kept) => {
          const p = patchAt(kept, frame);
          const Drawn = p.points ? FreePatch : PatchBox;
          return (
            <g key={p.id}>
              {usedOf === p.id && <LeftOut shot={shot} patch={kept} place={place} />}
              <Drawn patch={p} kept={kept} frame={frame} place={place} chosen={p.id === patch} />
            </g>
          );
        })}
      {shapes &&
        corr &&
        drawn
          .filter((t) => t.use.on)
          .map((t) => {
            const Handles = handlesOf(t.use.op)!;
            return (
              <g key={t.id} data-owner={t.id}>
                <Handles corr={corr} term={t} place={own} chosen={t.id === term || drawn.length === 1} />
              </g>
            );
          })}
      {shapes && hold && <Ghosts shot={shot} corr={corr} hold={hold} frame={frame} place={place} />}
    </Svg>
  );
}
