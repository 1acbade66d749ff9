import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { PrintRun } from '@kettle/contract';
import type { Requirement } from '@kettle/core/model';
import { amountText, parseMoney } from '@kettle/core/listing';
import type { PrintRunFields, PrintShop } from '@kettle/core/orders';
import { Editor } from '../editor/editor';
import { Notices } from '../data/notices';
import { Api } from '../data/api';
import { Unsent } from '../data/unsent';
import { Settings, chips, inThrees, named, pick, text, words, type Setting } from '../units/settings';

/** What is typed: numbers as text until they are read. */
interface Draft {
  readonly name: string;
  readonly requirementId: string;
  readonly shopId: string;
  readonly position: string;
  readonly price: string;
  readonly worthFrom: string;
  readonly sizes: readonly string[];
  readonly colours: readonly string[];
  readonly note: string;
}

/** What can be ordered of a print, for how much, and from how many on it is printed. */
@Component({
  selector: 'ks-print-run-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, Settings],
  templateUrl: './print-run-form.html',
  styleUrl: './print-run-form.scss',
})
export class PrintRunForm {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly desk = inject(Editor).desk;
  readonly products = input.required<readonly Requirement[]>();
  readonly shops = input.required<readonly PrintShop[]>();
  /** The one that is changed; null for a new one. */
  readonly run = input.required<PrintRun | null>();
  readonly kept = output<PrintRun>();
  protected readonly busy = signal(false);
  private readonly typed = inject(Unsent).of<Partial<Draft>>(`orders ${this.desk.id()}`, {});
  protected readonly shop = computed<PrintShop | undefined>(
    () => this.shops().find(({ id }) => id === (this.typed().shopId ?? this.run()?.shopId)) ?? this.shops()[0],
  );
  protected readonly product = computed<Requirement | undefined>(
    () =>
      this.products().find(({ id }) => id === (this.typed().requirementId ?? this.run()?.requirementId)) ??
      // What this shop prints from comes first.
      this.products().find(({ channel }) => channel === this.shop()?.channel) ??
      this.products()[0],
  );
  protected readonly draft = computed<Draft>(() => {
    const [run, shop, product] = [this.run(), this.shop(), this.product()];
    return {
      name: run?.name ?? this.desk.document()?.name ?? '',
      position: run?.position ?? shop?.positions[0] ?? '',
      price: run ? amountText(run.price, run.currency) : '',
      worthFrom: String(run?.worthFrom ?? shop?.breaks[1]?.from ?? 12),
      sizes: run?.sizes ?? shop?.sizes ?? [],
      colours: run?.colours.map(({ name }) => name) ?? product?.colourways.slice(0, 2).map(({ name }) => name) ?? [],
      note: run?.note ?? '',
      ...this.typed(),
      shopId: shop?.id ?? '',
      requirementId: product?.id ?? '',
    };
  });
  private readonly price = computed(() => parseMoney(this.draft().price, this.shop()?.currency ?? 'GBP'));
  private readonly worthFrom = computed(() => {
    const whole = Number(this.draft().worthFrom);
    return Number.isInteger(whole) && whole > 0 ? whole : null;
  });
  protected readonly wrong = computed(() => {
    const { price, worthFrom, sizes, colours } = this.draft();
    if (price.trim() && this.price() === null) return `“${price}” is not an amount in ${this.shop()?.currency}.`;
    if (this.worthFrom() === null) return `“${worthFrom}” is not a number of copies.`;
    if (!sizes.length) return 'Choose at least one size.';
    return colours.length ? '' : 'Choose at least one colour.';
  });
  protected readonly whole = computed(() => !this.wrong() && this.price() !== null && this.draft().name.trim() !== '');

  protected readonly fields = computed<readonly Setting[]>(() => {
    const [draft, shop, colours] = [
      this.draft(),
      this.shop(),
      this.product()?.colourways.map(({ name }) => name) ?? [],
    ];
    /** What is typed or chosen for a field. */
    const typed = (key: keyof Draft) => ({ live: true, set: (value: string) => this.type({ [key]: value }) });
    const several = (label: string, key: 'sizes' | 'colours', all: readonly string[]): readonly Setting[] => [
      words(label),
      chips(
        all.map((one) => ({
          words: one,
          on: draft[key].includes(one),
          press: () => this.type({ [key]: all.filter((other) => (other === one) !== draft[key].includes(other)) }),
        })),
        label,
      ),
    ];
    return [
      ...inThrees([
        text('Name', draft.name, { most: 120, ...typed('name') }),
        pick('Print shop', draft.shopId, {
          of: this.shops().map(({ id, channel }) => ({ id, words: channel })),
          ...typed('shopId'),
        }),
        pick('Print file', draft.requirementId, {
          of: this.products().map(({ id, name, channel }) => ({ id, words: `${name} · ${channel}` })),
          ...typed('requirementId'),
        }),
        pick('Position', draft.position, { of: named(shop?.positions), ...typed('position') }),
        text(`Price of one, ${shop?.currency ?? ''}`, draft.price, { mode: 'decimal', ...typed('price') }),
        text('Worth printing from', draft.worthFrom, { mode: 'numeric', ...typed('worthFrom') }),
      ]),
      ...several('Sizes', 'sizes', shop?.sizes ?? []),
      ...several('Colours', 'colours', colours),
      text('Said to those who look at its page', draft.note, { most: 1000, rows: 3, ...typed('note') }),
    ];
  });

  private type(change: Partial<Draft>): void {
    this.typed.update((before) => ({ ...before, ...change }));
  }

  protected keep(): void {
    const [id, run, shop, product, draft] = [this.desk.id(), this.run(), this.shop(), this.product(), this.draft()];
    const [price, worthFrom] = [this.price(), this.worthFrom()];
    if (!id || !shop || !product || price === null || worthFrom === null || !this.whole()) return;
    const fields: PrintRunFields = {
      name: draft.name.trim(),
      requirementId: product.id,
      shopId: shop.id,
      position: draft.position,
      currency: shop.currency,
      price,
      worthFrom,
      sizes: draft.sizes,
      colours: product.colourways.filter(({ name }) => draft.colours.includes(name)),
      note: draft.note,
    };
    this.busy.set(true);
    const call = run
      ? this.api.ask('put /api/print-runs/{id}', { id: run.id, ifMatch: run.savedRevision, body: fields })
      : this.api.ask('post /api/designs/{id}/print-runs', { id, body: fields });
    call.subscribe({
      next: (kept) => {
        this.busy.set(false);
        this.typed.set({});
        this.kept.emit(kept);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.notices.complain(error);
      },
    });
  }
}
