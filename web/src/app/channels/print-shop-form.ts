import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FILE_TYPES, type FileType } from '@kettle/core/model';
import { fileKind } from '@kettle/core/requirement';
import { amountText, parseMoney } from '@kettle/core/listing';
import { PRINT_SHOP_WAYS, type PrintShopWay, type PrintShop, type PrintShopFields } from '@kettle/core/orders';
import { Notices } from '../data/notices';
import { Settings, amount, chips, inThrees, pick, text, words, type Setting } from '../units/settings';
import { currencyPick } from './fields';
import { breakLines, readBreaks, wordsOf } from './lines';

/** How a shop that orders are sent to is named in the list. */
const WAY_LABELS: Readonly<Record<PrintShopWay, string>> = {
  'print-shop': 'sent to the garment printer, answered later',
  'transfer-shop': 'sent to the transfer printer, answered later',
};

/** What a print shop prints on, where, and for how much. */
@Component({
  selector: 'ks-print-shop-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings],
  template: `
    <fieldset [disabled]="shop().shipped">
      <legend class="sr-only">What {{ shop().channel }} prints</legend>
      <ks-settings [of]="fields()" />
    </fieldset>
  `,
  styleUrl: './rules-fields.scss',
})
export class PrintShopForm {
  private readonly notices = inject(Notices);
  readonly shop = input.required<PrintShop>();
  readonly changed = output<PrintShopFields>();
  protected readonly fields = computed<readonly Setting[]>(() => {
    const shop = this.shop();
    const { currency, by } = shop;
    const listed = (label: string, key: 'sizes' | 'positions'): Setting =>
      text(label, shop[key].join(', '), { set: (all) => this.set({ [key]: wordsOf(all) }) });
    return [
      ...inThrees([
        text('Name, as its requirements have it', shop.channel, { most: 80, set: (channel) => this.set({ channel }) }),
        currencyPick(currency, (code) => this.set({ currency: code })),
        pick('Orders are', by ?? '', {
          of: [
            { id: '', words: 'carried there by hand' },
            ...PRINT_SHOP_WAYS.map((id) => ({ id, words: WAY_LABELS[id] })),
          ],
          set: (way) => this.set({ by: PRINT_SHOP_WAYS.find((id) => id === way) ?? null }),
        }),
        listed('Sizes', 'sizes'),
        listed('Positions', 'positions'),
        amount('Days to the parcel', shop.days, {
          unit: 'days',
          least: 0,
          most: 365,
          set: (days) => this.set({ days }),
        }),
        text(`To set up, once, ${currency}`, amountText(shop.setUp, currency), {
          mode: 'decimal',
          set: (sum) => this.setSetUp(sum),
        }),
      ]),
      words('Prints from'),
      chips(
        FILE_TYPES.map((type) => ({
          words: fileKind(type).words,
          on: shop.takes?.includes(type) ?? false,
          press: () => this.take(type),
        })),
        'Prints from',
      ),
      text('Price of one from so many copies on, one a line', breakLines(shop.breaks, currency), {
        rows: 5,
        set: (lines) => this.setBreaks(lines),
      }),
    ];
  });

  private set(change: Partial<PrintShopFields>): void {
    const { id: _id, revision: _revision, shipped: _shipped, ...fields } = this.shop();
    this.changed.emit({ ...fields, ...change });
  }

  /** What it takes, or does not take any more; none is not known. */
  private take(type: FileType): void {
    const before = this.shop().takes ?? [];
    const takes = before.includes(type) ? before.filter((one) => one !== type) : [...before, type];
    this.set({ takes: takes.length ? takes : undefined });
  }

  private setSetUp(text: string): void {
    const setUp = parseMoney(text, this.shop().currency);
    if (setUp === null) this.notices.say(`“${text}” is not an amount in ${this.shop().currency}. The old one stays.`);
    else this.set({ setUp });
  }

  private setBreaks(text: string): void {
    const read = readBreaks(text, this.shop().currency);
    if ('wrong' in read) this.notices.say(read.wrong);
    else this.set({ breaks: [...read.read].sort((a, b) => a.from - b.from) });
  }
}
