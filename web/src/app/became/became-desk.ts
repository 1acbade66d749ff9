import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { Became, Sale } from '@kettle/contract';
import { amountText, moneyText, withRate } from '@kettle/core/listing';
import { daysOf, earningsBy } from '@kettle/core/sales';
import { Chart } from '../charts/chart';
import { Loaded } from '../data/loaded';
import { Notices } from '../data/notices';
import { Api } from '../data/api';
import { ChipRow, choices } from '../units/chips';
import { TypedValue } from '../units/typed-value';
import { earningsChart } from './earnings-chart';
import { EVENT_WORDS } from './event-words';

/** By what sums are looked at. */
const WAYS = [
  { id: 'design', label: 'Designs', of: (sale: Sale) => sale.design },
  { id: 'channel', label: 'Channels', of: (sale: Sale) => sale.channel },
  { id: 'colour', label: 'Colours', of: (sale: Sale) => sale.colour || 'no colour named' },
  { id: 'product', label: 'Products', of: (sale: Sale) => sale.product },
  {
    id: 'price',
    label: 'Prices',
    of: (sale: Sale) => moneyText(sale.price, sale.currency),
  },
] as const;
type Way = (typeof WAYS)[number]['id'];
/** How often it is looked at again, ms: it is long, and not much happens in a moment. */
const EVERY_MS = 6000;
/** Most days of the chart, and most rows of sums. */
const MOST_DAYS = 60;
const MOST_ROWS = 12;

/** What became of a design, or of all: what was made, sent, answered and sold, and what it earned. Nothing but what was recorded. */
@Component({
  selector: 'ks-became-desk',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, Chart, DatePipe, MatButtonModule, MatIconModule, RouterLink, TypedValue],
  templateUrl: './became-desk.html',
  styleUrl: './became-desk.scss',
})
export class BecameDesk {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  /** The design that is asked about; null for all of them. */
  readonly designId = input.required<string | null>();
  protected readonly words = EVENT_WORDS;
  protected readonly amount = amountText;
  protected readonly money = moneyText;
  private readonly way = signal<Way | null>(null);
  protected readonly became = new Loaded<Became>(
    () => this.api.ask('get /api/became', { query: { design: this.designId() } }),
    { every: EVERY_MS },
  );
  /** Designs are told apart where there are several. */
  protected readonly by = computed<Way>(() => this.way() ?? (this.designId() ? 'channel' : 'design'));
  protected readonly ways = computed(() => choices(WAYS, this.by(), (way) => this.way.set(way)));
  protected readonly home = computed(() => this.became.value()?.rates.home ?? 'GBP');
  protected readonly sums = computed(() => {
    const became = this.became.value();
    if (!became) return [];
    const { of } = WAYS.find(({ id }) => id === this.by())!;
    return earningsBy(became.sales, of, this.home(), became.rates.rates).slice(0, MOST_ROWS);
  });
  /** Currencies of sales that no rate was entered for. */
  protected readonly withoutRate = computed(() => {
    const became = this.became.value();
    const known = became?.rates.rates ?? {};
    const all = (became?.sales ?? []).map(({ currency }) => currency);
    return [...new Set(all)].filter((code) => code !== this.home() && !known[code]);
  });
  /** All currencies that were sold in, to be given a rate. */
  protected readonly currencies = computed(() => {
    const codes = (this.became.value()?.sales ?? []).map(({ currency }) => currency);
    return [...new Set(codes)].filter((code) => code !== this.home()).sort();
  });
  protected readonly chart = computed(() => {
    const became = this.became.value();
    if (!became?.sales.length) return null;
    const ink = getComputedStyle(document.documentElement);
    const palette = ['--enamel', '--copper', '--plum', '--quiet'].map((name) => ink.getPropertyValue(name).trim());
    return earningsChart(became.sales, daysOf(became.sales, MOST_DAYS), this.home(), became.rates.rates, palette);
  });
  protected readonly chartWords = computed(() => {
    const [first] = this.sums();
    return first
      ? `What was earned each day, in ${this.home()}. Most of it by ${first.name}: ${amountText(first.earned, this.home())} ${this.home()} with ${first.copies} sold.`
      : '';
  });

  constructor() {
    // Markets that do not tell by themselves are asked when one looks.
    effect(() => {
      this.designId();
      // eslint-disable-next-line no-restricted-syntax -- what is known of sales is shown all the same
      this.api.ask('post /api/sales/ask').subscribe({ error: () => undefined });
    });
  }

  protected rateOf = (code: string): string => this.became.value()?.rates.rates[code] ?? '';

  protected setRate(code: string, text: string): void {
    const { home, rates } = this.became.value()!.rates;
    const changed = withRate(rates, code, text);
    if (changed) this.became.change(this.api.ask('put /api/rates', { body: { home, rates: changed } }));
    else this.notices.say(`“${text}” is not a number such as 0.85. The old one stays.`);
  }
}
