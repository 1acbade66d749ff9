import type { LarkpostCounter } from './larkpost-listings.js';
import type { Quillmere } from './quillmere.js';

/** Most copies that one simulated shopper takes. */
const MOST = 3;
const one = <T>(of: readonly T[]): T | undefined => of[Math.floor(Math.random() * of.length)];

/** Simulated shoppers: from time to time somebody buys something of what is live. @param every mean time between two, ms */
export function sendShoppers(larkpost: LarkpostCounter, quillmere: Quillmere, every: number): void {
  const shop = (): void => {
    const copies = 1 + Math.floor(Math.random() * MOST);
    const listed = one([...larkpost.listings.values()].filter(({ hidden }) => !hidden));
    const item = listed && one(listed.items);
    const carded = one([...quillmere.listings.values()].filter(({ state }) => state === 'live'));
    const offer = carded && one(carded.offers);
    if (item && (Math.random() < 0.5 || !offer))
      larkpost.buy(listed.id, { name: item.name, colour: one(item.colours) ?? '', copies });
    else if (offer) void quillmere.buy(carded.id, { product: offer.product, colour: one(offer.colours) ?? '', copies });
    setTimeout(shop, every * (0.5 + Math.random())).unref();
  };
  setTimeout(shop, every).unref();
}
