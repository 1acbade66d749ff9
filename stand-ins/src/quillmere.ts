import { randomBytes } from 'node:crypto';
import express, { type Express } from 'express';
import { callWithAnswer } from './answer-caller.js';
import { Faults } from './faults.js';
import { isPrice, isText, readPicture, sha256, type Reason } from './listing-reader.js';

/** Where this simulated market stands, whom it knows, and where it answers. */
export interface QuillmereOptions {
  readonly token: string;
  readonly secret: string;
  /** Address its answers are sent to. */
  readonly answersTo: () => string;
  /** How long a look at a listing takes, ms. */
  readonly looksFor?: number;
  readonly faults?: Faults;
}

interface Piece {
  readonly name: string;
  readonly sha256: string;
  readonly bytes: number;
}

interface Ticket {
  readonly id: string;
  readonly reference: string;
  readonly replaces: string | null;
  readonly body: Record<string, unknown>;
  readonly pieces: readonly Piece[];
  readonly got: Map<string, Buffer>;
  /** Listing that its commit made or changed. */
  listing: string | null;
}

/** A listing as it stands in this market. */
export interface QuillmereListing {
  readonly id: string;
  readonly reference: string;
  title: string;
  state: 'checking' | 'live' | 'refused' | 'withdrawn' | 'sold-out' | 'held';
  changes: number;
  offers: readonly { readonly product: string; readonly price: number; readonly colours: readonly string[] }[];
  reasons: readonly Reason[];
}

const HOUSE = {
  title: { least: 5, most: 60 },
  description: { least: 80, most: 1200 },
  tags: { least: 1, most: 8 },
  pictures: { least: 2, most: 6, side: 1000 },
  never: ['guaranteed', 'miracle'],
};

/** What the clerk at the counter sees at once. */
function judgeText(body: Record<string, unknown>): Reason[] {
  const reasons: Reason[] = [];
  const { title, description, tags } = (body['text'] ?? {}) as Record<string, unknown>;
  const within = (value: unknown, { least, most }: { least: number; most: number }): boolean =>
    isText(value) && value.length >= least && value.length <= most;
  if (!within(title, HOUSE.title))
    reasons.push({ field: 'title', text: 'The title is too short or too long for a card.' });
  if (!within(description, HOUSE.description))
    reasons.push({ field: 'description', text: 'Tell us between 80 and 1200 characters about it.' });
  if (!Array.isArray(tags) || tags.length < HOUSE.tags.least || tags.length > HOUSE.tags.most)
    reasons.push({ field: 'tags', text: 'One to eight tags, please.' });
  const all = JSON.stringify(body['text'] ?? {}).toLowerCase();
  for (const word of HOUSE.never)
    if (all.includes(word)) reasons.push({ field: 'description', text: `Our shops never say “${word}”.` });
  const offers = Array.isArray(body['offers']) ? (body['offers'] as Record<string, unknown>[]) : [];
  if (body['currency'] !== 'EUR' || !offers.length || offers.some(({ price }) => !isPrice(price)))
    reasons.push({ field: 'prices', text: 'Each offer has a price in EUR.' });
  return reasons;
}

/** What the buyer sees who looks at it later. */
function judgeFiles({ body, got }: Ticket): Reason[] {
  const pictures = (Array.isArray(body['pictures']) ? body['pictures'] : []).map((one) => got.get(String(one)));
  if (pictures.length < HOUSE.pictures.least || pictures.length > HOUSE.pictures.most)
    return [{ field: 'pictures', text: 'We hang two to six pictures.' }];
  return pictures.flatMap((bytes, i) => {
    const size = bytes && readPicture(bytes);
    if (!size) return [{ field: 'pictures', text: `Picture ${i + 1} cannot be opened.` }];
    const { width, height } = size;
    const shape = width / height;
    if (Math.abs(shape - 1) > 0.01 && Math.abs(shape - 0.8) > 0.01)
      return [{ field: 'pictures', text: `Picture ${i + 1} does not fit our frames: square or 4:5.` }];
    return Math.min(width, height) < HOUSE.pictures.side
      ? [{ field: 'pictures', text: `Picture ${i + 1} is too small for our frames.` }]
      : [];
  });
}

/** Quillmere Shops, simulated: a ticket first, then the files one by one, then a commit; it answers later by a signed call. */
export class Quillmere {
  readonly listings = new Map<string, QuillmereListing>();
  private sales = 0;
  private readonly tickets = new Map<string, Ticket>();
  private readonly byKey = new Map<string, Ticket>();
  readonly faults: Faults;

  constructor(private readonly options: QuillmereOptions) {
    this.faults = options.faults ?? new Faults();
  }

