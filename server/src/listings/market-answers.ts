import { createHmac, timingSafeEqual } from 'node:crypto';
import type { PublicationState } from '@kettle/contract';
import type { MarketInterface } from '@kettle/core/listing';
import { PRINT_SHOP_WAYS } from '@kettle/core/orders';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { ToldSale } from './markets/market.js';
import type { PublicationStore, StoredPublication } from './publication-store.js';
import { textOr, type OutsidePlaces, type OutsideWay } from '../floor/outside/line.js';
import { reasonsOf } from './markets/market.js';

/** How far a market's clock may be off, ms. */
export const MOST_SKEW = 5 * 60_000;
const STATES: Readonly<Record<string, PublicationState>> = {
  live: 'live',
  held: 'draft',
  refused: 'refused',
  checking: 'checking',
  withdrawn: 'down',
  'sold-out': 'sold-out',
};

/** Signature of an answer: HMAC-SHA-256 (RFC 2104) of its time, its number and its body, hex. */
export const signed = (secret: string, time: string, nonce: string, body: Buffer): string =>
  createHmac('sha256', secret).update(`${time}.${nonce}.`).update(body).digest('hex');

/** What is done with what the outside says of its own accord. */
export interface AnswersHouse {
  /** Channels whose listings are sent in a way. */
  readonly channelsBy: (by: MarketInterface) => Promise<readonly string[]>;
  /** A print shop has an answer to the order that we call so. */
  readonly shopTold: (reference: string) => Promise<void>;
  /** A market has sold something. */
  readonly sold: (by: string, publication: StoredPublication, sale: ToldSale) => Promise<boolean>;
}

function safeParse(text: string): Record<string, unknown> | null {
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === 'object' && value && !Array.isArray(value) ? (value as Record<string, unknown>) : null;
  } catch {
    return null;
  }
}

/** What markets and print shops send of their own accord: read only when it is signed, young, and new. */
export class MarketAnswers {
  constructor(
    private readonly places: OutsidePlaces,
    private readonly store: PublicationStore,
    private readonly house: AnswersHouse,
  ) {}

  /** @throws ProblemError 401 for one that is not the market's, too old, or came before */
  async take(
    by: string,
    { time, nonce, signature }: { readonly time: string; readonly nonce: string; readonly signature: string },
    body: Buffer,
  ): Promise<void> {
    const place = this.places.get(by as OutsideWay);
    const given = Buffer.from(/^[0-9a-f]{64}$/.test(signature) ? signature : '', 'hex');
    const right = Buffer.from(signed(place?.secret ?? '', time, nonce, body), 'hex');
    if (!place || given.length !== right.length || !timingSafeEqual(given, right))
      throw new ProblemError(401, 'not-signed', 'This answer is not signed by a market that is known here.');
    const at = new Date(time);
    if (!(Math.abs(at.getTime() - Date.now()) <= MOST_SKEW))
      throw new ProblemError(
        401,
        'too-old',
        'This answer is more than five minutes old, or one of the clocks is wrong.',
      );
    const said = safeParse(body.toString('utf8'));
    if (!said)
      throw new ProblemError(422, 'not-json', 'This answer is signed, and is no object of JSON. Nothing was changed.');
    if (!/^[\w-]{8,80}$/.test(nonce) || !(await this.store.isNew(by, nonce)))
      throw new ProblemError(409, 'came-before', 'This answer came before. Nothing was changed.');
    try {
      await this.read(by, at, said);
    } catch (error) {
      // What could not be written down just now is told again under the same number, and is taken then.
      if (!(error instanceof ProblemError)) await this.store.forgetNumber(by, nonce);
      throw error;
    }
  }

  private async read(by: string, at: Date, said: Record<string, unknown>): Promise<void> {
    const { listing, reference, state, reasons, url } = said;
    if (PRINT_SHOP_WAYS.some((way) => way === by)) {
      await this.house.shopTold(typeof reference === 'string' ? reference : '');
      return;
    }
    const became = typeof state === 'string' ? STATES[state] : undefined;
    // Its name for the listing may not be written down here yet, or never was: the worker that was told may be gone. Ours is.
    const found =
      (typeof reference === 'string' && (await this.store.byReference(reference))) ||
      (typeof listing === 'string' &&
        (await this.store.byRemote(await this.house.channelsBy(by as MarketInterface), listing))) ||
      null;
    if (found && said['sale'] !== undefined) {
      const { sale: number, product, colour, copies, price, currency, soldAt } = said;
      await this.house.sold(by, found, { number, product, colour, copies, price, currency, at: soldAt });
      return;
    }
    if (!became || !found) throw new ProblemError(404, 'no-such-listing', 'There is no such listing here.');
    await this.store.answered(found.id, at, {
      state: became,
      reasons: reasonsOf(reasons),
      url: textOr(url, null),
      remoteId: textOr(listing, null),
    });
  }
}
