import type { Interest, PrintRun } from '@kettle/contract';
import { runChart } from './run-chart';

const interest = (copies: number, day: number): Interest => ({
  id: String(day),
  name: 'Ada',
  contact: '',
  size: 'M',
  colour: 'Chalk',
  copies,
  deposit: 0,
  source: 'typed',
  notedAt: `2026-11-0${day}T10:00:00.000Z`,
  deliveredAt: null,
  erased: false,
});
const run: PrintRun = {
  id: 'r',
  designId: 'd',
  designName: 'Fog',
  savedRevision: 1,
  state: 'open',
  path: null,
  madeAt: '2026-11-01T10:00:00.000Z',
  orderedAt: null,
  ordered: null,
  name: 'Fog',
  requirementId: 'tee',
  shopId: 's',
  position: 'Chest',
  currency: 'GBP',
  price: 1800,
  worthFrom: 12,
  sizes: ['M'],
  colours: [{ name: 'Chalk', hex: '#F5F3EE' }],
  note: '',
  interests: [interest(3, 1), interest(4, 2)],
};
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
