import express, { Router, type Request, type RequestHandler } from 'express';
import { readPrintFile } from './print-file-reader.js';
import { isPrice, isText, readPicture, sha256, type Reason } from './listing-reader.js';

/** A file as it comes with a listing. */
interface SentFile {
  readonly name?: unknown;
  readonly type?: unknown;
  readonly sha256?: unknown;
  readonly base64?: unknown;
}

/** A listing as it stands in this market. */
export interface LarkpostListing {
  readonly id: string;
  /** True while no shopper sees it. */
  readonly hidden: boolean;
  readonly title: string;
  readonly items: readonly { readonly name: string; readonly price: number; readonly colours: readonly string[] }[];
  readonly pictures: number;
  readonly changes: number;
}

// The market's house rules. It does not know what anybody else thinks they are.
const HOUSE = {
  currency: 'GBP',
  title: { least: 10, most: 80 },
  description: { least: 40, most: 2000 },
  tags: { least: 3, most: 13, letters: 20 },
  words: [/\bbest seller\b/i, /\bfree\b/i, /\bcheapest\b/i],
  pictures: { least: 1, most: 10, side: 800 },
  cheapest: 300,
};

/** What the counter answers. */
interface Answer {
  readonly id?: string;
  readonly hidden?: boolean;
  readonly url?: string | null;
  readonly reasons?: readonly Reason[];
}

const bytesOf = ({ base64 }: SentFile): Buffer => Buffer.from(isText(base64) ? base64 : '', 'base64');

/** Why the market refuses a listing; empty when it takes it. */
export function judgeListing(body: Record<string, unknown>): Reason[] {
  const reasons: Reason[] = [];
  const say = (field: string, text: string): number => reasons.push({ field, text });
  const { title, description, tags, currency, items, pictures } = body;
  if (!isText(title) || title.length < HOUSE.title.least || title.length > HOUSE.title.most)
    say('title', `Titles here are ${HOUSE.title.least} to ${HOUSE.title.most} characters.`);
  if (
    !isText(description) ||
    description.length < HOUSE.description.least ||
    description.length > HOUSE.description.most
  )
    say('description', `Please write between ${HOUSE.description.least} and ${HOUSE.description.most} characters.`);
  const words = Array.isArray(tags) ? tags.filter(isText) : [];
  if (words.length < HOUSE.tags.least || words.length > HOUSE.tags.most)
    say('tags', `We need ${HOUSE.tags.least} to ${HOUSE.tags.most} tags.`);
  if (words.some((tag) => tag.length > HOUSE.tags.letters))
    say('tags', `A tag has at most ${HOUSE.tags.letters} characters.`);
  for (const word of HOUSE.words)
    if ([title, description, ...words].some((text) => isText(text) && word.test(text)))
      say('description', `We do not list items described as “${word.source.replaceAll('\\b', '')}”.`);
  if (currency !== HOUSE.currency) say('prices', `Prices are in ${HOUSE.currency}.`);
  const offered = Array.isArray(items) ? (items as Record<string, unknown>[]) : [];
  if (!offered.length) say('items', 'There is nothing for sale in this listing.');
  for (const { name, price, colours, printFiles } of offered) {
    if (!isPrice(price) || (price as number) < HOUSE.cheapest)
      say('prices', `The price of ${String(name)} is below our minimum of 3.00 GBP, or no price.`);
    if (!Array.isArray(colours) || !colours.length) say('items', `${String(name)} is offered in no colour.`);
    const files = Array.isArray(printFiles) ? (printFiles as SentFile[]) : [];
    if (!files.length) say('files', `There is no print file for ${String(name)}.`);
    for (const file of files) {
      const bytes = bytesOf(file);
      if (sha256(bytes) !== file.sha256) say('files', `${String(file.name)} did not arrive whole.`);
      else
        try {
          readPrintFile(bytes);
        } catch {
          say('files', `${String(file.name)} is not a PNG we can read.`);
        }
    }
  }
  const shown = Array.isArray(pictures) ? (pictures as SentFile[]) : [];
  if (shown.length < HOUSE.pictures.least || shown.length > HOUSE.pictures.most)
    say('pictures', `We show ${HOUSE.pictures.least} to ${HOUSE.pictures.most} pictures.`);
  for (const picture of shown) {
    const size = readPicture(bytesOf(picture));
    if (!size) say('pictures', `${String(picture.name)} is not a picture.`);
    else if (Math.min(size.width, size.height) < HOUSE.pictures.side)
      say(
        'pictures',
        `${String(picture.name)} is too small: ${HOUSE.pictures.side} pixels on the shorter side, please.`,
      );
  }
  return reasons;
}

