import { StartError } from '../basics/start-error.js';
import { OUTSIDE_WAYS, type OutsidePlace, type OutsidePlaces, type OutsideWay } from './line.js';

/**
 * Places of markets and print shops as they are set from outside: `{"one-call": {"address", "token", "secret"}, …}`.
 * @throws Error with a sentence
 */
export function placesFrom(text: string): OutsidePlaces {
  const wrong = (what: string): Error =>
    new StartError(
      `KETTLE_MARKETS is not as it should be: ${what}. It is JSON such as {"one-call": {"address": "http://localhost:4320", "token": "…", "secret": "…"}}.`,
    );
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    throw wrong('it cannot be read as JSON');
  }
  return new Map(
    Object.entries((given ?? {}) as Record<string, Partial<OutsidePlace>>).map(([way, place]) => {
      if (!OUTSIDE_WAYS.includes(way as OutsideWay)) throw wrong(`nobody is spoken with by “${way}”`);
      const { address = '', token = '', secret = '' } = place;
      if (!/^https?:$/.test(URL.parse(address)?.protocol ?? '')) throw wrong(`“${address}” is no address`);
      if (!token || !secret) throw wrong(`“${way}” has no token or no secret`);
      return [way as OutsideWay, { address, token, secret }];
    }),
  );
}
