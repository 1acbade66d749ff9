import type { Became, Job, SellerRates } from '@kettle/contract';
import {
  currencyOf,
  earnedBy,
  emptyListing,
  offersOn,
  type ChannelRules,
  type ChannelRulesFields,
} from '@kettle/core/listing';
import type { Caller } from '../floor/basics/caller.js';
import type { DesignReader } from '../designs/design-reader.js';
import type { HistoryStore } from './history-store.js';
import type { ListingStore } from '../listings/listing-store.js';
import type { ToldSale } from '../listings/markets/market.js';
import type { StoredPublication } from '../listings/publication-store.js';
import type { SettingStore } from '../floor/database/setting-store.js';
import type { DesignService } from '../designs/designs.js';
import type { OutputService } from '../making/outputs.js';
import type { OwnThings } from '../floor/database/own-things.js';

/** Kind of the steps that ask markets what was sold. */
export const ASK_SALES = 'ask-sales';
export const ASK_SALES_ENGINE = 1;
/** Most events and sales that are listed at once. */
const MOST_EVENTS = 400;
const MOST_SALES = 2000;

/** What it works with. */
export interface HistoryDeps {
  readonly designs: DesignService;
  readonly outputs: OutputService;
  readonly reader: DesignReader;
  readonly listingStore: ListingStore;
  readonly channelRules: OwnThings<ChannelRulesFields>;
  readonly historyStore: HistoryStore;
  readonly settings: SettingStore;
}

/** What became of designs: only what was recorded when it happened. */
export class HistoryService {
  constructor(private readonly deps: HistoryDeps) {}

  async became(who: Caller, designId: string | null): Promise<Became> {
    const events = await this.deps.historyStore.events(who.owner, designId, MOST_EVENTS + 1);
    const sales = await this.deps.historyStore.sales(who.owner, designId, MOST_SALES + 1);
    return {
      events: events.slice(0, MOST_EVENTS),
      sales: sales.slice(0, MOST_SALES),
      more: events.length > MOST_EVENTS || sales.length > MOST_SALES,
      rates: await this.rates(who),
    };
  }

  async rates(who: Caller): Promise<SellerRates> {
    return (await this.deps.settings.get<SellerRates>(who.owner, 'rates')) ?? { home: 'GBP', rates: {} };
  }

  async setRates(who: Caller, { home, rates }: SellerRates): Promise<SellerRates> {
    // One of the home currency is one of it, whatever was said.
    const kept = { home, rates: { ...rates, [home]: '1' } };
    await this.deps.settings.put(who.owner, 'rates', kept);
    return kept;
  }

  /** Asks markets that do not tell by themselves. */
  ask(who: Caller): Promise<Job> {
    return this.deps.outputs.queue(who, { kind: ASK_SALES, designIds: [] }, [
      { kind: ASK_SALES, engine: ASK_SALES_ENGINE, payload: { filename: 'Sales' } },
    ]);
  }

  /** Writes a sale down as it was told, once. @returns false for what is no sale, or was told before */
  async hear(market: string, publication: StoredPublication, told: ToldSale): Promise<boolean> {
    const { number, product, colour, copies, price, currency, at } = told;
    if (typeof number !== 'string' || !/^[\w.-]{1,80}$/.test(number) || typeof product !== 'string') return false;
    if (!isCount(copies) || copies < 1 || !isCount(price) || !isCurrency(currency)) return false;
    const soldAt = new Date(typeof at === 'string' ? at : '');
    if (Number.isNaN(soldAt.getTime())) return false;
    return this.deps.historyStore.sold({
      market,
      number,
      owner: publication.owner,
      designId: publication.designId,
      rulesId: publication.rulesId,
      channel: publication.channel,
      product,
      colour: typeof colour === 'string' ? colour : '',
      copies,
      price,
      currency,
      earned: await this.earned(publication, product, price, currency),
      // A sale of tomorrow is one of a clock that is wrong.
      at: new Date(Math.min(soldAt.getTime(), Date.now())),
    });
  }

  /** What stays of a price, by what the product costs as the listing says; null where that is not known. */
  private async earned(
    { owner, designId, rulesId }: StoredPublication,
    product: string,
    price: number,
    currency: string,
  ): Promise<number | null> {
    const who = { owner };
    const rules = (await this.deps.channelRules.find(who, rulesId)) as ChannelRules | undefined;
    if (!rules || rules.currency !== currency) return null;
    const { outline } = await this.deps.designs.get(who, designId);
    const fields = (await this.deps.listingStore.get(owner, designId)) ?? emptyListing(outline.name);
    const offers = offersOn(fields, rules, outline.targets, await this.deps.reader.requirementsOf(who));
    const offer = offers.find((one) => one.name === product) ?? offers.find((one) => one.product === product);
    return offer === undefined || offer.cost === null ? null : earnedBy(price, offer.cost, rules.fees).earns;
  }
}

const isCount = (value: unknown): value is number =>
  typeof value === 'number' && Number.isSafeInteger(value) && value >= 0 && value < 1e9;

function isCurrency(value: unknown): value is string {
  try {
    return typeof value === 'string' && currencyOf(value).code === value;
  } catch {
    return false;
  }
}
