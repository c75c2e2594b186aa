/**
 * The shot's readings over its frames, by ECharts: press a place, the playhead is there. Below, in words, where to
 * look.
 */
import { useEffect, useMemo, useRef, useState } from 'react';
import { LineChart } from 'echarts/charts';
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as registerCharts } from 'echarts/core';
import type { ECharts } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useShallow } from 'zustand/react/shallow';
import styled from 'styled-components';
import { overTimeSaid } from '../../core/matte/overTime';
import type { Moment } from '../../core/matte/overTime';
import { patchesOf } from '../../document/records';
import type { CorrectionRecord, PatchRecord, ShotRecord } from '../../document/records';
import { Button, Dim, ToggleButton } from '../../ui/controls';
import { useJobs } from '../jobs';
import { guard } from '../notices';
import { loadOverTime, readOverTime, useIsOld, useOverTime } from '../overTime';
import { player } from '../player';
import { useDoc, useSession } from '../store';
import { useFrame } from '../values';

registerCharts([LineChart, GridComponent, MarkLineComponent, TooltipComponent, CanvasRenderer]);
const FONT = "'Source Sans 3 Variable', sans-serif";
const Box = styled.div`
  padding: 2px 0 8px;
  .row {
    display: flex;
    align-items: center;
    gap: 4px;
    height: 30px;
  }
  .plot {
    height: 128px;
  }
  ul {
    margin: 2px 0 0;
    padding: 0;
    list-style: none;
    display: flex;
    flex-wrap: wrap;
    gap: 0 8px;
  }
  li button {
    text-align: left;
  }
`;
interface Line {
  name: string;
  dash: boolean;
  width: number;
  at: (m: Moment) => number | null;
}
const KINDS = {
  matte: {
    title: 'Matte',
    unit: '%',
    tip: 'Share of the picture that is in, how much the matte changes in a frame, and what leaks',
  },
  skin: { title: 'Off-line', unit: '\u00b0', tip: 'Degrees of every patch from the skin line' },
  chroma: { title: 'Chroma', unit: '%', tip: 'Chroma of every patch' },
  level: { title: 'Level', unit: '%', tip: 'Luma of every patch, and of the whole frame' },
} as const;
type Kind = keyof typeof KINDS;

function linesOf(kind: Kind, patches: readonly PatchRecord[], leaks: boolean): Line[] {
  const of = (p: PatchRecord, what: 'offLineDeg' | 'chromaPct' | 'lumaPct', i: number): Line => ({
    name: p.name,
    dash: i % 2 === 1,
    width: i < 2 ? 2 : 1,
    at: (m) => m.patches.find((x) => x.id === p.id)?.[what] ?? null,
  });
  if (kind === 'matte')
    return [
      { name: 'coverage', dash: false, width: 1.5, at: (m) => (m.coverage === null ? null : 100 * m.coverage) },
      { name: 'change in a frame', dash: true, width: 2, at: (m) => (m.change === null ? null : 100 * m.change) },
      // A line along nothing would lie on the axis.
      ...(leaks
        ? [{ name: 'leaks', dash: false, width: 3, at: (m: Moment) => (m.leaks == null ? null : 100 * m.leaks) }]
        : []),
    ];
  if (kind === 'skin') return patches.filter((p) => p.kind === 'skin').map((p, i) => of(p, 'offLineDeg', i));
  if (kind === 'chroma') return patches.map((p, i) => of(p, 'chromaPct', i));
  return [
    ...patches.map((p, i) => of(p, 'lumaPct', i)),
    { name: 'the whole frame', dash: false, width: 3, at: (m) => m.levelPct },
  ];
}

