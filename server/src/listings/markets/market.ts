import type { PublishedReason } from '@kettle/contract';
import type { OutsideLine } from '../../floor/outside/line.js';

/** What is to be on a market: all of it, so that what is sent does not depend on when it is sent. */
export interface WantedListing {
  readonly title: string;
  readonly description: string;
  readonly tags: readonly string[];
  readonly currency: string;
  readonly products: readonly {
    readonly requirementId: string;
    readonly name: string;
    readonly product: string;
    /** Minor units. */
    readonly price: number;
    readonly colours: readonly { readonly name: string; readonly hex: string }[];
    /** Print files by the cloth they are for. */
    readonly files: readonly WantedFile[];
  }[];
  readonly pictures: readonly WantedFile[];
  readonly clip: WantedFile | null;
  /** True while it is to lie there unseen. */
  readonly draft?: true;
}

export interface WantedFile {
  readonly filename: string;
  readonly mediaType: string;
  readonly sha256: string;
  readonly bytes: number;
}

/** A sale as a market tells it, not believed yet. */
export interface ToldSale {
  readonly number: unknown;
  readonly product: unknown;
  readonly colour: unknown;
  readonly copies: unknown;
  readonly price: unknown;
  readonly currency: unknown;
  readonly at: unknown;
}

/** What a market says of a listing. */
export interface MarketAnswer {
  readonly state: 'live' | 'draft' | 'checking' | 'refused';
  readonly remoteId: string | null;
  readonly url: string | null;
  readonly reasons: readonly PublishedReason[];
}

/** A listing on its way to a market. */
export interface Sending {
  readonly listing: WantedListing;
  /** The same for every try to create it, so that it is created once. */
  readonly key: string;
  /** Hash of what is sent, hex: the same change has the same key. */
  readonly hash: string;
  /** What the market calls it, once it has it. */
  readonly remoteId: string | null;
  readonly bytesOf: (file: WantedFile) => Promise<Buffer>;
  readonly progress: (share: number) => void;
}

/** A sale of a listing that a market was asked for. */
export interface SoldListing extends ToldSale {
  /** What the market calls the listing. */
  readonly listing: unknown;
}

/** One way in which markets take listings: all that is known of it is said here, and its name in `markets.ts`. */
export interface Market {
  publish(sending: Sending, line: OutsideLine): Promise<MarketAnswer>;
  takeDown(remoteId: string, key: string, line: OutsideLine): Promise<void>;
  /** The next sales after a number, a page of them; absent for markets that tell by themselves what they sold. */
  soldAfter?(number: string, line: OutsideLine): Promise<readonly SoldListing[]>;
}

/** Reasons as a market gives them, in its own words; others are left out. */
export function reasonsOf(value: unknown): PublishedReason[] {
  if (!Array.isArray(value)) return [];
  return value.slice(0, 50).flatMap((one: unknown) => {
    const { field, text } = (one ?? {}) as { field?: unknown; text?: unknown };
    return typeof text === 'string'
      ? [{ field: typeof field === 'string' ? field.slice(0, 40) : '', text: text.slice(0, 500) }]
      : [];
  });
}
