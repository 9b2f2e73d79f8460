'use client';

import type { EChartsCoreOption, ECharts } from 'echarts/core';
import { useEffect, useRef } from 'react';

interface Props {
  readonly label: string;
  readonly option: EChartsCoreOption;
  readonly className?: string;
}

/** Charts are loaded when the first one is shown: the page opens without them. */
async function open(element: HTMLElement): Promise<ECharts> {
  const [core, charts, components, renderers] = await Promise.all([
    import('echarts/core'),
    import('echarts/charts'),
    import('echarts/components'),
    import('echarts/renderers'),
  ]);
  core.use([
    charts.LineChart,
    charts.ScatterChart,
    components.GridComponent,
    components.MarkLineComponent,
    components.TooltipComponent,
    renderers.SVGRenderer,
  ]);
  return core.init(element, null, { renderer: 'svg' });
}

/** A chart; its option replaces the one before. */
export function Chart({ label, option, className }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<Promise<ECharts> | null>(null);
  useEffect(() => {
    const opened = open(box.current!);
    chart.current = opened;
    const observer = new ResizeObserver(() => void opened.then((each) => each.resize()));
    observer.observe(box.current!);
    return () => {
      observer.disconnect();
      void opened.then((each) => each.dispose());
    };
  }, []);
  useEffect(() => {
    let gone = false;
    void chart.current?.then((each) => {
      if (!gone)
        each.setOption({ textStyle: { fontFamily: 'inherit', fontSize: 11 }, ...option }, { notMerge: true });
    });
    return () => {
      gone = true;
    };
  }, [option]);
  return <div ref={box} role="img" aria-label={label} className={className ?? 'h-40 w-full'} />;
}
