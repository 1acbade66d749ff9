import type { ChannelRulesFields } from '@kettle/core';
import * as yup from 'yup';
import { OutsideLine, strange, type OutsidePlaces } from '../floor/outside/line.js';
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

/** The way in which markets take listings that have to be asked what they sold. */
const ASKED = 'one-call';
/** Most pages of sales that are fetched at once. */
const MOST_PAGES = 50;

/** Asks the markets that tell nothing by themselves what was sold since the last time. */
export const askSalesKind = (deps: SalesDeps): JobKind<{ filename: string }> => ({
  kind: ASK_SALES,
  engine: ASK_SALES_ENGINE,
  lane: 'calls',
  payload: yup.object({ filename: yup.string().required() }).required(),
  async run(_payload, { who, signal }) {
    const { markets, channelRules, calls, publications, history, historyStore } = deps;
    const place = markets.get(ASKED);
    const channels = (await channelRules.list(who)).filter(({ by }) => by === ASKED);
    if (!place || !channels.length) return '';
    const ids = channels.map(({ id }) => id);
    const line = new OutsideLine(channels[0].channel, place, calls.recordOf(null), signal);
    let after = await historyStore.lastOf(ASKED, who.owner);
    for (let page = 0; page < MOST_PAGES; page++) {
      const { status, body } = await line.call({
        method: 'GET',
        path: `/sales?after=${encodeURIComponent(after)}`,
        about: 'asks what was sold',
      });
      if (status >= 300) throw strange(status);
      const sales = (Array.isArray(body['sales']) ? body['sales'] : []) as Record<string, unknown>[];
      let further = after;
      for (const sale of sales) {
        const { number, listing, name: product, colour, copies, price, currency, at } = sale ?? {};
        if (typeof number === 'string' && number > further) further = number;
        const found = typeof listing === 'string' ? await publications.byRemote(ids, listing) : null;
        if (found) await history.hear(ASKED, found, { number, product, colour, copies, price, currency, at });
      }
      if (further === after) break;
      after = further;
    }
    return '';
  },
});
