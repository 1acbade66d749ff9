import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FILE_TYPES, type FileType } from '@kettle/core/model';
import { fileKind } from '@kettle/core/requirement';
import { amountText, CURRENCIES, parseMoney } from '@kettle/core/listing';
import { PRINT_SHOP_WAYS, type PrintShopWay, type PrintShop, type PrintShopFields } from '@kettle/core/orders';
import { Notices } from '../data/notices';
import { NumberField } from '../units/number-field';
import { TypedValue } from '../units/typed-value';
import { breakLines, readBreaks, wordsOf } from './lines';

/** What a print shop prints on, where, and for how much. */
/** How a shop that orders are sent to is named in the list. */
const WAY_LABELS: Readonly<Record<PrintShopWay, string>> = {
  'print-shop': 'sent to the garment printer, answered later',
  'transfer-shop': 'sent to the transfer printer, answered later',
};

@Component({
  selector: 'ks-print-shop-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NumberField, TypedValue],
  template: `
    <fieldset [disabled]="shop().shipped">
      <legend class="sr-only">What {{ shop().channel }} prints</legend>
      <div class="three">
        <label class="label"
          >Name, as its requirements have it
          <input #name maxlength="80" [ksValue]="shop().channel" (change)="set({ channel: name.value })"
        /></label>
        <label class="label"
          >Currency
          <select #currency (change)="set({ currency: currency.value })">
            @for (one of currencies; track one.code) {
              <option [value]="one.code" [selected]="one.code === shop().currency">
                {{ one.name }} ({{ one.code }})
              </option>
            }
          </select></label
        >
        <label class="label"
          >Orders are
          <select #by (change)="set({ by: wayOf(by.value) })">
            <option value="" [selected]="shop().by === null">carried there by hand</option>
            @for (way of ways; track way.by) {
              <option [value]="way.by" [selected]="shop().by === way.by">{{ way.label }}</option>
            }
          </select></label
        >
        <label class="label"
          >Sizes <input #sizes [ksValue]="shop().sizes.join(', ')" (change)="set({ sizes: words(sizes.value) })"
        /></label>
        <label class="label"
          >Positions
          <input
            #positions
            [ksValue]="shop().positions.join(', ')"
            (change)="set({ positions: words(positions.value) })"
        /></label>
        <fieldset class="label takes">
          <legend>Prints from</legend>
          @for (type of fileTypes; track type) {
            <button
              type="button"
              class="chip"
              [attr.aria-pressed]="shop().takes?.includes(type) ?? false"
              (click)="take(type)"
            >
              {{ fileKind(type).words }}
            </button>
          }
        </fieldset>
        <ks-number-field
          label="Days to the parcel"
          unit="days"
          [value]="shop().days"
          [least]="0"
          [most]="365"
          (changed)="set({ days: $event })"
        />
        <label class="label"
          >To set up, once, {{ shop().currency }}
          <input #once inputmode="decimal" [ksValue]="setUp()" (change)="setSetUp(once.value)"
        /></label>
        <label class="label wide"
          >Price of one from so many copies on, one a line
          <textarea #breaks rows="5" [ksValue]="lines()" (change)="setBreaks(breaks.value)"></textarea>
        </label>
      </div>
    </fieldset>
  `,
  styleUrl: './rules-fields.scss',
})
export class PrintShopForm {
  private readonly notices = inject(Notices);
  readonly shop = input.required<PrintShop>();
  readonly changed = output<PrintShopFields>();
  protected readonly currencies = CURRENCIES;
  protected readonly ways = PRINT_SHOP_WAYS.map((by) => ({ by, label: WAY_LABELS[by] }));
  protected readonly wayOf = (value: string): PrintShopWay | null =>
    PRINT_SHOP_WAYS.find((way) => way === value) ?? null;
  protected readonly words = wordsOf;
  protected readonly fileTypes = FILE_TYPES;
  protected readonly fileKind = fileKind;
  protected readonly setUp = computed(() => amountText(this.shop().setUp, this.shop().currency));
  protected readonly lines = computed(() => breakLines(this.shop().breaks, this.shop().currency));

  protected set(change: Partial<PrintShopFields>): void {
    const { id: _id, revision: _revision, shipped: _shipped, ...fields } = this.shop();
    this.changed.emit({ ...fields, ...change });
  }

  /** What it takes, or does not take any more; none is not known. */
  protected take(type: FileType): void {
    const before = this.shop().takes ?? [];
    const takes = before.includes(type) ? before.filter((one) => one !== type) : [...before, type];
    this.set({ takes: takes.length ? takes : undefined });
  }

  protected setSetUp(text: string): void {
    const setUp = parseMoney(text, this.shop().currency);
    if (setUp === null) this.notices.say(`“${text}” is not an amount in ${this.shop().currency}. The old one stays.`);
    else this.set({ setUp });
  }

  protected setBreaks(text: string): void {
    const read = readBreaks(text, this.shop().currency);
    if ('wrong' in read) this.notices.say(read.wrong);
    else this.set({ breaks: [...read.read].sort((a, b) => a.from - b.from) });
  }
}
