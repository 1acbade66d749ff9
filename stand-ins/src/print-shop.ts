import express, { type Express } from 'express';
import { callWithAnswer } from './answer-caller.js';
import { Faults } from './faults.js';
import { isText, sha256 } from './listing-reader.js';
import { pictureOfPlace, type Remark, type Shown } from './marks.js';

/** Where a simulated print shop stands, whom it knows, and where it answers. */
export interface PrintShopOptions {
  readonly token: string;
  readonly secret: string;
  readonly answersTo: () => string;
  /** How long it takes to look at a file, ms. */
  readonly looksFor?: number;
  readonly faults?: Faults;
}

/** An order as it lies at this shop. */
export interface ShopOrder {
  readonly id: string;
  readonly reference: string;
  round: number;
  copies: number;
  file: string;
  state: 'waiting' | 'looking' | 'yes' | 'mend';
  remarks: readonly (Remark & { readonly picture: string | null })[];
  price: { readonly each: number; readonly setUp: number; readonly total: number; readonly currency: string } | null;
}

/** What one print shop does otherwise than another. */
export interface Trade {
  /** Its orders begin with it. */
  readonly letter: string;
  /** Its price list, minor units: from so many copies on, the most copies first. */
  readonly prices: readonly (readonly [from: number, each: number])[];
  readonly setUp: number;
  readonly currency: string;
  readonly days: number;
  /** Looks at a file; `shown` is null where it cannot be opened. */
  readonly inspect: (bytes: Uint8Array) => { readonly remarks: readonly Remark[]; readonly shown: Shown | null };
}

/** A print shop, simulated: takes an order sheet and a file, looks at it with its own reader, answers later. */
export class PrintShop {
  readonly orders = new Map<string, ShopOrder>();
  readonly faults: Faults;
  private readonly files = new Map<string, Buffer>();
  private readonly pictures = new Map<string, Uint8Array>();

  constructor(
    private readonly trade: Trade,
    private readonly options: PrintShopOptions,
  ) {
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
    app.post('/orders', express.json({ limit: '100kb' }), (request, response) => {
      const { reference, round, sheet, file } = (request.body ?? {}) as Record<string, Record<string, unknown>>;
      const copies = Number(sheet?.['copies']);
      if (
        !isText(reference) ||
        !Number.isInteger(round) ||
        !isText(file?.['sha256']) ||
        !Number.isInteger(copies) ||
        copies < 1
      ) {
        response.status(400).json({ sorry: 'The order sheet is not filled in.' });
        return;
      }
      const order = this.order(reference, Number(round), copies, file['sha256']);
      response
        .status(201)
        .json({ order: order.id, round: order.round, wants: order.state === 'waiting' && !this.files.has(order.file) });
      if (order.state === 'waiting' && this.files.has(order.file)) this.look(order);
    });
    app.put('/orders/:id/files/:sha', express.raw({ type: () => true, limit: '200mb' }), (request, response) => {
      const order = this.orders.get(request.params['id'] as string);
      const bytes = request.body as Buffer;
      if (!order || order.file !== request.params['sha'] || !Buffer.isBuffer(bytes) || sha256(bytes) !== order.file) {
        response.status(order ? 400 : 404).json({});
        return;
      }
      this.files.set(order.file, bytes);
      this.look(order);
      response.status(202).json({ order: order.id, state: order.state });
    });
    app.get('/orders/:id', (request, response) => {
      const order = this.orders.get(request.params['id'] as string);
      if (!order) {
        response.status(404).json({});
        return;
      }
      const { id, reference, round, state, remarks, price } = order;
      response.json({
        order: id,
        reference,
        round,
        state,
        remarks,
        price,
        days: state === 'yes' ? this.trade.days : null,
      });
    });
    app.get('/orders/:id/pictures/:name', (request, response) => {
      const picture = this.pictures.get(`${request.params['id']} ${request.params['name']}`);
      if (picture) response.type('png').send(Buffer.from(picture));
      else response.status(404).json({});
    });
    return app;
  }

  /** One order for each reference; a higher round puts another file into it, a lower one changes nothing. */
  private order(reference: string, round: number, copies: number, file: string): ShopOrder {
    let order = [...this.orders.values()].find((one) => one.reference === reference);
    if (!order) {
      order = {
        id: `${this.trade.letter}-${this.orders.size + 1}`,
        reference,
        round,
        copies,
        file,
        state: 'waiting',
        remarks: [],
        price: null,
      };
      this.orders.set(order.id, order);
    } else if (round > order.round)
      Object.assign(order, { round, copies, file, state: 'waiting', remarks: [], price: null });
    return order;
  }

  private look(order: ShopOrder): void {
    if (order.state !== 'waiting') return;
    order.state = 'looking';
    const { round } = order;
    setTimeout(() => {
      if (order.round === round) this.judge(order);
    }, this.options.looksFor ?? 2500).unref();
  }

  private judge(order: ShopOrder): void {
    const { inspect, prices, setUp, currency } = this.trade;
    const { remarks, shown } = inspect(this.files.get(order.file)!);
    order.remarks = remarks.map((remark, i) => {
      if (!shown || !remark.where) return { ...remark, picture: null };
      const name = `${order.round}-${i + 1}`;
      this.pictures.set(`${order.id} ${name}`, pictureOfPlace(shown, remark.where));
      return { ...remark, picture: name };
    });
    order.state = remarks.length ? 'mend' : 'yes';
    const each = prices.find(([from]) => order.copies >= from)![1];
    order.price = order.state === 'yes' ? { each, setUp, total: each * order.copies + setUp, currency } : null;
    const { secret, answersTo: address } = this.options;
    const { id, reference, round, state } = order;
    void callWithAnswer({ secret, address }, { order: id, reference, round, state });
  }
}
