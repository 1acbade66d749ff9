import { openRun as run } from '../testing/open-run';
import { runChart } from './run-chart';

const colours = { line: '#111', worth: '#222', next: '#333' };
interface Series {
  readonly data: readonly (readonly [string, number])[];
  readonly markLine: { readonly data: readonly { readonly yAxis: number; readonly name: string }[] };
}
const seriesOf = (options: object): Series => (options as { series: Series[] }).series[0];

describe('the chart of orders in hand', () => {
  it('adds up as people come, against what makes it worth it and the breaks that are near', () => {
    const breaks = [1, 12, 20, 500].map((from) => ({ from, each: 900 }));
    const { data, markLine } = seriesOf(runChart(run, { breaks }, colours));
    expect(data.map(([, sum]) => sum)).toEqual([3, 7]);
    expect(markLine.data.map(({ yAxis, name }) => [yAxis, name])).toEqual([
      [12, 'worth it, and cheaper, from 12'],
      [20, 'cheaper from 20'],
    ]);
  });

  it('stands without a shop and without anybody', () => {
    const options = runChart({ ...run, interests: [] }, null, colours);
    expect(seriesOf(options).data).toEqual([]);
    expect((options as unknown as { yAxis: { max: number } }).yAxis.max).toBeGreaterThan(12);
  });
});
