import type { MarketInterface } from '@kettle/core/listing';
import type { Market } from './market.js';
import { ONE_CALL } from './one-call.js';
import { TICKET } from './ticket.js';

/** Markets by the way in which they take listings. Adding one: a description beside these, and its name here. */
export const MARKETS: Readonly<Record<MarketInterface, Market>> = { 'one-call': ONE_CALL, ticket: TICKET };
