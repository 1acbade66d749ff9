import { handlers, queued } from '../floor/http/handler.js';
import type { ListingRoom } from './room.js';

/** Listings, what channels demand of them, and their way onto markets. */
export const listingRoutes = ({ channelRules, listings }: ListingRoom) =>
  handlers({
    'get /api/channel-rules': async ({ who }) => channelRules.list(who),
    'post /api/channel-rules': async ({ who, body }) => channelRules.add(who, body),
    'put /api/channel-rules/{id}': async ({ who, id, ifMatch, body }) => channelRules.change(who, id, ifMatch, body),
    'delete /api/channel-rules/{id}': async ({ who, id }) => channelRules.remove(who, id),
    'get /api/listings': async ({ who }) => listings.kept(who),
    'get /api/price-rules': async ({ who }) => ({ rules: await listings.priceRules(who) }),
    'put /api/price-rules': async ({ who, body }) => ({ rules: await listings.keepPriceRules(who, body.rules) }),
    'post /api/listings/prices': async ({ who, body }) => {
      const { designIds, factor, ending } = body;
      return { changed: await listings.applyPrices(who, designIds, { factor, ending }) };
    },
    'get /api/designs/{id}/listing': async ({ who, id }) => listings.get(who, id),
    'put /api/designs/{id}/listing': async ({ who, id, ifMatch, body }) => listings.save(who, id, ifMatch, body),
    'post /api/designs/{id}/publications': async ({ who, body, id }) =>
      queued(listings.publish(who, id, body.channels, body.draft)),
    'post /api/publications/{id}/take-down': async ({ who, id }) => queued(listings.takeDown(who, id)),
    'get /api/publications/{id}/calls': async ({ who, id }) => listings.calls(who, id),
  });
