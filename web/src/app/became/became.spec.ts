import { Component, input, provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { provideRouter } from '@angular/router';
import type { Became, Sale, SellerRates } from '@kettle/contract';
import type { EChartsCoreOption } from 'echarts/core';
import { of, throwError } from 'rxjs';
import { Chart } from '../charts/chart';
import { Notices } from '../data/notices';
import { fakeApi } from '../testing/fake-api';
import { registerIcons } from '../icons/icons';
import { BecameDesk } from './became-desk';
import { earningsChart } from './earnings-chart';

/** Stands for a chart: it says what it shows. */
@Component({ selector: 'ks-chart', template: '{{ label() }}' })
class SaidChart {
  readonly options = input.required<EChartsCoreOption>();
  readonly label = input.required<string>();
}

const sale = (change: Partial<Sale>): Sale => ({
  designId: 'a',
  design: 'Isobars',
  channel: 'Larkpost Market',
  product: 'Tee',
  colour: 'navy',
  copies: 1,
  price: 2000,
  currency: 'GBP',
  earned: 500,
  at: '2026-11-26T10:00:00Z',
  ...change,
});
const SALES = [
  sale({ copies: 3, at: '2026-11-28T09:00:00Z' }),
  sale({ design: 'Drizzle', designId: 'b', currency: 'EUR', price: 2200, earned: 1200, channel: 'Quillmere Shops' }),
  sale({ design: 'Drizzle', designId: 'b', colour: '', earned: null }),
];

describe('what became of designs', () => {
  let became: Became;
  let asked: (string | null)[];
  let kept: SellerRates[];
  let complaints: unknown[];

  async function show(designId: string | null, change: Partial<Became> = {}) {
    became = { events: [], sales: SALES, more: false, rates: { home: 'GBP', rates: { GBP: '1' } }, ...change };
    [asked, kept, complaints] = [[], [], []];
    const api = fakeApi({
      'get /api/became': ({ query }) => {
        asked.push(query!.design as string | null);
        return of(became);
      },
      'post /api/sales/ask': () => throwError(() => new Error('No market answers.')),
      'put /api/rates': ({ body: rates }) => {
        kept.push(rates);
        became = { ...became, rates };
        return of(rates);
      },
    });
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideRouter([]),
        api,
        { provide: Notices, useValue: { say: (one: string) => complaints.push(one), complain: () => undefined } },
      ],
    });
    TestBed.overrideComponent(BecameDesk, { remove: { imports: [Chart] }, add: { imports: [SaidChart] } });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    const fixture = TestBed.createComponent(BecameDesk);
    fixture.componentRef.setInput('designId', designId);
    await fixture.whenStable();
    const page = fixture.nativeElement as HTMLElement;
    const words = (one: Element) => one.textContent!.replace(/\s+/g, ' ').trim();
    return {
      page,
      rows: () => [...page.querySelectorAll('tbody tr')].map((row) => [...row.children].map(words)),
      by: async (way: string) => {
        [...page.querySelectorAll<HTMLButtonElement>('.chip')].find((one) => words(one) === way)!.click();
        await fixture.whenStable();
      },
      enter: async (label: string, value: string) => {
        const field = page.querySelector<HTMLInputElement>(`input[aria-label="${label}"]`)!;
        field.value = value;
        field.dispatchEvent(new Event('change'));
        await fixture.whenStable();
      },
    };
  }

  it('is summed by design where all are asked about, and by whatever is chosen', async () => {
    const { page, rows, by } = await show(null);
    // What could not be asked of a market hides nothing that is known, and nothing is asked of an unknown design.
    expect(new Set(asked)).toEqual(new Set([null]));
    expect(rows()).toEqual([
      ['Isobars', '3', '60.00', '15.00'],
      ['Drizzle', '2', '20.00', '0.00 without 1 whose cost is not known'],
    ]);
    expect(page.querySelector('ks-chart')!.textContent).toContain('Most of it by Isobars: 15.00 GBP with 3 sold');
    await by('Colours');
    expect(rows().map(([name, copies]) => [name, copies])).toEqual([
      ['navy', '4'],
      ['no colour named', '1'],
    ]);
    await by('Channels');
    expect(rows().map(([name]) => name)).toEqual(['Larkpost Market', 'Quillmere Shops']);
  });

  it('counts a currency once the seller has said what it is worth, and refuses what is no number', async () => {
    const { page, rows, enter } = await show(null);
    expect(page.querySelector('.wrong')!.textContent).toContain('Sales in EUR are in no sum of money');
    await enter('One EUR in GBP', 'a lot');
    expect([kept.length, complaints]).toEqual([0, ['“a lot” is not a number such as 0.85. The old one stays.']]);
    await enter('One EUR in GBP', '0,85');
    expect(kept).toEqual([{ home: 'GBP', rates: { GBP: '1', EUR: '0.85' } }]);
    expect(page.querySelector('.wrong')).toBeNull();
    expect(rows()[1]).toEqual(['Drizzle', '2', '38.70', '10.20 without 1 whose cost is not known']);
  });

  it('is told by channel of one design, with all that has happened to it', async () => {
    const { page, rows } = await show('b', {
      sales: SALES.slice(1),
      more: true,
      events: [
        {
          designId: 'b',
          design: 'Drizzle',
          kind: 'refused',
          whom: 'Larkpost Market',
          said: 'Too small.',
          at: '2026-11-26T10:00:00Z',
        },
      ],
    });
    expect(asked[0]).toBe('b');
    expect(rows().map(([name]) => name)).toEqual(['Larkpost Market', 'Quillmere Shops']);
    const [event] = page.querySelectorAll('.events li');
    expect(event.textContent!.replace(/\s+/g, ' ')).toMatch(/refused by Larkpost Market ?Too small\./);
    expect(event.querySelector('a')).toBeNull();
    expect(page.textContent).toContain('More has happened before that');
  });

  it('is nothing yet where nothing was sold', async () => {
    const { page } = await show('a', { sales: [] });
    expect(page.textContent).toContain('No market has reported a sale of this design yet');
    expect(page.querySelector('table')).toBeNull();
  });

  it('is charted by day and channel, in units of the home currency', () => {
    const days = ['2026-11-26', '2026-11-27', '2026-11-28'];
    const { series, xAxis } = earningsChart(SALES, days, 'GBP', { GBP: '1', EUR: '0.5' }, ['#000']) as {
      series: { name: string; data: number[] }[];
      xAxis: { data: string[] };
    };
    expect(xAxis.data).toEqual(['11-26', '11-27', '11-28']);
    expect(series.map(({ name, data }) => [name, ...data])).toEqual([
      ['Larkpost Market', 0, 0, 15],
      ['Quillmere Shops', 6, 0, 0],
    ]);
  });
});