export default function OverTimePanel({ shot, corr }: { shot: ShotRecord; corr: CorrectionRecord | null }) {
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id)));
  const kept = useOverTime((s) => s.of[shot.id]);
  const theme = useSession((s) => s.theme);
  const frame = useFrame();
  const region = corr && corr.terms.length > 0 ? corr.id : null;
  const stale = useIsOld(shot, region, kept?.of);
  const running = useJobs((s) => s.jobs.some((j) => j.state === 'running'));
  const [chosen, setChosen] = useState<Kind | null>(null);
  useEffect(() => loadOverTime(shot.id), [shot.id]);
  const moments = useMemo(() => kept?.moments ?? [], [kept]);
  const skin = Object.fromEntries(patches.filter((p) => p.kind === 'skin').map((p) => [p.id, p.name]));
  const names = JSON.stringify(skin);
  const said = useMemo(() => overTimeSaid(moments, JSON.parse(names) as Record<string, string>), [moments, names]);
  // Without a region there is no matte to look at.
  const kind: Kind = chosen ?? (region ? 'matte' : patches.length > 0 ? 'skin' : 'level');
  const leaks = moments.some((m) => (m.leaks ?? 0) > 0);
  const lines = useMemo(() => linesOf(kind, patches, leaks), [kind, patches, leaks]);

  const el = useRef<HTMLDivElement>(null);
  const chart = useRef<ECharts | null>(null);
  const any = moments.length > 0;
  useEffect(() => {
    if (!any) return;
    const c = init(el.current!);
    chart.current = c;
    const ro = new ResizeObserver(() => c.resize());
    ro.observe(el.current!);
    c.getZr().on('click', (e: { offsetX: number; offsetY: number }) => {
      const at = c.convertFromPixel({ gridIndex: 0 }, [e.offsetX, e.offsetY]) as [number, number];
      player.go(Math.round(at[0]));
    });
    return () => {
      ro.disconnect();
      c.dispose();
      chart.current = null;
    };
  }, [any]);
  useEffect(() => {
    const css = getComputedStyle(document.documentElement);
    const [text, dim, line, bright] = ['--text', '--dim', '--line', '--bright'].map((n) =>
      css.getPropertyValue(n).trim(),
    );
    const { unit } = KINDS[kind];
    chart.current?.setOption(
      {
        animation: false,
        textStyle: { fontFamily: FONT },
        grid: { left: 44, right: 130, top: 8, bottom: 22 },
        tooltip: {
          trigger: 'axis',
          // Drawn, not HTML: the page allows no styles of its own.
          renderMode: 'richText',
          valueFormatter: (v: number | null) =>
            v === null ? '\u2013' : `${v.toFixed(kind === 'matte' ? 2 : 1)} ${unit}`,
        },
        xAxis: {
          type: 'value',
          min: shot.range[0],
          max: shot.range[1],
          axisLabel: { color: dim, fontSize: 12 },
          splitLine: { show: false },
          axisLine: { lineStyle: { color: dim } },
        },
        yAxis: {
          type: 'value',
          scale: kind !== 'matte',
          splitNumber: 4,
          axisLabel: { color: dim, fontSize: 12, formatter: `{value} ${unit}` },
          splitLine: { lineStyle: { color: line } },
        },
        series: lines.map((l, i) => ({
          type: 'line',
          name: l.name,
          showSymbol: false,
          lineStyle: { width: l.width, color: text, type: l.dash ? 'dashed' : 'solid' },
          itemStyle: { color: text },
          endLabel: { show: true, formatter: '{a}', color: dim, fontSize: 12, width: 120, overflow: 'truncate' },
          labelLayout: { moveOverlap: 'shiftY' },
          data: moments.map((m) => [m.frame, l.at(m)]),
          ...(i === 0
            ? {
                markLine: {
                  silent: true,
                  symbol: 'none',
                  label: { show: false },
                  lineStyle: { color: bright, width: 1, type: 'solid' },
                  data: [{ xAxis: frame }],
                },
              }
            : {}),
        })),
      },
      { notMerge: true },
    );
  }, [moments, lines, kind, frame, theme, shot.range]);

  return (
    <Box aria-label="Readings over time">
      <div className="row">
        {(Object.keys(KINDS) as Kind[]).map((k) => (
          <ToggleButton key={k} isSelected={kind === k} onChange={() => setChosen(k)} tip={KINDS[k].tip}>
            {KINDS[k].title}
          </ToggleButton>
        ))}
        <span style={{ width: 8 }} />
        <Button
          isDisabled={running}
          onPress={() => void guard('The shot was not read', () => readOverTime(shot, region))}
          tip="Patches, matte and level of every frame from the in to the out point: a job that can be cancelled"
        >
          {any ? 'Read again' : 'Read the whole shot'}
        </Button>
        {kept?.about && <Dim>with the matte of {kept.about}</Dim>}
        {stale && <Dim>Something changed since it was read.</Dim>}
        {!any && (
          <Dim>
            {region ? `The matte of ${corr!.name}` : 'The picture'}
            {patches.length > 0 ? ` and ${patches.length} patches` : ''}, frame by frame.
          </Dim>
        )}
      </div>
      {any && <div className="plot" ref={el} role="img" aria-label={`${KINDS[kind].title} over the frames`} />}
      {any && (
        <ul aria-label="Where to look">
          {said.length === 0 && <Dim>Nothing stands out.</Dim>}
          {said.map((w) => (
            <li key={w.text}>
              <Button onPress={() => player.go(w.frame)} tip={`Go to frame ${w.frame}`}>
                {w.text}
              </Button>
            </li>
          ))}
        </ul>
      )}
    </Box>
  );
}
