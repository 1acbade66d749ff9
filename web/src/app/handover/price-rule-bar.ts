import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { KeptPriceRule } from '@kettle/contract';
import { currencyOf, readDecimal, type PriceRule } from '@kettle/core/listing';
import { Notices } from '../data/notices';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { PickField } from '../units/pick-field';
import { named } from '../units/settings';
import { TypedValue } from '../units/typed-value';

const ENDINGS = [null, 0, 49, 50, 90, 95, 99] as const;

/** How prices are made of costs: changed here, taken from those that are kept under names, and kept. */
@Component({
  selector: 'ks-price-rule-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PickField, TypedValue],
  template: `
    <div class="rule">
      <label
        >cost ×
        <input
          #factor
          inputmode="decimal"
          aria-label="Factor of the cost"
          [ksValue]="rule().factor"
          (change)="setFactor(factor.value)"
      /></label>
      <ks-pick-field
        class="small beside"
        label="ending in"
        spoken="What prices end in"
        [of]="endings()"
        [value]="'' + (rule().ending ?? '')"
        (chosen)="setEnding($event)"
      />
    </div>
    <div class="rule">
      @if (kept().length) {
        <ks-pick-field
          class="small"
          label="Price rules that are kept"
          [bare]="true"
          [of]="keptChoices()"
          (chosen)="take($event)"
        />
      }
      @if (naming()) {
        <label
          >kept as
          <input #name maxlength="60" aria-label="Name of the price rule" (keydown.enter)="keep(name.value)" />
        </label>
        <button type="button" class="chip" (click)="keep(name.value)">Keep it</button>
      } @else {
        <button type="button" class="chip" (click)="naming.set(true)">Keep this rule …</button>
      }
    </div>
    @if (wrong(); as sentence) {
      <p class="wrong" role="alert">{{ sentence }}</p>
    }
  `,
  styleUrl: './listing-prices.scss',
})
export class PriceRuleBar {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  readonly rule = input.required<PriceRule>();
  /** Whose minor units endings are shown in. */
  readonly currency = input.required<string>();
  readonly changed = output<PriceRule>();
  protected readonly wrong = signal('');
  protected readonly naming = signal(false);
  private readonly rules = new Loaded(() => this.api.ask('get /api/price-rules'), { of: 'The price rules you kept' });
  protected readonly kept = computed<readonly KeptPriceRule[]>(() => this.rules.value()?.rules ?? []);
  protected readonly keptChoices = computed(() => [
    { id: '', words: 'as kept …' },
    ...named(this.kept().map(({ name }) => name)),
  ]);
  protected readonly endings = computed(() => {
    const { digits } = currencyOf(this.currency());
    return ENDINGS.map((one) => ({
      id: `${one ?? ''}`,
      words: one === null ? 'as it comes' : digits === 0 ? `${one}` : `.${String(one).padStart(2, '0')}`,
    }));
  });

  protected setFactor(text: string): void {
    const read = readDecimal(text);
    this.wrong.set(read ? '' : `“${text}” is not a number such as 2.4. The old one stays.`);
    if (read) this.changed.emit({ ...this.rule(), factor: text.trim() });
  }

  protected setEnding(text: string): void {
    this.changed.emit({ ...this.rule(), ending: text === '' ? null : Number(text) });
  }

  protected take(rule: string): void {
    const found = this.kept().find(({ name }) => name === rule);
    if (found) this.changed.emit({ factor: found.factor, ending: found.ending });
  }

  /** One of the same name gives way. */
  protected keep(text: string): void {
    const name = text.trim();
    if (!name) return;
    const rules = [...this.kept().filter((one) => one.name !== name), { name, ...this.rule() }];
    this.api.ask('put /api/price-rules', { body: { rules } }).subscribe({
      next: (kept) => {
        this.rules.value.set(kept);
        this.naming.set(false);
        this.notices.say(`The price rule “${name}” is kept for all designs.`);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }
}
