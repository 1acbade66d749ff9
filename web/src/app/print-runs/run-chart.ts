import type { PrintRun } from '@kettle/contract';
import type { PrintShopFields } from '@kettle/core/orders';
import type { EChartsCoreOption } from 'echarts/core';

const DAY_MS = 24 * 3600 * 1000;

/** Copies that are wanted as they came in, against the number from which the print is worth it and the shop's price breaks. */
export function runChart(
  { interests, worthFrom, sizes }: PrintRun,
  shop: Pick<PrintShopFields, 'breaks'> | null,
  colours: { readonly line: string; readonly worth: string; readonly next: string },
): EChartsCoreOption {
  let sum = 0;
  const points = interests.map(({ notedAt, copies }) => [notedAt, (sum += copies)] as const);
  const cheaper = (shop?.breaks ?? []).filter(({ from }) => from > 1 && from <= Math.max(worthFrom, sum) * 2);
  const both = cheaper.some(({ from }) => from === worthFrom);
  // A day at least: the first people often come within a minute.
  const times = interests.map(({ notedAt }) => Date.parse(notedAt));
  const last = Math.max(...times);
  const first = Math.min(...times, last - DAY_MS);
  const marks = [
    {
      yAxis: worthFrom,
      name: both ? `worth it, and cheaper, from ${worthFrom}` : `worth it from ${worthFrom}`,
      lineStyle: { color: colours.worth, type: 'solid', width: 2 },
    },
    ...cheaper
      .filter(({ from }) => from !== worthFrom)
      .map(({ from }) => ({
        yAxis: from,
        name: `cheaper from ${from}`,
        lineStyle: { color: colours.next, type: 'dashed', width: 1 },
      })),
  ];
  return {
    grid: { left: 44, right: 20, top: 16, bottom: 28 },
    tooltip: { trigger: 'axis' },
    xAxis: times.length ? { type: 'time', min: first, max: last } : { type: 'time' },
    yAxis: { type: 'value', minInterval: 1, max: Math.ceil(Math.max(worthFrom, sum, 1) * 1.15), name: '' },
    series: [
      {
        name: `copies in ${sizes.length} sizes`,
        type: 'line',
        step: 'end',
        symbol: 'circle',
        symbolSize: 6,
        data: points,
        lineStyle: { color: colours.line, width: 2.5 },
        itemStyle: { color: colours.line },
        areaStyle: { color: colours.line, opacity: 0.12 },
        markLine: {
          symbol: 'none',
          silent: true,
          label: { formatter: '{b}', position: 'insideStartTop', color: colours.next },
          data: marks,
        },
      },
    ],
  };
}
