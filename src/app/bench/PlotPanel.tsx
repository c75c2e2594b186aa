/**
 * Readings over patches as a chart, by ECharts: off-line angle and luma, before as a ring, after as a dot, the way
 * between as a line.
 */
import { useEffect, useRef } from 'react';
import { LinesChart, ScatterChart } from 'echarts/charts';
import { GridComponent, MarkAreaComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as registerCharts } from 'echarts/core';
import type { ECharts } from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { CanvasRenderer } from 'echarts/renderers';
import { Dim } from '../../ui/controls';
import { formatNumber } from '../../ui/NumberBox';
import { useLive } from '../live';
import { useSession } from '../store';
import type { PatchRecord } from '../../document/records';

registerCharts([
  ScatterChart,
  LinesChart,
  GridComponent,
  MarkLineComponent,
  MarkAreaComponent,
  TooltipComponent,
  LabelLayout,
  CanvasRenderer,
]);
const FONT = "'Source Sans 3 Variable', sans-serif";

/**
 * Half the width of the axis: the band and what lies near it. A patch of another colour, 160 degrees off, must not
 * press the skin into the middle.
 */
export function axisOf(degrees: readonly number[], bandDeg: number): number {
  const near = degrees.map(Math.abs).filter((d) => d <= 3 * bandDeg + 15);
  return Math.ceil((Math.max(2 * bandDeg, ...near) + 2) / 10) * 10;
}

export default function PlotPanel({ patches }: { patches: readonly PatchRecord[] }) {
  const readings = useLive((s) => s.readings);
  const { bandDeg, theme } = useSession();
  const el = useRef<HTMLDivElement>(null);
  const chart = useRef<ECharts | null>(null);
  useEffect(() => {
    const c = init(el.current!);
    chart.current = c;
    const ro = new ResizeObserver(() => c.resize());
    ro.observe(el.current!);
    return () => {
      ro.disconnect();
      c.dispose();
    };
  }, []);
  useEffect(() => {
    const css = getComputedStyle(document.documentElement);
    const [text, dim, line, bright] = ['--text', '--dim', '--line', '--bright'].map((n) =>
      css.getPropertyValue(n).trim(),
    );
    const rows = patches.flatMap((p) => {
      const r = readings[p.id];
      return r?.after?.offLineDeg != null
        ? [
            {
              name: p.name,
              after: [r.after.offLineDeg, r.after.lumaPct],
              before: r.before?.offLineDeg != null ? [r.before.offLineDeg, r.before.lumaPct] : null,
            },
          ]
        : [];
    });
    // About the band: what lies far off stands at the edge with an arrow, and its number beside its name.
    const most = axisOf(
      rows.flatMap((r) => [r.after[0]!, ...(r.before ? [r.before[0]!] : [])]),
      bandDeg,
    );
    const held = ([x, y]: number[]): number[] => [Math.min(most, Math.max(-most, x!)), y!];
    const beyond = ([x]: number[]): boolean => Math.abs(x!) > most;
    const arrow = (v: number[]): object =>
      beyond(v) ? { symbol: 'triangle', symbolRotate: v[0]! > 0 ? -90 : 90, symbolSize: 10 } : {};
    chart.current?.setOption(
      {
        animation: false,
        textStyle: { fontFamily: FONT },
        grid: { left: 44, right: 16, top: 10, bottom: 34 },
        tooltip: {
          trigger: 'item',
          formatter: (p: { name: string; data: { told: number[] } }) =>
            `${p.name}: ${p.data.told[0]!.toFixed(1)}\u00b0, luma ${p.data.told[1]!.toFixed(0)} %`,
        },
        xAxis: {
          type: 'value',
          min: -most,
          max: most,
          name: 'degrees off the skin line',
          nameLocation: 'middle',
          nameGap: 20,
          nameTextStyle: { color: dim, fontSize: 12 },
          axisLabel: { color: dim, fontSize: 12 },
          splitLine: { lineStyle: { color: line } },
          axisLine: { lineStyle: { color: dim } },
        },
        yAxis: {
          type: 'value',
          min: 0,
          max: 100,
          interval: 20,
          axisLabel: { color: dim, fontSize: 12, formatter: '{value} %' },
          splitLine: { lineStyle: { color: line } },
        },
        series: [
          {
            type: 'lines',
            coordinateSystem: 'cartesian2d',
            silent: true,
            lineStyle: { color: dim, width: 1, opacity: 0.8 },
            data: rows.filter((r) => r.before).map((r) => ({ coords: [held(r.before!), held(r.after)] })),
          },
          {
            type: 'scatter',
            symbol: 'circle',
            symbolSize: 8,
            itemStyle: { color: 'transparent', borderColor: dim, borderWidth: 1.5 },
            data: rows
              .filter((r) => r.before)
              .map((r) => ({
                name: `${r.name}, before`,
                value: held(r.before!),
                told: r.before!,
                ...arrow(r.before!),
              })),
          },
          {
            type: 'scatter',
            symbolSize: 9,
            itemStyle: { color: bright },
            data: rows.map((r) => ({
              name: r.name,
              value: held(r.after),
              told: r.after,
              ...arrow(r.after),
              label: {
                position: r.after[0]! > most / 2 ? 'left' : 'right',
                formatter: beyond(r.after) ? `{b} ${formatNumber(r.after[0]!, 0, true)}\u00b0` : '{b}',
              },
            })),
            labelLayout: { moveOverlap: 'shiftY' },
            label: { show: true, position: 'right', formatter: '{b}', color: text, fontSize: 12 },
            markLine: {
              silent: true,
              symbol: 'none',
              label: { show: false },
              lineStyle: { color: bright, type: 'solid', width: 1 },
              data: [{ xAxis: 0 }],
            },
            markArea: {
              silent: true,
              itemStyle: { color: dim, opacity: 0.14 },
              data: [[{ xAxis: -bandDeg }, { xAxis: bandDeg }]],
            },
          },
        ],
      },
      { notMerge: true },
    );
  }, [readings, patches, bandDeg, theme]);
  return (
    <>
      <div
        ref={el}
        role="img"
        aria-label="Patches by off-line angle and luma, before and after"
        style={{ height: 190 }}
      />
      <Dim>
        Ring: before. Dot: after. Arrow: further off than the axis goes. Patches too neutral to read a hue are left out.
      </Dim>
    </>
  );
}
