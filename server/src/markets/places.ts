import { MARKET_INTERFACES, type MarketInterface } from '@kettle/core';
import type { MarketPlace } from './market.js';
import type { MarketPlaces } from './markets.js';

/**
 * Places of markets as they are set from outside: `{"one-call": {"address", "token", "secret"}, …}`.
 * @throws Error with a sentence
 */
export function placesFrom(text: string): MarketPlaces {
  const wrong = (what: string): Error =>
    new Error(
      `KETTLE_MARKETS is not as it should be: ${what}. It is JSON such as {"one-call": {"address": "http://localhost:4320", "token": "…", "secret": "…"}}.`,
    );
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    throw wrong('it cannot be read as JSON');
  }
  return new Map(
    Object.entries((given ?? {}) as Record<string, Partial<MarketPlace>>).map(([way, place]) => {
      if (!MARKET_INTERFACES.includes(way as MarketInterface)) throw wrong(`nobody takes listings by “${way}”`);
      const { address = '', token = '', secret = '' } = place;
      if (!/^https?:$/.test(URL.parse(address)?.protocol ?? '')) throw wrong(`“${address}” is no address`);
      if (!token || !secret) throw wrong(`“${way}” has no token or no secret`);
      return [way as MarketInterface, { address, token, secret }];
    }),
  );
}
