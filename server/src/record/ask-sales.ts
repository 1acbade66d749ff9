import { MARKET_INTERFACES, type ChannelRulesFields, type MarketInterface } from '@kettle/core/listing';
import * as yup from 'yup';
import type { Caller } from '../floor/basics/caller.js';
import { MARKETS } from '../listings/markets/markets.js';
import { OutsideLine, type OutsidePlaces } from '../floor/outside/line.js';
import { ASK_SALES, ASK_SALES_ENGINE, type HistoryService } from './history.js';
import type { OwnThings } from '../floor/database/own-things.js';
import type { CallStore } from '../floor/outside/call-store.js';
import type { HistoryStore } from './history-store.js';
import type { PublicationStore } from '../listings/publication-store.js';
import type { JobKind } from '../floor/queue/job-kind.js';

/** What sales are asked for with. */
export interface SalesDeps {
  readonly publications: PublicationStore;
  readonly calls: CallStore;
  readonly markets: OutsidePlaces;
  readonly channelRules: OwnThings<ChannelRulesFields>;
  readonly history: HistoryService;
  readonly historyStore: HistoryStore;
}

/** Most pages of sales that are fetched at once. */
const MOST_PAGES = 50;

/** Asks the markets that tell nothing by themselves what was sold since the last time. */
export const askSalesKind = (deps: SalesDeps): JobKind<{ filename: string }> => ({
  kind: ASK_SALES,
  engine: ASK_SALES_ENGINE,
  lane: 'calls',
  payload: yup.object({ filename: yup.string().required() }).required(),
  async run(_payload, { who, signal }) {
    for (const way of MARKET_INTERFACES) await askMarket(way, deps, who, signal);
    return '';
  },
});

async function askMarket(
  way: MarketInterface,
  { markets, channelRules, calls, publications, history, historyStore }: SalesDeps,
  who: Caller,
  signal: AbortSignal,
): Promise<void> {
  const [place, market] = [markets.get(way), MARKETS[way]];
  const channels = (await channelRules.list(who)).filter(({ by }) => by === way);
  if (!market.soldAfter || !place || !channels.length) return;
  const ids = channels.map(({ id }) => id);
  const line = new OutsideLine(channels[0].channel, place, calls.recordOf(null), signal);
  let after = await historyStore.lastOf(way, who.owner);
  for (let page = 0; page < MOST_PAGES; page++) {
    let further = after;
    for (const { listing, ...sale } of await market.soldAfter(after, line)) {
      if (typeof sale.number === 'string' && sale.number > further) further = sale.number;
      const found = typeof listing === 'string' ? await publications.byRemote(ids, listing) : null;
      if (found) await history.hear(way, found, sale);
    }
    if (further === after) return;
    after = further;
  }
}
