import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { channelRulesSchema, printShopSchema, refuse, type SellerRates } from '@kettle/contract';
import { CURRENCIES, withRate, type ChannelRules, type ChannelRulesFields } from '@kettle/core/listing';
import type { PrintShop, PrintShopFields } from '@kettle/core/orders';
import { forkJoin, merge } from 'rxjs';
import { Api } from '../data/api';
import { LOOK_MS, Loaded } from '../data/loaded';
import { Notices } from '../data/notices';
import { CHANNEL, PRINT_SHOP } from '../data/saved-kinds';
import { Saving, asChanged, savesOf } from '../data/saving';
import { SaveNotice } from '../parts/save-notice';
import { FilePicker } from '../units/file-picker';
import { Settings, inThrees, text, type Setting } from '../units/settings';
import { currencyPick } from './fields';
import { ChannelRulesForm } from './channel-rules-form';
import { PrintShopForm } from './print-shop-form';
import { SideList, type SideEntry } from '../parts/side-list';

/** What is chosen at the left. */
type Chosen = { readonly kind: 'channel' | 'shop'; readonly id: string } | { readonly kind: 'rates' };

/** How a file of a channel or a print shop says what it is. */
const KINDS = { channel: 'channel-rules', shop: 'print-shop' } as const;

/** Those whom designs are handed to: what channels demand of listings, what print shops charge, what currencies are worth. */
@Component({
  selector: 'ks-channels-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    SideList,
    FilePicker,
    ChannelRulesForm,
    MatButtonModule,
    MatIconModule,
    PrintShopForm,
    SaveNotice,
    Settings,
  ],
  templateUrl: './channels-page.html',
  styleUrl: './channels-page.scss',
})
export class ChannelsPage {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly channelSaving = new Saving(CHANNEL);
  protected readonly shopSaving = new Saving(PRINT_SHOP);
  protected readonly all = new Loaded<{
    channels: readonly ChannelRules[];
    shops: readonly PrintShop[];
    rates: SellerRates;
  }>(
    () =>
      forkJoin({
        channels: this.api.ask('get /api/channel-rules'),
        shops: this.api.ask('get /api/print-shops'),
        rates: this.api.ask('get /api/rates'),
      }),
    { every: LOOK_MS, on: merge(savesOf(this.channelSaving), savesOf(this.shopSaving)) },
  );
  protected readonly chosen = signal<Chosen | null>(null);
  protected readonly channel = computed(() => {
    const [all, chosen] = [this.all.value()?.channels ?? [], this.chosen()];
    if (chosen !== null && chosen.kind !== 'channel') return null;
    return all.find(({ id }) => id === chosen?.id) ?? (chosen ? null : (all[0] ?? null));
  });
  protected readonly shop = computed(() => {
    const chosen = this.chosen();
    return chosen?.kind === 'shop' ? (this.all.value()?.shops.find(({ id }) => id === chosen.id) ?? null) : null;
  });
  /** The channel that is chosen, as it is changed here. */
  protected readonly changedChannel = computed(() => asChanged(this.channel(), this.channelSaving));
  protected readonly changedShop = computed(() => asChanged(this.shop(), this.shopSaving));

  constructor() {
    effect(() => {
      const channel = this.channel();
      if (channel && !channel.shipped) untracked(() => this.channelSaving.look(channel.id, channel));
    });
    effect(() => {
      const shop = this.shop();
      if (shop && !shop.shipped) untracked(() => this.shopSaving.look(shop.id, shop));
    });
  }

  /** One of one's own, beginning as another. */
  protected copyChannel({ id: _id, revision: _revision, shipped: _shipped, ...fields }: ChannelRules): void {
    this.addChannel({ ...fields, channel: `${fields.channel}, mine` });
  }

  protected copyShop({ id: _id, revision: _revision, shipped: _shipped, ...fields }: PrintShop): void {
    this.addShop({ ...fields, channel: `${fields.channel}, mine` });
  }

  protected removeChannel({ id }: ChannelRules): void {
    this.all.change(this.api.ask('delete /api/channel-rules/{id}', { id }), () => this.chosen.set(null));
  }

  protected removeShop({ id }: PrintShop): void {
    this.all.change(this.api.ask('delete /api/print-shops/{id}', { id }), () => this.chosen.set(null));
  }

  private addChannel(fields: ChannelRulesFields): void {
    this.all.change(this.api.ask('post /api/channel-rules', { body: fields }), ({ id }) =>
      this.chosen.set({ kind: 'channel', id }),
    );
  }

  private addShop(fields: PrintShopFields): void {
    this.all.change(this.api.ask('post /api/print-shops', { body: fields }), ({ id }) =>
      this.chosen.set({ kind: 'shop', id }),
    );
  }

  /** A file of it, to be kept or given away. */
  protected give(
    kind: keyof typeof KINDS,
    { id: _id, revision: _revision, shipped: _shipped, ...fields }: ChannelRules | PrintShop,
  ): void {
    const text = `${JSON.stringify({ kind: KINDS[kind], ...fields }, null, 2)}\n`;
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
    link.download = `${fields.channel.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  }

  private entryOf({ id, channel, currency, shipped }: ChannelRules | PrintShop): SideEntry {
    return { id, name: channel, note: `${currency}, ${shipped ? 'shipped' : 'your own'}` };
  }
  protected readonly channels = computed(() => this.all.value()?.channels.map((one) => this.entryOf(one)));
  protected readonly shops = computed(() => this.all.value()?.shops.map((one) => this.entryOf(one)));

  /** Takes in a file of a channel or a print shop, judged before it is sent anywhere. */
  protected async take(file: File): Promise<void> {
    const { name } = file;
    let fields: Record<string, unknown>;
    try {
      fields = JSON.parse(await file.text()) as Record<string, unknown>;
    } catch {
      this.notices.complain(`${name} is not JSON. Nothing was taken in.`);
      return;
    }
    const { kind, ...given } = fields ?? {};
    const isShop = kind === KINDS.shop;
    if (!isShop && kind !== KINDS.channel) {
      this.notices.complain(
        `${name} does not say that it is a channel or a print shop (“kind”). Nothing was taken in.`,
      );
      return;
    }
    const wrong = refuse(isShop ? printShopSchema : channelRulesSchema, given);
    if (wrong) this.notices.complain(`${name} cannot be taken in. ${Object.values(wrong)[0]}`);
    else if (isShop) this.addShop(given as unknown as PrintShopFields);
    else this.addChannel(given as unknown as ChannelRulesFields);
  }

  protected worths({ home, rates }: SellerRates): readonly Setting[] {
    return [
      currencyPick(home, (code) => this.setHome(code), 'Sums are in'),
      ...inThrees(
        CURRENCIES.filter(({ code }) => code !== home).map(({ code }) =>
          text(`One ${code} in ${home}`, rates[code] || '', {
            mode: 'decimal',
            set: (worth) => this.setRate(code, worth),
          }),
        ),
      ),
    ];
  }

  private setHome(home: string): void {
    // Rates are in the home currency: another one begins without.
    this.all.change(this.api.ask('put /api/rates', { body: { home, rates: {} } }));
  }

  private setRate(code: string, text: string): void {
    const { home, rates } = this.all.value()!.rates;
    const changed = withRate(rates, code, text);
    if (changed) this.all.change(this.api.ask('put /api/rates', { body: { home, rates: changed } }));
    else this.notices.say(`“${text}” is not a number such as 0.85. The old one stays.`);
  }
}
