import type { Sale } from '@kettle/contract';
import { currencyOf, type Rates } from '@kettle/core/listing';
import { earningsBy } from '@kettle/core/sales';
import type { EChartsCoreOption } from 'echarts/core';

/** What was earned each day, stacked by channel, in the home currency. */
export function earningsChart(
  sales: readonly Sale[],
  days: readonly string[],
  home: string,
  rates: Rates,
  palette: readonly string[],
): EChartsCoreOption {
  const units = 10 ** currencyOf(home).digits;
  const channels = [...new Set(sales.map(({ channel }) => channel))].sort();
  return {
    color: [...palette],
    grid: { left: 52, right: 16, top: 34, bottom: 28 },
    legend: { top: 0, left: 0, icon: 'roundRect' },
    tooltip: { trigger: 'axis' },
    xAxis: { type: 'category', data: days.map((day) => day.slice(5)) },
    yAxis: { type: 'value', name: home },
    series: channels.map((name) => ({
      name,
      type: 'bar',
      stack: 'earned',
      barMaxWidth: 34,
      data: days.map((day) => {
        const own = sales.filter(({ channel, at }) => channel === name && at.startsWith(day));
        return (earningsBy(own, () => name, home, rates)[0]?.earned ?? 0) / units;
      }),
    })),
  };
}