  app(): Express {
    const app = express();
    app.disable('x-powered-by');
    app.use((request, response, next) => {
      if (request.get('Authorization') === `Bearer ${this.options.token}`) next();
      else response.status(401).json({});
    });
    app.use(this.faults.handle);
    const json = express.json({ limit: '2mb' });
    app.post('/tickets', json, (request, response) => {
      const key = request.get('Idempotency-Key') ?? '';
      const body = (request.body ?? {}) as Record<string, unknown>;
      const reasons = judgeText(body);
      if (!key || !isText(body['reference'])) {
        response.status(400).json({});
        return;
      }
      if (reasons.length) {
        response.status(422).json({ reasons });
        return;
      }
      let ticket = this.byKey.get(key);
      if (!ticket) {
        ticket = {
          id: randomBytes(9).toString('base64url'),
          reference: body['reference'],
          replaces: isText(body['replaces']) ? body['replaces'] : null,
          body,
          pieces: Array.isArray(body['pieces']) ? (body['pieces'] as Piece[]) : [],
          got: new Map(),
          listing: null,
        };
        this.byKey.set(key, ticket);
        this.tickets.set(ticket.id, ticket);
      }
      const { id, pieces, got } = ticket;
      response
        .status(201)
        .json({ ticket: id, missing: pieces.map((one) => one.sha256).filter((one) => !got.has(one)) });
    });
    app.put('/tickets/:id/pieces/:sha', express.raw({ type: () => true, limit: '200mb' }), (request, response) => {
      const ticket = this.tickets.get(request.params['id'] as string);
      const bytes = request.body as Buffer;
      if (!ticket || sha256(bytes) !== request.params['sha']) {
        response.status(ticket ? 400 : 404).json({});
        return;
      }
      ticket.got.set(sha256(bytes), bytes);
      response.status(204).json({});
    });
    app.post('/tickets/:id/commit', json, (request, response) => {
      const ticket = this.tickets.get(request.params['id'] as string);
      if (!ticket) {
        response.status(404).json({});
        return;
      }
      if (ticket.pieces.some((one) => !ticket.got.has(one.sha256))) {
        response.status(422).json({ reasons: [{ field: 'files', text: 'Some files never arrived.' }] });
        return;
      }
      response.status(202).json(this.standing(this.commit(ticket)));
    });
    app.post('/listings/:id/withdraw', (request, response) => {
      const found = this.listings.get(request.params['id'] as string);
      if (found) found.state = 'withdrawn';
      response.status(found ? 200 : 404).json({});
    });
    return app;
  }

  /** A commit that comes again is the same listing, and so is another ticket for the same reference. */
  private commit(ticket: Ticket): string {
    if (ticket.listing) return ticket.listing;
    const title = (ticket.body['text'] as { title: string }).title;
    const known =
      (ticket.replaces && this.listings.get(ticket.replaces)) ||
      [...this.listings.values()].find((one) => one.reference === ticket.reference && one.state !== 'withdrawn');
    const listing = known || {
      id: `Q-${this.listings.size + 1}`,
      reference: ticket.reference,
      title,
      state: 'checking',
      changes: -1,
      offers: [],
      reasons: [],
    };
    const offers = ticket.body['offers'] as QuillmereListing['offers'];
    Object.assign(listing, { title, offers, state: 'checking', changes: listing.changes + 1 });
    this.listings.set(listing.id, listing as QuillmereListing);
    ticket.listing = listing.id;
    setTimeout(() => void this.look(ticket, listing as QuillmereListing), this.options.looksFor ?? 1500).unref();
    return listing.id;
  }

  private standing(id: string): object {
    const { state, reasons, reference } = this.listings.get(id)!;
    return {
      listing: id,
      reference,
      state,
      reasons,
      url: state === 'live' ? `https://quillmere.example/${id}` : null,
    };
  }

  private async look(ticket: Ticket, listing: QuillmereListing): Promise<void> {
    listing.reasons = judgeFiles(ticket);
    listing.state = listing.reasons.length ? 'refused' : ticket.body['hold'] === true ? 'held' : 'live';
    await this.answer(this.standing(listing.id)).catch(() => undefined);
  }

  /** Tells the shop, again while it does not hear. */
  answer(what: object, time?: string, nonce?: string): Promise<number> {
    const { secret, answersTo: address } = this.options;
    return callWithAnswer({ secret, address }, what, time, nonce);
  }

  /** Somebody buys: the shop is told, signed, with a number of the sale that never comes twice. */
  async buy(
    id: string,
    bought: { readonly product: string; readonly colour: string; readonly copies: number },
  ): Promise<number> {
    const listing = this.listings.get(id);
    if (listing?.state !== 'live') return 0;
    const offer = listing.offers.find(({ product }) => product === bought.product) ?? listing.offers[0];
    return this.answer({
      sale: `S-${++this.sales}-${randomBytes(4).toString('hex')}`,
      listing: id,
      reference: listing.reference,
      product: offer.product,
      colour: bought.colour,
      copies: bought.copies,
      price: offer.price,
      currency: 'EUR',
      soldAt: new Date().toISOString(),
    });
  }

  /** Nothing of it is left: the shop is told so. */
  async sellOut(id: string): Promise<number> {
    const listing = this.listings.get(id);
    if (!listing) return 0;
    listing.state = 'sold-out';
    return this.answer({ ...this.standing(id), state: 'sold-out' });
  }
}
