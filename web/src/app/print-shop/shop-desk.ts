import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { ShopOrder } from '@kettle/contract';
import type { Requirement } from '@kettle/core/model';
import { moneyText } from '@kettle/core/listing';
import { nextBreak, notTaken, priceOfRun, type PrintShop } from '@kettle/core/orders';
import { Editor } from '../editor/editor';
import { LOOK_MS, Loaded } from '../data/loaded';
import { Api } from '../data/api';
import { RequirementShelf } from '../data/requirement-shelf';
import { Unsent } from '../data/unsent';
import { Settings, inThrees, named, pick, text, type Setting } from '../units/settings';
import { SHOP_WORDS } from './shop-words';
import { SideList } from '../parts/side-list';
import { Standing } from '../parts/standing';

/** What is typed of a new order before it is sent. */
interface Draft {
  readonly shopId: string;
  readonly requirementId: string;
  readonly size: string;
  readonly colour: string;
  readonly position: string;
  readonly copies: string;
  readonly note: string;
}

/** Print files at print shops: an order sheet goes with each, and what the shop says of it comes back here. */
@Component({
  selector: 'ks-shop-desk',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SideList, Standing, DatePipe, MatButtonModule, MatIconModule, Settings],
  templateUrl: './shop-desk.html',
  styleUrl: './shop-desk.scss',
})
export class ShopDesk {
  private readonly api = inject(Api);
  protected readonly desk = inject(Editor).desk;
  private readonly requirements = inject(RequirementShelf);
  protected readonly words = SHOP_WORDS;
  protected readonly money = moneyText;
  private readonly known = new Loaded(() => this.api.ask('get /api/print-shops'), { of: 'The print shops' });
  protected readonly shops = computed(() => this.known.value() ?? []);
  protected readonly orders = new Loaded<readonly ShopOrder[]>(
    () => {
      const id = this.desk.id();
      return id ? this.api.ask('get /api/designs/{id}/shop-orders', { id }) : null;
    },
    { every: LOOK_MS },
  );
  /** Id of the order that is looked at; null for a new one. */
  private readonly chosen = signal<string | null | undefined>(undefined);
  private readonly typed = inject(Unsent).of<Partial<Draft>>(`order sheet ${this.desk.id()}`, {});

  protected readonly order = computed<ShopOrder | null>(() => {
    const [all, chosen] = [this.orders.value() ?? [], this.chosen()];
    if (chosen === null) return null;
    return all.find(({ id }) => id === chosen) ?? all[0] ?? null;
  });
  /** Shops that the design has a target of, with those targets. */
  protected readonly places = computed(() => {
    const targets = this.desk.document()?.targets ?? [];
    return this.shops().flatMap((shop) => {
      const own = this.requirements
        .all()
        .filter((one) => one.channel === shop.channel && targets.some(({ requirementId }) => requirementId === one.id));
      return own.length ? [{ shop, requirements: own }] : [];
    });
  });
  protected readonly place = computed<{
    readonly shop: PrintShop;
    readonly requirements: readonly Requirement[];
  } | null>(() => this.places().find(({ shop }) => shop.id === this.typed().shopId) ?? this.places()[0] ?? null);
  protected readonly requirement = computed<Requirement | null>(() => {
    const own = this.place()?.requirements ?? [];
    return own.find(({ id }) => id === this.typed().requirementId) ?? own[0] ?? null;
  });
  /** The order sheet as it would be sent. */
  protected readonly draft = computed<Draft | null>(() => {
    const [place, requirement, typed] = [this.place(), this.requirement(), this.typed()];
    if (!place || !requirement) return null;
    const one = (wanted: string | undefined, of: readonly string[]): string =>
      of.find((known) => known === wanted) ?? of[0] ?? '';
    return {
      shopId: place.shop.id,
      requirementId: requirement.id,
      size: one(typed.size, place.shop.sizes),
      colour: one(
        typed.colour,
        requirement.colourways.map(({ name }) => name),
      ),
      position: one(typed.position, place.shop.positions),
      copies: typed.copies ?? '1',
      note: typed.note ?? '',
    };
  });
  private readonly copies = computed(() => {
    const copies = Number(this.draft()?.copies);
    return Number.isInteger(copies) && copies > 0 ? copies : null;
  });
  /** What it would cost, by the shop's list. */
  protected readonly estimate = computed(() => {
    const [place, copies] = [this.place(), this.copies()];
    if (!place || copies === null) return '';
    const { shop } = place;
    const [price, next] = [priceOfRun(shop, copies), nextBreak(shop, copies)];
    const now = price
      ? `${moneyText(price.each, shop.currency)} each and ${moneyText(price.setUp, shop.currency)} to set up: ${moneyText(price.total, shop.currency)}.`
      : `They print ${shop.breaks[0].from} and more.`;
    return next ? `${now} With ${next.missing} more, ${moneyText(next.each, shop.currency)} each.` : now;
  });
  protected readonly wrong = computed(() => {
    const [draft, place, requirement] = [this.draft(), this.place(), this.requirement()];
    if (!draft || !place) return '';
    if (this.copies() === null) return `“${draft.copies}” is not a number of copies.`;
    return (requirement && notTaken(place.shop, requirement, requirement.fileTypes)) ?? '';
  });

