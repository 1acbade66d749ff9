import {
  applyPricesSchema,
  channelRulesSchema,
  listingSchema,
  priceRulesSchema,
  publishSchema,
  type KeptPriceRule,
} from '@kettle/contract';
import type { ChannelRulesFields, ListingFields, PriceRule } from '@kettle/core';
import type { House } from '../house.js';
import { checkedBody, matchedRevision } from './body.js';
import { idOf, type Handlers } from './handler.js';

/** Listings, what channels demand of them, and their way onto markets. */
export const listingRoutes = ({ channelRules, listings }: House): Handlers => ({
  'get /api/channel-rules': async (who) => channelRules.list(who),
  'post /api/channel-rules': async (who, request) =>
    channelRules.add(who, checkedBody<ChannelRulesFields>(channelRulesSchema, request)),
  'put /api/channel-rules/{id}': async (who, request) =>
    channelRules.change(
      who,
      idOf(request),
      matchedRevision(request),
      checkedBody<ChannelRulesFields>(channelRulesSchema, request),
    ),
  'delete /api/channel-rules/{id}': async (who, request) => channelRules.remove(who, idOf(request)),
  'get /api/listings': async (who) => listings.kept(who),
  'get /api/price-rules': async (who) => ({ rules: await listings.priceRules(who) }),
  'put /api/price-rules': async (who, request) => {
    const { rules } = checkedBody<{ rules: KeptPriceRule[] }>(priceRulesSchema, request);
    return { rules: await listings.keepPriceRules(who, rules) };
  },
  'post /api/listings/prices': async (who, request) => {
    const { designIds, factor, ending } = checkedBody<PriceRule & { designIds: string[] }>(applyPricesSchema, request);
    return { changed: await listings.applyPrices(who, designIds, { factor, ending }) };
  },
  'get /api/designs/{id}/listing': async (who, request) => listings.get(who, idOf(request)),
  'put /api/designs/{id}/listing': async (who, request) =>
    listings.save(who, idOf(request), matchedRevision(request), checkedBody<ListingFields>(listingSchema, request)),
  'post /api/designs/{id}/publications': async (who, request) => {
    const { channels, draft } = checkedBody<{ channels: string[]; draft?: boolean }>(publishSchema, request);
    const job = await listings.publish(who, idOf(request), channels, draft);
    return { jobId: job.id };
  },
  'post /api/publications/{id}/take-down': async (who, request) => {
    const job = await listings.takeDown(who, idOf(request));
    return { jobId: job.id };
  },
  'get /api/publications/{id}/calls': async (who, request) => listings.calls(who, idOf(request)),
});
