/** The picture's own distribution behind a range control, by ECharts (a lazy chunk). */
import { useEffect, useRef } from 'react';
import { LineChart } from 'echarts/charts';
import { GridComponent } from 'echarts/components';
import { init, use as registerCharts } from 'echarts/core';
import type { ECharts } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import styled from 'styled-components';

registerCharts([LineChart, GridComponent, CanvasRenderer]);

const Fill = styled.div`
  position: absolute;
  inset: 0;
  pointer-events: none;
`;

export default function Distribution({
  bins,
  colours,
}: {
  bins: readonly number[];
  colours: readonly string[] | null;
}) {
  const el = useRef<HTMLDivElement>(null);
  const chart = useRef<ECharts | null>(null);
  useEffect(() => {
    const node = el.current!;
    const c = init(node);
    chart.current = c;
    const ro = new ResizeObserver(() => c.resize());
    ro.observe(node);
    return () => {
      ro.disconnect();
      c.dispose();
    };
  }, []);
  useEffect(() => {
    const fill = colours
      ? {
          type: 'linear' as const,
          x: 0,
          y: 0,
          x2: 1,
          y2: 0,
          colorStops: colours.map((color, i) => ({ offset: i / (colours.length - 1), color })),
        }
      : '#9a9a9a';
    chart.current?.setOption({
      animation: false,
      grid: { left: 0, right: 0, top: 2, bottom: 0 },
      xAxis: { type: 'category', show: false, boundaryGap: false, data: bins.map((_, i) => i) },
      yAxis: { type: 'value', show: false, min: 0, max: 1 },
      series: [
        {
          type: 'line',
          data: [...bins],
          showSymbol: false,
          silent: true,
          lineStyle: { width: 0 },
          areaStyle: { color: fill, opacity: 0.9 },
        },
      ],
    });
  }, [bins, colours]);
  return <Fill ref={el} aria-hidden />;
}