  /** The newest first: what was said last is read first. */
  protected rounds({ rounds }: ShopOrder): ShopOrder['rounds'] {
    return [...rounds].reverse();
  }

  protected readonly entries = computed(() =>
    this.orders.value()?.map(({ id, shop, state, sheet: { copies, size, colour } }) => ({
      id,
      name: shop,
      standing: SHOP_WORDS[state],
      note: `${copies} × ${size}, ${colour.name}`,
    })),
  );

  protected choose(id: string | null): void {
    this.chosen.set(id);
  }

  protected fields(sheet: Draft): readonly Setting[] {
    const [place, colourways] = [this.place(), this.requirement()?.colourways ?? []];
    /** What is typed or chosen for a field. */
    const typed = (key: keyof Draft) => ({
      live: true,
      set: (value: string) => this.typed.update((before) => ({ ...before, [key]: value })),
    });
    return [
      ...inThrees([
        pick('Print shop', sheet.shopId, {
          of: this.places().map(({ shop: { id, channel } }) => ({ id, words: channel })),
          ...typed('shopId'),
        }),
        pick('Print file', sheet.requirementId, {
          of: (place?.requirements ?? []).map(({ id, name }) => ({ id, words: name })),
          ...typed('requirementId'),
        }),
        pick('Position', sheet.position, { of: named(place?.shop.positions), ...typed('position') }),
        pick('Size', sheet.size, { of: named(place?.shop.sizes), ...typed('size') }),
        pick('Colour', sheet.colour, { of: named(colourways.map(({ name }) => name)), ...typed('colour') }),
        text('Copies', sheet.copies, { mode: 'numeric', wrong: this.wrong() !== '', ...typed('copies') }),
      ]),
      text('Note to them', sheet.note, { most: 500, rows: 3, ...typed('note') }),
    ];
  }

  protected send(): void {
    const [id, draft, copies] = [this.desk.id(), this.draft(), this.copies()];
    if (!id || !draft || copies === null) return;
    this.orders.change(this.api.ask('post /api/designs/{id}/shop-orders', { id, body: { ...draft, copies } }), () => {
      this.chosen.set(undefined);
      this.typed.set({});
    });
  }

  protected again({ id }: ShopOrder): void {
    this.orders.change(this.api.ask('post /api/shop-orders/{id}/send', { id }));
  }

  protected ask({ id }: ShopOrder): void {
    this.orders.change(this.api.ask('post /api/shop-orders/{id}/ask', { id }));
  }
}