/** A sale as this market writes it down. */
interface LarkpostSale {
  /** In rising order. */
  readonly number: string;
  readonly listing: string;
  readonly name: string;
  readonly colour: string;
  readonly copies: number;
  readonly price: number;
  readonly currency: string;
  readonly at: string;
}

/** Most sales that are told at once. */
const MOST_SALES = 100;

/** The counter where shops hand in listings: one call with everything, answered at once. */
export class LarkpostCounter {
  readonly listings = new Map<string, LarkpostListing>();
  private readonly sales: LarkpostSale[] = [];
  private readonly opened = `LP-${Date.now()}`;
  /** What was answered to a key, so that a call that comes again is not done again. */
  private readonly answered = new Map<string, { body: string; status: number; answer: Answer }>();

  constructor(
    private readonly address: () => string,
    private readonly token: string | null,
  ) {}

  /** Somebody buys one of what is listed. */
  buy(
    id: string,
    { name, colour, copies }: { readonly name: string; readonly colour: string; readonly copies: number },
  ): void {
    const listed = this.listings.get(id);
    const item = listed?.hidden ? undefined : listed?.items.find((one) => one.name === name);
    if (!item) return;
    // Numbers of one opening of the market come after those of the ones before.
    const number = `${this.opened}-${String(this.sales.length + 1).padStart(6, '0')}`;
    this.sales.push({
      number,
      listing: id,
      name,
      colour,
      copies,
      price: item.price,
      currency: HOUSE.currency,
      at: new Date().toISOString(),
    });
  }

  /** What was sold, for shops that ask: this market tells nobody by itself. */
  salesRoutes(): Router {
    const router = Router();
    router.use(this.onlyShops);
    router.get('/', (request, response) => {
      const after = String(request.query['after'] ?? '');
      response.json({ sales: this.sales.filter(({ number }) => number > after).slice(0, MOST_SALES) });
    });
    return router;
  }

  private readonly onlyShops: RequestHandler = (request, response, next) => {
    if (this.token !== null && request.get('Authorization') !== `Bearer ${this.token}`)
      response.status(401).json({ reasons: [{ field: '', text: 'We do not know this shop.' }] });
    else next();
  };

  routes(): Router {
    const router = Router();
    router.use(this.onlyShops);
    const json = express.json({ limit: '200mb' });
    router.post('/', json, (request, response) => {
      const key = request.get('Idempotency-Key');
      if (!key) {
        response.status(400).json({ reasons: [{ field: '', text: 'Send an Idempotency-Key.' }] });
        return;
      }
      const body = sha256(Buffer.from(JSON.stringify(request.body)));
      const before = this.answered.get(key);
      if (before && (before.status === 201 || before.body === body)) {
        if (before.body === body) response.status(before.status).json(before.answer);
        else response.status(409).json({ id: before.answer.id });
        return;
      }
      const { status, answer } = this.take(request, `L${this.listings.size + 1}`, 201);
      this.answered.set(key, { body, status, answer });
      response.status(status).json(answer);
    });
    router.put('/:id', json, (request, response) => {
      const id = request.params['id'] as string;
      if (!this.listings.has(id)) {
        response.status(404).json({});
        return;
      }
      const { status, answer } = this.take(request, id, 200);
      response.status(status).json(answer);
    });
    router.delete('/:id', (request, response) => {
      response.status(this.listings.delete(request.params['id'] as string) ? 204 : 404).json({});
    });
    router.get('/:id', (request, response) => {
      const found = this.listings.get(request.params['id'] as string);
      response.status(found ? 200 : 404).json(found ?? {});
    });
    return router;
  }

  private take(request: Request, id: string, status: number): { status: number; answer: Answer } {
    const body = (request.body ?? {}) as Record<string, unknown>;
    const reasons = judgeListing(body);
    if (reasons.length) return { status: 422, answer: { reasons } };
    const hidden = body['hidden'] === true;
    this.listings.set(id, {
      id,
      hidden,
      title: body['title'] as string,
      items: (body['items'] as LarkpostListing['items']).map(({ name, price, colours }) => ({ name, price, colours })),
      pictures: (body['pictures'] as unknown[]).length,
      changes: (this.listings.get(id)?.changes ?? -1) + 1,
    });
    return { status, answer: { id, hidden, url: hidden ? null : `${this.address()}/listings/${id}` } };
  }
}
